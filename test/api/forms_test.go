package api_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"os/exec"
	"slices"
	"strings"
	"sync"
	"sync/atomic"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/xuri/excelize/v2"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

func init() {
	named = append(named, func(*office) []endpoint {
		return []endpoint{{"GET", "/signing-forms", "", nil, inside}, {"GET", "/signing-batches", "", nil, self}}
	})
	for _, key := range []string{"POST /signing-forms", "GET /signing-forms/{id}", "PUT /signing-forms/{id}", "DELETE /signing-forms/{id}", "POST /signing-forms/{id}/editions", "POST /signing-forms/{id}/use", "POST /signing-forms/{id}/requests",
		"POST /signing-forms/{id}/look", "GET /signing-batches/{id}", "POST /signing-batches/{id}/again", "GET /documents/{id}/signing-places"} {
		apart[key] = "by who sees the paper, and writes or uses the form: TestFormsAreForThoseWhoSeeTheirPaper"
	}
}

// aForm is signed by somebody who is named each time, then by Priya.
func (o *office) aForm() contract.FormDefinition {
	plan := o.aPlan(contract.KnownByLink)
	plan.Parties[0].Name, plan.Parties[0].Email = "", ""
	plan.Places[4].Value = ptr("[[vessel]], for [[name A]]")
	return contract.FormDefinition{Plan: plan, Days: 10, Message: "Please sign."}
}

// counts makes a form on a document, and lets it count.
func (o *office) counts(document uuid.UUID, d contract.FormDefinition) contract.SigningForm {
	o.T.Helper()
	f := testkit.Post[contract.SigningForm](o.hanne, 201, "/api/signing-forms", contract.FormWish{Document: document, Definition: d})
	return testkit.Post[contract.SigningForm](o.hanne, 201, formAt(f)+"/editions", nil)
}

// wrote keeps what is written of a form.
func (o *office) wrote(f contract.SigningForm, w contract.FormWords) (page contract.FormPage) {
	o.T.Helper()
	if err := json.Unmarshal(o.hanne.Want(200, "PUT", formAt(f), w).Body, &page); err != nil {
		o.T.Fatal(err)
	}
	return page
}

func formAt(f contract.SigningForm) string { return "/api/signing-forms/" + f.Id.String() }

func (o *office) rowFor(name, email, vessel string) contract.FormRow {
	return contract.FormRow{People: []contract.FormPerson{{Name: name, Email: email}}, Values: map[string]string{"vessel": vessel}}
}

// A letter whose words are filled in for somebody, with places where it marks them, is sent by its form, signed and sealed;
// no mark is left on it.
func TestFormsAreFilledAndSigned(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	letter := "# Letter of engagement\n\nDear [[name B]], we survey [[vessel]] for [[client]].\n\nSigned: [[sign:B]]\n\nFor us: [[sign:A]]\n"
	doc := o.hanne.Upload(o.reports, "", "letter.md", []byte(letter)).Document.Id
	marked := testkit.Get[[]contract.SigningPlace](o.hanne, "/api/documents/"+doc.String()+"/signing-places")
	if len(marked) != 2 || marked[0].Party != 1 || marked[1].Party != 0 || marked[0].Kind != contract.PlaceSignature {
		t.Fatalf("%+v", marked)
	}
	priya := o.People["priya"].ID
	d := contract.FormDefinition{Plan: contract.SigningPlan{Places: []contract.SigningPlace{}, Parties: []contract.SigningParty{
		{Role: "the principal", Turn: 2, Person: &priya, Known: contract.KnownBySignIn, Signs: true}, {Role: "the client", Turn: 1, Known: contract.KnownByLink, Signs: true}}}}
	f := o.counts(doc, d)
	if f.Edition != 1 || f.Name != "letter" || f.Parties[0].Name != "Priya Valdane" || f.InWriting {
		t.Errorf("%+v", f)
	}
	page := testkit.Get[contract.FormPage](o.hanne, formAt(f))
	if len(page.Marked) != 2 || len(page.Problems) != 0 || !slices.Equal(page.Blanks, []string{"vessel", "client"}) || page.Newer {
		t.Errorf("%+v", page)
	}
	use := contract.FormUse{Folder: o.reports, Rows: []contract.FormRow{{People: []contract.FormPerson{{Name: "Callum Wray", Email: "callum@wray.example"}}, Values: map[string]string{}}}}
	draft := testkit.Post[contract.FormUseDraft](o.hanne, 200, formAt(f)+"/use", use)
	if !slices.Equal(draft.Asked, []int{1}) || len(draft.Problems) == 0 || draft.Problems[0].At != "0/values/vessel" || draft.Blanks[1].Of == nil {
		t.Errorf("%+v", draft)
	}
	if a := o.hanne.Do("POST", formAt(f)+"/requests", use); a.Code() != "form-rows" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	use.Rows[0].Values = map[string]string{"Vessel": "the trawler Aurelie", "client": "Callum Wray"}
	look := testkit.Post[contract.FormLook](o.hanne, 200, formAt(f)+"/look", contract.FormLookWish{Folder: o.reports, Row: use.Rows[0]})
	if len(look.Pages) != 1 || len(look.Places) != 2 {
		t.Errorf("%+v", look)
	}
	if a := o.hanne.Do("POST", formAt(f)+"/look/1", contract.FormLookWish{Folder: o.reports, Row: use.Rows[0]}); a.Status != 200 || !bytes.HasPrefix(a.Body, []byte("\xff\xd8")) {
		t.Errorf("%d", a.Status)
	}
	sent := testkit.Post[contract.FormSent](o.hanne, 201, formAt(f)+"/requests", use)
	callum := o.Visitor()
	token := o.wayOf("callum@wray.example")
	callum.Want(204, "POST", "/api/visits/"+token, contract.OpenLink{})
	sheet := testkit.Get[contract.SigningSheet](callum, "/api/to-sign/"+token)
	if len(sheet.Places) != 1 || sheet.Party != 1 || sheet.Name != "letter, Callum Wray.pdf" {
		t.Fatalf("%+v", sheet)
	}
	callum.Want(204, "POST", "/api/to-sign/"+token, contract.SigningAct{Values: []contract.SigningValue{typed(sheet.Places[0].Id, "Callum Wray")}, Pages: []int{1}, Agrees: true})
	theirs := testkit.Get[contract.Today](o.priya, "/api/today").ToSign
	if len(theirs) != 1 || theirs[0].Id != *sent.Signing || *theirs[0].Form != "letter" || *theirs[0].FormEdition != 1 {
		t.Fatalf("%+v", theirs)
	}
	mine := testkit.Get[contract.SigningSheet](o.priya, "/api/signings/"+sent.Signing.String()+"/sheet")
	o.priya.Want(204, "POST", "/api/signings/"+sent.Signing.String()+"/sheet", contract.SigningAct{Values: []contract.SigningValue{typed(mine.Places[0].Id, "Priya Valdane")}, Pages: []int{1}, Agrees: true})
	_, raw := o.finished(*sent.Signing)
	accepted(t, raw, 1)
	words := wordsOn(t, raw)
	if !strings.Contains(words, "Dear Callum Wray, we survey the trawler Aurelie for Callum Wray") || strings.Contains(words, "[[") {
		t.Errorf("%s", words)
	}
	if again := testkit.Get[contract.FormPage](o.hanne, formAt(f)).Form; again.Used != 1 || again.LastUsed == nil {
		t.Errorf("%+v", again)
	}
}

// wordsOn are the words on a paper, as another program reads them.
func wordsOn(t *testing.T, raw []byte) string {
	t.Helper()
	read := exec.Command("pdftotext", "-layout", "-", "-")
	read.Stdin = bytes.NewReader(raw)
	text, err := read.Output()
	if err != nil {
		t.Fatal(err)
	}
	return strings.Join(strings.Fields(string(text)), " ")
}

// A form is sent to many from a table, each with a paper of their own; what cannot be sent is said of its line, and can be
// tried again.
func TestFormsGoToMany(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	o := newOffice(t)
	f := o.counts(o.letter(), o.aForm())
	table := func(raw []byte, status int) (out contract.FormTable, code string) {
		a := o.hanne.Do("POST", formAt(f)+"/table?folder="+o.reports.String(), bytes.NewReader(raw), "Content-Type", "application/octet-stream")
		if a.Status != status {
			t.Errorf("%d %s", a.Status, a.Body)
		}
		if status == 200 {
			if err := json.Unmarshal(a.Body, &out); err != nil {
				t.Error(err)
			}
		}
		return out, a.Code()
	}
	got, _ := table([]byte("\xef\xbb\xbfName;E-Mail;Vessel;Berth\r\nCallum Wray;callum@wray.example;Aurelie;4\r\n;;;\r\n\"Charron, Odile\";odile@brackwater.example;Corran Lass;\r\n"), 200)
	if len(got.Rows) != 2 || got.Rows[1].People[0].Name != "Charron, Odile" || got.Rows[1].Values["vessel"] != "Corran Lass" || !slices.Equal(got.Unknown, []string{"Berth"}) {
		t.Fatalf("%+v", got)
	}
	book := excelize.NewFile()
	for i, row := range [][]any{{"name", "email", "vessel"}, {"Marit Juhl", "marit@pelham.example", "Pellew"}, {"Ola Brandt", "ola@pelham.example"}} {
		if err := book.SetSheetRow("Sheet1", fmt.Sprintf("A%d", i+1), &row); err != nil {
			t.Fatal(err)
		}
	}
	if err := book.MergeCell("Sheet1", "C2", "C3"); err != nil {
		t.Fatal(err)
	}
	buf, err := book.WriteToBuffer()
	if err != nil {
		t.Fatal(err)
	}
	sheet, _ := table(buf.Bytes(), 200)
	if len(sheet.Rows) != 2 || sheet.Rows[0].Values["vessel"] != "Pellew" {
		t.Errorf("%+v", sheet)
	}
	for name, raw := range map[string][]byte{"nothing": nil, "only headings": []byte("name;email\n"), "no table": []byte("\x00\x01\x02\x03"), "10,000 lines": []byte("name;email\n" + strings.Repeat("a;a@b.example\n", 10_000))} {
		if _, code := table(raw, 400); code != "form-rows" {
			t.Errorf("%s: %s", name, code)
		}
	}
	use := contract.FormUse{Folder: o.reports, Rows: append(got.Rows, o.rowFor("Marit Juhl", "marit@pelham.example", strings.Repeat("Pellew ", 40)), o.rowFor("Ola Brandt", "ola@pelham.example", "Pellew"))}
	many := *testkit.Post[contract.FormSent](o.hanne, 201, formAt(f)+"/requests", use).Batch
	var state contract.SentToMany
	waitFor(t, func() bool {
		state = testkit.Get[contract.SentToMany](o.hanne, "/api/signing-batches/"+many.String())
		return state.Waiting == 0
	})
	if state.Sent != 3 || state.Refused != 1 || state.Lines[2].Refused == nil || *state.Lines[2].Refused != "signing-plan" || state.Lines[0].Signing == nil || state.Lines[3].Names[0] != "Ola Brandt" {
		t.Fatalf("%+v", state)
	}
	seen := map[uuid.UUID]bool{}
	for _, i := range []int{0, 1, 3} {
		line := testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+state.Lines[i].Signing.String())
		seen[line.Line.ItemId] = true
		if *line.Places[0].Value != use.Rows[i].Values["vessel"]+", for "+use.Rows[i].People[0].Name {
			t.Errorf("%+v", line.Places[0])
		}
	}
	if len(seen) != 3 {
		t.Errorf("%d papers", len(seen))
	}
	// Trying again sends nothing twice.
	for range 3 {
		o.hanne.Want(204, "POST", "/api/signing-batches/"+many.String()+"/again", nil)
	}
	waitFor(t, func() bool {
		state = testkit.Get[contract.SentToMany](o.hanne, "/api/signing-batches/"+many.String())
		return state.Waiting == 0
	})
	if used := testkit.Get[contract.FormPage](o.hanne, formAt(f)).Form.Used; used != 3 || state.Refused != 1 {
		t.Errorf("sent %d times; %+v", used, state)
	}
	if all := testkit.Get[[]contract.SentToMany](o.hanne, "/api/signing-batches"); len(all) != 1 || len(all[0].Lines) != 0 {
		t.Errorf("%+v", all)
	}
	for _, who := range []*testkit.Client{o.priya, o.luca} {
		who.Want(404, "GET", "/api/signing-batches/"+many.String(), nil)
		who.Want(404, "POST", "/api/signing-batches/"+many.String()+"/again", nil)
	}
}

// Requests keep the edition of which they were made; nobody writes over another; what does not hold does not come to count.
func TestFormsHaveEditions(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.letter()
	d := o.aForm()
	f := o.counts(doc, d)
	words := func(seen time.Time, name string, d contract.FormDefinition) contract.FormWords {
		return contract.FormWords{Name: name, Description: "For each engagement", Definition: d, Seen: seen}
	}
	d.Message = "Edition two, [[name A]]."
	d.Plan.Places = d.Plan.Places[1:]
	two := o.wrote(f, words(f.ChangedAt, "Engagement", d))
	if !two.Form.InWriting || len(two.Problems) != 1 || two.Problems[0].Flaw != "no-signature" || two.Form.Name != "Engagement" {
		t.Errorf("%+v", two)
	}
	if a := o.hanne.Do("POST", formAt(f)+"/editions", nil); a.Code() != "signing-plan" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	if a := o.hanne.Do("PUT", formAt(f), words(f.ChangedAt, "Stale", d)); a.Code() != "form-changed" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	// What counts is still the first.
	draft := testkit.Post[contract.FormUseDraft](o.hanne, 200, formAt(f)+"/use", contract.FormUse{Folder: o.reports, Rows: []contract.FormRow{}})
	if draft.Edition != 1 || draft.Definition.Message != "Please sign." || len(draft.Problems) != 1 {
		t.Errorf("%+v", draft)
	}
	d.Plan = o.aForm().Plan
	d.Told = true
	at := o.wrote(f, words(two.Form.ChangedAt, "Engagement", d)).Form.ChangedAt
	if e := testkit.Post[contract.SigningForm](o.hanne, 201, formAt(f)+"/editions", nil); e.Edition != 2 || e.ChangedAt.Before(at) {
		t.Errorf("%+v", e)
	}
	use := contract.FormUse{Folder: o.reports, Rows: []contract.FormRow{o.rowFor("Callum", "callum@wray.example", "Aurelie")}}
	if a := o.hanne.Do("POST", formAt(f)+"/requests", use); a.Code() != "form-password" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	use.Password, use.Known = ptr("six letters"), ptr(contract.FormByCode)
	one := *testkit.Post[contract.FormSent](o.hanne, 201, formAt(f)+"/requests", use).Signing
	line := testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+one.String()).Line
	if line.Message != "Edition two, Callum." || *line.Form != "Engagement" || *line.FormEdition != 2 {
		t.Errorf("%+v", line)
	}
	// On another version of its document it waits for a further edition, and goes on with the one before.
	o.hanne.Upload(o.reports, "", "engagement.pdf", pdfOf(t, "Letter of engagement, new"))
	if page := testkit.Get[contract.FormPage](o.hanne, formAt(f)); !page.Newer || page.Version != 2 {
		t.Errorf("%+v", page)
	}
	use.Rows[0] = o.rowFor("Odile", "odile@brackwater.example", "Corran Lass")
	testkit.Post[contract.FormSent](o.hanne, 201, formAt(f)+"/requests", use)
	o.hanne.Want(204, "DELETE", formAt(f), nil)
	o.hanne.Want(404, "GET", formAt(f), nil)
	o.hanne.Want(404, "POST", formAt(f)+"/requests", use)
	if line := testkit.Get[contract.SigningPage](o.hanne, "/api/signings/"+one.String()).Line; *line.Form != "Engagement" {
		t.Errorf("%+v", line)
	}
}

// A form is its maker's until they share it, and then for those who see its paper; it is sent by those who may copy that and
// may give out what lies in the folder.
func TestFormsAreForThoseWhoSeeTheirPaper(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.letter()
	d := o.aForm()
	f := o.counts(doc, d)
	at := formAt(f)
	use := contract.FormUse{Folder: o.reports, Rows: []contract.FormRow{o.rowFor("Callum", "callum@wray.example", "Aurelie")}}
	look := contract.FormLookWish{Folder: o.reports, Row: use.Rows[0]}
	words := contract.FormWords{Name: "x", Definition: d, Seen: f.ChangedAt}
	type try struct {
		who    *testkit.Client
		status int
		method string
		path   string
		body   any
	}
	check := func(all []try) {
		t.Helper()
		for _, c := range all {
			if a := c.who.Do(c.method, c.path, c.body); a.Status != c.status {
				t.Errorf("%s %s: %d %s, not %d", c.method, c.path, a.Status, a.Body, c.status)
			}
		}
	}
	everything := func(who *testkit.Client, status int) []try {
		return []try{{who, status, "GET", at, nil}, {who, status, "PUT", at, words}, {who, status, "DELETE", at, nil}, {who, status, "POST", at + "/editions", nil}, {who, status, "POST", at + "/use", use}, {who, status, "POST", at + "/requests", use},
			{who, status, "POST", at + "/look", look}, {who, status, "POST", at + "/look/1", look}, {who, status, "POST", at + "/table?folder=" + o.reports.String(), nil}}
	}
	// Nobody else's yet, also for who sees the paper.
	check(everything(o.priya, 404))
	check(everything(o.tomasz, 404))
	check(everything(o.Visitor(), 401))
	check([]try{
		{o.tomasz, 404, "GET", "/api/documents/" + doc.String() + "/signing-places", nil}, {o.priya, 403, "GET", "/api/documents/" + doc.String() + "/signing-places", nil},
		{o.tomasz, 404, "POST", "/api/signing-forms", contract.FormWish{Document: doc, Definition: d}}, {o.priya, 403, "POST", "/api/signing-forms", contract.FormWish{Document: doc, Definition: d}},
	})
	if all := testkit.Get[[]contract.SigningForm](o.priya, "/api/signing-forms"); len(all) != 0 {
		t.Errorf("%+v", all)
	}
	words.Shared = true
	words.Name = "Engagement"
	o.hanne.Want(200, "PUT", at, words)
	if all := testkit.Get[[]contract.SigningForm](o.priya, "/api/signing-forms"); len(all) != 1 || all[0].Writes || all[0].InWriting || all[0].Mine {
		t.Errorf("%+v", all)
	}
	if all := testkit.Get[[]contract.SigningForm](o.tomasz, "/api/signing-forms"); len(all) != 0 {
		t.Errorf("%+v", all)
	}
	check(everything(o.tomasz, 404))
	check([]try{{o.priya, 200, "GET", at, nil}, {o.priya, 403, "PUT", at, words}, {o.priya, 403, "DELETE", at, nil}, {o.priya, 403, "POST", at + "/editions", nil}, {o.priya, 403, "POST", at + "/use", use}, {o.priya, 403, "POST", at + "/requests", use}, {o.priya, 403, "POST", at + "/look", look}})
	// A folder that one does not see is none; a page that is not there neither.
	hidden := use
	hidden.Folder = uuid.New()
	check([]try{{o.hanne, 404, "POST", at + "/requests", hidden}, {o.hanne, 404, "POST", at + "/look/7", look}, {o.hanne, 404, "POST", at + "/look/x", look}, {o.hanne, 404, "POST", "/api/signing-forms/" + uuid.NewString() + "/use", use}})
	// Once the paper is out of sight, the form is.
	o.hanne.Want(200, "POST", "/api/deletions", contract.Delete{Items: []uuid.UUID{doc}})
	check([]try{{o.hanne, 404, "GET", at, nil}, {o.hanne, 404, "POST", at + "/requests", use}, {o.priya, 404, "GET", at, nil}})
}

// Ten who let an edition count at once make one; what is filled in marks no places; a sender who may no longer give out sends nothing more,
// and what was refused says so.
func TestFormsHoldTheirGround(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.letter()
	f := testkit.Post[contract.SigningForm](o.hanne, 201, "/api/signing-forms", contract.FormWish{Document: doc, Definition: o.aForm()})
	var all sync.WaitGroup
	var did atomic.Int32
	for range 10 {
		all.Go(func() {
			if a, err := o.hanne.Try("POST", formAt(f)+"/editions", nil); err == nil && a.Status == 201 {
				did.Add(1)
			}
		})
	}
	all.Wait()
	if e := testkit.Get[contract.FormPage](o.hanne, formAt(f)).Form.Edition; int32(e) != did.Load() || e < 1 {
		t.Errorf("%d editions, %d came to count", e, did.Load())
	}
	use := contract.FormUse{Folder: o.reports, Rows: []contract.FormRow{o.rowFor("Callum", "callum@wray.example", "[[sign:B]]")}}
	if a := o.hanne.Do("POST", formAt(f)+"/requests", use); a.Code() != "form-rows" {
		t.Errorf("%d %s", a.Status, a.Body)
	}
	for name, change := range map[string]func(r *contract.FormRow){
		"a party too many": func(r *contract.FormRow) {
			r.People = append(r.People, contract.FormPerson{Name: "X", Email: "x@wray.example"})
		},
		"nobody":            func(r *contract.FormRow) { r.People = nil },
		"a stranger":        func(r *contract.FormRow) { r.People[0].Person = ptr(uuid.New()) },
		"turned words":      func(r *contract.FormRow) { r.People[0].Name = "Callum\u202efdp" },
		"an address in two": func(r *contract.FormRow) { r.People[0].Email = "a@b.example, c@d.example" },
		"no text":           func(r *contract.FormRow) { r.Values["vessel"] = "a\u0001" },
	} {
		r := o.rowFor("Callum", "callum@wray.example", "Aurelie")
		change(&r)
		if a := o.hanne.Do("POST", formAt(f)+"/requests", contract.FormUse{Folder: o.reports, Rows: []contract.FormRow{r}}); a.Status/100 != 4 {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	if used := testkit.Get[contract.FormPage](o.hanne, formAt(f)).Form.Used; used != 0 {
		t.Errorf("%d were sent", used)
	}
}
