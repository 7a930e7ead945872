package main

import (
	"context"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/spf13/cobra"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/sessions"
	"tabularis/internal/platform/archive"
	"tabularis/internal/server"
)

func exportCommand() *cobra.Command {
	c := &cobra.Command{Use: "export CODE …", Short: "Write dossiers as plain folders, with what is known of their documents; begun again it goes on", Args: cobra.MinimumNArgs(1)}
	read := settings(c)
	to, as := "", ""
	c.Flags().StringVar(&to, "to", "", "folder in which each dossier gets one of its own")
	c.Flags().StringVar(&as, "as", "", "e-mail address of whoever takes them out: what they may download is written")
	_ = c.MarkFlagRequired("to")
	_ = c.MarkFlagRequired("as")
	c.RunE = func(cmd *cobra.Command, codes []string) error {
		app, _, err := configured(cmd.Context(), read)
		if err != nil {
			return err
		}
		defer app.Close()
		who, err := signedInAs(cmd.Context(), app, as)
		if err != nil {
			return err
		}
		ctx := act.As(cmd.Context(), act.Actor{Person: &who, Language: who.Language})
		for _, code := range codes {
			if err := export(ctx, app, strings.ToUpper(code), to, cmd.OutOrStdout()); err != nil {
				return fmt.Errorf("%s: %w", code, err)
			}
		}
		return nil
	}
	return c
}

// signedInAs is who has an address, if they may come in.
func signedInAs(ctx context.Context, app *server.App, address string) (accounts.Person, error) {
	who, err := accounts.PersonByEmail(ctx, app.DB, sessions.Key(address))
	if err != nil || who.DeactivatedAt != nil {
		return who, fmt.Errorf("nobody signs in as %s", address)
	}
	return who, nil
}

// export writes a dossier into a folder of its code.
func export(ctx context.Context, app *server.App, code, to string, out io.Writer) error {
	d, err := app.Access.ByCode(ctx, app.DB, code, time.Now())
	if err != nil {
		return fmt.Errorf("there is no such dossier for them: %w", err)
	}
	docs := app.Web.Documents
	chosen, err := docs.Choose(ctx, []uuid.UUID{d.ID})
	if err != nil {
		return err
	}
	below := filepath.Join(to, code)
	if err := os.MkdirAll(below, 0o750); err != nil {
		return fmt.Errorf("making the folder: %w", err)
	}
	l, err := lay(below, chosen, out)
	if err != nil {
		return fmt.Errorf("%w (what is written stays; begin again to go on)", err)
	}
	about, err := docs.Told(ctx, []uuid.UUID{d.ID})
	if err != nil {
		return err
	}
	for _, tag := range about {
		if err := os.WriteFile(filepath.Join(below, filepath.Base(tag.Path)), tag.Content, 0o640); err != nil {
			return err
		}
	}
	fmt.Fprintf(out, "%s: %d documents written, %d there already.\n", code, l.Written, l.Kept)
	return nil
}

// lay writes the documents below a folder "documents", so that no name of theirs meets those of
// what is said about them.
func lay(below string, chosen tree.Chosen, out io.Writer) (archive.Laid, error) {
	documents := filepath.Join(below, "documents")
	if err := os.MkdirAll(documents, 0o750); err != nil {
		return archive.Laid{}, err
	}
	return archive.Lay(documents, chosen.Entries, func(path string, l archive.Laid) {
		if l.Written%1000 == 0 {
			fmt.Fprintf(out, "%d documents, %d MB: %s\n", l.Written, l.Bytes>>20, path)
		}
	})
}
