package api_test

import (
	"slices"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{{"POST", "/items/copy", "", contract.Move{Items: []uuid.UUID{o.plan}, To: o.reports}, paper(access.Download | access.Add)}}
	})
}

func (o *office) copies(c *testkit.Client, to uuid.UUID, items ...uuid.UUID) contract.Copies {
	o.T.Helper()
	return testkit.Post[contract.Copies](c, 201, "/api/items/copy", contract.Move{Items: items, To: to})
}

// Documents and folders are copied with what one sees in them, without their access, under
// names that give way; content is stored once.
func TestCopying(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	before := o.blobs()
	c := o.copies(o.luca, o.yard, o.plan, o.reports)
	if c.Documents != 4 || len(c.Items) != 2 || c.Left != 0 {
		t.Fatalf("%+v", c)
	}
	doc := testkit.Get[contract.Document](o.luca, "/api/documents/"+c.Items[0].String())
	if doc.Name != "plan.txt" || doc.Versions[0].Origin != "copied" || string(o.luca.Want(200, "GET", "/api/documents/"+doc.Id.String()+"/content", nil).Body) != "plan" {
		t.Errorf("%+v", doc)
	}
	if got := strings.Join(o.sees(o.luca, c.Items[1]), ", "); got != "draft.txt, plan.txt" {
		t.Errorf("the copied folder holds %s", got)
	}
	again := o.copies(o.luca, o.yard, o.plan, o.reports)
	name := testkit.Get[contract.Document](o.luca, "/api/documents/"+again.Items[0].String()).Name
	if name != "plan (2).txt" {
		t.Errorf("a second copy is called %q", name)
	}
	if o.blobs() != before {
		t.Error("content was stored again")
	}
	// What is closed within is copied by who sees it alone.
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	if c := o.copies(o.luca, o.yard, o.reports); c.Documents != 2 {
		t.Errorf("%d documents are copied by who does not see all", c.Documents)
	}
	// Undone like anything that is deleted.
	o.deletes(o.luca, again.Items[0])
	o.deletes(o.hanne, again.Items[1])
	o.sound()
}

// Nothing is copied that may not be downloaded, to where nothing may be added, or into itself.
func TestWhatIsNotCopied(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	clientID, client := o.account("client", accounts.Guest)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	o.give(o.hanne, wish(contract.LevelLook, []uuid.UUID{o.reports}, to(clientID)))
	o.give(o.hanne, wish(contract.LevelEdit, []uuid.UUID{o.yard}, to(clientID)))
	for what, m := range map[string]struct {
		who    *testkit.Client
		items  []uuid.UUID
		to     uuid.UUID
		status int
	}{
		"only looked at": {client, []uuid.UUID{o.plan}, o.yard, 403}, "not seen": {client, []uuid.UUID{uuid.New()}, o.yard, 404}, "to what is not there": {o.luca, []uuid.UUID{o.plan}, uuid.New(), 404},
		"into itself": {o.luca, []uuid.UUID{o.reports}, o.inner, 400}, "onto itself": {o.luca, []uuid.UUID{o.reports}, o.reports, 400}, "a dossier": {o.luca, []uuid.UUID{o.top}, o.yard, 400}, "nothing": {o.luca, nil, o.yard, 400},
		"to a document": {o.luca, []uuid.UUID{o.plan}, o.draft, 404}, "who may not add": {o.SignIn("priya"), []uuid.UUID{o.plan}, o.yard, 403},
	} {
		if a := m.who.Do("POST", "/api/items/copy", contract.Move{Items: m.items, To: m.to}); a.Status != m.status {
			t.Errorf("%s: %d %s, want %d", what, a.Status, a.Body, m.status)
		}
	}
	// A folder that is only looked at is copied empty, and says what was left out.
	if c := o.copies(client, o.yard, o.reports); c.Documents != 0 || c.Left != 3 {
		t.Errorf("%+v", c)
	}
	// Who could open copies and cannot open what they are of is said before.
	effects := testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", contract.WhatIf{Copy: &contract.Move{Items: []uuid.UUID{o.quote}, To: o.yard}})
	if len(effects.Effects) != 0 || effects.Documents != 1 {
		t.Errorf("%+v", effects)
	}
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	effects = testkit.Post[contract.Consequence](o.hanne, 200, "/api/access/what-if", contract.WhatIf{Copy: &contract.Move{Items: []uuid.UUID{o.quote}, To: o.yard}})
	if !slices.ContainsFunc(effects.Effects, func(e contract.Effect) bool { return e.Name == "client" && e.Gains == 1 && e.Outside }) {
		t.Errorf("%+v", effects)
	}
}

// Copies of many at once have numbers and names of their own.
func TestCopyingAtOnce(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	var group sync.WaitGroup
	for range 8 {
		group.Go(func() { o.copies(o.luca, o.yard, o.plan, o.inner) })
	}
	group.Wait()
	names := o.sees(o.luca, o.yard)
	slices.Sort(names)
	if len(slices.Compact(names)) != 8 {
		t.Errorf("%v", names)
	}
	o.sound()
}

func (o *office) blobs() (n int) {
	o.T.Helper()
	if err := o.App.DB.GetContext(o.T.Context(), &n, `SELECT count(*) FROM blobs`); err != nil {
		o.T.Fatal(err)
	}
	return n
}

// A dossier is made like another: with its folders, closed and given to colleagues as there,
// and with what lies in it if one wants; nobody outside comes in by it, and what whoever makes
// it does not see is not there.
func TestADossierLikeAnother(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	clientID, client := o.account("client", accounts.Guest)
	o.Appoint("hanne", accounts.Administrator)
	o.hanne = o.SignIn("hanne")
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.reports}, to(clientID)))
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	like := func(code string) *string { return &code }
	yes := true
	before := o.blobs()
	made := testkit.Post[contract.DossierRow](o.hanne, 201, "/api/dossiers", contract.NewDossier{Code: "PEL-12", Name: "Pellew", Kind: "client", Like: like("mer-24"), WithDocuments: &yes})
	folders := func(c *testkit.Client, code string) (names []string) {
		for _, f := range testkit.Get[contract.Dossier](c, "/api/dossiers/"+code).Folders[1:] {
			name := f.Name
			if f.Closed {
				name += " closed"
			}
			names = append(names, name)
		}
		return names
	}
	if got := strings.Join(folders(o.hanne, "PEL-12"), ", "); got != "Reports, Between us closed, Yard" || made.Documents != 3 || o.blobs() != before {
		t.Errorf("made like it: %s, %d documents", got, made.Documents)
	}
	// Luca edits there, as in the pattern; the client is not in it, and sees nothing of it.
	if got := strings.Join(folders(o.luca, "PEL-12"), ", "); got != "Reports, Yard" {
		t.Errorf("a colleague sees %s", got)
	}
	client.Want(404, "GET", "/api/dossiers/PEL-12", nil)
	// Who does not manage the pattern takes its folders alone, as far as they see them.
	testkit.Post[contract.DossierRow](o.luca, 201, "/api/dossiers", contract.NewDossier{Code: "PEL-13", Name: "Pellew", Kind: "internal", Like: like("MER-24")})
	if got := strings.Join(folders(o.luca, "PEL-13"), ", "); got != "Reports, Yard" {
		t.Errorf("made by who sees less: %s", got)
	}
	o.hanne.Want(404, "GET", "/api/dossiers/PEL-13", nil)
	// What is not seen answers like what is not there, and nothing is made.
	for _, c := range []*testkit.Client{o.SignIn("tomasz"), o.luca} {
		c.Want(404, "POST", "/api/dossiers", contract.NewDossier{Code: "PEL-14", Name: "x", Kind: "internal", Like: like("NONE-1")})
	}
	o.SignIn("tomasz").Want(404, "POST", "/api/dossiers", contract.NewDossier{Code: "PEL-14", Name: "x", Kind: "internal", Like: like("MER-24")})
	o.hanne.Want(404, "GET", "/api/dossiers/PEL-14", nil)
	o.sound()
}
