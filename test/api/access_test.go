package api_test

import (
	"fmt"
	"net/http"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// Every endpoint that needs a person, tried by everybody who may not.
func TestRefusals(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("plan.txt", "one")
	w.luca.Upload(w.top, "", "plan.txt", []byte("two"))
	link, _ := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}})
	other := testkit.Post[contract.DossierRow](w.tomasz, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"})

	const any = 0
	cases := []struct {
		method, path string
		body         interface{}
		// view and edit are what those levels get; any means: not refused.
		view, edit int
	}{
		{"GET", "/api/today", nil, any, any},
		{"GET", "/api/dossiers", nil, any, any},
		{"GET", "/api/dossiers/MER-24", nil, any, any},
		{"POST", "/api/folders/{top}/folders", contract.NewName{Name: "made"}, 403, any},
		{"GET", "/api/folders/{top}/register", nil, any, any},
		{"PUT", "/api/items/{doc}/name", contract.NewName{Name: "plan.txt"}, 403, any},
		{"GET", "/api/documents/{doc}", nil, any, any},
		{"GET", "/api/documents/{doc}/preview", nil, any, any},
		{"GET", "/api/documents/{doc}/content", nil, any, any},
		{"GET", "/api/archive?item={doc}", nil, any, any},
		{"POST", "/api/documents/{doc}/versions/2/separation", nil, 403, any},
		{"GET", "/api/register-numbers/MER-24/1", nil, any, any},
		{"POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc}}, 403, any},
		{"POST", "/api/links/draft", contract.LinkTerms{Items: []uuid.UUID{doc}}, 403, any},
		{"GET", "/api/links?dossier=MER-24", nil, any, any},
		{"GET", "/api/links/{link}", nil, any, any},
		{"POST", "/api/links/{link}/mail", contract.LinkMail{To: []string{"a@b.example"}}, 403, any},
		{"POST", "/api/links/{link}/openings", nil, 403, 409},
		{"POST", "/api/links/{link}/end", nil, 403, any},
		{"GET", "/api/activity?dossier=MER-24", nil, any, any},
	}
	fill := strings.NewReplacer("{top}", w.top.String(), "{doc}", doc.String(), "{link}", link.Id.String())
	// These answer a stranger with what is theirs: nothing of this dossier.
	own := map[string]bool{"/api/today": true, "/api/dossiers": true}
	t.Logf("%-6s %-52s %10s %12s %6s %6s", "", "", "signed out", "not a member", "view", "edit")
	for _, c := range cases {
		path := fill.Replace(c.path)
		got := [4]int{}
		for i, who := range []*testkit.Client{w.Visitor(), w.tomasz, w.priya, w.luca} {
			got[i] = who.Do(c.method, path, c.body).Status
		}
		t.Logf("%-6s %-52s %10d %12d %6d %6d", c.method, c.path, got[0], got[1], got[2], got[3])
		if got[0] != 401 {
			t.Errorf("%s %s signed out: %d", c.method, c.path, got[0])
		}
		if want := map[bool]int{true: 200, false: 404}[own[c.path]]; got[1] != want {
			t.Errorf("%s %s by who is not a member: %d, want %d", c.method, c.path, got[1], want)
		}
		for i, want := range []int{c.view, c.edit} {
			if want == any && got[2+i] >= 400 || want != any && got[2+i] != want {
				t.Errorf("%s %s by a member: %d, want %d", c.method, c.path, got[2+i], want)
			}
		}
	}
	for _, p := range []string{"/api/today", "/api/dossiers", "/api/links?state=all", "/api/activity", "/api/find?q=plan"} {
		if a := w.tomasz.Want(200, "GET", p, nil); strings.Contains(string(a.Body), "plan.txt") || strings.Contains(string(a.Body), "MER-24") {
			t.Errorf("%s shows a stranger %s", p, a.Body)
		}
	}
	for _, p := range []string{"/api/dossiers/" + other.Code, "/api/folders/" + other.Id.String() + "/register"} {
		w.hanne.Want(404, "GET", p, nil)
	}
}

func TestWhatMayNotBeSeenAnswersLikeWhatDoesNotExist(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	doc := w.paper("secret.txt", "x")
	hidden := w.tomasz.Want(404, "GET", "/api/documents/"+doc.String(), nil)
	never := w.tomasz.Want(404, "GET", "/api/documents/"+uuid.NewString(), nil)
	if string(hidden.Body) != string(never.Body) {
		t.Errorf("hidden answers %s, missing %s", hidden.Body, never.Body)
	}
	a, b := w.tomasz.Want(404, "GET", "/api/register-numbers/MER-24/1", nil), w.tomasz.Want(404, "GET", "/api/register-numbers/MER-24/77", nil)
	if string(a.Body) != string(b.Body) {
		t.Errorf("a hidden number answers %s, a free one %s", a.Body, b.Body)
	}
}

func TestIDsThatAreNotIDs(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	for _, id := range []string{"1", "x", "..%2f..", "00000000-0000-0000-0000-00000000000g", "'%20OR%201=1", strings.Repeat("a", 3000)} {
		for _, path := range []string{"/api/documents/%s", "/api/documents/%s/content", "/api/folders/%s/register", "/api/links/%s", "/api/uploads/%s/outcome", "/api/archive?item=%s"} {
			a := w.luca.Do("GET", fmt.Sprintf(path, id), nil)
			if a.Status != http.StatusBadRequest && a.Status != http.StatusNotFound || !strings.HasPrefix(a.Header.Get("Content-Type"), "application/problem+json") {
				t.Errorf(path+": %d %s", id[:min(20, len(id))], a.Status, a.Body)
			}
		}
	}
	// A folder is no document, a document no folder, and another dossier's
	// folder no place for an upload.
	doc := w.paper("a.txt", "a")
	w.luca.Want(404, "GET", "/api/documents/"+w.top.String(), nil)
	w.luca.Want(404, "GET", "/api/folders/"+doc.String()+"/register", nil)
	other := testkit.Post[contract.DossierRow](w.tomasz, 201, "/api/dossiers", contract.NewDossier{Code: "AUR-03", Name: "Aurelie", Kind: "internal"})
	if a := w.luca.Begin(other.Id, "", "a.txt", 1); a.Status != 404 {
		t.Errorf("an upload into another dossier: %d", a.Status)
	}
	if a := w.luca.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{doc, other.Id}}); a.Status != 404 {
		t.Errorf("a link on another dossier's folder: %d", a.Status)
	}
}

func TestBadBodiesAreRefused(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	for name, body := range map[string]string{"no JSON": "{", "wrong type": `{"code": 7}`, "huge": `{"code": "` + strings.Repeat("x", 2<<20) + `"}`} {
		a := w.luca.Do("POST", "/api/dossiers", strings.NewReader(body))
		if a.Status != 400 && a.Status != 413 || a.Code() == "" {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	if a := w.luca.Do("GET", "/api/folders/"+w.top.String()+"/register?after=rubbish", nil); a.Status != 400 || a.Code() != "cursor-unknown" {
		t.Errorf("a wrong cursor: %d %s", a.Status, a.Body)
	}
	for _, q := range []string{"limit=0", "limit=501", "limit=x", "order=colour"} {
		w.luca.Want(400, "GET", "/api/folders/"+w.top.String()+"/register?"+q, nil)
	}
	w.luca.Want(404, "GET", "/api/no-such-thing", nil)
	w.luca.Want(404, "GET", "/assets/no-such-thing.js", nil)
}
