package jobs_test

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"os"
	"path/filepath"
	"testing"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// A surveyor sends a film to the yard: the link is there while it is still arriving. Their line
// breaks; the yard has begun to fetch meanwhile, waits with them, and has exactly what was sent.
func TestAFilmIsSentAndFetchedWhileItArrives(t *testing.T) {
	t.Parallel()
	k, c, _ := practice(t)
	line := k.NewLine(t)
	data := make([]byte, 12<<20)
	for i := range data {
		data[i] = byte(i * i >> 5)
	}
	film := filepath.Join(t.TempDir(), "Underwater film.mp4")
	if err := os.WriteFile(film, data, 0o600); err != nil {
		t.Fatal(err)
	}
	ines := sits(t, k, 1280, 800)
	ines.url = line.URL
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/outward/transfers"), ines.Click("a::Send files"), ines.See("h1::Send files"))
	line.BreakAfter(6 << 20)
	ines.count("a transfer with a recipient", 3, func() {
		ines.does(ines.Choose("[data-field=files]", film), ines.Type("[data-field=to]", "marit.juhl@pelham-dock.example"), ines.Click("button::Send to 1 person"), ines.See("[data-recipient='marit.juhl@pelham-dock.example']"))
	})
	// Her own page may have heard nothing before the line broke; what has arrived is known elsewhere.
	elsewhere := sits(t, k, 1280, 800)
	elsewhere.signsIn("Ines Okafor")
	elsewhere.does(elsewhere.opens("/outward/transfers"), elsewhere.See("article::of it are here"), elsewhere.Click("article a.name"), elsewhere.SeeText("choose the same file again"))
	// The yard opens its own link.
	marit := sits(t, k, 390, 844)
	marit.does(marit.Go(letter(t, k, "marit.juhl@pelham-dock.example")), marit.Click("button::Show"), marit.SeeText("For marit.juhl@pelham-dock.example"), marit.See("a::Begin now"))
	// What pressing it fetches, fetched by the page itself, so that its hash can be taken.
	_, err := browser.Eval[bool](marit.Browser, `(fetch(document.querySelector('li a.btn-primary').href).then(r => r.arrayBuffer()).then(b => crypto.subtle.digest('SHA-256', b))
		.then(d => window.sum = [...new Uint8Array(d)].map(x => x.toString(16).padStart(2, '0')).join('')).catch(e => window.sum = String(e)), true)`)
	marit.does(err)
	if !line.Broken() {
		t.Fatal("the line did not break")
	}
	line.Mend()
	want := sha256.Sum256(data)
	marit.does(marit.Until("window.sum"))
	if sum, err := browser.Eval[string](marit.Browser, "window.sum"); err != nil || sum != hex.EncodeToString(want[:]) {
		t.Errorf("what was fetched while it arrived: %s, %v", sum, err)
	}
	marit.does(marit.See("a::Download"))
	ines.does(ines.SeeText("All of it is here."), ines.See("[data-recipient='marit.juhl@pelham-dock.example']::all,"))
	// Taken back it is gone from the yard's page at once, and comes back by one act.
	ines.count("a transfer taken back", 1, func() { ines.does(ines.Click("button::Take back"), ines.See(".toast-line::is taken back")) })
	marit.does(marit.SeeText("no longer available"))
	ines.does(ines.Click(".toast-line button::Undo"), ines.See("button::Take back"))
	ines.does(ines.opens("/outward/transfers"), ines.See("article::Underwater film"), ines.Click("button::+ a week"), ines.See(".toast-line::It is there until"))
	if all := testkit.Get[[]contract.Transfer](c, "/api/transfers"); len(all) != 1 || len(all[0].Recipients) != 1 || all[0].Recipients[0].Fetched != 1 {
		t.Errorf("%+v", all)
	}
}

// Chosen documents go out as frozen copies, from their menu.
func TestCopiesOfChosenDocumentsAreSent(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.Click("tr[data-ref='MER-24/003'] input"), ines.Click("tr[data-ref='MER-24/002'] input"))
	ines.count("copies of two documents sent", 2, func() {
		ines.does(ines.Click(".slip button::Send copies"), ines.SeeText("frozen copies of 2 files"), ines.Click("button::Make transfer"), ines.SeeText("The link is copied."))
	})
	ines.does(ines.See("[data-file='Notes.md']::can be fetched"), ines.See("[data-file='Thickness.csv']"))
	visitor, folder := sits(t, k, 1280, 800), t.TempDir()
	address, err := browser.Eval[string](ines.Browser, `document.querySelector('.top .no').innerText`)
	ines.does(err)
	visitor.does(visitor.Downloads(folder), visitor.Go("http://"+address))
	visitor.count("recipient: from the link to everything on the disk", 1, func() {
		visitor.does(visitor.Click("button::Fetch everything"), visitor.SeeText("is being downloaded"))
		content := saved(t, folder, "Notes +1.zip")
		if z, err := zip.NewReader(bytes.NewReader(content), int64(len(content))); err != nil || len(z.File) != 2 {
			t.Errorf("%d bytes came: %v", len(content), err)
		}
	})
	visitor.does(visitor.SeeText("copies of these 2 files"), visitor.Click("li[data-file='Notes.md'] a::View"), visitor.SeeText("Pitting"))
	ines.does(ines.opens("/activity"), ines.SeeText("sent a copy of"))
}
