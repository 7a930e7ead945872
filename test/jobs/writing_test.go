package jobs_test

import (
	"fmt"
	"maps"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/browser"
	"tabularis/internal/testkit"
)

// begins makes a document and opens it to be written; it tells which one it is.
func (p person) begins(folder uuid.UUID, name string) uuid.UUID {
	p.t.Helper()
	p.does(p.opens("/dossiers/MER-24/"+folder.String()), p.See(".heading h1"))
	p.count("from a folder to writing a new document", 4, func() {
		p.does(p.Click(".heading button::Add"), p.Click("[role=menuitem]::New document"), p.Type("form input", name), p.Enter(), p.See(".ProseMirror"))
	})
	at, err := browser.Eval[string](p.Browser, `location.pathname`)
	if err != nil {
		p.t.Fatal(err)
	}
	return uuid.MustParse(strings.TrimPrefix(at, "/write/"))
}

// reads waits until somebody's page shows a text.
func (p person) reads(words string) error { return p.See(".ProseMirror::" + words) }

// written is the file that the text became.
func written(t *testing.T, c *testkit.Client, doc uuid.UUID) string {
	t.Helper()
	return string(c.Want(200, "GET", "/api/documents/"+doc.String()+"/content", nil).Body)
}

// twoWriters are Ines and Luca, who may both write in the reports; his line can break.
func twoWriters(t *testing.T) (k *testkit.Kit, c *testkit.Client, reports uuid.UUID, ines, luca person, line *testkit.Line) {
	t.Helper()
	k, c, reports = practice(t)
	k.Give("ines", reports, "luca", access.LevelEdit)
	ines, luca = sits(t, k, 1280, 800), sits(t, k, 1280, 800)
	line = k.NewLine(t)
	luca.url = line.URL
	ines.signsIn("Ines Okafor")
	luca.signsIn("Luca Ferrante")
	return k, c, reports, ines, luca, line
}

// Three write one letter: two at once, and a third who may only propose, whose proposal is accepted by a key. What they
// get is a file.
func TestThreeWriteOneLetter(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	k.Give("ines", reports, "luca", access.LevelEdit)
	ines, luca, priya := sits(t, k, 1280, 800), sits(t, k, 1280, 800), sits(t, k, 390, 844)
	ines.signsIn("Ines Okafor")
	luca.signsIn("Luca Ferrante")
	doc := ines.begins(reports, "Letter to the yard")
	k.Give("ines", doc, "priya", access.LevelPropose)
	priya.comesIn("Priya Valdane")
	ines.does(ines.Click(".ProseMirror"), ines.Press("# Side shell"), ines.See(".ProseMirror h2::Side shell"), ines.Enter(), ines.Press("The work is to be finished soon."), ines.See(".state::All of it is kept"))

	luca.does(luca.opens("/d/MER-24/4"), luca.Click(".slip a::Write"), luca.reads("finished soon"), luca.See(".pens::Ines Okafor"))
	ines.does(ines.See(".pens::Luca Ferrante"), ines.SeeText("paragraph 2"))
	priya.does(priya.opens("/write/"+doc.String()), priya.reads("finished soon"), priya.See(".pens::may only propose"), priya.See(".state::whoever writes decides"))
	// Both type at the same place at once; nothing is lost, and both see the same.
	luca.does(luca.Click(".ProseMirror p"), luca.Press("\x1b"), luca.opens("/write/"+doc.String()), luca.reads("finished soon"), luca.Click(".ProseMirror h2"))
	for _, letter := range []string{"a", "b", "c"} {
		luca.does(luca.Press(letter))
		ines.does(ines.Press(strings.ToUpper(letter)))
	}
	ines.does(ines.reads("soon.ABC"), ines.See(".their-caret em::Luca"))
	same := func() bool {
		texts := map[string]bool{}
		for _, p := range []person{ines, luca, priya} {
			text, err := browser.Eval[string](p.Browser, `[...document.querySelectorAll('.ProseMirror > :not(.their-caret)')].map(e => { const c = e.cloneNode(true); c.querySelectorAll('.their-caret').forEach(x => x.remove()); return c.textContent }).join('|')`)
			if err != nil {
				t.Fatal(err)
			}
			texts[text] = true
		}
		if len(texts) > 1 {
			t.Logf("they read %q", slices.Collect(maps.Keys(texts)))
		}
		return len(texts) == 1
	}
	until(t, "all three read the same", same)

	// What she changes is proposed: nothing of the text goes.
	priya.count("propose other words on a telephone", 2, func() {
		priya.does(priya.Click(".ProseMirror p"), priya.Press(" by Friday"))
	})
	priya.does(priya.See(".ProseMirror ins::by Friday"), priya.See(".beside::You propose"))
	ines.does(ines.See(".beside li::Priya Valdane"), ines.See(".beside li::2 words in"))
	if got := testkit.Post[struct{ Number int }](c, 200, "/api/documents/"+doc.String()+"/writing/version", struct{}{}); strings.Contains(written(t, c, doc), "Friday") {
		t.Errorf("version %d holds what is merely proposed", got.Number)
	}
	ines.count("accept a proposal", 1, func() {
		_, err := browser.Eval[bool](ines.Browser, `document.querySelector('.ProseMirror').dispatchEvent(new KeyboardEvent('keydown', {altKey: true, code: 'KeyA', key: 'a', bubbles: true}))`)
		ines.Acts++
		ines.does(err, ines.Gone(".beside li"))
	})
	priya.does(priya.Gone(".ProseMirror ins"), priya.reads("by Friday"))
	// Taken back, it is a proposal again; rejected, it has never been.
	ines.does(ines.Click(".toast-line button::Undo"), ines.See(".beside li::2 words in"), ines.Click(".beside button::Reject"), ines.Gone(".ProseMirror ins"))
	priya.does(priya.Gone(".ProseMirror ins"))

	ines.count("name a version", 3, func() {
		ines.does(ines.Click("button::Name this version"), ines.Type(".top input", "for the yard"), ines.Enter())
	})
	ines.does(ines.See(".toast-line::This is version"), ines.See(".growing::for the yard"))
	if got := written(t, c, doc); !strings.HasPrefix(got, "# Side shell") || !strings.Contains(got, "soon.ABC") || strings.Contains(got, "Friday") {
		t.Errorf("the file is %q", got)
	}
}

// Who loses the line goes on writing; when it is back, both have all of it. Where no socket gets through, the page asks again
// and again instead.
func TestWritingWithoutALine(t *testing.T) {
	t.Parallel()
	k, c, reports, ines, luca, line := twoWriters(t)
	doc := ines.begins(reports, "Broken line")
	luca.does(luca.opens("/write/"+doc.String()), luca.See(".ProseMirror"), luca.Click(".ProseMirror"), luca.Press("before "))
	ines.does(ines.reads("before "))
	line.Break()
	luca.does(luca.See(".state::Not connected"), luca.Press("and meanwhile"))
	ines.does(ines.Click(".ProseMirror"), ines.Press("theirs "), ines.See(".state::All of it is kept"))
	line.Mend()
	for _, p := range []person{ines, luca} {
		p.does(p.reads("and meanwhile"), p.reads("theirs"), p.See(".state::All of it is kept"))
	}

	// A proxy that lets no socket pass.
	line.Break()
	luca.does(luca.See(".state::Not connected"))
	if _, err := browser.Eval[bool](luca.Browser, `(window.WebSocket = class { constructor() { setTimeout(() => this.onclose?.()) } close() {} }, true)`); err != nil {
		t.Fatal(err)
	}
	line.Mend()
	luca.does(luca.Click(".top a"), luca.See(".slip a::Write"), luca.Click(".slip a::Write"), luca.reads("theirs"), luca.Click(".ProseMirror"), luca.Press("asked "))
	ines.does(ines.reads("asked "), ines.Click(".ProseMirror"), ines.Press("heard "))
	luca.does(luca.reads("heard "), luca.See(".state::All of it is kept"))
	// Both leave, and what they wrote is kept by itself.
	ines.does(ines.opens("/today"))
	luca.does(luca.opens("/today"))
	k.Later(20 * time.Minute)
	until(t, "it is kept", func() bool {
		if err := k.App.Web.Writing.KeepAll(t.Context()); err != nil {
			t.Fatal(err)
		}
		got := written(t, c, doc)
		return strings.Contains(got, "heard") && strings.Contains(got, "and meanwhile")
	})
}

// In a long text one finds one's way by its headings, finds and replaces words, and goes along with somebody else.
func TestFindingOnesWayInAText(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	k.Give("ines", reports, "luca", access.LevelEdit)
	ines, luca := sits(t, k, 1280, 800), sits(t, k, 1280, 800)
	var text strings.Builder
	for _, part := range []string{"Shell", "Deck", "Tanks", "Rudder"} {
		text.WriteString("## " + part + "\n\n" + strings.Repeat("The "+part+" was gauged at each frame, and the doubler was seen.\n\n", 12))
	}
	doc := c.Upload(reports, "", "Long.md", []byte(text.String())).Document.Id
	ines.signsIn("Ines Okafor")
	luca.signsIn("Luca Ferrante")
	for _, p := range []person{ines, luca} {
		p.does(p.opens("/write/"+doc.String()), p.reads("The Shell was gauged"))
	}
	ines.does(ines.See(".pens::Luca Ferrante"))
	seen := func(heading string) string {
		return `(h => { const r = h?.getBoundingClientRect(); return r && r.top > 100 && r.bottom < innerHeight })([...document.querySelectorAll('.ProseMirror h3')].find(h => h.firstChild?.textContent === '` + heading + `'))`
	}
	ines.count("go to a heading", 1, func() { ines.does(ines.Click(".outline button::Rudder"), ines.Until(seen("Rudder"))) })
	luca.count("go along with somebody", 1, func() { luca.does(luca.Click(".pens button::Ines Okafor"), luca.See(".pens::you go along")) })
	ines.does(ines.Click(".ProseMirror h3::Rudder"))
	luca.does(luca.Until(seen("Rudder")))

	ines.count("replace words everywhere", 4, func() {
		ines.does(ines.Command("f"), ines.Type("[data-seek]", "the doubler"), ines.Type("[data-instead]", "the insert plate"), ines.See(".seek::1 of 48"), ines.Click(".seek button::all 48"))
	})
	luca.does(luca.reads("and the insert plate was seen"), luca.Until(`!document.querySelector('.ProseMirror').textContent.includes('doubler')`))
	ines.does(ines.See(".seek::nowhere"), ines.Click(".seek button::Close"), ines.Gone(".seek"), ines.See(".state::All of it is kept"))
	testkit.Post[struct{ Number int }](c, 200, "/api/documents/"+doc.String()+"/writing/version", struct{}{})
	if got := written(t, c, doc); strings.Count(got, "the insert plate") != 48 || strings.Contains(got, "doubler") {
		t.Errorf("the file is %q", got)
	}
}

// A picture that is pasted lies beside the text, and is seen by whoever reads it; what is none is told of.
func TestAPictureIsPastedIntoAText(t *testing.T) {
	t.Parallel()
	_, c, reports, ines, luca, _ := twoWriters(t)
	doc := c.Upload(reports, "", "Letter.md", []byte("# Frame 31\n\nAs seen here:\n")).Document.Id
	luca.does(luca.opens("/write/"+doc.String()), luca.See(".ProseMirror h2"))
	ines.does(ines.opens("/write/"+doc.String()), ines.Click(".ProseMirror p"))
	paste := func(content, name, kind string) {
		_, err := browser.Eval[bool](ines.Browser, `(() => { const d = new DataTransfer(); d.items.add(new File([`+content+`], '`+name+`', {type: '`+kind+`'})); return document.querySelector('.ProseMirror').dispatchEvent(new ClipboardEvent('paste', {clipboardData: d, bubbles: true, cancelable: true})) })()`)
		ines.does(err)
	}
	paste(`Uint8Array.from(atob('iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg=='), c => c.charCodeAt(0))`, "frame 31.png", "image/png")
	for _, p := range []person{ines, luca} {
		p.does(p.Until(`[...document.querySelectorAll('.ProseMirror img.picture')].some(e => e.naturalWidth === 1 && e.alt === 'frame 31')`))
	}
	paste(`'<svg></svg>'`, "drawing.svg", "image/svg+xml")
	ines.does(ines.SeeText("This is no picture in PNG"))
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See("tr[data-ref]::frame 31"))
}

// What is said about words stays with them, whatever becomes of them.
func TestARemarkStaysWithItsWords(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	doc := c.Upload(reports, "", "Letter.md", []byte("Finished before the vessel returns.\n")).Document.Id
	k.Give("ines", doc, "luca", access.LevelRemark)
	ines, luca := sits(t, k, 1280, 800), sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	luca.signsIn("Luca Ferrante")
	ines.does(ines.opens("/write/"+doc.String()), ines.reads("Finished before"))
	luca.does(luca.opens("/write/"+doc.String()), luca.reads("Finished before"), luca.See(".state::may say something"))
	choose := func(p person, of string, from, to int) error {
		_, err := browser.Eval[bool](p.Browser, fmt.Sprintf(`(() => { const walker = document.createTreeWalker(document.querySelector('%s'), NodeFilter.SHOW_TEXT), p = walker.nextNode(); document.querySelector('.ProseMirror').focus(); getSelection().setBaseAndExtent(p, %d, p, %d); return true })()`, of, from, to))
		return err
	}
	luca.does(luca.Click("button::Talk"), luca.See(".talk-beside"), choose(luca, ".ProseMirror p", 20, 26), luca.See(".talk-beside::vessel"))
	luca.count("say something about chosen words", 2, func() {
		luca.does(luca.Type(".remarks > .write textarea", "Which one?"), luca.Click(".remarks > .write button::Say it"), luca.See(".passage::vessel"))
	})
	ines.does(ines.See(".passage::vessel"), choose(ines, ".passage", 0, 1), ines.Press("yacht, or v"))
	for _, p := range []person{ines, luca} {
		// The other's caret stands among the words, and is none of them.
		p.does(p.Until(`(() => { const e = document.querySelector('.ProseMirror p').cloneNode(true); e.querySelectorAll('.their-caret, .passage-sign').forEach(x => x.remove()); return e.textContent })().includes('yacht, or vessel')`))
		p.does(p.Until(`[...document.querySelectorAll('.passage')].map(e => e.textContent).join('').includes('essel')`), p.See(".passage-sign::1"))
	}
	ines.does(ines.opens("/write/"+doc.String()), ines.See(".passage-sign::1"))
}
