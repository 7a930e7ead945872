package jobs_test

import (
	"os"
	"path/filepath"
	"testing"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// Nothing is overwritten: an older version is looked at and brought back, a mistaken one
// removed and put back, and a file of another name becomes a version with a note.
func TestVersionsOfADocument(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	for _, text := range []string{"# Frame 31\n\nThe second text.\n", "# Frame 31\n\nThe third text.\n"} {
		c.Upload(reports, "", "Notes.md", []byte(text))
	}
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Notes"), ines.See("[data-version='3'].counts"))
	ines.count("see and bring back an older version", 2, func() {
		ines.does(ines.Click("[data-version='1'] button::look"), ines.See(".over::Pitting"), ines.Click(".over button::Bring back version 1"))
		ines.does(ines.See(".toast-line::Version 1 counts again, as version 4"))
	})
	ines.does(ines.Gone(".over"), ines.See("[data-version='4'].counts::brought back from version 1"))
	// What is to be removed is opened first: its acts stand below it.
	ines.does(ines.Click("[data-version='4'] .made-by"))
	ines.count("remove a version and undo it", 2, func() {
		ines.does(ines.Click("[data-version='4'] button::remove"), ines.See("[data-version='4'].gone"), ines.See("[data-version='3'].counts"))
		ines.does(ines.Click("[data-version='4'] button::undo removal"), ines.See("[data-version='4'].counts"))
	})
	ines.does(ines.Click("[data-version='2'] .made-by"), ines.Click("[data-version='2'] button::name it"), ines.Type("[data-version='2'] input", "As sent to Dunlin Mutual"), ines.Press("\r"), ines.See("[data-version='2'] .title::As sent"))

	file := filepath.Join(t.TempDir(), "another name.md")
	if err := os.WriteFile(file, []byte("# Frame 31\n\nThe fifth text.\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	ines.count("add a version with a note", 2, func() {
		ines.does(ines.Type("[data-field=note]", "after the second gauging"), ines.Choose(".history input[type=file]", file), ines.See("[data-version='5'].counts::after the second gauging"))
	})
	// A copy under another name is told as what it is.
	second := filepath.Join(t.TempDir(), "Notes (2).md")
	if err := os.WriteFile(second, []byte("# Frame 31\n\nThe sixth text.\n"), 0o600); err != nil {
		t.Fatal(err)
	}
	ines.does(ines.Choose(".heading input[type=file]", second))
	ines.count("make a copy that came in a version", 1, func() {
		ines.does(ines.Click(".tray button::Make it a version of MER-24/003"), ines.See("[data-version='6'].counts::Notes (2).md"))
	})
	// A file dropped onto a row is asked about; of whatever name, it becomes a version of that.
	_, err := browser.Eval[bool](ines.Browser, `(() => {
		const e = new Event('drop', {bubbles: true, cancelable: true})
		e.dataTransfer = {types: ['Files'], items: [], files: [new File(['# Frame 31, the seventh'], 'from the yard.md')]}
		document.querySelector('tr[data-ref="MER-24/003"] td').dispatchEvent(e)
		return true })()`)
	ines.does(err)
	ines.count("a file dropped onto a row becomes a version", 1, func() {
		ines.does(ines.SeeText("“from the yard.md” as a new version of MER-24/003?"), ines.Click("button::Add as version"), ines.See("[data-version='7'].counts"))
	})
	register := testkit.Get[contract.RegisterPage](c, "/api/folders/"+reports.String()+"/register")
	if register.Total != 3 {
		t.Errorf("there are %d documents", register.Total)
	}
}
