package main

import (
	"context"
	"fmt"
	"log/slog"
	"net"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"syscall"
	"time"

	"tabularis/internal/platform/postgres"

	"github.com/spf13/cobra"

	"tabularis/internal/demo"
	"tabularis/internal/devdb"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/mail/standin"
	"tabularis/internal/server"
	front "tabularis/web"
)

type demoOptions struct {
	dir, listen, mailbox, smtp, submission, authority string
}

func demoCommand() *cobra.Command {
	var o demoOptions
	c := &cobra.Command{
		Use:   "demo",
		Short: "Run everything on this machine with made-up data",
		Args:  cobra.NoArgs,
		RunE: func(cmd *cobra.Command, _ []string) error {
			return runDemo(cmd.Context(), o)
		},
	}
	f := c.Flags()
	f.StringVar(&o.dir, "dir", "data", "folder for database, content and mail")
	f.StringVar(&o.listen, "listen", "127.0.0.1:8080", "address of the application")
	f.StringVar(&o.mailbox, "mailbox", "127.0.0.1:8025", "address of the mailbox page")
	f.StringVar(&o.smtp, "smtp", "127.0.0.1:2525", "address of the mail stand-in")
	f.StringVar(&o.authority, "authority", "127.0.0.1:8026", "address of the stand-in for the authorities by which papers are signed")
	f.StringVar(&o.submission, "submission", "127.0.0.1:2587", "address on which mail programs hand mails over; empty for nowhere")
	return c
}

// loadedMark is written when the demo data are complete.
const loadedMark = "loaded"

func runDemo(ctx context.Context, o demoOptions) error {
	begun := time.Now()
	listener, err := net.Listen("tcp", o.listen)
	if err != nil {
		return fmt.Errorf("%s is taken; stop what uses it, or choose another address: make demo LISTEN=127.0.0.1:8090", o.listen)
	}
	defer listener.Close()
	if err := os.MkdirAll(o.dir, 0o755); err != nil {
		return err
	}
	fmt.Println("Starting the database …")
	cluster, err := devdb.Start(ctx, databaseDir(o.dir))
	if err != nil {
		return err
	}
	defer func() {
		if err := cluster.Stop(); err != nil {
			fmt.Fprintln(os.Stderr, err)
		}
	}()
	if err := prepare(ctx, o.dir, cluster); err != nil {
		return err
	}
	if _, err := standin.Start(ctx, filepath.Join(o.dir, "mail"), o.smtp, o.mailbox); err != nil {
		return fmt.Errorf("%w; choose another address: make demo MAILBOX=127.0.0.1:8026 SMTP=127.0.0.1:2526", err)
	}
	if err := migrate(ctx, cluster.URL("demo")); err != nil {
		return err
	}
	signing, err := demoSigning(ctx, o)
	if err != nil {
		return err
	}
	certificate, _, err := standin.Certificate()
	if err != nil {
		return err
	}
	clock := &demo.Clock{}
	app, err := server.New(
		ctx,
		server.Config{
			BaseURL:     address(o.listen),
			DatabaseURL: cluster.URL("demo"),
			DataDir:     o.dir,
			KeyFile:     filepath.Join(o.dir, "keys", "master.key"),
			MaxUpload:   20 << 30,
			Mail:        mail.Settings{Address: o.smtp, From: "papers@halyard-rook.example", Plain: true},
			Mailbox:     address(o.mailbox),
			Submission:  server.Submission{Listen: o.submission, TLS: certificate},
			Signing:     signing,
		},
		front.Files(),
		clock.Now,
		passwords(),
		slog.New(slog.NewTextHandler(os.Stderr, &slog.HandlerOptions{Level: slog.LevelWarn})),
	)
	if err != nil {
		return err
	}
	defer app.Close()
	if err := load(ctx, app, o.dir, clock); err != nil {
		return err
	}
	welcome(o, time.Since(begun))
	err = app.Run(ctx, listener)
	fmt.Println("\nStopped.")
	return err
}

// databaseDir is inside the demo's folder, unless the user under whom
// PostgreSQL runs cannot get there, as in root's home folder.
func databaseDir(dir string) string {
	inside, err := filepath.Abs(filepath.Join(dir, "postgres"))
	if err != nil || os.Geteuid() != 0 {
		return filepath.Join(dir, "postgres")
	}
	if exec.Command("runuser", "-u", "postgres", "--", "test", "-x", filepath.Dir(inside)).Run() == nil {
		return inside
	}
	var id syscall.Stat_t
	if err := syscall.Stat(dir, &id); err != nil {
		return inside
	}
	outside := fmt.Sprintf("/var/tmp/tabularis-demo-%d", id.Ino)
	fmt.Printf("The user postgres cannot reach this folder; the database is kept in %s.\n", outside)
	return outside
}

// prepare makes the demo's database if it is not there or was left half loaded.
func prepare(ctx context.Context, dir string, cluster *devdb.Cluster) error {
	if _, err := os.Stat(filepath.Join(dir, loadedMark)); err == nil {
		return nil
	}
	admin, err := postgres.Open(ctx, cluster.URL("postgres"), 2)
	if err != nil {
		return err
	}
	defer admin.Close()
	for _, q := range []string{`DROP DATABASE IF EXISTS demo`, `CREATE DATABASE demo`} {
		if _, err := admin.ExecContext(ctx, q); err != nil {
			return fmt.Errorf("making the demo's database: %w", err)
		}
	}
	return os.RemoveAll(filepath.Join(dir, "content"))
}

func load(ctx context.Context, app *server.App, dir string, clock *demo.Clock) error {
	mark := filepath.Join(dir, loadedMark)
	if _, err := os.Stat(mark); err == nil {
		return nil
	}
	err := demo.Load(ctx, app.Web, passwords(), clock, func(done, all int) {
		if done%10 == 0 || done == all {
			fmt.Printf("\rLoading the demo: %d of %d acts", done, all)
		}
	})
	fmt.Println()
	if err != nil {
		return fmt.Errorf("loading the demo: %w", err)
	}
	return os.WriteFile(mark, nil, 0o644)
}

// address is the web address of what listens there: this machine by its name,
// since passkeys belong to names.
func address(listen string) string {
	if port, ok := strings.CutPrefix(listen, "127.0.0.1:"); ok {
		return "http://localhost:" + port
	}
	return "http://" + listen
}

func welcome(o demoOptions, took time.Duration) {
	fmt.Printf(`
Tabularis is ready, after %.1f s.

  The practice   %s
  Its mailbox    %s   every mail ends here
  Mail programs  %s          hand mails over here (Account, Mail programs)

  Sign in with the password %q as
    ines.okafor@halyard-rook.example     principal surveyor, proprietor
    hanne.solvik@halyard-rook.example    practice manager, administrator
    tomasz.rehn@halyard-rook.example     senior surveyor
    priya.valdane@halyard-rook.example   naval architect
    luca.ferrante@halyard-rook.example   surveyor
  or, by a code that is mailed to them, as a guest
    sunniva.aker@dunlin.example          insurer
    odile.charron@brackwater.example     client

Ctrl+C stops it and its database. The data stay; "make demo-reset" starts afresh.
`, took.Seconds(), address(o.listen), address(o.mailbox), o.submission, demo.Password)
}
