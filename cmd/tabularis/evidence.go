package main

import (
	"archive/zip"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"io"
	"os"
	"strconv"

	"github.com/spf13/cobra"

	"tabularis/core/evidence"
	"tabularis/internal/platform/cell"
)

func verifyLogCommand() *cobra.Command {
	c := &cobra.Command{Use: "log", Short: "Compare everything that happened with the sealed log, and the log with its checkpoints", Args: cobra.NoArgs}
	read := settings(c)
	var sent []string
	c.Flags().StringArrayVar(&sent, "checkpoint", nil, "file with a checkpoint that was sent to a witness; it has to agree, too")
	c.RunE = func(cmd *cobra.Command, _ []string) error {
		var given []string
		for _, file := range sent {
			signed, err := noteIn(file)
			if err != nil {
				return err
			}
			given = append(given, signed)
		}
		app, _, err := configured(cmd.Context(), read)
		if err != nil {
			return err
		}
		defer app.Close()
		f, err := app.Evidence.Compare(cmd.Context(), app.DB, given...)
		if err != nil {
			return err
		}
		writeFindings(cmd.OutOrStdout(), f)
		if !f.Sound() {
			return fmt.Errorf("the log and what happened do not agree")
		}
		return nil
	}
	return c
}

func writeFindings(w io.Writer, f evidence.Findings) {
	fmt.Fprintf(w, "%d events are sealed.\n", f.Size)
	for _, kind := range []struct {
		evidence.List
		Words string
	}{{f.Altered, "altered"}, {f.Removed, "removed"}, {f.PutIn, "put in"}, {f.Moved, "moved"}} {
		fmt.Fprintf(w, "%-8s %d\n", kind.Words, kind.Count)
		for _, one := range kind.First {
			switch {
			case one.Place < 0:
				fmt.Fprintf(w, "    event %d was never sealed\n", one.Event)
			case kind.Words == "moved":
				fmt.Fprintf(w, "    event %d stands at place %d and belongs to %d\n", one.Event, one.Place, one.At)
			case one.Event == 0:
				fmt.Fprintf(w, "    place %d: nothing is there any more\n", one.Place)
			default:
				fmt.Fprintf(w, "    place %d, event %d\n", one.Place, one.Event)
			}
		}
	}
	for _, sentence := range f.Log {
		fmt.Fprintln(w, sentence)
	}
}

// Of what comes from elsewhere so much is read at most.
const (
	mostNote   = 1 << 20
	mostBundle = 256 << 20
	// mostReport is how much is written of it.
	mostReport = 1 << 20
)

// noteIn reads the signed note in a file, be it a whole message.
func noteIn(file string) (string, error) {
	f, err := os.Open(file)
	if err != nil {
		return "", err
	}
	defer f.Close()
	raw, err := io.ReadAll(io.LimitReader(f, mostNote))
	if err != nil {
		return "", err
	}
	signed, err := evidence.FindNote(string(raw))
	if err != nil {
		return "", fmt.Errorf("%s: %w", file, err)
	}
	return signed, nil
}

func verifyEvidenceCommand() *cobra.Command {
	var key, sent string
	c := &cobra.Command{
		Use: "evidence FILE", Short: "Check an evidence bundle or a receipt, without database and server", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			trust := evidence.Trust{Key: key}
			if sent != "" {
				var err error
				if trust.Witnessed, err = noteIn(sent); err != nil {
					return err
				}
			}
			r, err := checkBundle(args[0], trust)
			if err != nil {
				return err
			}
			for _, part := range []struct {
				Title string
				Lines []string
			}{{"Proven", r.Proven}, {"Not proven", r.Open}, {"Wrong", r.Wrong}} {
				if len(part.Lines) == 0 {
					continue
				}
				fmt.Fprintln(cmd.OutOrStdout(), part.Title)
				for _, l := range part.Lines {
					fmt.Fprintln(cmd.OutOrStdout(), "  "+l)
				}
			}
			if !r.Holds() {
				return fmt.Errorf("the bundle does not hold")
			}
			return nil
		},
	}
	c.Flags().StringVar(&key, "key", "", "the key that is known to be the practice's; else the bundle's own is taken")
	c.Flags().StringVar(&sent, "checkpoint", "", "file with a checkpoint that was sent to somebody before")
	return c
}

// checkBundle checks an archive with a bundle.
func checkBundle(file string, trust evidence.Trust) (r evidence.Report, err error) {
	in, err := os.Open(file)
	if err != nil {
		return r, err
	}
	defer in.Close()
	size, err := in.Seek(0, io.SeekEnd)
	if err != nil {
		return r, err
	}
	// It comes from outside: from here on the process reaches nothing but what is open.
	if err := cell.Confine(mostReport); err != nil {
		return r, err
	}
	z, err := zip.NewReader(in, size)
	if err != nil {
		return r, fmt.Errorf("%s is not a whole archive: %w", file, err)
	}
	var b evidence.Bundle
	var note []byte
	hashes := map[string]string{}
	for _, f := range z.File {
		sum := sha256.New()
		to := io.Writer(sum)
		kept := &limited{left: mostBundle}
		if f.Name == evidence.BundleFile || f.Name == evidence.ReceiptNote {
			to = io.MultiWriter(sum, kept)
		}
		from, err := f.Open()
		if err != nil {
			return r, fmt.Errorf("reading %s: %w", f.Name, err)
		}
		_, err = io.Copy(to, from)
		from.Close()
		if err != nil {
			return r, fmt.Errorf("reading %s: %w", f.Name, err)
		}
		hashes[f.Name] = hex.EncodeToString(sum.Sum(nil))
		switch f.Name {
		case evidence.BundleFile:
			if err := json.Unmarshal(kept.raw, &b); err != nil {
				return r, fmt.Errorf("%s cannot be read: %w", f.Name, err)
			}
		case evidence.ReceiptNote:
			note = kept.raw
		}
	}
	if b.Format == "" {
		return r, fmt.Errorf("%s holds no %s", file, evidence.BundleFile)
	}
	r = evidence.Check(b, trust, hashes)
	if note != nil {
		known := b.Key
		if trust.Key != "" {
			known = trust.Key
		}
		evidence.CheckReceipt(&r, string(note), []string{known}, hashes)
	}
	return r, nil
}

// limited keeps what is written, up to a limit.
type limited struct {
	raw  []byte
	left int
}

func (l *limited) Write(p []byte) (int, error) {
	if len(p) > l.left {
		return 0, fmt.Errorf("it is too large")
	}
	l.left -= len(p)
	l.raw = append(l.raw, p...)
	return len(p), nil
}

// evidenceCommand looks after the log.
func evidenceCommand() *cobra.Command {
	c := &cobra.Command{Use: "evidence", Short: "Look after the log of what happened"}
	rotate := &cobra.Command{Use: "rotate", Short: "Sign with a new key from now on; the old one signs for it", Args: cobra.NoArgs}
	readRotate := settings(rotate)
	rotate.RunE = func(cmd *cobra.Command, _ []string) error {
		app, _, err := configured(cmd.Context(), readRotate)
		if err != nil {
			return err
		}
		defer app.Close()
		verifier, err := app.Evidence.Rotate(cmd.Context())
		if err == nil {
			fmt.Fprintln(cmd.OutOrStdout(), verifier)
		}
		return err
	}
	erase := &cobra.Command{Use: "erase EVENT", Short: "Forget who, from where and with what words an event happened; the log still agrees", Args: cobra.ExactArgs(1)}
	readErase := settings(erase)
	erase.RunE = func(cmd *cobra.Command, args []string) error {
		id, err := strconv.ParseInt(args[0], 10, 64)
		if err != nil {
			return fmt.Errorf("an event has a number, not %q", args[0])
		}
		app, _, err := configured(cmd.Context(), readErase)
		if err != nil {
			return err
		}
		defer app.Close()
		return app.Evidence.Erase(cmd.Context(), id)
	}
	c.AddCommand(rotate, erase)
	return c
}
