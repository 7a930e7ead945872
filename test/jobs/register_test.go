package jobs_test

import (
	"bytes"
	"image"
	"image/png"
	"strings"
	"testing"

	"tabularis/core/access"
	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// Somebody reads a register in groups, narrows it down, looks at it as small pictures, and finds
// it so again at another browser; nobody else does.
func TestReadingARegister(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	var picture bytes.Buffer
	if err := png.Encode(&picture, image.NewGray(image.Rect(0, 0, 400, 300))); err != nil {
		t.Fatal(err)
	}
	c.Upload(reports, "", "Tank.png", picture.Bytes())
	at := "/dossiers/MER-24/" + reports.String()
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens(at), ines.See("tr[data-ref]::Tank"))
	ines.count("a register in groups", 1, func() {
		ines.does(ines.Pick(".showing select[aria-label='In groups']", "grouped by kind"), ines.See("tr.head::pictures, 1"))
	})
	ines.count("nothing but one group", 1, func() {
		ines.does(ines.Click("tr.head button::pictures"), ines.Gone("tr[data-ref]::Notes"), ines.See("tr[data-ref]::Tank"), ines.See(".only button::pictures"))
	})
	ines.count("everything again", 2, func() {
		ines.does(ines.Click(".only button::pictures"), ines.Click(".only button::Show everything"), ines.See("tr[data-ref]::Notes"))
	})
	ines.count("the largest last", 2, func() {
		ines.does(ines.Click("th button::Size"), ines.See("th[aria-sort=descending]::Size"), ines.Click("th button::Size"), ines.See("th[aria-sort=ascending]::Size"))
	})
	ines.count("tags as a column, before the others", 3, func() {
		ines.does(ines.Click(".columns button"), ines.Click(".columns label::tags"), ines.See("th::Tags"), ines.Click(".columns button[aria-label='further left: tags']"))
	})
	ines.does(ines.Until(`[...document.querySelectorAll('.register thead th')].map(h => h.innerText).join().includes('Tags,Last event')`))
	ines.count("as small pictures", 1, func() {
		ines.does(ines.Pick(".showing select[aria-label='As rows or pictures']", "as small pictures"), ines.Until(`document.querySelector('.pictures img')?.naturalWidth > 0`))
	})
	ines.does(ines.Click(".pictures .one::Tank"), ines.See(".slip h2::Tank"), ines.Press("\x20"), ines.Until(`document.querySelector('.pictures [data-thing] input:checked') !== null`))

	again := sits(t, k, 1280, 800)
	again.signsIn("Ines Okafor")
	again.does(again.opens(at), again.See(".pictures .head::pictures, 1"), again.Pick(".showing select[aria-label='As rows or pictures']", "as rows"), again.See("th[aria-sort=ascending]::Size"))
	again.does(again.See("th::Tags"))
	k.Give("ines", reports, "luca", access.LevelView)
	luca := sits(t, k, 390, 844)
	luca.signsIn("Luca Ferrante")
	luca.does(luca.opens(at), luca.See("tr[data-ref]::Tank"), luca.Gone("tr.head"))
}

// Folders are put elsewhere in the contents, by pointer and by key, and back.
func TestPlacingFolders(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	for _, n := range []string{"Alpha", "Beta", "Gamma"} {
		testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: n})
	}
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See(".contents a::Gamma"))
	stand := func(order ...string) {
		t.Helper()
		ines.does(ines.Until(`[...document.querySelectorAll('.contents li .n')].map(n => n.innerText).filter(n => 'Alpha Beta Gamma'.includes(n)).join(' ') === '` + strings.Join(order, " ") + `'`))
	}
	ines.count("a folder one place up", 2, func() {
		ines.does(ines.RightClick(".contents a::Gamma"), ines.Click(".row-menu button::One up"), ines.See(".toast-line::Gamma stands elsewhere"))
	})
	stand("Alpha", "Gamma", "Beta")
	ines.count("… and back", 1, func() { ines.does(ines.Click(".toast-line button::Undo")) })
	stand("Alpha", "Beta", "Gamma")
	// Dragged between two: a browser in a test drags by events.
	_, err := browser.Eval[string](ines.Browser, `(() => {
		const line = n => [...document.querySelectorAll('.contents li')].find(l => l.innerText.includes(n))
		const data = new DataTransfer(), to = line('Alpha'), box = to.getBoundingClientRect()
		line('Gamma').dispatchEvent(new DragEvent('dragstart', { dataTransfer: data, bubbles: true }))
		for (const kind of ['dragover', 'drop']) to.dispatchEvent(new DragEvent(kind, { dataTransfer: data, bubbles: true, cancelable: true, clientX: box.left + 20, clientY: box.top + 2 }))
		return ''
	})()`)
	ines.does(err)
	stand("Gamma", "Alpha", "Beta")
}
