package main

import (
	"context"
	"fmt"
	"strings"

	"github.com/google/uuid"
	"github.com/spf13/cobra"

	"tabularis/internal/app/act"
	"tabularis/internal/app/bringing"
	"tabularis/internal/platform/elsewhere"
	"tabularis/internal/server"
)

func importCommand() *cobra.Command {
	c := &cobra.Command{Use: "import PLACE", Short: "Bring in what lies in a folder, a WebDAV place (https://…) or a bucket (s3://…); begun again it goes on", Args: cobra.ExactArgs(1)}
	read := settings(c)
	into, folder, as, look := "", "", "", false
	c.Flags().StringVar(&into, "into", "", "code of the dossier")
	c.Flags().StringVar(&folder, "folder", "", "its folder, by its number in the contents, as 03.1; empty: the dossier's top")
	c.Flags().StringVar(&as, "as", "", "e-mail address of whoever brings it in, who may add there")
	c.Flags().BoolVar(&look, "look", false, "only say what would be brought in and what would be left")
	_ = c.MarkFlagRequired("into")
	_ = c.MarkFlagRequired("as")
	c.RunE = func(cmd *cobra.Command, args []string) error {
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
		goal, err := folderNumbered(ctx, app, strings.ToUpper(into), folder)
		if err != nil {
			return err
		}
		from, err := elsewhere.Open(ctx, args[0])
		if err != nil {
			return err
		}
		defer from.Close()
		out := cmd.OutOrStdout()
		bringer := &bringing.Service{Acts: app.Web.Acts, Access: app.Access, Uploads: app.Web.Uploads}
		n := 0
		told := func(t bringing.Told) {
			if t.Left != "" {
				fmt.Fprintf(out, "left: %s%s: %s\n", t.Way, t.Name, t.Left)
			} else if n++; n%1000 == 0 {
				fmt.Fprintf(out, "%d files: %s%s\n", n, t.Way, t.Name)
			}
		}
		if look {
			sum, err := bringer.Look(ctx, from, told)
			fmt.Fprintf(out, "%d files, %d bytes, would be brought in with their names, folders and times; who may read them there is not taken over: what holds in %s does. %d would be left.\n",
				sum.Documents, sum.Bytes, strings.ToUpper(into), sum.Left)
			return err
		}
		sum, err := bringer.BringIn(ctx, from, goal, told)
		fmt.Fprintf(out, "%d documents, %d versions, %d there already, %d left.\n", sum.Documents, sum.Versions, sum.Kept, sum.Left)
		if err != nil {
			return fmt.Errorf("%w (what is in stays; begin again to go on)", err)
		}
		return nil
	}
	return c
}

// folderNumbered finds a folder by its number in the contents, as somebody sees them.
func folderNumbered(ctx context.Context, app *server.App, code, number string) (uuid.UUID, error) {
	d, err := app.Web.Dossiers.Open(ctx, code)
	if err != nil {
		return uuid.Nil, fmt.Errorf("there is no dossier %s for them: %w", code, err)
	}
	for _, f := range d.Folders {
		if f.Number == number {
			return f.ID, nil
		}
	}
	return uuid.Nil, fmt.Errorf("%s has no folder %s", code, number)
}
