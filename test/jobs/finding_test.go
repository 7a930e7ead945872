package jobs_test

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"slices"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"github.com/google/uuid"

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
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.See("tr[data-ref]"))
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
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Condition survey"), ines.See(".slip h2[title='Condition survey report.pdf']"))
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

// A dossier opens on what there is to know of the whole; its folders stand as rows,
// and show the most open door in them.
func TestADossierOpensOnItsOverview(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	inner := testkit.Post[contract.Folder](c, 201, "/api/folders/"+reports.String()+"/folders", contract.NewName{Name: "Working papers"}).Id
	c.Upload(inner, "", "Sketch.md", []byte("# Sketch"))
	name := "For the yard"
	testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{inner}, Name: &name})
	for _, width := range []int64{1280, 390} {
		ines := sits(t, k, width, 844)
		ines.signsIn("Ines Okafor")
		ines.does(ines.Click("a::Corran Lass"), ines.See(".overview::At a glance"), ines.SeeText("Two colleagues can open this dossier"))
		ines.does(ines.See(".overview .out li::For the yard"), ines.See(".overview .trail li::made the link"), ines.See(".overview .ways li"))
		ines.does(ines.Until(`!!document.querySelector('.folders a[data-folder=Reports] .door.open, .folders a[data-folder=Reports] [data-state=open]')`))
		ines.does(ines.Click(".folders a::Reports"), ines.See("tr[data-ref]::Notes"), ines.Gone(".overview"), ines.Until(`document.title === 'Reports, MER-24 Corran Lass – Dossiers – Halyard & Rook'`), ines.Click(".folders a::Working papers"), ines.See("tr[data-ref]::Sketch"))
		ines.does(ines.Back(), ines.See("tr[data-ref]::Notes"))
	}
}

// Whoever brings files where others outside can open them is told so before anything
// travels, once for each place.
func TestBringingWhereOthersCanOpen(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	guest := "sunniva.aker@dunlin.example"
	c.Want(204, "POST", "/api/access", contract.AccessWish{Items: []uuid.UUID{reports}, To: []contract.Recipient{{Email: &guest}}, Level: contract.LevelView})
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.See("tr[data-ref]::Notes"))
	dir := t.TempDir()
	first, second := filepath.Join(dir, "First.txt"), filepath.Join(dir, "Second.txt")
	for _, name := range []string{first, second} {
		if err := os.WriteFile(name, []byte(name), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	ines.does(ines.Choose(".heading input[type=file]", first), ines.See(".told::sunniva.aker@dunlin.example will be able to open what comes in here"))
	if n := len(testkit.Get[contract.RegisterPage](c, "/api/folders/"+reports.String()+"/register").Rows); n != 3 {
		t.Errorf("before it is agreed to, %d documents are there", n)
	}
	ines.does(ines.Click(".told button::Discard"), ines.Gone(".told"), ines.Choose(".heading input[type=file]", first), ines.Click(".told button::Bring 1 file in"), ines.See("tr[data-ref]::First"))
	ines.does(ines.Choose(".heading input[type=file]", second), ines.See("tr[data-ref]::Second"), ines.Gone(".told"))
}

// pages is a PDF document of pages with texts of their own.
func pages(texts ...string) []byte {
	f := fpdf.New("P", "mm", "A4", "")
	for _, text := range texts {
		f.AddPage()
		f.SetFont("Helvetica", "", 14)
		f.MultiCell(0, 8, text, "", "L", false)
	}
	var b bytes.Buffer
	if err := f.Output(&b); err != nil {
		panic(err)
	}
	return b.Bytes()
}

// A word of a long report is found while one types and leads to its page, marked; all that is
// written with it is one act further; a question is kept, and says when something new answers it.
func TestFindingWhatIsWritten(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	texts := make([]string, 120)
	for i := range texts {
		texts[i] = fmt.Sprintf("Chapter %d of the survey, of which nothing is to be said.", i+1)
	}
	texts[86] = "The windlass was opened up, and its bearings were renewed."
	c.Upload(reports, "", "Docking.pdf", pages(texts...))
	c.Upload(reports, "", "Letter.txt", []byte("We thank you for the windlasses that you sent."))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.count("from a word to its page in a report of 120", 2, func() {
		ines.does(ines.Type(".finder input", "windlass"), ines.Click(".found .written::p. 87"), ines.See(".page[data-page-number='87'] .highlight::windlass"))
	})
	ines.does(ines.Click(".over > header button::Close"), ines.See(".slip .no::MER-24/004"))
	ines.count("all that is written with a word", 2, func() {
		ines.does(ines.Type(".finder input", "windlass"), ines.Click(".found li::All that is written"), ines.See(".tally::2 documents"), ines.See(".hit mark::windlasses"))
	})
	ines.does(ines.Pick("select[aria-label=Kind]", "PDF"), ines.Gone(".hit::Letter"), ines.See(".hit::Docking"))
	ines.count("a question is kept", 2, func() {
		ines.does(ines.Click(".kept button::Keep this question"), ines.Press("\r"), ines.See(".toast-line::is kept"))
	})
	ines.does(ines.opens("/find"), ines.Click(".kept button::windlass"), ines.See(".hit::Docking"), ines.Gone(".hit::Letter"))
	hanne := k.SignIn("hanne")
	hanne.Upload(reports, "", "Windlass.pdf", pages("The windlass runs again."))
	told := func() bool {
		err := k.App.Jobs.Do(t.Context(), "tell of new answers")
		return err == nil && slices.ContainsFunc(testkit.Get[[]contract.Notice](c, "/api/notices"), func(n contract.Notice) bool { return n.Kind == "found" })
	}
	until(t, "somebody is told", told)
	ines.does(ines.opens("/today"), ines.Click("[aria-label^=Notices]"), ines.Click("a::Something new answers"), ines.See(".hit::Windlass"))
}

// Three documents are tagged at once; a tag leads to all that bear it, is taken off by one act,
// and one's own is nobody else's.
func TestTagging(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See("tr[data-ref]::Notes"))
	for _, ref := range []string{"001", "002", "003"} {
		ines.does(ines.Click("tr[data-ref='MER-24/" + ref + "'] input[type=checkbox]"))
	}
	ines.count("three documents are tagged at once", 2, func() {
		ines.does(ines.Type(".tagging input", "class, to be renewed"), ines.Press("\r"), ines.See(".toast-line::stands on 3 documents"))
	})
	ines.does(ines.opens("/d/MER-24/003"), ines.See(".slip .on::to be renewed"), ines.Pick(".slip select[aria-label='Whose tag']", "for me alone"))
	ines.does(ines.Type(".slip .tag-field input", "Thursday"), ines.Press("\r"), ines.See(".slip .tag.own::Thursday"))
	ines.count("from a tag to all that bear it", 1, func() {
		ines.does(ines.Click(".slip .on a::class"), ines.See(".hit::Notes"), ines.See(".hit::Thickness"), ines.See(".tally::3 documents"))
	})
	ines.does(ines.opens("/d/MER-24/003"), ines.See(".slip .on::class"))
	ines.count("a tag is taken off", 1, func() {
		ines.does(ines.Click(".slip [aria-label='Take “class” off']"), ines.Gone(".slip .on a::class"))
	})
	ines.count("… and put back", 1, func() { ines.does(ines.Click(".toast-line button::Undo"), ines.See(".slip .on a::class")) })
	hanne := sits(t, k, 390, 844)
	hanne.signsIn("Hanne Solvik")
	hanne.does(hanne.opens("/d/MER-24/003"), hanne.See(".slip .on::class"), hanne.Gone(".slip .on::Thursday"), hanne.opens("/tags"), hanne.See("li::to be renewed"), hanne.Gone("li::Thursday"))
}
