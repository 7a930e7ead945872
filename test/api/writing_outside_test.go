package api_test

import (
	"fmt"
	"strings"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// outside is a visitor who writes through a link.
func outside(t *testing.T, c *testkit.Client, token string, doc uuid.UUID) *writer {
	t.Helper()
	w := &writer{Client: c, t: t, at: "/api/visits/" + token + "/documents/" + doc.String() + "/writing", page: uuid.NewString()}
	w.version = w.open().Version
	return w
}

// Who works in a folder through a link writes its texts with the colleagues, by the name they said. What they wrote last is
// a version by them; they learn of nothing but the text and who is there; and when the link ends they are out.
func TestVisitorsWriteThroughWorkingLinks(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	yard := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "The yard"}).Id
	doc := w.luca.Upload(yard, "", "Terms.md", []byte("Paid in 30 days.\n")).Document.Id
	elsewhere := w.luca.Upload(w.top, "", "Ours.md", []byte("ours\n")).Document.Id
	note := w.luca.Upload(yard, "", "note.txt", []byte("a\n")).Document.Id
	kind := contract.LinkKindWorking
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind, Name: ptr("Yard papers")})
	visit := "/api/visits/" + token
	at := func(doc uuid.UUID) string {
		return visit + "/documents/" + doc.String() + "/writing?page=" + uuid.NewString()
	}
	// Nobody comes in before the gate, or without a name.
	w.Visitor().Want(401, "GET", at(doc), nil)
	v := w.enter(token, contract.OpenLink{})
	if a := v.Do("GET", at(doc), nil); a.Code() != "name-wanted" {
		t.Errorf("without a name: %d %s", a.Status, a.Body)
	}
	for name, code := range map[string]string{"": "name-empty", "ines@halyard-rook.example": "name-wanted", "Isa\u202eKcerB": "name-direction", strings.Repeat("a", 81): "name-wanted"} {
		if a := v.Do("POST", visit+"/name", contract.NewName{Name: name}); a.Code() != code {
			t.Errorf("%q: %d %s", name, a.Status, a.Body)
		}
	}
	v.Want(204, "POST", visit+"/name", contract.NewName{Name: "Isa Breck"})
	for what, doc := range map[string]uuid.UUID{"outside the folder": elsewhere, "nowhere": uuid.New()} {
		if a := v.Do("GET", at(doc), nil); a.Status != 404 {
			t.Errorf("%s: %d %s", what, a.Status, a.Body)
		}
	}
	if a := v.Do("GET", at(note), nil); a.Code() != "not-written" {
		t.Errorf("plain text: %d %s", a.Status, a.Body)
	}
	isa, luca := outside(t, v, token, doc), writes(t, w.luca, doc)
	if o := isa.open(); o.Place != nil || o.Name != "Terms.md" || o.Mode != "write" {
		t.Errorf("she finds %+v", o)
	}
	isa.writes(1, "Isa: ")
	luca.version = luca.open().Version
	luca.writes(6, "(Luca) ")
	isa.version = isa.open().Version
	isa.writes(1, "To be agreed. ")
	if got := luca.words(); got != "To be agreed. Isa: (Luca) Paid in 30 days." {
		t.Errorf("the text is %q", got)
	}
	people := *testkit.Get[contract.WritingMessage](w.luca, luca.at+"?page="+luca.page).People
	seen := ""
	for _, p := range people {
		seen += p.Name + fmt.Sprint(p.Guest != nil && *p.Guest) + ";"
	}
	if !strings.Contains(seen, "Isa Brecktrue;") || !strings.Contains(seen, "Luca Ferrantefalse;") {
		t.Errorf("they are there: %s", seen)
	}
	parts := testkit.Get[contract.WrittenParts](w.luca, luca.at+"/authors")
	if got := fmt.Sprint(parts.Authors); !strings.Contains(got, "Isa Breck") || !strings.Contains(got, "Luca Ferrante") {
		t.Errorf("it was written by %s", got)
	}
	// A version is hers who wrote last.
	testkit.Post[contract.WritingKept](w.luca, 200, luca.at+"/version", contract.WrittenVersion{})
	made := testkit.Get[contract.Document](w.luca, "/api/documents/"+doc.String()).Versions[0]
	if made.Number != 2 || made.By.Kind != contract.ActorKindVisitor || made.By.LinkId == nil || *made.By.LinkId != l.Id {
		t.Errorf("version %d is by %+v", made.Number, made.By)
	}
	kinds := map[string]int{}
	for _, e := range testkit.Get[contract.LinkRecord](w.luca, "/api/links/"+l.Id.String()).Events {
		kinds[string(e.Kind)]++
	}
	if kinds["link.viewed"] != 1 || kinds["link.revised"] != 1 {
		t.Errorf("the record: %v", kinds)
	}
	// What is decided stands against them, whatever they send; another's page is not theirs.
	if a := v.Do("GET", visit+"/documents/"+doc.String()+"/writing?page="+luca.page, nil); a.Status != 400 {
		t.Errorf("another's page: %d", a.Status)
	}
	mine := map[string]any{"type": "inserted", "attrs": map[string]any{"id": "z", "by": w.People["luca"].ID.String()}}
	isa.version = isa.open().Version
	if a := isa.send(inserting(1, "x", mine)); a.Code() != "more-than-allowed" {
		t.Errorf("in another's name: %d %s", a.Status, a.Body)
	}
	w.luca.Want(204, "POST", "/api/checkouts", contract.CheckOut{Items: []uuid.UUID{doc}})
	if o := isa.open(); o.Mode != "look" || o.Barred == nil {
		t.Errorf("in hand: %s", o.Mode)
	}
	if a := isa.send(inserting(1, "x")); a.Code() != "more-than-allowed" {
		t.Errorf("in hand: %d %s", a.Status, a.Body)
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	if a := v.Do("GET", at(doc), nil); a.Status != 410 {
		t.Errorf("after the end: %d %s", a.Status, a.Body)
	}
}

// A link of any other kind lets nobody write, and one that asks for more than a name gets it first.
func TestOtherLinksLetNobodyWrite(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	doc := w.luca.Upload(w.top, "", "Terms.md", []byte("Paid in 30 days.\n")).Document.Id
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{doc}})
	v := w.enter(token, contract.OpenLink{})
	for _, a := range []testkit.Answer{
		v.Do("POST", "/api/visits/"+token+"/name", contract.NewName{Name: "Isa"}),
		v.Do("GET", "/api/visits/"+token+"/documents/"+doc.String()+"/writing?page="+uuid.NewString(), nil),
		v.Do("POST", "/api/visits/"+token+"/documents/"+doc.String()+"/writing?page="+uuid.NewString(), contract.WritingSent{Version: 1, Steps: testkit.Steps(inserting(1, "x"))}),
		v.Do("GET", "/api/visits/"+token+"/documents/"+doc.String()+"/writing/socket?page="+uuid.NewString(), nil),
	} {
		if a.Status != 404 {
			t.Errorf("%d %s", a.Status, a.Body)
		}
	}
	yard := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "The yard"}).Id
	inside := w.luca.Upload(yard, "", "Terms.md", []byte("Paid in 30 days.\n")).Document.Id
	stated, kind := contract.IdentityStated, contract.LinkKindWorking
	_, known := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind, Identify: &stated})
	b := outside(t, w.enter(known, contract.OpenLink{Email: ptr("b.quist@calder.example")}), known, inside)
	b.writes(1, "B: ")
	if people := fmt.Sprint(*testkit.Get[contract.WritingMessage](b.Client, b.at+"?page="+b.page).People); !strings.Contains(people, "b.quist@calder.example") {
		t.Errorf("known by an address, they are %s", people)
	}
	w.Give("hanne", inside, "tomasz", access.LevelView)
	if got := writes(t, w.tomasz, inside).words(); got != "B: Paid in 30 days." {
		t.Errorf("who looks reads %q", got)
	}
}

// A visitor writes a table with the colleagues as they would, sees who changed what since the last version, and is in its
// record; what is not in the folder, or not theirs any more, they neither write nor see.
func TestVisitorsWriteTables(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	yard := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "The yard"}).Id
	doc := w.luca.Upload(yard, "", "Gaugings.csv", []byte("Frame,Is,Twice\n12,8.9,\n15,8.7,\n")).Document.Id
	elsewhere := w.luca.Upload(w.top, "", "Ours.csv", []byte("a,b\n")).Document.Id
	kind := contract.LinkKindWorking
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind})
	v := w.enter(token, contract.OpenLink{})
	at := func(doc uuid.UUID) string {
		return "/api/visits/" + token + "/documents/" + doc.String() + "/writing"
	}
	if a := v.Do("GET", at(doc)+"/changes", nil); a.Code() != "name-wanted" {
		t.Errorf("without a name: %d %s", a.Status, a.Body)
	}
	v.Want(204, "POST", "/api/visits/"+token+"/name", contract.NewName{Name: "Isa Breck"})
	isa, luca := outside(t, v, token, doc), writes(t, w.luca, doc)
	if o := isa.open(); o.Table == nil || o.Place != nil || o.Mode != "write" {
		t.Errorf("she finds %+v", o)
	}
	if a := isa.send(puts("B2", "8.8", "C2", "=B2*2")); a.Status != 200 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	if got := luca.results(func(r map[string]string) bool { return r["C2"] != "" })["C2"]; got != "17.6" {
		t.Errorf("it comes to %q", got)
	}
	luca.version = luca.open().Version
	if a := luca.send(puts("B3", "8.6")); a.Status != 200 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	said := fmt.Sprint(testkit.Get[contract.CellChanges](v, at(doc)+"/changes"))
	for _, want := range []string{"Isa Breck", "Luca", "8.8", "8.6"} {
		if !strings.Contains(said, want) {
			t.Errorf("%s is not in %s", want, said)
		}
	}
	for what, other := range map[string]uuid.UUID{"outside the folder": elsewhere, "nowhere": uuid.New()} {
		v.Want(404, "GET", at(other)+"/changes", nil)
		if a := v.Do("POST", at(other)+"?page="+uuid.NewString(), contract.WritingSent{Version: 1, Steps: testkit.Steps(puts("A1", "x"))}); a.Status != 404 {
			t.Errorf("%s: %d %s", what, a.Status, a.Body)
		}
	}
	if got := string(luca.file()); got != "Frame,Is,Twice\n12,8.8,17.6\n15,8.6,\n" {
		t.Errorf("the file says %q", got)
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	for _, a := range []testkit.Answer{v.Do("GET", at(doc)+"/changes", nil), isa.send(puts("B2", "9"))} {
		if a.Status != 410 {
			t.Errorf("after the end: %d %s", a.Status, a.Body)
		}
	}
}

// What lies beside a text in the folder of a link is shown in it, once it is recorded; what lies elsewhere is not.
func TestVisitorsSeePicturesBesideTexts(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	yard := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "The yard"}).Id
	doc := w.luca.Upload(yard, "", "Terms.md", []byte("![a](Frame.png)\n")).Document.Id
	w.luca.Upload(yard, "", "Frame.png", onePixel)
	w.luca.Upload(w.top, "", "Ours.png", onePixel)
	kind := contract.LinkKindWorking
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind})
	v := w.enter(token, contract.OpenLink{})
	at := "/api/visits/" + token + "/documents/" + doc.String() + "/writing/pictures/"
	if a := v.Do("GET", at+"Frame.png", nil); a.Code() != "name-wanted" {
		t.Errorf("without a name: %d", a.Status)
	}
	v.Want(204, "POST", "/api/visits/"+token+"/name", contract.NewName{Name: "Isa Breck"})
	if a := v.Want(200, "GET", at+"Frame.png", nil); string(a.Body) != string(onePixel) {
		t.Errorf("%d bytes", len(a.Body))
	}
	for _, none := range []string{"Ours.png", "Terms.md", "..%2FOurs.png", "nothing.png"} {
		v.Want(404, "GET", at+none, nil)
	}
	record := string(w.luca.Want(200, "GET", "/api/activity?dossier=MER-24", nil).Body)
	if !strings.Contains(record, "Frame.png") {
		t.Errorf("it is not in the record: %s", record)
	}
}
