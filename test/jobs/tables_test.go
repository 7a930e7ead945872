package jobs_test

import (
	"fmt"
	"path"
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"
	"github.com/google/uuid"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// holds waits until a cell shows a text.
func (p person) holds(at, text string) error {
	return p.Until(fmt.Sprintf(`(e => e && [...e.childNodes].filter(n => !n.matches?.('.their-name')).map(n => n.textContent).join('').trim())(document.querySelector('[data-at=%q]')) === %q`, at, text))
}

// puts types into a cell, which the person goes to.
func (p person) puts(at, text string) {
	p.t.Helper()
	p.does(p.Click("[data-at="+at+"]"), p.Press(text), p.Enter())
}

// pastes puts a text on the clipboard's way into the grid.
func (p person) pastes(text string) error {
	_, err := browser.Eval[bool](p.Browser, fmt.Sprintf(`(() => { const d = new DataTransfer(); d.setData('text/plain', %q); return document.querySelector('[data-grid]').dispatchEvent(new ClipboardEvent('paste', {clipboardData: d, bubbles: true, cancelable: true})) })()`, text))
	return err
}

// Two write a table of readings: what is worked out follows, what both wrote at once is decided by one of them, and each looks
// at it in their own order. What they get is a file of separated values.
func TestTwoWriteATable(t *testing.T) {
	t.Parallel()
	_, c, reports, ines, luca, line := twoWriters(t)
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See(".heading h1"))
	ines.count("from a folder to writing a new table", 4, func() {
		ines.does(ines.Click(".heading button::Add"), ines.Click("[role=menuitem]::New table"), ines.Type("form input", "Gaugings.csv"), ines.Enter(), ines.See("[data-grid]"))
	})
	at, err := browser.Eval[string](ines.Browser, `location.pathname`)
	ines.does(err)
	doc := uuid.MustParse(strings.TrimPrefix(at, "/table/"))
	ines.does(ines.Click("[data-grid] .head"), ines.pastes("Frame\tWas\tIs\tLoss\n12\t10\t8.9\n15\t10\t8.7\n18\t10\t8.4\n"), ines.See(".head::Loss"), ines.holds("C4", "8.4"))
	ines.puts("D2", "=(B2-C2)/B2*100")
	ines.does(ines.holds("D2", "11"), ines.Click("[data-at=D2]"), ines.See(".sentence::Loss is (Was − Is) ÷ Was × 100."))
	ines.count("fill a formula down, as one decimal", 5, func() {
		ines.does(ines.Click("[data-at=D2]"), ines.Extend(kb.ArrowDown), ines.Extend(kb.ArrowDown), ines.Command("d"), ines.Pick("[data-format]", "one decimal"))
	})
	ines.does(ines.See(".state::All of it is kept"))

	luca.does(luca.opens("/d/MER-24/4"), luca.Click(".slip a::Write"), luca.holds("C4", "8.4"), luca.See(".pens::Ines Okafor"), luca.Click("[data-at=C3]"))
	ines.does(ines.See(".their-cell .their-name::Luca"), ines.See(".pens::row 3, Is"))
	// He loses the line, and both write in one cell.
	line.Break()
	luca.does(luca.See(".state::Not connected"))
	luca.puts("C3", "7.9")
	ines.puts("C3", "7.8")
	ines.does(ines.See(".state::All of it is kept"))
	line.Mend()
	for _, p := range []person{ines, luca} {
		p.does(p.See("[data-doubt]::wrote 7.8"), p.See("[data-doubt]::wrote 7.9"), p.See("[data-doubt]::it was 8.7"))
	}
	ines.count("decide what stands in a cell", 1, func() { ines.does(ines.Click("[data-doubt] button::Take 7.8")) })
	for _, p := range []person{ines, luca} {
		p.does(p.Gone("[data-doubt]"), p.holds("C3", "7.8"))
	}

	// Rows in another order, for oneself alone; a row that the other adds is there.
	luca.does(luca.Click(".letter:nth-of-type(4) .by"), luca.Click(".letter:nth-of-type(4) .by"), luca.See(".table-foot::from the end"))
	ines.does(ines.Click("[data-at=A2]"), ines.Click(".table-foot button::Rows"), ines.Click("[role=menuitem]::A row above"), ines.holds("C3", "8.9"))
	ines.puts("A2", "9")
	luca.does(luca.holds("A2", "9"), luca.holds("D3", "11.0"))
	// What one did oneself is undone, whatever the other did meanwhile.
	luca.does(luca.Click("[data-at=C5]"), luca.Press("6"), luca.Enter(), luca.holds("C5", "6"))
	ines.puts("B2", "10")
	luca.does(luca.holds("B2", "10"), luca.Click("[data-at=C5]"), luca.Command("z"), luca.holds("C5", "8.4"), luca.holds("B2", "10"))
	ines.does(ines.holds("C5", "8.4"), ines.See(".changes button::Frame 18, Is"))

	// Something is said of a cell, and the other sees where.
	ines.does(ines.Click("[data-at=C4]"), ines.Click(".top button::Talk"), ines.See(".remarks .write::row 4"))
	ines.count("say something of a cell", 2, func() {
		ines.does(ines.Type(".remarks > .write textarea", "Measured twice?"), ines.Click(".remarks > .write button::Say it"))
	})
	luca.does(luca.See("[data-at=C4] .passage-sign::1"), luca.Click("[data-at=C4] .passage-sign"), luca.See(".thread::Measured twice?"))
	ines.does(ines.Click(".top button::Talk"))

	// What does not fit is refused, and nothing is lost by it.
	ines.does(ines.Click("[data-at=A2]"), ines.pastes(strings.Repeat("x\t", 999)+"x"), ines.See(".toast-line::250 columns"), ines.holds("A2", "9"))
	ines.count("name a version", 3, func() {
		ines.does(ines.Click("button::Name this version"), ines.Type(".top input", "for the class"), ines.Enter())
	})
	ines.does(ines.See(".growing::for the class"))
	if got := written(t, c, doc); got != "Frame,Was,Is,Loss\n9,10,,\n12,10,8.9,11\n15,10,7.8,22\n18,10,8.4,16\n" {
		t.Errorf("the file is %q", got)
	}
	if v := testkit.Get[struct{ Versions []struct{ Origin string } }](c, "/api/documents/"+doc.String()).Versions; len(v) != 2 || v[0].Origin != "written" {
		t.Errorf("versions: %+v", v)
	}
}

// By the keyboard alone, in German: numbers and days as they are written there.
func TestATableByKeyboard(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	doc := c.Upload(reports, "", "Maße.csv", []byte("Spant;Maß;Tag\r\n12;8,9;2026-11-09\r\n15;8,7;2026-11-10\r\n")).Document.Id
	c.Want(204, "PUT", "/api/me/preferences", map[string]string{"language": "de", "look": "light"})
	ines.does(ines.opens("/table/"+doc.String()), ines.holds("B2", "8,9"), ines.holds("C2", "09.11.2026"))
	_, err := browser.Eval[bool](ines.Browser, `(document.querySelector('[data-grid]').focus(), true)`)
	ines.does(err)
	ines.count("write two readings by keyboard", 6, func() {
		ines.does(ines.Press(kb.ArrowRight), ines.Press("8,5"), ines.Press(kb.Tab), ines.Press("3.12.2026"), ines.Enter(), ines.Press(kb.ArrowUp))
	})
	ines.does(ines.holds("B2", "8,5"), ines.holds("C2", "03.12.2026"), ines.See(".state::Alles ist gesichert"))
	testkit.Post[struct{ Number int }](c, 200, "/api/documents/"+doc.String()+"/writing/version", struct{}{})
	if got := written(t, c, doc); got != "Spant;Maß;Tag\r\n12;8,5;2026-12-03\r\n15;8,7;2026-11-10\r\n" {
		t.Errorf("the file is %q", got)
	}
}

// A client measures with the surveyor in one table through a link, on a telephone: each sees what the other puts, and what
// it comes to.
func TestAClientWritesATableThroughALink(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	yard := testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "The yard"}).Id
	doc := c.Upload(yard, "", "Gaugings.csv", []byte("Frame,Was,Is,Loss\n12,10,8.9,\n15,10,8.7,\n")).Document
	kind := contract.LinkKindWorking
	link := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{yard}, Kind: &kind})
	ines, isa := sits(t, k, 1280, 800), sits(t, k, 390, 844)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/table/"+doc.Id.String()), ines.holds("C2", "8.9"))
	isa.does(isa.opens("/l/" + path.Base(*link.Address)))
	isa.count("from a link to a table that is open for writing", 4, func() {
		isa.does(isa.Click("button::Show"), isa.Click("li a::Write"), isa.Type("#my-name", "Isa Breck"), isa.Enter(), isa.holds("C2", "8.9"))
	})
	ines.does(ines.See(".pens::Isa Breck"))
	isa.does(isa.See(".pens::Ines Okafor"), isa.Click("[data-at=C3]"))
	isa.puts("C3", "8.5")
	isa.does(isa.See(".state::All of it is kept"))
	ines.does(ines.holds("C3", "8.5"), ines.See(".their-cell .their-name::Isa"), ines.Click("[data-at=D3]"))
	ines.puts("D3", "=B3-C3")
	isa.does(isa.holds("D3", "1.5"))
	// She comes back to it where she was.
	isa.does(isa.opens("/l/"+path.Base(*link.Address)+"/write/"+doc.Id.String()), isa.holds("D3", "1.5"))
	c.Want(204, "POST", "/api/links/"+link.Id.String()+"/end", nil)
	isa.does(isa.See(".gone h1"))
}
