package jobs_test

import (
	"bytes"
	"fmt"
	"os"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/sessions"
	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// The main job from end to end: a client is given a document under terms, opens
// it without an account, the sender sees it at once and ends it.
func TestGiveADocumentSeeItOpenedEndIt(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"))
	ines.does(ines.Click("tr[data-ref]::Condition survey"), ines.See(".slip h2::Condition survey report"))

	link := ""
	ines.count("from a chosen document to a copied link, usual terms", 2, func() {
		ines.does(ines.Click(".heading .btn-primary::Give out"))
		ines.does(ines.SeeText("view and download 1 file in this version until"), ines.Click("button::Make link"), ines.See(".made::The link is made"))
	})
	ines.does(ines.Click("button::Done"), ines.See(".slip li[data-link='Condition survey report']"))

	ines.count("the same with a password and one opening", 4, func() {
		ines.does(ines.Click(".heading .btn-primary::Give out"))
		ines.does(ines.Click(".plus::+ password"), ines.See(".w::and the password"), ines.Click(".plus::+ at most so many openings"), ines.SeeText("at most once"))
		ines.does(ines.Click("button::Make link"), ines.See(".made"))
	})
	link, err := browser.Eval[string](ines.Browser, `document.querySelector('.address input').value`)
	ines.does(err)
	password, err := browser.Eval[string](ines.Browser, `document.querySelector('blockquote b').innerText`)
	ines.does(err)
	ines.does(ines.Type("#mail-to", "marit.juhl@pelham-dock.example"), ines.Type("#mail-text", "Dear Marit, look at frame 31."), ines.Click("button::Send"), ines.SeeText("Sent to marit.juhl@pelham-dock.example"))
	ines.does(ines.Click("button::Done"))
	for _, m := range k.Mail.Messages("") {
		if strings.Contains(m.Text, password) {
			t.Errorf("the password is in the mail: %s", m.Text)
		}
	}

	marit := sits(t, k, 390, 844)
	marit.does(marit.Go(link), marit.SeeText("Password"))
	marit.does(marit.Type("#password", "not this one"), marit.Click("button::Open"), marit.SeeText("The password is wrong."))
	marit.count("recipient: from the link to the document, with a password", 3, func() {
		marit.does(marit.Type("#password", password), marit.Click("button::Open"))
		marit.does(marit.See("li[data-file]::Condition survey report"), marit.SeeText("Dear Marit"), marit.SeeText("after this visit the link is used up"))
		marit.does(marit.Click("li[data-file] .btn::View"), marit.See(".view .page[data-loaded=true]"))
	})
	fits, err := browser.Eval[bool](marit.Browser, `document.documentElement.scrollWidth <= 390`)
	marit.does(err)
	if !fits {
		t.Error("the visitor's page is wider than 390 px")
	}
	marit.does(marit.Click("button::Close"))

	// The sender sees it without doing anything.
	ines.does(ines.SeeText("opened 1 of 1"), ines.See(".trail li::looked at"), ines.See(".trail li::was not let in"))
	ines.count("the sender ends a link", 1, func() {
		ines.does(ines.Click(".slip li[data-link] button::End link"), ines.See(".toast-line::is ended"))
	})
	ines.does(ines.Until(`document.querySelectorAll(".slip li[data-link]").length === 1`), ines.Click(".slip li[data-link] button::End link"), ines.Gone(".slip li[data-link] button::End link"))
	marit.does(marit.SeeText("This link is no longer available"))
	marit.does(marit.Go(link), marit.SeeText("This link is no longer available"))
	left, err := browser.Eval[bool](marit.Browser, `/Halyard|Condition|Okafor/.test(document.body.innerText)`)
	marit.does(err)
	if left {
		t.Error("the dead page tells something")
	}

	ines.does(ines.Click(".cards a::Activity"), ines.See(".e[data-kind='link.opened']"), ines.See(".e[data-kind='link.ended']"))
	ines.does(ines.Click(".cards a::Outward"), ines.SeeText("Nothing can be reached from outside"))
}

func TestARecipientWalksAFolder(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	c.Upload(reports, "Photographs", "Tank 4.txt", []byte("a picture, in words"))
	l := testkit.Post[contract.Link](c, 201, "/api/links", contract.LinkTerms{Items: []uuid.UUID{reports}})
	odile := sits(t, k, 1280, 800)
	odile.does(odile.Go(*l.Address), odile.SeeText("Ines Okafor has papers for you"))
	if n := testkit.Get[contract.LinkRecord](c, "/api/links/"+l.Id.String()).Link.Openings; n != 0 {
		t.Errorf("arriving counted %d openings", n)
	}
	odile.count("recipient: from the link to the papers, no password", 1, func() {
		odile.does(odile.Click("button::Show"), odile.SeeText("Enclosed: 4 files"))
	})
	odile.does(odile.Click("button[lang=de]"), odile.SeeText("Beigefügt: 4 Dateien"), odile.Click("button[lang=en]"))
	odile.does(odile.Click("li[data-file='Thickness.csv'] .btn::View"), odile.See(".cells td::6.9"), odile.Click("button::Close"))
	odile.does(odile.Click("li.folder .btn"), odile.See("li[data-file]::Tank 4"), odile.Click(".way a::Reports"), odile.See("li[data-file]::Notes"))
	// Going back leads back, out of a document and out of a folder.
	odile.does(odile.Click("li.folder .btn"), odile.See("li[data-file]::Tank 4"), odile.Click("li[data-file] .btn::View"), odile.See(".view"), odile.Back(), odile.Gone(".view"), odile.See("li[data-file]::Tank 4"), odile.Back(), odile.See("li[data-file]::Notes"))
	kind, err := browser.Eval[string](odile.Browser, `(() => { const x = new XMLHttpRequest(); x.open('GET', document.querySelector('footer a').href, false); x.send(); return x.status + ' ' + x.getResponseHeader('Content-Type') })()`)
	odile.does(err)
	if kind != "200 application/zip" {
		t.Errorf("all together: %s", kind)
	}
}

func TestBringingDocumentsIn(t *testing.T) {
	t.Parallel()
	k, c, _ := practice(t)
	dir := t.TempDir()
	for name, text := range map[string]string{"Survey plan.txt": "the plan", "Notes.md": "# Another text\n", "bad.txt": "x"} {
		if err := os.WriteFile(filepath.Join(dir, name), []byte(text), 0o600); err != nil {
			t.Fatal(err)
		}
	}
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.See("tr[data-ref]::Notes"))
	ines.count("bring in files by the button", 3, func() {
		ines.does(ines.Click("button::Add"), ines.See("[role=menuitem]::Files"))
		ines.does(ines.Choose("input[type=file][multiple]", filepath.Join(dir, "Survey plan.txt"), filepath.Join(dir, "Notes.md")))
		ines.does(ines.SeeText("is MER-24/004"), ines.SeeText("is version 2 of MER-24/003"))
	})
	ines.count("keep a further version apart", 1, func() {
		ines.does(ines.Click(".tray button::Keep apart"), ines.SeeText("is MER-24/005, kept apart"))
	})
	ines.does(ines.See("tr[data-ref]::Notes (2)"))
	ines.does(ines.Click(".tray button::Fold away"), ines.Gone(".tray"))

	// A dropped folder tree, with a name that is refused: the others still come in.
	_, err := browser.Eval[bool](ines.Browser, `(() => {
		const file = (name, text) => ({isFile: true, name, file: ok => ok(new File([text], name))})
		const folder = (name, all) => ({isDirectory: true, name, createReader() { let given = false; return {readEntries: ok => { const now = given ? [] : all; given = true; ok(now) }} }})
		const tree = folder('Photos', [file('1.txt', 'one'), folder('Tank 4', [file('2.txt', 'two'), file('bad\u202ename.txt', 'x')])])
		const e = new Event('drop', {bubbles: true, cancelable: true})
		e.dataTransfer = {types: ['Files'], items: [{webkitGetAsEntry: () => tree}], files: []}
		document.querySelector('.frame').dispatchEvent(e)
		return true })()`)
	ines.does(err)
	ines.does(ines.See(".tray [role=alert]::turns the direction"), ines.SeeText("4 of 5 are in, 1 refused"), ines.See(".contents a::Tank 4"))
	d := testkit.Get[contract.Dossier](c, "/api/dossiers/MER-24")
	if d.Documents != 7 {
		t.Errorf("%d documents are there", d.Documents)
	}
}

func TestMakingADossier(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	hanne := sits(t, k, 1280, 800)
	hanne.signsIn("Hanne Solvik")
	hanne.does(hanne.Click(".cards a::Dossiers"), hanne.See("tr::MER-24"))
	hanne.count("make a dossier with code, name and client", 5, func() {
		hanne.does(hanne.Click("button::Make a dossier"))
		hanne.does(hanne.Type("input[aria-label=code]", "mer-24"), hanne.Type("input[aria-label=name]", "Pellew"), hanne.Type("input[aria-label=client]", "Pelham Dry Dock"))
		hanne.does(hanne.Click("button[type=submit]::Make dossier"))
	})
	hanne.does(hanne.SeeText("This code is in use"))
	hanne.does(hanne.Type("input[aria-label=code]", "PEL-11"), hanne.Press("\r"), hanne.See(".contents::PEL-11"), hanne.SeeText("Nothing lies here yet"))
	hanne.does(hanne.Click("button::Add"), hanne.Click("[role=menuitem]::New folder"), hanne.Type(".heading input", "Instruction"), hanne.Press("\r"), hanne.See(".contents a::Instruction"))
}

func TestLookingAtEveryKind(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"))
	for name, seen := range map[string]string{"Condition survey": ".over .page[data-loaded=true]", "Thickness": ".over .cells td::6.9", "Notes": ".over .prose strong::Pitting"} {
		ines.does(ines.Click("tr[data-ref]::"+name), ines.See(".slip h2::"+name), ines.Click(".slip .btn::View"), ines.See(seen), ines.Press("\x1b"), ines.Gone(".over"))
	}
	ines.does(ines.opens("/d/MER-24/2"), ines.See(".slip h2::Thickness"))
	ines.does(ines.opens("/d/MER-24/99"), ines.SeeText("This is not available"))
	ines.does(ines.opens("/dossiers/AUR-03"), ines.SeeText("This is not available"))
}

func TestAnEndedSessionIsResumedWhereOneWas(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Notes"), ines.See(".slip h2::Notes"), ines.See("#deletes p:not(.quiet)"))
	k.Later(sessions.Length + 1)
	// The page may have asked something by itself just then: the row is clicked whatever lies over it.
	_, err := browser.Eval[bool](ines.Browser, `([...document.querySelectorAll('tr[data-ref]')].find(r => r.innerText.includes('Thickness')).click(), true)`)
	ines.does(err, ines.SeeText("Your session has ended"))
	ines.does(ines.Type("#email", "ines.okafor@halyard-rook.example"), ines.Type("#password", testkit.Password), ines.Click(".modal button::Sign in"))
	ines.does(ines.Gone(".modal.show"), ines.See(".slip h2::Thickness"))
}

// fills puts many documents into a folder, as if they had been brought in.
func fills(k *testkit.Kit, folder uuid.UUID, n int) {
	if _, err := k.App.DB.Exec(`WITH made AS (
			INSERT INTO items (id, dossier_id, scope_id, parent_id, kind, name, name_key, number, version, sha256, size, media_type, created_by, created_at)
			SELECT gen_random_uuid(), dossier_id, parent_id, parent_id, 'document', 'paper ' || n, 'paper ' || n, 1000 + n, 1, sha256, size, media_type, created_by, created_at
			FROM items, generate_series(1, $2) n WHERE parent_id = $1 AND number = 3 RETURNING id, sha256, size, media_type, created_by, created_at)
		INSERT INTO versions (item_id, number, sha256, size, media_type, origin, actor_id, created_at) SELECT id, 1, sha256, size, media_type, 'uploaded', created_by, created_at FROM made`, folder, n); err != nil {
		k.T.Fatal(err)
	}
	if _, err := k.App.DB.Exec(`UPDATE items f SET n_documents = c.n, n_bytes = c.bytes FROM (SELECT count(*) AS n, sum(size) AS bytes FROM items WHERE parent_id = $1 AND kind = 'document') c WHERE id = $1`, folder); err != nil {
		k.T.Fatal(err)
	}
	if _, err := k.App.DB.Exec(`UPDATE scopes s SET n_documents = f.n_documents, n_bytes = f.n_bytes FROM items f WHERE f.id = $1 AND s.id = f.id`, folder); err != nil {
		k.T.Fatal(err)
	}
}

// Only the rows in sight are in the page, however many there are.
func TestALongRegisterStaysSmall(t *testing.T) {
	// Alone, without t.Parallel: it counts the frames of a page that is scrolled.
	k, _, reports := practice(t)
	fills(k, reports, 100_000)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.SeeText("100003 documents here"))
	// A hundred frames of steady scrolling, each with its time.
	_, err := browser.Eval[bool](ines.Browser, `(() => {
		const pane = document.querySelector('.pane'), times = []
		let before = performance.now()
		const frame = now => { times.push(now - before); before = now; pane.scrollTop += 120; times.length < 100 ? requestAnimationFrame(frame) : window.frames100 = times.sort((a, b) => a - b) }
		requestAnimationFrame(frame)
		return true })()`)
	ines.does(err, ines.Until("window.frames100"))
	frames, err := browser.Eval[[]float64](ines.Browser, `[50, 95, 99].map(i => window.frames100[i])`)
	ines.does(err)
	t.Logf("frames while scrolling through 100,000 rows: median %.0f ms, 95 of 100 within %.0f ms, longest %.0f ms", frames[0], frames[1], frames[2])
	ines.does(ines.Until(`(document.querySelector('.pane').scrollTop += 6000, Number(document.querySelector('tr[data-ref]')?.dataset.index) >= 500)`))
	rows, err := browser.Eval[int](ines.Browser, `document.querySelectorAll('tr[data-ref]').length`)
	ines.does(err)
	if rows == 0 || rows > 80 {
		t.Errorf("%d rows are in the page", rows)
	}
	// On a telephone, too.
	phone := sits(t, k, 390, 844)
	phone.signsIn("Ines Okafor")
	phone.does(phone.Click("a::Corran Lass"), phone.Click(".folders a::Reports"), phone.SeeText("100003 documents here"), phone.See("tr[data-ref]"))
	for range 10 {
		_, err := browser.Eval[bool](phone.Browser, `(document.querySelector('.pane').scrollTop += 3000, true)`)
		phone.does(err, phone.See("tr[data-ref]"))
	}
	rows, err = browser.Eval[int](phone.Browser, `document.querySelectorAll('tr[data-ref]').length`)
	phone.does(err)
	if rows == 0 || rows > 80 {
		t.Errorf("%d rows are in the telephone's page", rows)
	}
}

// The connection breaks in the middle of an upload; it goes on by itself where
// it was, without the person doing anything.
func TestALostConnection(t *testing.T) {
	t.Parallel()
	k, c, _ := practice(t)
	line := k.NewLine(t)
	file := filepath.Join(t.TempDir(), "Photographs.bin")
	data := make([]byte, 12<<20)
	for i := range data {
		data[i] = byte(i * i >> 7)
	}
	if err := os.WriteFile(file, data, 0o600); err != nil {
		t.Fatal(err)
	}
	ines := sits(t, k, 1280, 800)
	ines.url = line.URL
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.See("tr[data-ref]::Notes"))
	line.BreakAfter(5 << 20)
	ines.does(ines.Choose("input[type=file][multiple]", file), ines.SeeText("The connection is lost; it goes on by itself."))
	if !line.Broken() {
		t.Fatal("the line did not break")
	}
	line.Mend()
	ines.does(ines.SeeText("is MER-24/004"))
	found := testkit.Get[contract.Place](c, "/api/register-numbers/MER-24/4")
	a := c.Want(200, "GET", "/api/documents/"+found.Id.String()+"/content", nil)
	if !bytes.Equal(a.Body, data) {
		t.Errorf("%d of %d bytes came, or others", len(a.Body), len(data))
	}
}

// Hundreds of files in one drop come in, the page stays small, and one goes on
// working meanwhile. DROP_FILES makes it more.
func TestHundredsOfFilesInOneDrop(t *testing.T) {
	t.Parallel()
	k, c, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	files := 120
	if n, err := strconv.Atoi(os.Getenv("DROP_FILES")); err == nil {
		files = n
	}
	ines.Patience = time.Minute + time.Duration(files)*2*time.Second
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.See("tr[data-ref]::Notes"))
	begun := time.Now()
	_, err := browser.Eval[bool](ines.Browser, `(() => {
		const file = name => ({isFile: true, name, file: ok => ok(new File([name.endsWith(' 0.txt') ? 'x'.repeat(4 << 20) : name], name))})
		const all = Array.from({length: `+strconv.Itoa(files)+`}, (_, i) => file('reading ' + i + '.txt'))
		// Browsers give a folder's entries a hundred at a time.
		const tree = {isDirectory: true, name: 'Readings', createReader() { let at = 0; return {readEntries: ok => { const some = all.slice(at, at + 100); at += 100; ok(some) }} }}
		const e = new Event('drop', {bubbles: true, cancelable: true})
		e.dataTransfer = {types: ['Files'], items: [{webkitGetAsEntry: () => tree}], files: []}
		document.querySelector('.frame').dispatchEvent(e)
		return true })()`)
	ines.does(err, ines.See(".tray [data-state=running]"))
	lines, err := browser.Eval[int](ines.Browser, `document.querySelectorAll('.tray li').length`)
	ines.does(err)
	if lines == 0 || lines > 120 {
		t.Errorf("the tray shows %d lines", lines)
	}
	ines.does(ines.Click(".tray button::Fold away"), ines.Gone(".tray"), ines.Click("tr[data-ref]::Thickness"), ines.See(".slip h2::Thickness"))
	ines.does(ines.Click("button[aria-label^=Tray]"), ines.SeeText(fmt.Sprintf("%d of %[1]d are in", files)))
	t.Logf("%d files in %v", files, time.Since(begun).Round(time.Second))
	if d := testkit.Get[contract.Dossier](c, "/api/dossiers/MER-24"); d.Documents != files+3 {
		t.Errorf("%d documents are there", d.Documents)
	}
	// However long each of them takes, their numbers follow their order.
	for _, n := range []int{0, 1, 2, 10, files - 1} {
		found := testkit.Get[contract.Place](c, fmt.Sprintf("/api/register-numbers/MER-24/%d", n+4))
		if want := fmt.Sprintf("reading %d.txt", n); found.Name != want {
			t.Errorf("MER-24/%03d is %s instead of %s", n+4, found.Name, want)
		}
	}
}

// Giving out begins from the row as well: by right click or long press.
func TestTheMenuOfARow(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.See("tr[data-ref]::Notes"))
	ines.count("from a row to a copied link, by the row's menu", 3, func() {
		ines.does(ines.RightClick("tr[data-ref]::Notes"), ines.Click(".row-menu button::Give out"))
		ines.does(ines.SeeText("Hand-out link for MER-24/003"), ines.Click("button::Make link"), ines.See(".made"))
	})
	ines.does(ines.Click("button::Done"), ines.RightClick("tr[data-ref]::Thickness"), ines.Click(".row-menu button::Choose"), ines.RightClick("tr[data-ref]::Condition"), ines.Click(".row-menu button::Choose"))
	ines.does(ines.See(".slip h2::Chosen together"), ines.RightClick("tr[data-ref]::Condition"), ines.Click(".row-menu button::Give out"), ines.SeeText("view and download 2 files"))
	checked, err := browser.Eval[int](ines.Browser, `document.querySelectorAll('tbody input:checked').length`)
	ines.does(err)
	if checked != 2 {
		t.Errorf("%d rows show that they are chosen", checked)
	}
}
