package jobs_test

import (
	"testing"

	"tabularis/core/access"
	"tabularis/internal/browser"
)

// A remark at a place of a page names somebody, who is told, sees it there and answers; the
// answer comes without reloading, and the thread is settled and opened again.
func TestTalkingAboutAReport(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	k.Give("ines", reports, "luca", access.LevelEdit)
	ines, luca := sits(t, k, 1280, 800), sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	luca.signsIn("Luca Ferrante")
	ines.does(ines.opens("/d/MER-24/1"), ines.Click(".slip .looked"), ines.See(".reader .page[data-loaded=true]"))
	ines.count("a remark at a point of a page that names somebody", 6, func() {
		ines.does(ines.Click(".over .talk"), ines.Click(".remarks button::a point"), ines.Click(".reader .page[data-loaded=true]"), ines.See(".remarks .write::page 1, a point"))
		ines.does(ines.Type(".remarks textarea", "Which frames, @Luca"), ines.See("#named-people li::Luca Ferrante"), ines.Press("\r"), ines.SeeText("Luca Ferrante will be told"), ines.Click(".remarks button::Say it"))
	})
	ines.does(ines.See(".pin::1"), ines.See(".thread .named::@Luca Ferrante"))

	luca.does(luca.Click("[aria-label^=Notices]"), luca.Click("a::names you in a remark"), luca.See(".slip .thread::Which frames"), luca.See(".slip .thread .new"))
	luca.does(luca.Click(".slip .looked"), luca.See(".reader .page[data-loaded=true]"), luca.Click(".over .talk"), luca.See(".pin.unread::1"))
	luca.count("an answer", 3, func() {
		luca.does(luca.Click(".over .thread button::Answer"), luca.Type(".over .thread textarea", "29 to **33**"), luca.Click(".over .thread .write button::Answer"))
	})
	luca.does(luca.See(".over .thread strong::33"))
	ines.does(ines.See(".thread strong::33"), ines.See(".thread .new"))
	ines.count("settle it, and open it again", 2, func() {
		ines.does(ines.Click(".thread button::Resolve"), ines.See(".toast-line::resolved"), ines.See(".pin.settled"), ines.Click(".toast-line button::Undo"), ines.Gone(".pin.settled"))
	})
	// What is no text stays text.
	ines.does(ines.Type(".remarks > .write textarea", "<img src=x onerror=\"document.title='gone'\"> [here](javascript:alert(1))"), ines.Click(".remarks button::Say it"), ines.See(".thread::<img src=x"))
	if n, err := browser.Eval[int](ines.Browser, `document.querySelectorAll('.thread img, .thread a[href^="javascript"]').length`); err != nil || n != 0 {
		t.Errorf("%d of them came alive, %v", n, err)
	}
	// In the activity it is a line, without what was said.
	ines.does(ines.Press("\x1b"), ines.Gone(".reader"), ines.Click(".band a::Activity"), ines.See("[data-kind='remark.written']::wrote a remark on Condition survey report"))
}

// Who wants to prove what happened to a document comes to it in two acts: its trail, and
// the bundle.
func TestATrailIsProven(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/d/MER-24/1"), ines.See(".slip h2::Condition"))
	ines.count("from a document to its evidence bundle", 2, func() {
		ines.does(ines.Click(".slip a::Trail and proof"), ines.See(".trail-page h1::Trail of Condition survey report"), ines.See(".trail-page li::added Condition survey report"))
		ines.does(ines.Click("a::Write the bundle"))
	})
	ines.does(ines.opens("/activity"), ines.Click("a::Trail and proof"), ines.See("h1::everything that happened"))
	if err := k.App.Evidence.Check(t.Context()); err != nil {
		t.Fatal(err)
	}
	// All is sealed by the bundle; its place leads to its proof.
	ines.does(ines.opens("/trail?dossier=MER-24"), ines.See("aside::The log agrees with what happened"), ines.Click(".place::1"), ines.See("aside h2::How the event at place"), ines.See("aside::Signed by"))
	// Somebody changes the past behind its back.
	if _, err := k.App.DB.Exec(`SET session_replication_role = replica; UPDATE events SET at = at - interval '1 day' WHERE id = (SELECT event_id FROM sealed_events WHERE place = 2); SET session_replication_role = origin`); err != nil {
		t.Fatal(err)
	}
	if err := k.App.Evidence.Check(t.Context()); err != nil {
		t.Fatal(err)
	}
	ines.does(ines.opens("/trail?dossier=MER-24"), ines.See("aside::The log and what happened differ"), ines.See("aside::At the places 2"))
}

// A cell of a table is talked about where it stands; whoever is named and cannot open it is
// let in by one act on the way.
func TestTalkingAboutACell(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/d/MER-24/2"), ines.Click(".slip .looked"), ines.See(".cells td::6.9"), ines.Click(".over .talk"), ines.See(".remarks textarea"))
	ines.count("a remark on a cell", 4, func() {
		ines.does(ines.Click(".cells td::6.9"), ines.Click("aside button::column"), ines.Type(".remarks textarea", "Measured twice?"), ines.Click(".remarks button::Say it"))
	})
	ines.does(ines.See("td.talked::6.9"), ines.See(".thread .place::6.9"))
	ines.count("somebody who cannot open it is let in and named", 4, func() {
		ines.does(ines.Type(".remarks > .write textarea", "Please look, @Tomasz"), ines.Click("#named-people li::cannot open it yet"))
		ines.does(ines.Click(".let-in button::Let them in"), ines.SeeText("Tomasz Rehn will be told"), ines.Click(".remarks > .write button::Say it"))
	})
	tomasz := sits(t, k, 1280, 800)
	tomasz.signsIn("Tomasz Rehn")
	tomasz.does(tomasz.Click("[aria-label^=Notices]"), tomasz.Click("a::names you in a remark"), tomasz.See(".slip .thread::Please look"))
}

// A link says that its visitors may remark; one does, is answered inside, and reads it there.
func TestAVisitorSaysSomething(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/d/MER-24/1"), ines.See(".slip h2::Condition"), ines.Press("g"), ines.See(".writing"))
	ines.count("a link with remarks, from the sheet", 2, func() {
		ines.does(ines.Click("button::+ remarks"), ines.See(".w[data-term=remarks]::with remarks"), ines.Click("button::Make link"))
	})
	ines.does(ines.See(".made"))
	address, err := browser.Eval[string](ines.Browser, `document.querySelector('.address input').value`)
	ines.does(err)
	visitor := sits(t, k, 390, 844)
	visitor.does(visitor.Go(address), visitor.Click("button::Show"), visitor.See("li[data-file]"))
	visitor.count("a visitor says something", 4, func() {
		visitor.does(visitor.Click("li[data-file] .btn::View"), visitor.Click("header button::Remarks"), visitor.Type("#say", "Which frames?"), visitor.Click(".said button::Say it"))
	})
	visitor.does(visitor.See(".said article::Which frames?"))
	ines.does(ines.opens("/today"), ines.Click("[aria-label^=Notices]"), ines.Click("a::Somebody said something about"), ines.See(".slip .thread::Which frames?"), ines.See(".slip .thread::whoever has that reads this thread"))
	ines.does(ines.Click(".slip .thread button::Answer"), ines.Type(".slip .thread textarea", "29 to 33"), ines.Click(".slip .thread .write button::Answer"), ines.See(".slip .thread::29 to 33"))
	visitor.does(visitor.Click("header button::Close"), visitor.Click("li[data-file] .btn::View"), visitor.Click("header button::Remarks"), visitor.See(".said article::29 to 33"), visitor.See(".said article::Ines Okafor"))
}
