package jobs_test

import "testing"

// A letter is made from another one: what the dossier knows stands in it, the rest is written.
func TestMakingFromADocument(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	c.Upload(reports, "", "Letter to anybody.md", []byte("Dear [[salutation]],\n\nabout [[code]] [[dossier]].\n\n[[me]]"))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See("tr[data-ref]::Letter to anybody"))
	ines.count("a letter from another one", 6, func() {
		ines.does(ines.RightClick("tr[data-ref]::Letter to anybody"), ines.Click(".row-menu button::New from this"), ines.See(".make-from label::salutation"))
		ines.does(ines.Type(".make-from label:has(span) input::Letter to anybody", "Letter to the master"))
		ines.does(ines.Click(".make-from button::Make document"), ines.See(".make-from [role=alert]::not filled in"))
		ines.does(ines.Type(".make-from input[aria-invalid=true]", "Mr Vale"), ines.Press("\r"), ines.See(".toast-line::Letter to the master is made"))
	})
	ines.does(ines.See(".slip h2::Letter to the master"), ines.See(".slip .glance::Dear Mr Vale"), ines.See(".slip .glance::Ines Okafor"))
	ines.count("… or by its name", 5, func() {
		ines.does(ines.Click(".heading button::Add"), ines.Click("button::From a document"), ines.Type(".make-from input", "anybody"), ines.Click(".make-from .found button::Letter to anybody"))
		ines.does(ines.See(".make-from label::salutation"), ines.Press("\x1b"), ines.Gone(".make-from"))
	})
	ines.does(ines.RightClick("tr[data-ref]::Letter to anybody"), ines.Click(".row-menu button::New from this"), ines.See(".make-from label::salutation"), ines.Type(".make-from label:has(span):nth-of-type(2) input", "Ms Juhl"))
	ines.count("… and written on", 1, func() {
		ines.does(ines.Click(".make-from button::Make it and write on"), ines.See(".ProseMirror::Dear Ms Juhl"))
	})
}
