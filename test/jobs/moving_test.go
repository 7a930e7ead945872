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
		ines.does(ines.Pick(".move select[aria-label=Dossier]", "Corran Lass"), ines.Pick(".move select[aria-label=Folder]", "Reports"), ines.SeeText("Tomasz Rehn 1"))
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
