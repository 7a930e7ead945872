package jobs_test

import (
	"testing"

	"github.com/google/uuid"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// stops presses the button at once, as a click of a person's would wait for the page's answers.
const stops = `(b => b && (b.click(), true))([...document.querySelectorAll('.toast-line button')].find(b => b.innerText === 'Stop'))`

// Everything in a register is chosen by one key, also what is not in the page yet; what is
// done with it goes on portion by portion, can be stopped, and is taken back as far as it
// was done.
func TestManyAreChosenAndActedUpon(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	issued := testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "Issued"})
	fills(k, reports, 250)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.SeeText("253 documents here"), ines.Click("tr[data-ref] input"))
	ines.does(ines.Click(".showing button::Choose all 254"), ines.See(".slip::1 folder and 253 documents"), ines.Click(".folders li input[aria-label*=Issued]"), ines.See(".slip::253 documents"))
	rows, err := browser.Eval[int](ines.Browser, `document.querySelectorAll('.slip section').length`)
	ines.does(err)
	if rows > 110 {
		t.Errorf("the slip lists %d of what is chosen", rows)
	}
	ines.count("a tag for 253 documents", 2, func() {
		ines.does(ines.Type(".tag-field input", "sounding"), ines.Press("\r"), ines.See(".toast-line progress"), ines.See(".toast-line::253 documents"))
	})
	tagged := func() (n int) {
		if err := k.App.DB.Get(&n, `SELECT count(*) FROM item_tags`); err != nil {
			t.Fatal(err)
		}
		return n
	}
	if n := tagged(); n != 253 {
		t.Errorf("%d are tagged", n)
	}
	ines.does(ines.Click(".toast-line button::Undo"), ines.See(".toast-line progress"), ines.See(".toast-line::sounding"))
	if n := tagged(); n != 0 {
		t.Errorf("%d are still tagged", n)
	}
	lie := func(folder uuid.UUID) (n int) {
		if err := k.App.DB.Get(&n, `SELECT count(*) FROM items WHERE parent_id = $1 AND kind = 'document'`, folder); err != nil {
			t.Fatal(err)
		}
		return n
	}
	ines.count("253 documents moved", 2, func() {
		ines.does(ines.Click(".showing button::Move"), ines.Click(".goals button::Issued"), ines.See(".toast-line progress"), ines.See(".toast-line::253 things are in"))
	})
	if n := lie(issued.Id); n != 253 {
		t.Errorf("%d were moved", n)
	}
	ines.does(ines.Click(".toast-line button::Undo"), ines.See(".toast-line::things are in"), ines.SeeText("253 documents here"))
	// All by a key; stopped after the first portion.
	ines.does(ines.Command("a"), ines.See(".slip::1 folder and 253 documents"), ines.Click(".folders li input[aria-label*=Issued]"), ines.See(".slip::253 documents"))
	ines.does(ines.Click(".showing button::Delete"), ines.Click(".delete button.btn-primary"), ines.Until(stops), ines.See(".toast-line::of 253 are done"))
	if n := lie(reports); n != 53 {
		t.Errorf("%d are left where it was stopped", n)
	}
	ines.does(ines.Click(".toast-line button::Undo"), ines.See(".toast-line::are there again"), ines.SeeText("253 documents here"))
	if n := lie(reports); n != 253 {
		t.Errorf("%d are there again", n)
	}
}
