// Package api_test asks the real server, over HTTP, on a real database.
package api_test

import (
	"encoding/json"
	"fmt"
	"net/url"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

func TestMain(m *testing.M) { testkit.Main(m) }

// world is a server with one dossier: Hanne manages, Luca edits, Priya views,
// Tomasz is not in it.
type world struct {
	*testkit.Kit
	hanne, luca, priya, tomasz *testkit.Client
	top                        uuid.UUID
}

func newWorld(t *testing.T, changes ...func(c *server.Config)) *world {
	k := testkit.New(t, changes...)
	w := &world{Kit: k, hanne: k.SignIn("hanne"), luca: k.SignIn("luca"), priya: k.SignIn("priya"), tomasz: k.SignIn("tomasz")}
	w.top = testkit.Post[contract.DossierRow](w.hanne, 201, "/api/dossiers", contract.NewDossier{Code: "mer-24", Name: "Corran Lass", Kind: "client"}).Id
	for who, level := range map[string]access.Level{"luca": access.LevelEdit, "priya": access.LevelView} {
		k.Give("hanne", w.top, who, level)
	}
	return w
}

func (w *world) dossier() contract.Dossier {
	return testkit.Get[contract.Dossier](w.hanne, "/api/dossiers/MER-24")
}

func (w *world) register() contract.RegisterPage {
	return testkit.Get[contract.RegisterPage](w.hanne, fmt.Sprintf("/api/folders/%s/register", w.top))
}

// paper uploads a small text and returns the document's id.
func (w *world) paper(name, text string) uuid.UUID {
	return w.luca.Upload(w.top, "", name, []byte(text)).Document.Id
}

// link makes a link of Luca's and returns it with its token.
func (w *world) link(terms contract.LinkTerms) (contract.Link, string) {
	l := testkit.Post[contract.Link](w.luca, 201, "/api/links", terms)
	return l, (*l.Address)[len(w.URL)+len("/l/"):]
}

func ptr[T any](v T) *T { return &v }

func read[T any](t *testing.T, a testkit.Answer) (v T) {
	t.Helper()
	if err := json.Unmarshal(a.Body, &v); err != nil {
		t.Fatalf("reading %s: %v", a.Body, err)
	}
	return v
}

func mustURL(raw string) *url.URL {
	u, err := url.Parse(raw)
	if err != nil {
		panic(err)
	}
	return u
}
