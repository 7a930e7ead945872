package jobs_test

import (
	"fmt"
	"testing"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A number is decimal, means the open dossier first, and a folder is found as well.
func TestFindingByNumberAndFolder(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	for n := range 26 {
		c.Upload(reports, "", fmt.Sprintf("Reading %c.txt", 'A'+n), []byte("8.1"))
	}
	other := testkit.Post[contract.DossierRow](c, 201, "/api/dossiers", contract.NewDossier{Code: "PEL-11", Name: "Pellew", Kind: "client"}).Id
	c.Upload(other, "", "Towing gear.txt", []byte("ok"))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.See("tr[data-ref]"))
	ines.count("from a number on the telephone to the document", 3, func() {
		ines.does(ines.Press("/"), ines.Type(".finder input", "027"), ines.See(".found li[aria-selected=true]::MER-24/027"), ines.Press("\r"), ines.See(".slip .no::MER-24/027"))
	})
	ines.does(ines.Press("/"), ines.Type(".finder input", "1"), ines.See(".found li[aria-selected=true]::MER-24/001"), ines.See(".found li::PEL-11/001"))
	ines.does(ines.Type(".finder input", "reports"), ines.See(".found li[aria-selected=true]::Reports"), ines.Press("\r"), ines.See("h1::Reports"))
}

// The ending of a name stands outside the field, which the cursor is in from the
// start; who manages may change it, too. A name comes back by one act.
func TestRenamingKeepsTheEnding(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click("tr[data-ref]::Condition survey"), ines.See(".slip h2[title='Condition survey report.pdf']"))
	ines.count("another name for a document", 3, func() {
		ines.does(ines.Click(".slip button::Rename"), ines.Until(`document.activeElement.dataset.field === 'name' && document.activeElement.value === 'Condition survey report'`))
		ines.does(ines.Type("[data-field=name]", "Survey of frame 31"), ines.Press("\r"), ines.See(".slip h2[title='Survey of frame 31.pdf']"))
	})
	ines.count("… taken back", 1, func() {
		ines.does(ines.Click(".toast-line button::Undo"), ines.See(".slip h2[title='Condition survey report.pdf']"))
	})
	ines.does(ines.Click(".slip button::Rename"), ines.Click("button::.pdf"), ines.Until(`document.activeElement.value === 'Condition survey report.pdf'`))
	ines.does(ines.Type("[data-field=name]", "Survey/31.txt"), ines.Press("\r"), ines.See(".slip [role=alert]::slash"))
	ines.does(ines.Type("[data-field=name]", "Survey 31.txt"), ines.Press("\r"), ines.See(".slip h2[title='Survey 31.txt']"))
}
