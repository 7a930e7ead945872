package main

import (
	"bufio"
	"context"
	"fmt"
	"log/slog"
	"net"
	"os"
	"runtime"
	"strings"
	"time"

	"tabularis/internal/app/accounts"
	"tabularis/internal/app/people"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"
	"github.com/spf13/cobra"

	"tabularis/internal/app/sessions"
	"tabularis/internal/backup"
	"tabularis/internal/platform/secret"
	"tabularis/internal/server"
	front "tabularis/web"
)

func root() *cobra.Command {
	c := &cobra.Command{Use: "tabularis", Short: "Share documents with colleagues and clients", SilenceUsage: true, SilenceErrors: true}
	c.AddCommand(serveCommand(), migrateCommand(), practiceCommand(), accountCommand(), demoCommand(), verifyCommand(), evidenceCommand(), backupCommand(), restoreCommand(), exportCommand(), importCommand())
	return c
}

// passwords lets as many hashes run at once as there are processors.
func passwords() *secret.Passwords { return secret.NewPasswords(int64(runtime.NumCPU())) }

// settings gives a command the flags of the configuration, and returns how to
// read it.
func settings(c *cobra.Command) func() (server.Config, error) {
	for _, s := range server.Settings() {
		c.Flags().String(s.Name, s.Default, s.Meaning+" ("+s.Variable()+")")
	}
	return func() (server.Config, error) {
		return server.Read(func(name string) (string, bool) {
			f := c.Flags().Lookup(name)
			return f.Value.String(), f.Changed
		}, os.Getenv)
	}
}

// logger writes one JSON object a line.
func logger(level string) (*slog.Logger, error) {
	var l slog.Level
	if err := l.UnmarshalText([]byte(level)); err != nil {
		return nil, fmt.Errorf("the log level %q is unknown", level)
	}
	return slog.New(slog.NewJSONHandler(os.Stderr, &slog.HandlerOptions{Level: l})), nil
}

// configured opens the application as it is configured, without serving.
func configured(ctx context.Context, read func() (server.Config, error)) (*server.App, *slog.Logger, error) {
	c, err := read()
	if err != nil {
		return nil, nil, err
	}
	log, err := logger(c.LogLevel)
	if err != nil {
		return nil, nil, err
	}
	app, err := server.New(ctx, c, front.Files(), time.Now, passwords(), log)
	return app, log, err
}

func serveCommand() *cobra.Command {
	c := &cobra.Command{Use: "serve", Short: "Serve the application; the database has been migrated before", Args: cobra.NoArgs}
	read := settings(c)
	c.RunE = func(cmd *cobra.Command, _ []string) error {
		app, log, err := configured(cmd.Context(), read)
		if err != nil {
			return err
		}
		defer app.Close()
		l, err := net.Listen("tcp", app.Config.Listen)
		if err != nil {
			return err
		}
		log.Info("serving", "address", l.Addr().String())
		return app.Run(cmd.Context(), l)
	}
	return c
}

// migrate brings a database to the newest shape.
func migrate(ctx context.Context, url string) error {
	db, err := postgres.Open(ctx, url, 4)
	if err != nil {
		return err
	}
	defer db.Close()
	return postgres.Migrate(ctx, db)
}

// withDatabase runs fn on the configured database.
func withDatabase(ctx context.Context, fn func(db *postgres.DB) error) error {
	url := os.Getenv("TABULARIS_DATABASE_URL")
	if url == "" {
		return fmt.Errorf("TABULARIS_DATABASE_URL is not set")
	}
	db, err := postgres.Open(ctx, url, 4)
	if err != nil {
		return err
	}
	defer db.Close()
	return fn(db)
}

func migrateCommand() *cobra.Command {
	return &cobra.Command{
		Use:   "migrate",
		Short: "Bring the database to the newest shape",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return withDatabase(cmd.Context(), func(db *postgres.DB) error { return postgres.Migrate(cmd.Context(), db) })
		},
	}
}

func practiceCommand() *cobra.Command {
	p := practice.Practice{}
	c := &cobra.Command{
		Use:   "practice",
		Short: "Say what the practice is called, and its terms",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if _, err := time.LoadLocation(p.Timezone); err != nil {
				return fmt.Errorf("the time zone %q is unknown", p.Timezone)
			}
			return withDatabase(cmd.Context(), func(db *postgres.DB) error { return practice.PutPractice(cmd.Context(), db, p) })
		},
	}
	f := c.Flags()
	f.StringVar(&p.Name, "name", "", "name of the practice")
	f.StringVar(&p.Tagline, "tagline", "", "a few words below the name")
	f.StringVar(&p.Timezone, "timezone", "UTC", "IANA time zone")
	f.StringVar(&p.Helper, "helper", "", "whom to turn to: name, address, telephone")
	f.IntVar(&p.LongestLinkDays, "longest-link-days", 90, "after how many days a link ends at the latest")
	_ = c.MarkFlagRequired("name")
	return c
}

func accountCommand() *cobra.Command {
	p := accounts.Person{ID: uuid.Must(uuid.NewV7())}
	c := &cobra.Command{
		Use:   "account",
		Short: "Make an account; the password is read from standard input",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			if p.Standing != accounts.Proprietor && p.Standing != accounts.Administrator && p.Standing != accounts.Colleague {
				return fmt.Errorf("the standing is proprietor, administrator or colleague")
			}
			line, err := bufio.NewReader(cmd.InOrStdin()).ReadString('\n')
			if err != nil && line == "" {
				return fmt.Errorf("reading the password: %w", err)
			}
			if line = strings.TrimRight(line, "\r\n"); len(line) < 10 {
				return fmt.Errorf("the password has at least 10 characters")
			}
			if p.PasswordHash, err = passwords().Hash(cmd.Context(), line); err != nil {
				return err
			}
			p.EmailKey, p.CreatedAt = sessions.Key(p.Email), time.Now().UTC()
			return withDatabase(cmd.Context(), func(db *postgres.DB) error { return people.AddPerson(cmd.Context(), db, p) })
		},
	}
	f := c.Flags()
	f.StringVar(&p.Name, "name", "", "name")
	f.StringVar(&p.Email, "email", "", "mail address")
	f.StringVar(&p.Role, "role", "", "role in the practice's words")
	f.StringVar(&p.Phone, "phone", "", "telephone")
	f.StringVar(&p.Standing, "standing", "colleague", "proprietor, administrator or colleague")
	_ = c.MarkFlagRequired("name")
	_ = c.MarkFlagRequired("email")
	return c
}

func verifyCommand() *cobra.Command {
	c := &cobra.Command{Use: "verify", Short: "Check that nothing is lost or changed"}
	content := &cobra.Command{Use: "content", Short: "Read every blob and compare it with its hash and its references", Args: cobra.NoArgs}
	read := settings(content)
	content.RunE = func(cmd *cobra.Command, _ []string) error {
		app, _, err := configured(cmd.Context(), read)
		if err != nil {
			return err
		}
		defer app.Close()
		r, err := app.Care.Verify(cmd.Context())
		if err != nil {
			return err
		}
		r.Write(cmd.OutOrStdout())
		if !r.Sound() {
			return fmt.Errorf("content is missing or damaged")
		}
		return nil
	}
	c.AddCommand(content, verifyLogCommand(), verifyEvidenceCommand(), verifyPaperCommand())
	return c
}

func backupCommand() *cobra.Command {
	var to string
	c := &cobra.Command{Use: "backup", Short: "Copy database and content to a folder; the key file is kept apart", Args: cobra.NoArgs}
	read := settings(c)
	c.RunE = func(cmd *cobra.Command, _ []string) error {
		c, err := read()
		if err != nil {
			return err
		}
		if err := backup.Write(cmd.Context(), c.DatabaseURL, c.DataDir, to); err != nil {
			return err
		}
		fmt.Fprintf(cmd.OutOrStdout(), "The backup is in %s. It is of no use without the key file %s: keep a copy of that elsewhere.\n", to, c.KeyFile)
		return nil
	}
	c.Flags().StringVar(&to, "to", "", "folder for the backup; an earlier one is brought up to date")
	_ = c.MarkFlagRequired("to")
	return c
}

func restoreCommand() *cobra.Command {
	var from string
	c := &cobra.Command{Use: "restore", Short: "Bring a backup back into an empty database and data folder", Args: cobra.NoArgs}
	read := settings(c)
	c.RunE = func(cmd *cobra.Command, _ []string) error {
		c, err := read()
		if err != nil {
			return err
		}
		if err := backup.Restore(cmd.Context(), c.DatabaseURL, c.DataDir, from); err != nil {
			return err
		}
		fmt.Fprintln(cmd.OutOrStdout(), "Restored. Put the key file in its place, then run: tabularis verify content")
		return nil
	}
	c.Flags().StringVar(&from, "from", "", "folder with the backup")
	_ = c.MarkFlagRequired("from")
	return c
}
