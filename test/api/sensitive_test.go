package api_test

import (
	"bytes"
	"fmt"
	"strings"
	"testing"

	"tabularis/internal/app/accounts"

	"codeberg.org/go-pdf/fpdf"
	"github.com/google/uuid"
	"github.com/xuri/excelize/v2"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// letter is a PDF document of two pages, the second with a bank account.
func letter(t *testing.T) []byte {
	t.Helper()
	p := fpdf.New("P", "mm", "A4", "")
	p.SetFont("Helvetica", "", 12)
	for _, text := range []string{"Letter of engagement", "Please pay to DE89 3704 0044 0532 0130 00."} {
		p.AddPage()
		p.Cell(0, 10, text)
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func workbook(t *testing.T) []byte {
	t.Helper()
	f := excelize.NewFile()
	if _, err := f.NewSheet("Fees"); err != nil {
		t.Fatal(err)
	}
	for cell, value := range map[string]string{"A1": "Card", "B3": "4111 1111 1111 1111"} {
		if err := f.SetCellStr("Fees", cell, value); err != nil {
			t.Fatal(err)
		}
	}
	var out bytes.Buffer
	if err := f.Write(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// What is sensitive in what is given out is said before: which document, what,
// how many, where.
func TestSensitiveContentIsSaidBefore(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	pdf := w.luca.Upload(w.top, "", "letter.pdf", letter(t)).Document
	book := w.luca.Upload(w.top, "", "fees.xlsx", workbook(t)).Document
	text := w.luca.Upload(w.top, "", "notes.md", []byte("# Notes\n\nAB 12 34 56 C and AB 12 34 57 C\n")).Document
	plain := w.luca.Upload(w.top, "", "readings.csv", []byte("frame,original,measured\n31,10.0,6.9\n")).Document
	picture := w.luca.Upload(w.top, "", "broken.pdf", []byte("%PDF-1.7 broken")).Document
	draft := func(items ...uuid.UUID) contract.LinkDraft {
		return testkit.Post[contract.LinkDraft](w.luca, 200, "/api/links/draft", contract.LinkTerms{Items: items})
	}
	d := draft(pdf.Id, book.Id, text.Id, plain.Id, picture.Id)
	var got []string
	for _, f := range d.Sensitive {
		place := ""
		if f.Page != nil {
			place = fmt.Sprint("page ", *f.Page)
		} else if f.Line != nil {
			place = fmt.Sprint("line ", *f.Line)
		}
		got = append(got, fmt.Sprintf("%s %s%s %d %s", f.Document, f.Kind, f.Name, f.N, place))
		if strings.Contains(f.Shown, "3704") || strings.Contains(f.Shown, "4111 ") {
			t.Errorf("the number is repeated: %s", f.Shown)
		}
	}
	if want := "letter.pdf ibanDE 1 page 2; fees.xlsx card 1 line 3; notes.md nationalGB 2 line 3"; strings.Join(got, "; ") != want {
		t.Errorf("got  %s\nwant %s", strings.Join(got, "; "), want)
	}
	if d.Unread != 1 || d.Left != 0 || d.Forbidden {
		t.Errorf("%d unread, %d left, forbidden %v", d.Unread, d.Left, d.Forbidden)
	}
	// A warning does not hold it back.
	testkit.Post[contract.Link](w.luca, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{pdf.Id}})
}

// Where the practice forbids it, it does not leave; its own words count from the
// moment they are set, also in what was looked through before.
func TestForbiddenContentDoesNotLeave(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	w.Appoint("hanne", accounts.Administrator)
	w.hanne = w.SignIn("hanne")
	clean := w.luca.Upload(w.top, "", "clean.txt", []byte("about Project Kestrel")).Document.Id
	card := w.luca.Upload(w.top, "", "card.txt", []byte("4111 1111 1111 1111")).Document.Id
	set := func(change func(r *contract.Rules)) testkit.Answer {
		r := rules(nil)
		change(&r)
		return w.hanne.Do("PUT", "/api/practice/rules", r)
	}
	link := func(items ...uuid.UUID) testkit.Answer {
		return w.luca.Do("POST", "/api/links", contract.LinkTerms{Items: items})
	}
	if a := set(func(r *contract.Rules) { r.Sensitive = contract.Forbid }); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	if a := link(card); a.Status != 403 || a.Code() != "sensitive-content" {
		t.Errorf("a card: %d %s", a.Status, a.Body)
	}
	if d := testkit.Post[contract.LinkDraft](w.luca, 200, "/api/links/draft", contract.LinkTerms{Items: []uuid.UUID{clean, card}}); !d.Forbidden || len(d.Sensitive) != 1 {
		t.Errorf("the draft: %+v", d)
	}
	if a := link(w.top); a.Status != 403 {
		t.Errorf("the folder with it: %d %s", a.Status, a.Body)
	}
	if a := link(clean); a.Status != 201 {
		t.Errorf("without: %d %s", a.Status, a.Body)
	}
	own := []contract.Pattern{{Text: "project kestrel"}, {Name: ptr("claim"), Text: `CL-\d{6}`, Expression: true}}
	if a := set(func(r *contract.Rules) { r.Sensitive, r.Patterns = contract.Forbid, own }); a.Status != 204 {
		t.Fatalf("%d %s", a.Status, a.Body)
	}
	if a := link(clean); a.Status != 403 || a.Code() != "sensitive-content" {
		t.Errorf("the practice's own word: %d %s", a.Status, a.Body)
	}
	if got := testkit.Get[contract.Directory](w.hanne, "/api/people").Rules.Patterns; len(got) != 2 || got[1].Text != own[1].Text {
		t.Errorf("%+v", got)
	}
	for name, change := range map[string]func(r *contract.Rules){
		"pattern-form":      func(r *contract.Rules) { r.Patterns = []contract.Pattern{{Text: "(", Expression: true}} },
		"sensitive-unknown": func(r *contract.Rules) { r.Sensitive = "shout" },
		"days-range":        func(r *contract.Rules) { r.LongestLinkDays = 0 },
		"patterns-count":    func(r *contract.Rules) { r.Patterns = make([]contract.Pattern, 201) },
	} {
		if a := set(change); a.Status != 400 || a.Code() != name {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	set(func(r *contract.Rules) { r.Sensitive = contract.Off })
	if d := testkit.Post[contract.LinkDraft](w.luca, 200, "/api/links/draft", contract.LinkTerms{Items: []uuid.UUID{card}}); len(d.Sensitive) != 0 {
		t.Errorf("off: %+v", d.Sensitive)
	}
	if a := link(card); a.Status != 201 {
		t.Errorf("off: %d %s", a.Status, a.Body)
	}
}

// What comes later into something that a link always gives in its newest state:
// the link's maker is told, and where the practice forbids it, it stays in.
func TestSensitiveContentThatComesLater(t *testing.T) {
	t.Parallel()
	w := newWorld(t)
	w.Appoint("hanne", accounts.Administrator)
	w.hanne = w.SignIn("hanne")
	set := func(how contract.RulesSensitive) {
		r := rules(nil)
		r.Sensitive = how
		w.hanne.Want(204, "PUT", "/api/practice/rules", r)
	}
	folder := testkit.Post[contract.Folder](w.luca, 201, fmt.Sprintf("/api/folders/%s/folders", w.top), contract.NewName{Name: "For the client"}).Id
	w.luca.Upload(folder, "", "first.txt", []byte("frames 24 to 38"))
	_, token := w.link(contract.LinkTerms{Items: []uuid.UUID{folder}, Newest: ptr(true)})
	_, frozen := w.link(contract.LinkTerms{Items: []uuid.UUID{folder}})
	v := w.enter(token, contract.OpenLink{})
	contents := func(token string) contract.LinkContents {
		return testkit.Get[contract.LinkContents](v, "/api/visits/"+token+"/contents")
	}
	told := func() (kinds []string) {
		for _, n := range testkit.Get[[]contract.Notice](w.luca, "/api/notices") {
			if n.Kind == contract.NoticeKindSensitive || n.Kind == contract.NoticeKindKeptBack {
				kinds = append(kinds, string(n.Kind)+" "+n.What+" "+n.Path)
			}
		}
		return kinds
	}
	// While it is only said, it is given, and the maker learns of it.
	warned := w.hanne.Upload(folder, "", "fees.txt", []byte("4111 1111 1111 1111")).Document
	waitFor(t, func() bool { return len(told()) == 1 })
	if got, want := told()[0], "sensitive fees.txt /d/"+warned.Ref; got != want {
		t.Errorf("told %q, want %q", got, want)
	}
	if c := contents(token); c.Count != 2 || c.KeptBack != nil {
		t.Errorf("while it is said: %d files, %v kept back", c.Count, c.KeptBack)
	}
	set(contract.Forbid)
	if c := contents(token); c.Count != 1 || c.KeptBack == nil || *c.KeptBack != 1 || c.Files[0].Name != "first.txt" {
		t.Errorf("forbidden: %+v", c)
	}
	later := w.hanne.Upload(folder, "", "claim.txt", []byte("pay to DE89 3704 0044 0532 0130 00")).Document
	clean := w.hanne.Upload(folder, "", "readings.csv", []byte("frame,measured\n31,6.9\n")).Document
	waitFor(t, func() bool { return len(told()) == 2 })
	if got, want := told()[0], "kept-back claim.txt /d/"+later.Ref; got != want {
		t.Errorf("told %q, want %q", got, want)
	}
	if c := contents(token); c.Count != 2 || c.KeptBack == nil || *c.KeptBack != 2 {
		t.Errorf("a clean one beside it: %d files, %v kept back", c.Count, c.KeptBack)
	}
	for _, held := range []uuid.UUID{warned.Id, later.Id} {
		for _, path := range []string{"/content", "/content?download=true", "/preview", "/pages"} {
			v.Want(404, "GET", fmt.Sprintf("/api/visits/%s/documents/%s%s", token, held, path), nil)
		}
	}
	v.Want(200, "GET", fmt.Sprintf("/api/visits/%s/documents/%s/content", token, clean.Id), nil)
	archive := v.Do("GET", "/api/visits/"+token+"/archive", nil)
	if archive.Status != 200 || bytes.Contains(archive.Body, []byte("claim.txt")) || !bytes.Contains(archive.Body, []byte("readings.csv")) {
		t.Errorf("the archive: %d, %d bytes", archive.Status, len(archive.Body))
	}
	// A new version that holds nothing any more is given again; what was given in a
	// version of its own stays as it was given.
	w.hanne.Upload(folder, "", "claim.txt", []byte("pay to the account that you know"))
	if c := contents(token); c.Count != 3 || *c.KeptBack != 1 {
		t.Errorf("mended: %d files, %v kept back", c.Count, *c.KeptBack)
	}
	v = w.enter(frozen, contract.OpenLink{})
	if c := contents(frozen); c.Count != 1 || c.KeptBack != nil {
		t.Errorf("the frozen link: %d files", c.Count)
	}
	set(contract.Off)
	v = w.enter(token, contract.OpenLink{})
	if c := contents(token); c.Count != 4 {
		t.Errorf("off: %d files", c.Count)
	}
}
