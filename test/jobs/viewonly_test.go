package jobs_test

import (
	"math"
	"testing"

	"tabularis/core/access"
	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// pixels reads the first page that is shown as rows of its brightness, 60 by 85.
const pixels = `(() => { const i = document.querySelector('.drawn img'), c = document.createElement('canvas'); c.width = 60; c.height = 85; const g = c.getContext('2d'); g.drawImage(i, 0, 0, 60, 85); return [...g.getImageData(0, 0, 60, 85).data].filter((_, n) => n % 4 === 0) })()`

// A report that may only be viewed: two viewers look at it at the same time, and
// each page bears who looks; it goes dark for both when the sender ends it.
func TestAReportToLookAt(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Condition survey"), ines.Click(".heading .btn-primary::Give out"))
	ines.count("a link by which a report is only viewed, by people who say who they are", 4, func() {
		ines.does(ines.Click(".w::view and download"), ines.Click(".choices button::Only view"), ines.Click(".plus::+ who they are"), ines.Click(".choices button::after stating their e-mail"), ines.SeeText("may only view 1 file"), ines.SeeText("after stating their e-mail"))
	})
	ines.does(ines.Click("button::Make link"), ines.See(".address input"))
	link, err := browser.Eval[string](ines.Browser, `document.querySelector('.address input').value`)
	ines.does(err, ines.Click("button::Done"))

	shown := map[string][]float64{}
	viewers := map[string]person{"sunniva.aker@dunlin.example": sits(t, k, 390, 844), "odile.charron@brackwater.example": sits(t, k, 390, 844)}
	for email, v := range viewers {
		v.does(v.Go(link), v.See("#email"))
		v.count("recipient: from the link to the first marked page", 3, func() {
			v.does(v.Type("#email", email), v.Click("button::Open"), v.Click("li[data-file] .btn::View"), v.Until(`document.querySelector('.drawn img')?.complete && document.querySelector('.drawn img').naturalWidth > 0`))
		})
		picture, err := browser.Eval[[]float64](v.Browser, pixels)
		v.does(err, v.Gone("a::Download"), v.Until(`document.querySelectorAll('.drawn .sheet').length === 4`))
		// The next page is fetched before it is looked at.
		v.does(v.Until(`document.querySelectorAll('.drawn .sheet')[1].querySelector('img')?.complete`))
		shown[email] = picture
	}
	differ, inked := 0, 0
	for n, a := range shown["sunniva.aker@dunlin.example"] {
		b := shown["odile.charron@brackwater.example"][n]
		if math.Abs(a-b) > 6 {
			differ++
		}
		if a < 250 {
			inked++
		}
	}
	// The page itself holds two words; all else that is not white is the mark.
	if all := 60 * 85; differ < all/50 || inked < all/10 {
		t.Errorf("%d of %d places differ between two viewers, %d are not white", differ, all, inked)
	}
	if text, err := browser.Eval[string](viewers["sunniva.aker@dunlin.example"].Browser, `document.querySelector('.drawn').innerText`); err != nil || len(text) > 60 {
		t.Errorf("there is text to select: %q %v", text, err)
	}
	// Whoever closes it has said what they looked at.
	again := viewers["sunniva.aker@dunlin.example"]
	again.does(again.Click("button::Close"), again.Gone(".drawn"), again.Click("li[data-file] .btn::View"), again.See(".drawn img"))
	ines.does(ines.opens("/outward"), ines.Click("tr[data-link] button::End link"))
	for _, v := range viewers {
		v.does(v.SeeText("This link is no longer available"), v.Gone(".drawn"))
	}
	ines.does(ines.opens("/outward"), ines.Pick("select[aria-label=Showing]", "over"), ines.Click("button.name::Condition survey"), ines.See(".looked::looked at page"))
}

// A colleague who may look but not download sees the pages, and is offered nothing
// that would be refused.
func TestLookingInsideWithoutDownload(t *testing.T) {
	t.Parallel()
	k, c, _ := practice(t)
	top := testkit.Get[contract.Dossier](c, "/api/dossiers/MER-24").Id
	k.Give("ines", top, "luca", access.LevelLook)
	luca := sits(t, k, 1280, 800)
	luca.signsIn("Luca Ferrante")
	luca.does(luca.Click("a::Corran Lass"), luca.Click(".folders a::Reports"))
	luca.count("a colleague who may only look: from the dossier to a marked page", 2, func() {
		luca.does(luca.Click("tr[data-ref]::Condition survey"), luca.Until(`document.querySelector('.looked img')?.naturalWidth > 0`), luca.Click(".slip button::View"))
		luca.does(luca.Until(`document.querySelector('.drawn img')?.naturalWidth > 0`), luca.Until(`document.querySelectorAll('.drawn .sheet').length === 4`))
	})
	luca.does(luca.Gone("a::Download"), luca.Gone("button::Download"), luca.Click(".over button::Close"), luca.Click("tr[data-ref]::Thickness"), luca.Click(".slip button::View"))
	luca.does(luca.Until(`document.querySelector('.drawn img')?.naturalWidth > 0`))
}
