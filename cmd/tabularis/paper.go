package main

import (
	"crypto/x509"
	"fmt"
	"os"
	"time"

	"github.com/spf13/cobra"

	"tabularis/internal/platform/inspect"
	"tabularis/internal/platform/signature"
)

func verifyPaperCommand() *cobra.Command {
	var roots string
	c := &cobra.Command{
		Use: "pdf FILE", Short: "Check a signed PDF document, without database and server", Args: cobra.ExactArgs(1),
		RunE: func(cmd *cobra.Command, args []string) error {
			raw, err := os.ReadFile(args[0])
			if err != nil {
				return err
			}
			var trusted []*x509.Certificate
			if roots != "" {
				list, err := os.ReadFile(roots)
				if err != nil {
					return err
				}
				if trusted, err = signature.Certificates(list); err != nil {
					return fmt.Errorf("%s: %w", roots, err)
				}
			}
			r, err := inspect.Check(raw, trusted, time.Now())
			if err != nil {
				return err
			}
			tell(cmd, r)
			if r.Verdict != inspect.Valid {
				return fmt.Errorf("the paper does not stand: %s", verdicts[r.Verdict])
			}
			return nil
		},
	}
	c.Flags().StringVar(&roots, "roots", "", "file with the root certificates that are trusted, in PEM")
	return c
}

// verdicts are what can be said of a paper as a whole.
var verdicts = map[inspect.Verdict]string{
	inspect.Valid:    "The signature is valid, and nothing was added after it.",
	inspect.Unknown:  "What is signed is whole, but no trusted root vouches for who signed.",
	inspect.Added:    "What was signed is whole, but something was added afterwards that nobody signed.",
	inspect.Broken:   "A signature does not hold.",
	inspect.Unsigned: "The paper is not signed.",
}

// tell says in sentences what was found.
func tell(cmd *cobra.Command, r inspect.Report) {
	out := cmd.OutOrStdout()
	fmt.Fprintln(out, verdicts[r.Verdict])
	for _, s := range r.Signatures {
		kind := "Signature"
		if s.Stamps {
			kind = "Time stamp"
		}
		fmt.Fprintf(out, "\n%s %q by %s\n  covers %d of %d bytes, SHA-256 %s\n", kind, s.Field, s.By, s.Covered, r.Bytes, s.SHA256)
		for _, f := range s.Faults {
			fmt.Fprintf(out, "  does not hold: %s\n", f)
		}
		if !s.Stamped.IsZero() {
			fmt.Fprintf(out, "  stamped %s by %s\n", s.Stamped.UTC().Format(time.RFC3339), s.StampedBy)
		}
		if s.Trusted {
			fmt.Fprintf(out, "  vouched for by %s; withdrawn: %s\n", s.Root, s.Known)
		} else {
			fmt.Fprintln(out, "  nobody who is trusted vouches for it")
		}
		for _, c := range s.After {
			fmt.Fprintf(out, "  added after it: %s, page %d %s, signed later: %v\n", c.What, c.Page, c.Name, c.Signed)
		}
	}
}
