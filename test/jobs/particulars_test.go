package jobs_test

import (
	"testing"

	"tabularis/core/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/browser"
)

// An administrator defines a particular; a colleague writes it for two documents at once and
// reads the register by it; it is corrected where it stands, and put back.
func TestParticulars(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	k.Appoint("ines", accounts.Administrator)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/practice"), ines.Click("a::What is kept about documents"), ines.See("h1::Particulars"))
	ines.count("an amount is kept about documents", 5, func() {
		ines.does(ines.Click(".btn-primary::Define a particular"), ines.Type(".definition [aria-label=Name]", "Estimate"), ines.Pick(".definition select", "money"))
		ines.does(ines.Type("[aria-label^=Currency]", "EUR"), ines.Press("\r"), ines.See("li::Estimate"))
	})
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See("tr[data-ref]::Notes"))
	for _, ref := range []string{"002", "003"} {
		ines.does(ines.Click("tr[data-ref='MER-24/" + ref + "'] input[type=checkbox]"))
	}
	ines.count("an amount stands in two documents", 3, func() {
		ines.does(ines.Click(".slip dd button[aria-label^=Estimate]"), ines.Type(".slip dd input", "1.200,50"), ines.Press("\r"), ines.See(".toast-line::stands in 2 documents"))
	})
	ines.does(ines.See(".slip .sum::together €2,401.00"), ines.Click("button::Choose none"))
	ines.count("it is a column", 2, func() {
		ines.does(ines.Click(".columns button"), ines.Click(".columns label::Estimate"), ines.See("th::Estimate"), ines.See("tr[data-ref]::€1,200.50"))
	})
	ines.does(ines.opens("/d/MER-24/003"), ines.See(".slip dd::€1,200.50"))
	ines.does(ines.Click(".slip dd button[aria-label^=Estimate]"), ines.Type(".slip dd input", "1,234"), ines.Press("\r"), ines.See(".slip [role=alert]::does not fit"))
	ines.count("a value is corrected where it stands", 3, func() {
		ines.does(ines.Type(".slip dd input", "99"), ines.Press("\r"), ines.See(".slip dd::€99.00"))
		ines.count("… and put back", 1, func() { ines.does(ines.Click(".toast-line button::Undo"), ines.See(".slip dd::€1,200.50")) })
	})
	ines.does(ines.Click(".slip dd button[aria-label^=Estimate]"), ines.Type(".slip dd input", "99"), ines.Press("\r"), ines.See(".slip dd::€99.00"))
	ines.count("the register by its values, largest first", 2, func() {
		ines.does(ines.Click("th button::Estimate"), ines.See("th[aria-sort=ascending]::Estimate"), ines.Click("th button::Estimate"), ines.See("th[aria-sort=descending]::Estimate"))
	})
	ines.does(ines.Until(`document.querySelector('tr[data-ref]')?.dataset.ref === 'MER-24/002'`))
	first, err := browser.Eval[string](ines.Browser, `[...document.querySelectorAll('tr[data-ref]')].map(r => r.dataset.ref.slice(-1)).join('')`)
	ines.does(err)
	if first != "231" {
		t.Errorf("the register stands as %s", first)
	}
	// Whoever may only look reads it, and is offered no way to change it.
	priya := sits(t, k, 390, 844)
	k.Give("ines", reports, "priya", access.LevelLook)
	priya.signsIn("Priya Valdane")
	priya.does(priya.opens("/d/MER-24/003"), priya.See(".slip dd::€99.00"), priya.Gone(".slip dd button"))
}
