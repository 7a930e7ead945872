package api_test

import (
	"bytes"
	"context"
	"io/fs"
	"log/slog"
	neturl "net/url"
	"os"
	"path/filepath"
	"strings"
	"sync/atomic"
	"syscall"
	"testing"
	"time"

	"tabularis/internal/app/care"
	"tabularis/internal/backup"
	"tabularis/internal/platform/secret"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
	front "tabularis/web"
)

// local keeps content in a folder that the test can lay hands on.
func local(c *server.Config) { c.ContentURL = "" }

func verified(t *testing.T, c *care.Service) care.Report {
	t.Helper()
	r, err := c.Verify(t.Context())
	if err != nil {
		t.Fatal(err)
	}
	return r
}

func TestVerifyingFindsDamageAndCleaningRubbish(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t, local)
	w.paper("a.txt", "content of a")
	w.paper("b.txt", strings.Repeat("content of b", 9000))
	w.luca.Upload(w.top, "", "c.txt", []byte("content of a")) // the same content, stored once
	w.luca.Begin(w.top, "", "begun.bin", 100)
	r := verified(t, w.App.Care)
	if !r.Sound() || r.Blobs != 2 || len(r.Orphans) != 0 {
		t.Fatalf("at first: %+v", r)
	}
	var files []string
	_ = filepath.Walk(filepath.Join(w.DataDir, "content"), func(p string, i os.FileInfo, err error) error {
		if err == nil && !i.IsDir() {
			files = append(files, p)
		}
		return err
	})
	if len(files) != 2 {
		t.Fatalf("%d files are stored", len(files))
	}
	orphan := filepath.Join(w.DataDir, "content", "24", "019aa000-0000-7000-8000-000000000024")
	if err := os.MkdirAll(filepath.Dir(orphan), 0o700); err != nil {
		t.Fatal(err)
	}
	if err := os.WriteFile(orphan, []byte("rubbish"), 0o600); err != nil {
		t.Fatal(err)
	}
	if r := verified(t, w.App.Care); len(r.Orphans) != 1 || !r.Sound() {
		t.Errorf("with an orphan: %+v", r)
	}
	if n, err := w.App.Care.Clean(t.Context()); err != nil || n != 0 {
		t.Errorf("a fresh place was removed: %d, %v", n, err)
	}
	old := time.Now().Add(-2 * time.Hour)
	for _, f := range append(files, orphan) {
		if err := os.Chtimes(f, old, old); err != nil {
			t.Fatal(err)
		}
	}
	if n, err := w.App.Care.Clean(t.Context()); err != nil || n != 1 {
		t.Errorf("%d places were removed, %v", n, err)
	}
	raw, err := os.ReadFile(files[0])
	if err != nil {
		t.Fatal(err)
	}
	raw[len(raw)/2] ^= 1
	if err := os.WriteFile(files[0], raw, 0o600); err != nil {
		t.Fatal(err)
	}
	if err := os.Remove(files[1]); err != nil {
		t.Fatal(err)
	}
	r = verified(t, w.App.Care)
	if r.Sound() || len(r.Damaged) != 1 || len(r.Missing) != 1 {
		t.Errorf("with damage: %+v", r)
	}
	var text bytes.Buffer
	r.Write(&text)
	if !strings.Contains(text.String(), "1 damaged") || strings.Contains(text.String(), "Everything") {
		t.Errorf("reported: %s", text.String())
	}
}

// The drill: back up a living practice, restore it into an empty place, verify,
// sign in, download.
func TestABackupComesBack(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t, local)
	id := w.paper("Condition survey report.txt", "report one")
	big := noise(300_000)
	w.luca.Upload(w.top, "Readings", "big.bin", big)
	to := t.TempDir()
	from := w.App.Config.DatabaseURL
	if err := backup.Write(t.Context(), from, w.DataDir, to); err != nil {
		t.Fatal(err)
	}
	w.luca.Upload(w.top, "", "Condition survey report.txt", []byte("report two"))
	if err := backup.Write(t.Context(), from, w.DataDir, to); err != nil {
		t.Fatal(err)
	}
	w.luca.Upload(w.top, "", "after the backup.txt", []byte("lost, and rightly so"))

	data := t.TempDir()
	if err := backup.Restore(t.Context(), from, data, to); err == nil || !strings.Contains(err.Error(), "not empty") {
		t.Errorf("restoring over a living database: %v", err)
	}
	if err := backup.Restore(t.Context(), from, w.DataDir, to); err == nil || !strings.Contains(err.Error(), "not empty") {
		t.Errorf("restoring over living content: %v", err)
	}
	if err := backup.Restore(t.Context(), from, data, t.TempDir()); err == nil {
		t.Error("restored from nothing")
	}
	into := testkit.EmptyDatabase(t)
	if err := backup.Restore(t.Context(), into, data, to); err != nil {
		t.Fatal(err)
	}
	c := w.App.Config
	c.DatabaseURL, c.DataDir, c.Connections = into, data, nil
	ctx, cancel := context.WithCancel(context.Background())
	defer cancel()
	app, err := server.New(ctx, c, front.Files(), time.Now, secret.NewPasswords(2).Cheap(), slog.New(slog.DiscardHandler))
	if err != nil {
		t.Fatal(err)
	}
	defer app.Close()
	if r := verified(t, app.Care); !r.Sound() || r.Blobs != 3 || len(r.Orphans) != 0 {
		t.Errorf("restored: %+v", r)
	}
	in, err := app.Web.Sessions.SignIn(ctx, w.People["luca"].Email, testkit.Password, "")
	if err != nil || in.Person.Name != "Luca Ferrante" {
		t.Fatalf("signing in: %v", err)
	}
	f, err := app.Web.Documents.File(w.As("luca"), id, 0)
	if err != nil {
		t.Fatal(err)
	}
	var got bytes.Buffer
	if _, err := got.ReadFrom(f); err != nil || got.String() != "report two" {
		t.Errorf("it holds %q, %v", got.String(), err)
	}
	f.Close()
	if _, err := app.Web.Documents.ByNumber(w.As("luca"), "MER-24", 3); err == nil {
		t.Error("what came after the backup is there")
	}
	// Without the key file the copy is of no use.
	other, err := secret.NewKeys(secret.Random(32))
	if err != nil {
		t.Fatal(err)
	}
	stolen := care.Service{Acts: app.Web.Acts, Content: app.Content, Keys: other}
	if r := verified(t, &stolen); len(r.Damaged) != 3 {
		t.Errorf("with another key %d of 3 blobs were closed", len(r.Damaged))
	}
}

// A backup is its owner's alone to read, whatever the mask for new files says, and no
// password stands on a command line, where everybody on the machine reads it.
func TestBackupsAreTheirOwnersAlone(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t, local)
	w.paper("a.txt", "a")
	before := syscall.Umask(0)
	defer syscall.Umask(before)
	to := filepath.Join(t.TempDir(), "backup")
	url := w.App.Config.DatabaseURL
	if u, err := neturl.Parse(url); err == nil && u.User != nil {
		// The test's database asks for none; a wrong one is passed on all the same.
		u.User = neturl.UserPassword(u.User.Username(), "a-password-of-the-database")
		url = u.String()
	}
	seen, stop := make(chan string, 1), make(chan struct{})
	var dumps atomic.Int64
	go func() {
		var all strings.Builder
		for {
			select {
			case <-stop:
				seen <- all.String()
				return
			default:
			}
			lines, _ := filepath.Glob("/proc/[0-9]*/cmdline")
			for _, line := range lines {
				if raw, err := os.ReadFile(line); err == nil && bytes.Contains(raw, []byte("pg_dump")) {
					all.Write(raw)
					dumps.Add(1)
				}
			}
		}
	}()
	// Whoever reads the command lines may be too slow for the first, on a busy machine.
	for n := 0; n == 0 || dumps.Load() == 0 && n < 50; n++ {
		if n > 0 {
			to = filepath.Join(t.TempDir(), "backup")
		}
		if err := backup.Write(t.Context(), url, w.DataDir, to); err != nil {
			t.Fatal(err)
		}
	}
	close(stop)
	if lines := <-seen; !strings.Contains(lines, "pg_dump") || strings.Contains(lines, "a-password-of-the-database") {
		t.Errorf("command lines: %q", lines)
	}
	err := filepath.WalkDir(to, func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		info, err := d.Info()
		if err == nil && info.Mode().Perm()&0o077 != 0 {
			t.Errorf("%s can be read by others: %s", path, info.Mode())
		}
		return err
	})
	if err != nil {
		t.Error(err)
	}
}
