package jobs_test

import (
	"testing"

	"tabularis/core/access"
)

// A document goes by one act whose meaning stands beside it, and comes back from the
// activity by another; whoever may not asks for it by one.
func TestDeletingAndBringingBack(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	k.Give("ines", reports, "luca", access.LevelEdit)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	luca := sits(t, k, 1280, 800)
	luca.signsIn("Luca Ferrante")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Thickness"), ines.See(".slip h2::Thickness"), ines.See("#deletes::no longer"))
	ines.count("delete a document, and bring it back from the activity", 2, func() {
		ines.does(ines.Click(".remove button::Delete"), ines.See(".toast-line::Thickness"), ines.Gone("tr[data-ref]::Thickness"))
		acts := ines.Acts
		ines.does(ines.Click(".band a::Activity"))
		ines.Acts = acts // Going there is no part of it.
		ines.does(ines.Click("[data-kind='document.deleted'] button::Bring back"), ines.See(".toast-line::is there again"))
	})
	ines.does(ines.See("[data-kind='document.brought-back']::brought Thickness"))

	// Several, with a reason, by the sheet; the page says for how long they are kept.
	ines.does(ines.opens("/dossiers/MER-24"), ines.Click(".folders a::Reports"))
	ines.does(ines.RightClick("tr[data-ref]::Notes"), ines.Click("[role=menuitem]::Delete"), ines.See(".desk-sheet::no longer"), ines.Type("#reason", "double of the report"), ines.Click(".desk-sheet button::Delete"))
	ines.does(ines.Gone(".desk-sheet"), ines.Click(".contents a::Deleted"), ines.See("[data-deleted]::double of the report"), ines.See("[data-deleted]::60 days"))

	// Luca may edit, not delete what others added: he asks.
	luca.does(luca.opens("/dossiers/MER-24/deleted"), luca.See("[data-deleted]::Notes"))
	luca.count("ask for it back", 1, func() {
		luca.does(luca.Click("[data-deleted] button::Ask for it back"), luca.See(".toast-line::asked to bring back"))
	})
	ines.does(ines.Click("[aria-label^=Notices]"), ines.Click("a::asks you to bring back"), ines.See("[data-deleted]"))
	ines.does(ines.Click("[data-deleted] button::Bring back"), ines.SeeText("Nothing is deleted"))
	ines.does(ines.opens("/practice"), ines.SeeText("can be brought back for 60 days"))

	// A whole dossier goes, and comes back from the notice.
	ines.does(ines.Click(".band a::Dossiers"), ines.Click("a::Corran Lass"), ines.See(".overview"))
	ines.count("delete a dossier", 2, func() {
		ines.does(ines.Click(".overview button::Delete this dossier"), ines.See(".desk-sheet::no longer"), ines.Click(".desk-sheet button::Delete"), ines.See(".toast-line::MER-24 Corran Lass is deleted"))
	})
	ines.does(ines.Gone("a::Corran Lass"), ines.Click(".toast-line button::Undo"), ines.See("a::Corran Lass"))
}
