package api_test

import (
	"fmt"
	"strings"
	"testing"

	tree "tabularis/internal/app/items"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(o *office) []endpoint {
		return []endpoint{
			{"POST", "/items/move", "", contract.Move{Items: []uuid.UUID{o.plan}, To: o.reports}, paper(access.Delete | access.Add)},
			{"POST", "/desk", "", nil, inside},
		}
	})
}

func (o *office) move(c *testkit.Client, to uuid.UUID, items ...uuid.UUID) testkit.Answer {
	o.T.Helper()
	return c.Do("POST", "/api/items/move", contract.Move{Items: items, To: to})
}

func (o *office) whatIfMoved(c *testkit.Client, to uuid.UUID, items ...uuid.UUID) contract.Consequence {
	o.T.Helper()
	return testkit.Post[contract.Consequence](c, 200, "/api/access/what-if", contract.WhatIf{Move: &contract.Move{Items: items, To: to}})
}

// effects writes a consequence down: who gains and loses how much.
func effects(x contract.Consequence) string {
	var out []string
	for _, e := range x.Effects {
		out = append(out, fmt.Sprintf("%s +%d -%d ~%d", e.Name, e.Gains, e.Loses, e.Changes))
	}
	return strings.Join(out, ", ")
}

// From the desk into a dossier: what it means is said before, and comes true;
// the register number it had still leads to it.
func TestFromTheDeskIntoADossier(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	desk := testkit.Post[contract.DossierRow](o.luca, 200, "/api/desk", nil)
	if again := testkit.Post[contract.DossierRow](o.luca, 200, "/api/desk", nil); again.Id != desk.Id || desk.Kind != "desk" {
		t.Errorf("%+v, then %+v", desk, again)
	}
	for _, d := range testkit.Get[[]contract.DossierRow](o.luca, "/api/dossiers") {
		if d.Id == desk.Id {
			t.Error("one's own desk is listed among the dossiers")
		}
	}
	paper := o.luca.Upload(desk.Id, "", "opinion.txt", []byte("my opinion"))
	o.priya.Want(404, "GET", "/api/dossiers/"+desk.Code, nil)
	o.priya.Want(404, "GET", "/api/documents/"+paper.Document.Id.String(), nil)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.reports}, to(o.People["tomasz"].ID)))
	before := o.whatIfMoved(o.luca, o.reports, paper.Document.Id)
	if before.Documents != 1 || !strings.Contains(effects(before), "Tomasz Rehn +1 -0 ~0") || !strings.Contains(effects(before), "Hanne Solvik +1 -0 ~0") {
		t.Errorf("what if: %s", effects(before))
	}
	if a := o.move(o.luca, o.reports, paper.Document.Id); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	slip := testkit.Get[contract.Document](o.tomasz, "/api/documents/"+paper.Document.Id.String())
	if !strings.HasPrefix(slip.Ref, "MER-24/") {
		t.Errorf("it is %s now", slip.Ref)
	}
	old := strings.Split(paper.Document.Ref, "/")
	for who, c := range map[string]*testkit.Client{"luca": o.luca, "tomasz": o.tomasz} {
		if p := testkit.Get[contract.Place](c, "/api/register-numbers/"+old[0]+"/"+old[1]); p.Id != paper.Document.Id || p.Ref != slip.Ref {
			t.Errorf("the old number leads %s to %+v", who, p)
		}
	}
	if next := o.luca.Upload(desk.Id, "", "second.txt", []byte("second")); next.Document.Ref == paper.Document.Ref {
		t.Error("a register number was given out again")
	}
	o.sound()
	if d := testkit.Get[contract.Dossier](o.luca, "/api/dossiers/"+desk.Code); d.Documents != 1 {
		t.Errorf("%d documents are counted at the desk", d.Documents)
	}
	o.counted()
}

// counted compares what folders count with what lies in them.
func (o *office) counted() {
	o.T.Helper()
	if wrong, err := tree.WrongItems(o.T.Context(), o.App.DB); err != nil || len(wrong) > 0 {
		o.T.Errorf("wrong items: %v %v", wrong, err)
	}
}

// A folder takes along what stands on it and below, also into another zone and
// another dossier.
func TestAFolderMovesWithItsAccess(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{o.quote}, to(o.People["tomasz"].ID)))
	o.hanne.Want(204, "PUT", fmt.Sprintf("/api/items/%s/closed", o.yard), contract.Closed{Closed: true})
	said := o.whatIfMoved(o.hanne, o.yard, o.reports)
	if got := effects(said); !strings.Contains(got, "Luca Ferrante +0 -3") || strings.Contains(got, "Tomasz") {
		t.Errorf("into a closed folder: %s", got)
	}
	if a := o.move(o.hanne, o.yard, o.reports); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	o.sound()
	o.luca.Want(404, "GET", "/api/documents/"+o.plan.String(), nil)
	o.tomasz.Want(200, "GET", "/api/documents/"+o.quote.String(), nil)
	other := testkit.Post[contract.DossierRow](o.hanne, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"})
	o.give(o.hanne, wish(contract.LevelView, []uuid.UUID{other.Id}, to(o.People["priya"].ID)))
	if got := effects(o.whatIfMoved(o.hanne, other.Id, o.reports)); !strings.Contains(got, "Priya Valdane +3 -0 ~0") {
		t.Errorf("into another dossier: %s", got)
	}
	if a := o.move(o.hanne, other.Id, o.reports); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	o.sound()
	o.counted()
	if d := testkit.Get[contract.Dossier](o.priya, "/api/dossiers/AUR-03"); d.Documents != 3 || len(d.Folders) != 3 {
		t.Errorf("%d documents in %d folders", d.Documents, len(d.Folders))
	}
	o.tomasz.Want(200, "GET", "/api/documents/"+o.quote.String(), nil)
	if d := testkit.Get[contract.Dossier](o.hanne, "/api/dossiers/MER-24"); d.Documents != 0 {
		t.Errorf("%d documents are still counted where they were", d.Documents)
	}
}

func TestMovesThatAreRefused(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	twin := o.luca.Upload(o.yard, "", "plan.txt", []byte("another plan")).Document.Id
	hers := o.hanne.Upload(o.yard, "", "hers.txt", []byte("hers")).Document.Id
	desk := testkit.Post[contract.DossierRow](o.luca, 200, "/api/desk", nil)
	for name, c := range map[string]struct {
		by     *testkit.Client
		to     uuid.UUID
		items  []uuid.UUID
		status int
		code   string
	}{
		"into itself":                {o.hanne, o.inner, []uuid.UUID{o.reports}, 400, "into-itself"},
		"a dossier":                  {o.hanne, o.yard, []uuid.UUID{o.top}, 409, "dossier-stays"},
		"a name that is taken":       {o.luca, o.reports, []uuid.UUID{twin}, 409, "name-taken"},
		"one of two that is taken":   {o.hanne, o.reports, []uuid.UUID{hers, twin}, 409, "name-taken"},
		"what somebody else added":   {o.luca, desk.Id, []uuid.UUID{hers}, 403, "not-allowed"},
		"into a document":            {o.luca, o.plan, []uuid.UUID{o.draft}, 404, "not-found"},
		"what one may not see":       {o.tomasz, o.yard, []uuid.UUID{o.plan}, 404, "not-found"},
		"to somebody else's desk":    {o.hanne, desk.Id, []uuid.UUID{hers}, 404, "not-found"},
		"nothing":                    {o.hanne, o.yard, []uuid.UUID{}, 400, "items-count"},
		"a folder that is not there": {o.hanne, uuid.New(), []uuid.UUID{o.plan}, 404, "not-found"},
		"by somebody who only looks": {o.priya, o.yard, []uuid.UUID{o.plan}, 403, "not-allowed"},
	} {
		t.Run(name, func(t *testing.T) {
			if a := o.move(c.by, c.to, c.items...); a.Status != c.status || a.Code() != c.code {
				t.Errorf("%d %s", a.Status, a.Body)
			}
		})
	}
	if n := testkit.Get[contract.RegisterPage](o.hanne, fmt.Sprintf("/api/folders/%s/register", o.yard)).Total; n != 2 {
		t.Errorf("%d documents are left where they were", n)
	}
	o.invite()
	o.guest.Want(403, "POST", "/api/desk", nil)
	o.sound()
}

// A link whose things go together goes along; one that would give things of two
// dossiers holds them; and whoever has a link to the folder is counted before.
func TestLinksAndMoves(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	other := testkit.Post[contract.DossierRow](o.luca, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"})
	o.give(o.luca, wish(contract.LevelManage, []uuid.UUID{other.Id}, to(o.People["hanne"].ID)))
	both, _ := o.link(contract.LinkTerms{Items: []uuid.UUID{o.draft, o.plan}})
	if a := o.move(o.hanne, other.Id, o.plan); a.Code() != "link-holds" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	if a := o.move(o.hanne, other.Id, o.plan, o.draft); a.Status != 204 {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	if l := testkit.Get[contract.LinkRecord](o.luca, "/api/links/"+both.Id.String()).Link; l.DossierCode != "AUR-03" {
		t.Errorf("the link belongs to %s", l.DossierCode)
	}
	newest := true
	_, token := o.link(contract.LinkTerms{Items: []uuid.UUID{o.yard}, Newest: &newest})
	if x := o.whatIfMoved(o.luca, o.yard, o.plan); x.Links == nil || *x.Links != 1 {
		t.Errorf("the link to the folder is not counted: %+v", x)
	}
	v := o.Visitor()
	v.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	if c := testkit.Get[contract.LinkContents](v, "/api/visits/"+token+"/contents"); c.Count != 0 {
		t.Errorf("%d documents before", c.Count)
	}
	if a := o.move(o.hanne, o.yard, o.quote); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	if c := testkit.Get[contract.LinkContents](v, "/api/visits/"+token+"/contents"); c.Count != 1 {
		t.Errorf("%d documents after", c.Count)
	}
}

// Moving takes nothing along that is closed to the mover, widens nothing for them,
// and takes out of a dossier only what they manage there. What it would mean is
// not said either.
func TestMovingRevealsNothing(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	desk := testkit.Post[contract.DossierRow](o.luca, 200, "/api/desk", nil)
	own := testkit.Post[contract.DossierRow](o.luca, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"})
	// Luca manages the reports, but not what Hanne closes inside.
	o.give(o.hanne, wish(contract.LevelManage, []uuid.UUID{o.reports}, to(o.People["luca"].ID)))
	secret := o.hanne.Upload(o.inner, "", "fees.txt", []byte("fees")).Document.Id
	o.hanne.Want(204, "PUT", "/api/items/"+o.inner.String()+"/closed", contract.Closed{Closed: true})
	if a := o.luca.Do("GET", "/api/documents/"+secret.String(), nil); a.Status != 404 {
		t.Fatalf("it is not hidden: %d", a.Status)
	}
	for name, to := range map[string]uuid.UUID{"to a desk": desk.Id, "to another dossier": own.Id, "within the dossier": o.yard} {
		if a := o.luca.Do("POST", "/api/access/what-if", contract.WhatIf{Move: &contract.Move{Items: []uuid.UUID{o.reports}, To: to}}); a.Status != 403 || strings.Contains(string(a.Body), "fees") {
			t.Errorf("%s, what if: %d %s", name, a.Status, a.Body)
		}
		if a := o.move(o.luca, to, o.reports); a.Status != 403 || a.Code() != "not-allowed" {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	if a := o.luca.Do("GET", "/api/documents/"+secret.String(), nil); a.Status != 404 {
		t.Errorf("it was revealed: %d", a.Status)
	}
	// What one only edits stays in its dossier, and does not become one's to manage.
	draft := o.luca.Upload(o.yard, "", "mine.txt", []byte("mine")).Document.Id
	for name, to := range map[string]uuid.UUID{"to a desk": desk.Id, "where one manages": o.reports} {
		if a := o.move(o.luca, to, draft); a.Status != 403 {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	// Whoever manages all of it moves all of it, with what is closed.
	o.give(o.luca, wish(contract.LevelManage, []uuid.UUID{own.Id}, to(o.People["hanne"].ID)))
	if a := o.move(o.hanne, own.Id, o.reports); a.Status != 204 {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	o.sound()
}
