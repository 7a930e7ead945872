package api_test

import (
	"context"
	"encoding/base64"
	"encoding/hex"
	"errors"
	"io"
	"io/fs"
	"log/slog"
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/platform/secret"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// dump reads every row of every table, as whoever got hold of the database would.
func dump(t *testing.T, w *world) string {
	t.Helper()
	var tables []string
	if err := w.App.DB.Select(&tables, `SELECT format('%I.%I', table_schema, table_name) FROM information_schema.tables WHERE table_schema = 'public' AND table_type = 'BASE TABLE'`); err != nil {
		t.Fatal(err)
	}
	var out strings.Builder
	for _, table := range tables {
		var rows []string
		if err := w.App.DB.Select(&rows, `SELECT t::text FROM `+table+` t`); err != nil {
			t.Fatal(err)
		}
		out.WriteString(table + "\n" + strings.Join(rows, "\n") + "\n")
	}
	return out.String()
}

// busyDay does what brings secrets into being, and returns the content of an upload
// that is on its way.
func busyDay(t *testing.T, w *world) []byte {
	t.Helper()
	doc := w.paper("a.txt", "a")
	l, _ := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Password: ptr("harbour-window-12")})
	w.luca.Want(202, "POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: []string{"b.quist@calder.example"}})
	confirmed := contract.IdentityConfirmed
	_, coded := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}, Identify: &confirmed})
	w.Visitor().Want(202, "POST", "/api/visits/"+coded+"/code", contract.Address{Email: "code@calder.example"})
	w.luca.Want(201, "POST", "/api/people", contract.Invitation{Email: "sunniva.aker@dunlin.example", Standing: "guest"})
	w.luca.Want(204, "POST", "/api/access", wish(contract.LevelView, []uuid.UUID{doc}, contract.Recipient{Email: ptr("marit.juhl@pelham.example")}))
	w.Visitor().Want(202, "POST", "/api/entries", contract.Address{Email: w.People["ines"].Email})
	w.Appoint("priya", "guest")
	w.Visitor().Want(202, "POST", "/api/session/code", contract.Address{Email: w.People["priya"].Email})
	authenticator(w.Kit, w.SignIn("tomasz"))
	content := []byte(strings.Repeat("the last words of it: ", 10))
	begun := w.luca.Begin(w.top, "", "b.txt", len(content)+1)
	w.luca.Want(204, "PATCH", begun.Header.Get("Location"), strings.NewReader(string(content)), "Tus-Resumable", "1.0.0", "Upload-Offset", "0", "Content-Type", "application/offset+octet-stream")
	return content
}

// Whoever gets hold of the database opens no door with it: no address of a link, no
// one-time link, no code, no password, no key and no content is in it, whether mails
// went out or wait.
func TestTheDatabaseAloneOpensNoDoor(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	content := busyDay(t, w)
	addresses := []string{"b.quist@calder.example", "code@calder.example", "sunniva.aker@dunlin.example", "marit.juhl@pelham.example", w.People["ines"].Email, w.People["priya"].Email}
	secrets := map[string]string{"a password": "harbour-window-12", "everybody's password": testkit.Password, "an upload's end": string(content[len(content)-20:])}
	found := regexp.MustCompile(`/(?:l|enter|join)/([A-Za-z0-9_-]{20,})|\b(\d{3} \d{3})\b`)
	for _, to := range addresses {
		waitFor(t, func() bool { return len(w.Mail.Messages(to)) > 0 })
		for _, m := range w.Mail.Messages(to) {
			for _, s := range found.FindAllStringSubmatch(m.Text, -1) {
				secrets["mailed to "+to] = s[1] + s[2]
			}
		}
	}
	if len(secrets) < 8 {
		t.Fatalf("only %v were found in mails", secrets)
	}
	waitFor(t, func() bool {
		n := 0
		return w.App.DB.Get(&n, `SELECT count(*) FROM river_job WHERE kind = 'send_mail'`) == nil && n == 0
	})
	all := dump(t, w)
	for name, s := range secrets {
		for _, form := range []string{s, hex.EncodeToString([]byte(s)), base64.StdEncoding.EncodeToString([]byte(s))} {
			if strings.Contains(all, form) {
				t.Errorf("%s lies in the database: %q", name, s)
			}
		}
	}
	// Codes are so few that all could be tried: what is kept of them needs the key file.
	for name, s := range secrets {
		if len(s) != 7 {
			continue
		}
		code := strings.ReplaceAll(s, " ", "")
		var ids []string
		if err := w.App.DB.Select(&ids, `SELECT id::text FROM entries UNION SELECT link_id::text FROM link_codes`); err != nil {
			t.Fatal(err)
		}
		for _, id := range ids {
			if strings.Contains(all, hex.EncodeToString(secret.Hash(id+" "+code))) {
				t.Errorf("%s can be found by trying", name)
			}
		}
	}
}

func TestWaitingMailsAreSealed(t *testing.T) {
	t.Parallel()
	w := newWorld(t, func(c *server.Config) { c.Mail.Address = "127.0.0.1:1" })
	busyDay(t, w)
	n := 0
	if err := w.App.DB.Get(&n, `SELECT count(*) FROM river_job WHERE kind = 'send_mail'`); err != nil || n < 6 {
		t.Fatalf("%d mails wait, %v", n, err)
	}
	all := dump(t, w)
	for _, trace := range []string{"/enter/", "Your code is", "code for the papers", w.URL} {
		if strings.Contains(all, trace) || strings.Contains(all, base64.StdEncoding.EncodeToString([]byte(trace))) {
			t.Errorf("a waiting mail shows %q", trace)
		}
	}
}

// A key file that is missing or another one is said, and nothing is made or changed.
func TestTheWrongKeyFileIsRefused(t *testing.T) {
	t.Parallel()
	w := newWorld(t, local)
	w.paper("a.txt", "a")
	open := func(change func(c *server.Config)) error {
		c := w.App.Config
		change(&c)
		app, err := server.New(context.Background(), c, os.DirFS(frontFor(t)), w.Now, secret.NewPasswords(2).Cheap(), slog.New(slog.NewTextHandler(io.Discard, nil)))
		if err == nil {
			app.Close()
		}
		return err
	}
	missing := filepath.Join(t.TempDir(), "keys", "master.key")
	if err := open(func(c *server.Config) { c.KeyFile = missing }); !errors.Is(err, fs.ErrNotExist) || !strings.Contains(err.Error(), missing) {
		t.Errorf("a missing key file: %v", err)
	}
	if _, err := os.Stat(missing); !errors.Is(err, fs.ErrNotExist) {
		t.Errorf("a new key was made: %v", err)
	}
	other := filepath.Join(t.TempDir(), "other.key")
	if err := os.WriteFile(other, secret.Random(32), 0o600); err != nil {
		t.Fatal(err)
	}
	// Also where the database is from before it knew how to check.
	for range 2 {
		if err := open(func(c *server.Config) { c.KeyFile = other }); !errors.Is(err, server.ErrWrongKey) {
			t.Errorf("another key file: %v", err)
		}
		if _, err := w.App.DB.Exec(`DELETE FROM key_check`); err != nil {
			t.Fatal(err)
		}
	}
	if err := open(func(*server.Config) {}); err != nil {
		t.Errorf("the right one: %v", err)
	}
	w.Visitor().Want(200, "GET", "/readyz", nil)
	if _, err := w.App.DB.Exec(`UPDATE key_check SET sealed = '\x00'`); err != nil {
		t.Fatal(err)
	}
	if a := w.Visitor().Do("GET", "/readyz", nil); a.Status != 503 || !strings.Contains(string(a.Body), "key file") {
		t.Errorf("ready with another database: %d %s", a.Status, a.Body)
	}
	w.luca.Want(200, "GET", "/api/today", nil)
}

// frontFor makes a folder with as much of a front end as a server needs.
func frontFor(t *testing.T) string {
	t.Helper()
	dir := t.TempDir()
	for _, name := range []string{"index.html", "recipient.html"} {
		if err := os.WriteFile(filepath.Join(dir, name), []byte("<!doctype html>"), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	return dir
}
