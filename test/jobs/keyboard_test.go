package jobs_test

import (
	"strings"
	"testing"

	"github.com/chromedp/chromedp/kb"

	"tabularis/internal/browser"
)

// focused says what has the focus, and by what it is seen.
const focused = `(e => { const s = getComputedStyle(e); return [e.tagName, e.className, (e.innerText || e.value || e.getAttribute('aria-label') || e.title || e.placeholder || '').slice(0, 60),
	s.outlineStyle !== 'none' && parseFloat(s.outlineWidth) > 0 || e === document.body ? 'seen' : 'unseen'].join('|') })(document.activeElement)`

// tabsTo goes on by the tabulator key until something has the focus; wherever it rests on
// the way, one sees it.
func (p person) tabsTo(selector string) {
	p.t.Helper()
	css, text, _ := strings.Cut(selector, "::")
	p.does(p.See(selector))
	for range 80 {
		// It is drawn by the next picture at the latest.
		p.does(p.Press(kb.Tab), p.Until("!("+focused+").endsWith('|unseen')"))
		there, err := browser.Eval[bool](p.Browser, "document.activeElement.matches(`"+css+"`) && document.activeElement.innerText.includes(`"+text+"`)")
		p.does(err)
		if there {
			return
		}
	}
	p.t.Fatalf("no way by keys to %s", selector)
}

// The main jobs without a pointer, in the few colours of somebody who needs them: sign
// in, find, give out, let somebody in, end it. The focus is seen wherever it is, and returns
// to where it was when a sheet closes.
func TestWithTheKeyboardAlone(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.does(ines.ForcedColours())
	ines.signsIn("Ines Okafor")
	ines.does(ines.Press("/"), ines.Until(`document.activeElement.matches('.finder input')`))
	ines.does(ines.Type(".finder input", "thickness"), ines.See(".found [role=option]::MER-24/002"), ines.Press("\r"), ines.See(".slip h2::Thickness"))
	ines.tabsTo("tr[aria-selected=true]")
	ines.does(ines.Press("g"), ines.See(".desk-sheet"), ines.Until(`document.activeElement.dataset.field === 'typed' && document.querySelector('.writing')`))
	ines.does(ines.Press("once, a week"), ines.Press("\r"), ines.See(".made"), ines.Press("\x1b"), ines.Gone(".desk-sheet"))
	ines.does(ines.Until(`document.activeElement.matches('tr[aria-selected=true]')`))

	// The link stands on the slip; it is ended there.
	ines.tabsTo(".slip li[data-link] button::End link")
	ines.does(ines.Press("\r"), ines.See(".toast-line::ended"))
}
