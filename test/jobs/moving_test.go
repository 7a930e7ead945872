package jobs_test

import (
	"testing"

	"tabularis/core/access"
	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// From the desk into a dossier: what it means is said before, and the old
// register number still leads there.
func TestFromTheDeskIntoADossier(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	desk := testkit.Post[contract.DossierRow](c, 200, "/api/desk", nil)
	was := c.Upload(desk.Id, "", "Opinion.md", []byte("# Opinion")).Document.Ref
	k.Give("ines", reports, "tomasz", access.LevelView)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("nav a::Desk"), ines.Click("a::My papers"), ines.See("tr[data-ref]::Opinion"), ines.SeeText("Only you can open this dossier"))
	ines.count("from one's desk into a dossier's folder", 5, func() {
		ines.does(ines.RightClick("tr[data-ref]::Opinion"), ines.Click(".row-menu button::Move"))
		ines.does(ines.Pick(".move select[aria-label=Dossier]", "Corran Lass"), ines.Click(".move .goals button::Reports"), ines.SeeText("Tomasz Rehn 1"))
		ines.does(ines.Click(".move button.btn-primary"), ines.See(".toast-line::Opinion is in MER-24"))
	})
	ines.does(ines.Gone("tr[data-ref]::Opinion"), ines.opens("/d/"+was), ines.See(".slip h2::Opinion"), ines.SeeText("MER-24/004"))

	// The recipient's notice leads straight to it.
	tomasz := sits(t, k, 390, 844)
	tomasz.signsIn("Tomasz Rehn")
	tomasz.count("from a notice to what was given", 2, func() {
		tomasz.does(tomasz.Click(".notices button"), tomasz.Click(".notices li a::Reports"), tomasz.See("tr[data-ref]::Opinion"))
	})
	tomasz.does(tomasz.Until(`!document.querySelector('.notices .tray-button span')`))
}

// A manager compares what another person sees with everything there is.
func TestComparingWithWhatAnotherSees(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	draft := c.Upload(reports, "", "Fee note.md", []byte("# Fee")).Document
	c.Want(204, "PUT", "/api/items/"+draft.Id.String()+"/closed", contract.Closed{Closed: true})
	top := testkit.Get[contract.Dossier](c, "/api/dossiers/MER-24").Id
	c.Upload(top, "Between us", "Notes.md", []byte("# Notes"))
	k.Give("ines", reports, "tomasz", access.LevelView)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()+"?as="+k.People["tomasz"].ID.String()), ines.SeeText("Tomasz Rehn"), ines.See("tr[data-ref]::Notes"), ines.Gone("tr[data-ref]::Fee note"))
	ines.does(ines.Click("button::Compare"), ines.See("tr.hidden[data-ref]::Fee note"), ines.See(".contents a.struck::Between us"), ines.Gone("tr.hidden[data-ref]::Thickness"))
	ines.does(ines.Click("button::Only what they see"), ines.Gone("tr[data-ref]::Fee note"))
	may, err := browser.Eval[bool](ines.Browser, `!!document.querySelector('.heading .btn-primary')`)
	ines.does(err)
	if may {
		t.Error("something can be changed while looking as another")
	}
}

// What is dropped on a folder of its own dossier, where nobody's access changes, is
// moved at once, and back by one act; where it does, that is said first.
func TestDroppingWithinADossier(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "Issued"})
	yard := testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "Yard"}).Id
	k.Give("ines", yard, "tomasz", access.LevelView)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	var notes string
	for _, r := range testkit.Get[contract.RegisterPage](c, "/api/folders/"+reports.String()+"/register").Rows {
		if r.Name == "Notes.md" {
			notes = r.Id.String()
		}
	}
	// drop lets go of the chosen document above a folder of the contents.
	drop := func(folder string) {
		_, err := browser.Eval[bool](ines.Browser, `(() => { const e = new Event('drop', {bubbles: true, cancelable: true}); e.dataTransfer = {types: ['application/x-tabularis-items'], getData: () => '`+notes+`', files: []};
			[...document.querySelectorAll('.contents li')].find(l => l.innerText.includes('`+folder+`')).dispatchEvent(e); return true })()`)
		ines.does(err)
	}
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref='MER-24/003'] input[type=checkbox]"), ines.SeeText("Chosen: 003"))
	drop("Issued")
	ines.does(ines.See(".toast-line::Notes is in 01.1 Issued"), ines.Gone("tr[data-ref='MER-24/003']"))
	ines.count("what was dropped, taken back", 1, func() {
		ines.does(ines.Click(".toast-line button::Undo"), ines.See("tr[data-ref='MER-24/003']"))
	})
	ines.does(ines.Click("tr[data-ref='MER-24/003'] input[type=checkbox]"), ines.SeeText("Chosen: 003"))
	drop("Yard")
	ines.does(ines.See(".move"), ines.SeeText("Tomasz Rehn 1"), ines.See("tr[data-ref='MER-24/003']"))
}

// Folders are chosen together with documents, and have a menu of their own: what can
// be done with one can be done with the other, by whoever may.
func TestFoldersAreLikeDocuments(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	c.Upload(reports, "Yard", "Offer.md", []byte("# Offer"))
	testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "Issued"})
	k.Give("ines", reports, "tomasz", access.LevelLook)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.See("tr[data-ref]::Notes"))
	ines.count("a folder and two documents, given out together", 5, func() {
		ines.does(ines.Click(".folders li input[aria-label*=Yard]"), ines.Click("tr[data-ref='MER-24/003'] input"), ines.Click("tr[data-ref='MER-24/002'] input"))
		ines.does(ines.See(".slip::1 folder and 2 documents"), ines.Click(".slip button::Give out"), ines.Click("button::Make link"), ines.See(".made"))
	})
	ines.does(ines.Click("button::Done"), ines.SeeText("Chosen:"), ines.Click(".slip button::leave out"), ines.Click("button::Choose none"), ines.Gone(".slip h2::Chosen"))
	ines.count("another name for a folder, by its menu", 4, func() {
		ines.does(ines.RightClick(".folders a::Issued"), ines.Click(".row-menu button::Rename"), ines.Type(".folders [data-field=name]", "Issued papers"), ines.Press("\r"), ines.See(".folders a::Issued papers"))
	})
	ines.count("a folder moved by its menu", 3, func() {
		ines.does(ines.RightClick(".folders a::Yard"), ines.Click(".row-menu button::Move"), ines.Click(".goals button::Issued papers"), ines.See(".toast-line::Yard is in"))
	})
	ines.does(ines.Click(".toast-line button::Undo"), ines.See(".folders a::Yard"))
	// Whoever may only look is offered nothing that would be refused.
	tomasz := sits(t, k, 1280, 800)
	tomasz.signsIn("Tomasz Rehn")
	tomasz.does(tomasz.Click("a::Corran Lass"), tomasz.Click("tr[data-ref='MER-24/003'] input"), tomasz.Click("tr[data-ref='MER-24/002'] input"), tomasz.See(".slip h2::Chosen together"))
	tomasz.does(tomasz.RightClick("tr[data-ref]::Notes"), tomasz.See(".row-menu button::View"))
	offered, err := browser.Eval[string](tomasz.Browser, `[...document.querySelectorAll('.row-menu [role=menuitem], .slip .acts a, .slip .acts button, .showing a')].map(e => e.innerText.trim()).join(', ')`)
	tomasz.does(err)
	if offered != "View, Do not choose" {
		t.Errorf("whoever may only look is offered %q", offered)
	}
}

// By touch: resting a finger on a row opens its menu, and the row is not pressed when
// the finger is lifted.
func TestMovingByTouch(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "Issued"})
	ines := sits(t, k, 390, 844)
	ines.does(ines.Touches())
	ines.signsIn("Ines Okafor")
	ines.does(ines.Tap("a::Corran Lass"), ines.Tap(".folders a::Reports"), ines.See("tr[data-ref]::Notes"))
	ines.count("a document moved by touch", 3, func() {
		ines.does(ines.Hold("tr[data-ref]::Notes", ".row-menu"), ines.Tap(".row-menu button::Move"), ines.Tap(".goals button::Issued"), ines.See(".toast-line::Notes is in"))
	})
	ines.does(ines.Gone("tr[data-ref]::Notes"), ines.Gone(".slip"), ines.Tap(".toast-line button::Undo"), ines.See("tr[data-ref]::Notes"))
	ines.does(ines.Hold(".folders a::Issued", ".row-menu button::Rename"), ines.Press("\x1b"), ines.Gone(".row-menu"), ines.See("tr[data-ref]::Notes"))
}

// Its managers change what a dossier is called; who has it open sees it.
func TestAnotherNameForADossier(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	hanne := sits(t, k, 1280, 800)
	hanne.signsIn("Hanne Solvik")
	hanne.does(hanne.Click("a::Corran Lass"), hanne.See(".contents h2::Corran Lass"))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"))
	ines.count("another name for a dossier", 3, func() {
		ines.does(ines.Click(".overview button::change name"), ines.Type(".overview input[aria-label=name]", "MT Corran Lass"), ines.Press("\r"), ines.See(".toast-line::MER-24 is changed"))
	})
	ines.does(ines.See(".contents h2::MT Corran Lass"))
	hanne.does(hanne.See(".contents h2::MT Corran Lass"), hanne.Click(".overview button::change name"))
	ines.does(ines.Click(".toast-line button::Undo"), ines.Gone(".contents h2::MT"))
	hanne.does(hanne.See(".contents h2::Corran Lass"), hanne.Type(".overview input[aria-label=client]", "Merrow"), hanne.Press("\r"), hanne.See("[role=alert]::Somebody else has changed"))
}

// Copies are made by two keys, or from the menu; taken back by one act; things are moved by
// two keys, and what changes for somebody is said first.
func TestCopyingByKeysAndMenu(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	yard := testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "Yard"}).Id
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.Click("tr[data-ref]::Thickness"), ines.See(".slip h2::Thickness"))
	ines.count("a copy beside it", 2, func() {
		ines.does(ines.Command("c"), ines.See(".toast-line::taken up as a copy"), ines.Command("v"), ines.See("tr[data-ref]::Thickness (2)"))
	})
	ines.count("… taken back", 1, func() {
		ines.does(ines.Click(".toast-line button::Undo"), ines.Gone("tr[data-ref]::Thickness (2)"))
	})
	ines.count("a copy elsewhere, from the menu", 3, func() {
		ines.does(ines.RightClick("tr[data-ref]::Notes"), ines.Click(".row-menu button::Copy"), ines.Click(".move .goals button::Yard"), ines.See(".toast-line::Notes is copied to"))
	})
	ines.does(ines.Click("tr[data-ref]::Notes"), ines.See(".slip h2::Notes"), ines.Command("x"), ines.See(".toast-line::to be moved"), ines.Click(".contents a::Yard"), ines.See("h1::Yard"), ines.See("tr[data-ref]::Notes"))
	ines.does(ines.Command("v"), ines.See(".move button::Discard"))
	k.Give("ines", yard, "tomasz", access.LevelView)
	ines.does(ines.Click(".move button::Discard"), ines.Click(".contents a::Reports"), ines.Click("tr[data-ref]::Thickness"), ines.See(".slip h2::Thickness"), ines.Command("c"), ines.Click(".contents a::Yard"), ines.See("h1::Yard"), ines.Command("v"))
	ines.does(ines.See(".move .consequence::Tomasz Rehn"), ines.Click(".move button.btn-primary::Copy"), ines.See("tr[data-ref]::Thickness"))
}

// A dossier is made like another: its folders are there, and nobody outside.
func TestADossierLikeAnother(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24"), ines.See(".overview"))
	ines.count("a dossier like another", 3, func() {
		ines.does(ines.Click(".overview a::Make one like this"), ines.Until(`document.activeElement.getAttribute('aria-label') === 'name'`), ines.Type("[aria-label=name]", "Corran Lass, next year"), ines.Press("\r"), ines.See(".contents a::Reports"))
	})
	ines.does(ines.SeeText("MER-25"), ines.See(".toast-line::MER-25"))
}
