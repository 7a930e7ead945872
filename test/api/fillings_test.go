package api_test

import (
	"bytes"
	"encoding/json"
	"fmt"
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

const instructionForm = `# Survey instruction

Before we come aboard, tell us where she lies.

## Where she lies

Berth or yard: <input name="berth" type="text" required>

Afloat or ashore: <input name="afloat" data-choices="afloat&#10;ashore" required>

Length <input name="length" type="number" min="3" max="400"> m

First day aboard: <input name="day" type="date" min="+2" required>

## What is known

<input name="insured" type="checkbox" aria-label="She is insured">
`

func init() {
	named = append(named, func(o *office) []endpoint {
		doc := o.hanne.Upload(o.top, "", "instruction.md", []byte(instructionForm)).Document.Id
		at := "/documents/" + doc.String()
		testkit.Get[contract.Fillable](o.hanne, "/api"+at+"/fillable")
		return []endpoint{
			{"GET", "/documents/{id}/fillable", at + "/fillable", nil, paper(access.See)},
			{"PUT", "/documents/{id}/fillable/folder", at + "/fillable/folder", contract.FillableFolder{}, paper(access.See | access.Change)},
			{"GET", "/documents/{id}/filling", at + "/filling", nil, paper(access.See | access.Fill)},
			{"PATCH", "/documents/{id}/filling", at + "/filling", contract.FillingKept{Answers: map[string]string{}}, paper(access.See | access.Fill)},
			{"POST", "/documents/{id}/filling/handed", at + "/filling/handed", contract.FillingHandedIn{Version: 9}, paper(access.See | access.Fill)},
			{"GET", "/documents/{id}/fillings", at + "/fillings", nil, paper(access.See | access.Change)},
			{"GET", "/documents/{id}/fillings.csv", at + "/fillings.csv", nil, paper(access.See | access.Change)},
		}
	})
	apart["POST /documents/{id}/fillings/{filling}/taken"] = "what was handed in has to be there: TestAFormIsFilledInByOneself"
	for _, key := range []string{"GET /to-fill/{token}", "PATCH /to-fill/{token}", "POST /to-fill/{token}/handed"} {
		apart[key] = "by the link: TestAFormIsFilledInByLink"
	}
}

// instruction gives the office a form, and says where it is.
func (w *world) instruction() (uuid.UUID, string) {
	w.T.Helper()
	id := w.luca.Upload(w.top, "", "Survey instruction.md", []byte(instructionForm)).Document.Id
	return id, "/api/documents/" + id.String()
}

func answers(pairs ...string) contract.FillingKept {
	k := contract.FillingKept{Answers: map[string]string{}}
	for i := 0; i < len(pairs); i += 2 {
		k.Answers[pairs[i]] = pairs[i+1]
	}
	return k
}

func kept(t *testing.T, c *testkit.Client, at string, k contract.FillingKept) contract.FillingStanding {
	t.Helper()
	return read[contract.FillingStanding](t, c.Want(200, "PATCH", at, k))
}

var complete = answers("berth", "Fish quay, berth 7", "afloat", "ashore", "length", "24,6", "day", "2027-01-04", "insured", "yes")

// Somebody who may only fill in does so on their own; what they hand in is a paper and a row, and stays once it is taken up.
func TestAFormIsFilledInByOneself(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	id, at := o.instruction()
	o.give(o.hanne, wish(contract.Level(access.LevelFill), []uuid.UUID{id}, to(o.People["tomasz"].ID)))
	if f := testkit.Get[contract.Fillable](o.luca, at+"/fillable"); f.Fields != 5 || !f.Fills || !f.Reads || *f.Handed != 0 {
		t.Errorf("for its writer: %+v", f)
	}
	if f := testkit.Get[contract.Fillable](o.tomasz, at+"/fillable"); f.Fields != 5 || !f.Fills || f.Reads || f.Handed != nil || f.Folder != nil {
		t.Errorf("for whoever fills in: %+v", f)
	}
	f := testkit.Get[contract.Filling](o.tomasz, at+"/filling")
	if f.Title != "Survey instruction" || len(f.Sections) != 3 || len(f.Sections[1].Fields) != 4 || *f.Sections[1].Fields[2].After != "m" || f.Standing.Of != 5 || len(f.Standing.Open) != 3 || !f.Resumes || *f.Sections[1].Fields[3].First == "" {
		t.Errorf("the form: %+v", f)
	}
	s := kept(t, o.tomasz, at+"/filling", answers("berth", "Fish quay", "length", "2", "day", "soon"))
	if s.Answered != 1 || len(s.Open) != 3 || s.KeptAt == nil || s.Open[1].Reason != "too-little" || *s.Open[1].Bound != "3" {
		t.Errorf("kept: %+v", s)
	}
	if a := o.tomasz.Do("POST", at+"/filling/handed", contract.FillingHandedIn{Version: s.Version}); a.Status != 400 || a.Code() != "form-unanswered" {
		t.Errorf("handed in unanswered: %d %s", a.Status, a.Body)
	}
	// Luca sees that somebody has begun, and not a word of what they write.
	if a := o.luca.Do("GET", at+"/fillings", nil); !strings.Contains(string(a.Body), "Tomasz") || strings.Contains(string(a.Body), "Fish quay") {
		t.Errorf("before it is handed in: %s", a.Body)
	}
	kept(t, o.tomasz, at+"/filling", complete)
	s = read[contract.FillingStanding](t, o.tomasz.Want(200, "POST", at+"/filling/handed", contract.FillingHandedIn{Version: s.Version}))
	if s.Number == nil || *s.Number != 1 || s.Sha256 == nil || s.Changed {
		t.Errorf("handed in: %+v", s)
	}
	r := testkit.Get[contract.FillingRegister](o.luca, at+"/fillings")
	if len(r.Rows) != 1 || len(r.Begun) != 0 || r.Rows[0].Answers["length"] != "24.6" || r.Rows[0].Paper == nil || r.Rows[0].Paper.Name != "Survey instruction, Tomasz Rehn.pdf" || len(r.Columns) != 5 {
		t.Fatalf("the register: %+v", r)
	}
	paper := "/api/documents/" + r.Rows[0].Paper.Id.String()
	if raw := o.luca.Want(200, "GET", paper+"/content", nil).Body; !bytes.HasPrefix(raw, []byte("%PDF")) {
		t.Errorf("the paper: %.20q", raw)
	}
	waitFor(t, func() bool { return len(o.Mail.Messages(o.People["tomasz"].Email)) > 0 })
	// Corrected, it is the same row, and the paper's next version.
	if s = kept(t, o.tomasz, at+"/filling", answers("berth", "Yard of Corran")); !s.Changed {
		t.Errorf("corrected: %+v", s)
	}
	o.tomasz.Want(200, "POST", at+"/filling/handed", contract.FillingHandedIn{Version: s.Version})
	r = testkit.Get[contract.FillingRegister](o.luca, at+"/fillings")
	if len(r.Rows) != 1 || r.Rows[0].Answers["berth"] != "Yard of Corran" || r.Rows[0].Number != 1 {
		t.Errorf("corrected: %+v", r.Rows)
	}
	if v := history(o.luca, r.Rows[0].Paper.Id); len(v) != 2 {
		t.Errorf("%d versions of the paper", len(v))
	}
	// Who fills in neither sees the paper nor the register.
	for _, path := range []string{paper, at + "/fillings", at + "/fillings.csv"} {
		if a := o.tomasz.Do("GET", path, nil); a.Status != 404 && a.Status != 403 {
			t.Errorf("%s: %d", path, a.Status)
		}
	}
	// A further correction that was only begun counts for nothing once it is taken up.
	kept(t, o.tomasz, at+"/filling", answers("berth", "Never handed in"))
	taken := at + "/fillings/" + r.Rows[0].Id.String() + "/taken"
	for c, want := range map[*testkit.Client]int{o.tomasz: 403, o.priya: 403, o.luca: 204} {
		c.Want(want, "POST", taken, nil)
	}
	o.luca.Want(404, "POST", taken, nil)
	for _, a := range []testkit.Answer{o.tomasz.Do("PATCH", at+"/filling", answers("berth", "Elsewhere")), o.tomasz.Do("POST", at+"/filling/handed", contract.FillingHandedIn{Version: s.Version})} {
		if a.Status != 409 || a.Code() != "filling-taken" {
			t.Errorf("after it was taken up: %d %s", a.Status, a.Body)
		}
	}
	if f := testkit.Get[contract.Filling](o.tomasz, at+"/filling"); f.Standing.TakenAt == nil || f.Sections[1].Fields[0].Answer != "Yard of Corran" {
		t.Errorf("what counts: %+v", f.Sections[1].Fields[0])
	}
	again := answers("berth", "Anew")
	again.Again = ptr(true)
	if s = kept(t, o.tomasz, at+"/filling", again); s.Number != nil || s.Answered != 1 {
		t.Errorf("begun anew: %+v", s)
	}
	csv := string(o.luca.Want(200, "GET", at+"/fillings.csv", nil).Body)
	if !strings.Contains(csv, "Berth or yard") || !strings.Contains(csv, "Yard of Corran") || strings.Contains(csv, "Anew") {
		t.Errorf("as a file: %s", csv)
	}
}

// A visitor fills in by a link: it gives nothing else, and what one writes no other sees.
func TestAFormIsFilledInByLink(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id, at := w.instruction()
	other := w.paper("notes.md", "# No field")
	kind := contract.LinkKindFill
	if a := w.luca.Do("POST", "/api/links", contract.LinkTerms{Items: []uuid.UUID{other}, Kind: &kind}); a.Code() != "fill-form" {
		t.Errorf("a document without a field: %d %s", a.Status, a.Body)
	}
	confirmed := contract.IdentityConfirmed
	l, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Kind: &kind, Identify: &confirmed})
	if got := sentenceOf(l.Sentence); !strings.Contains(got, "may fill in this form until") {
		t.Errorf("the sentence: %s", got)
	}
	fill := "/api/to-fill/" + token
	if a := w.Visitor().Do("GET", fill, nil); a.Code() != "needs-opening" {
		t.Errorf("unopened: %d %s", a.Status, a.Body)
	}
	enter := func(email string) *testkit.Client {
		v, before := w.Visitor(), len(w.Mail.Messages(email))
		v.Want(202, "POST", "/api/visits/"+token+"/code", contract.Address{Email: email})
		waitFor(t, func() bool { return len(w.Mail.Messages(email)) > before })
		code := w.code(email)
		v.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{Email: &email, Code: &code})
		return v
	}
	callum := enter("callum@aurelie.example")
	f := testkit.Get[contract.Filling](callum, fill)
	if f.Document != nil || f.Letter == nil || f.Email != "callum@aurelie.example" || !f.Resumes {
		t.Errorf("the form: %+v", f)
	}
	kept(t, callum, fill, complete)
	// The link gives the form to be filled in, and nothing of it, nor takes it anything else.
	doc := "/api/visits/" + token + "/documents/" + id.String()
	for _, path := range []string{"/api/visits/" + token + "/contents", doc + "/content", doc + "/preview", doc + "/pages", "/api/visits/" + token + "/intake", "/api/visits/" + token + "/archive", "/api/to-sign/" + token} {
		if a := callum.Do("GET", path, nil); a.Status != 404 {
			t.Errorf("%s: %d %.80s", path, a.Status, a.Body)
		}
	}
	if a := put(callum, token, "x.pdf", []byte("x")); a.Status != 404 {
		t.Errorf("a file was put in: %d %s", a.Status, a.Body)
	}
	// Others of the same link see nothing of it; the same person goes on elsewhere.
	if g := testkit.Get[contract.Filling](enter("marit@pelham.example"), fill); g.Standing.KeptAt != nil || g.Sections[1].Fields[0].Answer != "" {
		t.Errorf("another visitor: %+v", g.Standing)
	}
	if g := testkit.Get[contract.Filling](enter("callum@aurelie.example"), fill); g.Sections[1].Fields[0].Answer != "Fish quay, berth 7" {
		t.Errorf("on another day: %+v", g.Sections[1].Fields[0])
	}
	// An intake link is no form, and a hand-out is none.
	_, handOut := w.link(contract.LinkTerms{Items: []uuid.UUID{id}})
	v := w.enter(handOut, contract.OpenLink{})
	for _, a := range []testkit.Answer{v.Do("GET", "/api/to-fill/"+handOut, nil), v.Do("PATCH", "/api/to-fill/"+handOut, complete), v.Do("POST", "/api/to-fill/"+handOut+"/handed", contract.FillingHandedIn{Version: 1})} {
		if a.Status != 404 {
			t.Errorf("by a hand-out: %d %s", a.Status, a.Body)
		}
	}
	for name, want := range map[string]string{"": "name-empty", "a\nb": "name-length", strings.Repeat("x", 150): "name-length"} {
		if a := callum.Do("POST", fill+"/handed", contract.FillingHandedIn{Version: 1, Name: &name}); a.Code() != want {
			t.Errorf("named %.10q: %d %s, want %s", name, a.Status, a.Body, want)
		}
	}
	name := "Callum *Wray* <b>"
	s := read[contract.FillingStanding](t, callum.Want(200, "POST", fill+"/handed", contract.FillingHandedIn{Version: 1, Name: &name}))
	if s.Number == nil || *s.Number != 1 {
		t.Errorf("handed in: %+v", s)
	}
	r := testkit.Get[contract.FillingRegister](w.luca, at+"/fillings")
	if len(r.Rows) != 1 || r.Rows[0].Email != "callum@aurelie.example" || r.Rows[0].Name != name || r.Rows[0].Link == nil || *r.Rows[0].Known != "confirmed" || r.Rows[0].Paper == nil {
		t.Fatalf("the register: %+v", r.Rows)
	}
	kinds := w.kinds(l)
	if !strings.Contains(kinds, "filling.handed-in") {
		t.Errorf("what is known of the link: %s", kinds)
	}
	// By the mail it is asked for as what it is; whoever comes by their own copy comes back to what they wrote.
	w.luca.Want(202, "POST", "/api/links/"+l.Id.String()+"/mail", contract.LinkMail{To: []string{"isa.breck@corran.example"}})
	waitFor(t, func() bool { return len(w.Mail.Messages("isa.breck@corran.example")) == 1 })
	if text := w.Mail.Messages("isa.breck@corran.example")[0].Text; !strings.Contains(text, "asks you to fill in “Survey instruction”") || strings.Contains(text, "download") {
		t.Errorf("the letter: %s", text)
	}
	w.luca.Want(204, "POST", "/api/links/"+l.Id.String()+"/end", nil)
	for _, a := range []testkit.Answer{callum.Do("GET", fill, nil), callum.Do("PATCH", fill, complete), callum.Do("POST", fill+"/handed", contract.FillingHandedIn{Version: 1, Name: &name})} {
		if a.Status != 410 {
			t.Errorf("after the link's end: %d %s", a.Status, a.Body)
		}
	}
}

// Merely stated addresses are anybody's: they give nobody what another wrote.
func TestAStatedAddressDoesNotGoOn(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id, _ := w.instruction()
	kind, stated := contract.LinkKindFill, contract.IdentityStated
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Kind: &kind, Identify: &stated})
	email := "callum@aurelie.example"
	first, second := w.enter(token, contract.OpenLink{Email: &email}), w.enter(token, contract.OpenLink{Email: &email})
	kept(t, first, "/api/to-fill/"+token, complete)
	if f := testkit.Get[contract.Filling](second, "/api/to-fill/"+token); f.Standing.KeptAt != nil || f.Resumes {
		t.Errorf("somebody else of the same address: %+v", f.Standing)
	}
}

// What somebody answers goes with the form as it changes; nobody hands in to a version that they have not seen.
func TestAFormGoesOnWhileItIsFilledIn(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id, at := w.instruction()
	s := kept(t, w.luca, at+"/filling", complete)
	testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "Handed in"})
	more := strings.Replace(instructionForm, "## What is known", "Who has the keys: <input name=\"keys\" required>\n\n## What is known", 1)
	more = strings.Replace(more, "Length <input name=\"length\" type=\"number\" min=\"3\" max=\"400\"> m\n\n", "", 1)
	w.luca.Upload(w.top, "", "Survey instruction.md", []byte(more))
	if a := w.luca.Do("POST", at+"/filling/handed", contract.FillingHandedIn{Version: s.Version}); a.Status != 409 || a.Code() != "form-went-on" {
		t.Errorf("handed in as it was: %d %s", a.Status, a.Body)
	}
	s = kept(t, w.luca, at+"/filling", answers("keys", "=cmd|' /C calc'!A0"))
	if s.Version != 2 || len(s.Open) != 0 || s.Of != 5 {
		t.Errorf("as it is now: %+v", s)
	}
	if a := w.luca.Do("PATCH", at+"/filling", answers("length", "3")); a.Code() != "field-unknown" {
		t.Errorf("what is not asked any more: %d %s", a.Status, a.Body)
	}
	w.luca.Want(200, "POST", at+"/filling/handed", contract.FillingHandedIn{Version: 2})
	if csv := string(w.luca.Want(200, "GET", at+"/fillings.csv", nil).Body); strings.Contains(csv, ",=cmd") || !strings.Contains(csv, "calc") {
		t.Errorf("a formula in the file: %s", csv)
	}
	// A document without fields, or of another kind, is no form.
	for name, text := range map[string]string{"plain.md": "# Text", "list.csv": "a,b\n1,2\n"} {
		doc := w.luca.Upload(w.top, "", name, []byte(text)).Document.Id
		if f := testkit.Get[contract.Fillable](w.luca, "/api/documents/"+doc.String()+"/fillable"); f.Fields != 0 || f.Fills {
			t.Errorf("%s: %+v", name, f)
		}
		if a := w.luca.Do("GET", "/api/documents/"+doc.String()+"/filling", nil); a.Code() != "no-form" {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	_ = id
}

// Where it is filed is a folder of the same dossier; named like particulars, answers stand in them.
func TestWhereWhatIsHandedInGoes(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	_, at := o.instruction()
	o.Appoint("hanne", accounts.Administrator)
	o.defines(contract.NewParticular{Name: "length", Kind: "number", Unit: ptr("m")})
	elsewhere := testkit.Post[contract.DossierRow](o.hanne, 201, "/api/dossiers", contract.NewDossier{Code: "bri-07", Name: "Brightwater", Kind: "client"}).Id
	o.Give("hanne", elsewhere, "luca", access.LevelEdit)
	for folder, want := range map[uuid.UUID]string{elsewhere: "folder-elsewhere", uuid.New(): "not-found", o.draft: "not-found"} {
		if a := o.luca.Do("PUT", at+"/fillable/folder", contract.FillableFolder{Folder: &folder}); a.Code() != want {
			t.Errorf("%s: %d %s", want, a.Status, a.Body)
		}
	}
	// Whoever may fill in and sees the folder would see what others hand in: it is said.
	o.give(o.hanne, wish(contract.Level(access.LevelFill), []uuid.UUID{o.top}, to(o.People["tomasz"].ID)))
	if f := testkit.Get[contract.Fillable](o.luca, at+"/fillable"); f.Onlookers == nil || *f.Onlookers != 1 {
		t.Errorf("who sees the folder: %+v", f)
	}
	o.luca.Want(204, "PUT", at+"/fillable/folder", contract.FillableFolder{Folder: &o.yard})
	s := kept(t, o.luca, at+"/filling", complete)
	o.luca.Want(200, "POST", at+"/filling/handed", contract.FillingHandedIn{Version: s.Version})
	page := testkit.Get[contract.RegisterPage](o.luca, fmt.Sprintf("/api/folders/%s/register", o.yard))
	at2 := slices.IndexFunc(page.Rows, func(d contract.DocumentRow) bool { return d.Name == "Survey instruction, Luca Ferrante.pdf" })
	if at2 < 0 {
		t.Fatalf("what lies in the folder: %+v", page.Rows)
	}
	values := string(o.luca.Want(200, "GET", "/api/documents/"+page.Rows[at2].Id.String()+"/particulars", nil).Body)
	if !strings.Contains(values, "24.6") {
		t.Errorf("the paper's particulars: %s", values)
	}
}

// Many at once: each hands in once, with a number of its own; one who sends twice has one row.
func TestManyHandInAtOnce(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	id, at := w.instruction()
	kind := contract.LinkKindFill
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{id}, Kind: &kind})
	var all sync.WaitGroup
	for i := range 6 {
		v := w.enter(token, contract.OpenLink{})
		kept(t, v, "/api/to-fill/"+token, complete)
		name := fmt.Sprintf("Visitor %d", i/2)
		for range 2 {
			all.Go(func() {
				a := v.Do("POST", "/api/to-fill/"+token+"/handed", contract.FillingHandedIn{Version: 1, Name: &name})
				if a.Status != 200 && a.Code() != "form-went-on" {
					t.Errorf("%d %s", a.Status, a.Body)
				}
			})
		}
	}
	all.Wait()
	r := testkit.Get[contract.FillingRegister](w.luca, at+"/fillings")
	seen := map[int]bool{}
	for _, row := range r.Rows {
		seen[row.Number] = true
	}
	if len(r.Rows) != 6 || len(seen) != 6 || !seen[1] || !seen[6] {
		raw, _ := json.Marshal(r.Rows)
		t.Errorf("%d rows, numbers %v: %s", len(r.Rows), seen, raw)
	}
}

// Odd and hostile answers are refused, and nothing is lost by them.
func TestOddAnswersAreRefused(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	_, at := w.instruction()
	kept(t, w.luca, at+"/filling", answers("berth", "Fish quay"))
	many := contract.FillingKept{Answers: map[string]string{}}
	for i := range 301 {
		many.Answers[fmt.Sprint("f", i)] = ""
	}
	for name, k := range map[string]contract.FillingKept{"unknown": answers("__proto__", "x"), "long": answers("berth", strings.Repeat("x", 4001)), "control": answers("berth", "a\x00b"), "many": many} {
		if a := w.luca.Do("PATCH", at+"/filling", k); a.Status != 400 && a.Status != 413 {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	for _, version := range []int{0, -1, 2, 1 << 40} {
		if a := w.luca.Do("POST", at+"/filling/handed", map[string]any{"version": version}); a.Status != 400 && a.Status != 409 {
			t.Errorf("version %d: %d %s", version, a.Status, a.Body)
		}
	}
	if a := w.luca.Do("GET", at+"/fillings?below=0", nil); a.Status != 400 && a.Status != 200 {
		t.Errorf("below nothing: %d", a.Status)
	}
	if f := testkit.Get[contract.Filling](w.luca, at+"/filling"); f.Sections[1].Fields[0].Answer != "Fish quay" {
		t.Errorf("what was kept before: %+v", f.Sections[1].Fields[0])
	}
}

// A text is a PDF document on the practice's letterhead, for whoever may download it; what is one already, or a picture, is not.
func TestAPaperOnTheLetterhead(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	w := newWorld(t)
	at := func(name, text string) string {
		return "/api/documents/" + w.paper(name, text).String() + "/paper.pdf"
	}
	letter := at("Letter.md", "# Letter\n\nTo the yard.\n")
	a := w.luca.Want(200, "GET", letter, nil)
	if !bytes.HasPrefix(a.Body, []byte("%PDF")) || !strings.Contains(a.Header.Get("Content-Disposition"), "Letter.pdf") {
		t.Errorf("%.20q %v", a.Body, a.Header)
	}
	for path, want := range map[string]string{at("paper.pdf", "%PDF-1.4\n"): "unshowable", letter + "?version=7": "not-found", letter + "?version=x": "parameter"} {
		if a := w.luca.Do("GET", path, nil); a.Code() != want {
			t.Errorf("%s: %d %s, want %s", path, a.Status, a.Body, want)
		}
	}
	w.tomasz.Want(404, "GET", letter, nil)
}

// A form goes with its folder: deleted, or where what it holds must not leave, there is nothing to fill in.
func TestAFormThatIsGoneIsNotFilledIn(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	id := o.luca.Upload(o.yard, "", "Survey instruction.md", []byte(instructionForm)).Document.Id
	kind := contract.LinkKindFill
	_, token := o.link(contract.LinkTerms{Items: []uuid.UUID{id}, Kind: &kind})
	v := o.enter(token, contract.OpenLink{})
	kept(t, v, "/api/to-fill/"+token, complete)
	o.hanne.Want(200, "POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{o.yard}})
	for _, a := range []testkit.Answer{v.Do("GET", "/api/to-fill/"+token, nil), v.Do("PATCH", "/api/to-fill/"+token, complete), v.Do("POST", "/api/to-fill/"+token+"/handed", contract.FillingHandedIn{Version: 1, Name: ptr("Callum Wray")})} {
		if a.Status != 404 && a.Status != 410 {
			t.Errorf("%d %s", a.Status, a.Body)
		}
	}
}
