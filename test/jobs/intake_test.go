package jobs_test

import (
	"os"
	"path/filepath"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/testkit"
)

// letter waits for the mail to somebody and returns the link in it.
func letter(t *testing.T, k *testkit.Kit, to string) string {
	t.Helper()
	for range 300 {
		for _, m := range k.Mail.Messages(to) {
			if link := regexp.MustCompile(regexp.QuoteMeta(k.URL) + `/l/\S+`).FindString(m.Text); link != "" {
				return link
			}
		}
		time.Sleep(20 * time.Millisecond)
	}
	t.Fatalf("no letter came to %s", to)
	return ""
}

// Papers that are waited for: asked for by mail, handed in on a telephone,
// ticked off on both sides, with a receipt.
func TestPapersThatAreWaitedFor(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See("h1::Reports"), ines.Click(".heading .btn-primary::Give out"))
	ines.count("asking for two papers, told each time", 5, func() {
		ines.does(ines.Click(".w::view and download"), ines.Click(".choices button::Put files in"), ines.Type("#expected", "Class certificate\nGas-free certificate"), ines.Pick("[data-field=tell]", "each time"), ines.SeeText("may put files into the folder Reports"), ines.Click("button::Make link"), ines.See("#mail-to"))
	})
	ines.does(ines.Type("#mail-to", "marit.juhl@pelham-dock.example"), ines.Click("button::Send"), ines.SeeText("Sent to marit.juhl@pelham-dock.example"), ines.Click("button::Done"))

	dir := t.TempDir()
	file := func(name string) string {
		path := filepath.Join(dir, name)
		if err := os.WriteFile(path, []byte(name+" "+uuid.NewString()), 0o600); err != nil {
			t.Fatal(err)
		}
		return path
	}
	marit := sits(t, k, 390, 844)
	marit.does(marit.Go(letter(t, k, "marit.juhl@pelham-dock.example")), marit.SeeText("Ines Okafor asks you for papers"))
	marit.count("outsider: from the link to two papers handed in, with a receipt", 5, func() {
		marit.does(marit.Click("button::Begin"), marit.SeeText("Two papers are asked for"),
			marit.Choose(".drop input", file("scan of class certificate.pdf")), marit.See("li.done[data-paper='Class certificate']"),
			marit.Choose("li[data-paper='Gas-free certificate'] input", file("DSC_0031.jpg")), marit.SeeText("All papers are here"),
			marit.Type("#receipt-to", "marit.juhl@pelham-dock.example"), marit.Click("button::Done"), marit.SeeText("Received, thank you"))
	})
	marit.does(marit.See(".receipt dd::SHA-256"))
	// Whoever comes by another copy sees nothing of it.
	other := sits(t, k, 390, 844)
	other.does(other.Go(letter(t, k, "marit.juhl@pelham-dock.example")), other.Click("button::Begin"), other.SeeText("Two papers are asked for"), other.Gone("li.done"))

	other.does(other.Choose("li[data-paper='Class certificate'] input", file("another ship.pdf")), other.See("li.done[data-paper='Class certificate']"))
	other.count("outsider: a wrong paper is taken back", 1, func() {
		other.does(other.Click("li[data-paper='Class certificate'] button::Take back"), other.Gone("li.done"))
	})

	ines.does(ines.opens("/outward"), ines.SeeText("2 of 2 papers are here"), ines.Click("button.name::Reports"), ines.See(".papers .here::Gas-free certificate"), ines.See(".trail li::DSC_0031"))
	ines.does(ines.opens("/dossiers/MER-24/"+reports.String()), ines.See("tr[data-ref]::scan of class certificate"), ines.See("tr[data-ref]::DSC_0031"))
	told := false
	for range 300 {
		for _, m := range k.Mail.Messages("ines.okafor@halyard-rook.example") {
			told = told || strings.Contains(m.Text, "papers handed in")
		}
		if told {
			break
		}
		time.Sleep(20 * time.Millisecond)
	}
	if !told {
		t.Error("the sender was not told by mail")
	}
}
