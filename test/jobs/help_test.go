package jobs_test

import (
	"testing"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"

	"github.com/google/uuid"
)

// Help stands a key away, with what concerns the place first; it is searched, and what
// is typed there is only text. Visitors have their own, in their language.
func TestHelp(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("nav a::Outward"), ines.See("h1::Outward"))
	first := func() string {
		id, err := browser.Eval[string](ines.Browser, `document.querySelector('.help article')?.dataset.topic ?? ''`)
		ines.does(err)
		return id
	}
	ines.count("help for the place where one is", 1, func() { ines.does(ines.Press("?"), ines.See(".help article")) })
	if id := first(); id != "give" {
		t.Errorf("in Outward help begins with %s", id)
	}
	ines.does(ines.Type(".help input", "RENAME"), ines.Until(`document.querySelectorAll('.help article').length === 1`), ines.See(".help h3::Choose, move, rename"))
	ines.does(ines.Type(".help input", "<b>window.x=1</b>"), ines.See(".help [role=status]::Nothing is written"), ines.Until(`!document.querySelector('.help b')`), ines.Press("\x1b"), ines.Gone(".help"))
	// In a field, the key is a letter like others.
	ines.does(ines.Press("/"), ines.Press("?"), ines.Until(`document.activeElement.value.endsWith('?')`), ines.Gone(".help"))
	ines.does(ines.Click(".who-button"), ines.Click("[role=menuitem]::Deutsch"), ines.Click(".who-button"), ines.Click("[role=menuitem]::Hilfe"), ines.See(".help h2::Hilfe"), ines.See(".help h3::Etwas durch einen Link"))

	l := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{reports}})
	marit := sits(t, k, 390, 844)
	marit.does(marit.Go(*l.Address), marit.See("button::Show"), marit.Press("?"), marit.See(".help h3::See what was sent to you"), marit.See(".help footer::Ines Okafor"), marit.Press("\x1b"), marit.Gone(".help"))
}
