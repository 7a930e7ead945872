package jobs_test

import (
	"bytes"
	"crypto/sha256"
	"fmt"
	"io"
	"os"
	"path/filepath"
	"strings"
	"testing"

	"filippo.io/age"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// Somebody without an account sends files to a colleague's address; the colleague accepts them into a
// folder, where they lie like others.
func TestFilesAreSentToAnAddressAndAccepted(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	path, content := film(t, "Frame 31, port.bin", 40_000)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/desk/received"), ines.SeeText("Nothing was sent to you"))
	ines.count("publish an address", 3, func() {
		ines.does(ines.Click("a::Publish an address"), ines.Click("#address button::Publish"), ines.Click("#address button::Copy"), ines.SeeText("Copied"))
	})
	address, err := ines.Copied()
	ines.does(err)
	if address != k.URL+"/to/ines-okafor" {
		t.Fatalf("copied: %s", address)
	}
	odile := sits(t, k, 390, 844)
	email := "odile.charron@brackwater.example"
	odile.does(odile.Go(address), odile.See("h1::Send files to Ines Okafor"), odile.Type("#email", email), odile.Click("button::Send me a code"), odile.See("#code"))
	odile.does(odile.Type("#code", codeFor(t, k, email)), odile.Click("button::Open"), odile.See("h2::Choose the files"))
	odile.does(odile.Choose(".drop input", path), odile.See("[data-file='Frame 31, port.bin'].done"))
	odile.does(odile.Type("#who", "Odile Charron"), odile.Type("#note", "As you asked."), odile.Click("button::Send"), odile.SeeText("Received, thank you"), odile.SeeText("This receipt also goes to"))
	// It waits at the desk, and nobody opens it.
	ines.does(ines.opens("/desk/received"), ines.See("article::As you asked."), ines.See("nav a::Received 1"))
	ines.Acts = 0
	ines.count("accept what came into a folder", 2, func() {
		ines.does(ines.Click("button::Elsewhere"), ines.Click(".goals button::the top"), ines.SeeText("Accepted: 1 file now lies in"))
	})
	ines.does(ines.SeeText("Nothing was sent to you"), ines.opens("/dossiers/MER-24"), ines.Click("tr::Frame 31, port"), ines.SeeText("Ines moved it"))
	ines.does(ines.opens("/activity"), ines.SeeText("accepted into"))
	if sum := mailed(t, k, email, "SHA-256 "); !strings.Contains(sum, fmt.Sprintf("%x", sha256.Sum256(content))) {
		t.Errorf("the receipt says %s", sum)
	}
}

// What is sent to somebody who has published a key is opened by that key alone, here and by the stock tool.
func TestWhatIsSealedForSomebodyIsOpenedByThemAlone(t *testing.T) {
	t.Parallel()
	var log bytes.Buffer
	written := &logged{to: &log}
	testkit.LogTo(t, written)
	k, c, _ := practice(t)
	path, content := film(t, "Confidential valuation.bin", 200_017)
	folder := t.TempDir()
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Downloads(folder), ines.opens("/me"), ines.Click("#address button::Publish"))
	ines.Acts = 0
	ines.count("make a key", 1, func() {
		ines.does(ines.Click("#address button::Make a key"), ines.SeeText("The key holds."), ines.SeeText("This browser keeps it."))
	})
	identities, err := age.ParseIdentities(bytes.NewReader(saved(t, folder, "address-key.txt")))
	if err != nil || len(identities) != 1 {
		t.Fatalf("the saved key: %v", err)
	}
	odile := sits(t, k, 1280, 800)
	email := "odile.charron@brackwater.example"
	odile.does(odile.Go(k.URL+"/to/ines-okafor"), odile.Type("#email", email), odile.Click("button::Send me a code"), odile.See("#code"))
	odile.does(odile.Type("#code", codeFor(t, k, email)), odile.Click("button::Open"), odile.SeeText("sealed in this browser for Ines Okafor"))
	odile.does(odile.Choose(".drop input", path), odile.See(".done::Confidential valuation.bin"))
	odile.does(odile.Type("#who", "Odile Charron"), odile.Type("#note", "Twelve million, for the underwriters."), odile.Click("button::Send"), odile.SeeText("Received, thank you"))
	ines.does(ines.opens("/desk/received"), ines.See("article::Twelve million"), ines.See("li::Confidential valuation.bin"))
	ines.does(ines.Click("article button::Save opened"))
	if got := saved(t, folder, "Confidential valuation.bin"); !bytes.Equal(got, content) {
		t.Errorf("%d bytes came, not the %d that were sent", len(got), len(content))
	}
	nowhere(t, k, "Confidential", "valuation", "Twelve million", "underwriters")
	// Another browser asks for the key, and takes it as it was saved.
	other := sits(t, k, 1280, 800)
	other.signsIn("Ines Okafor")
	key, err := os.ReadFile(filepath.Join(folder, "address-key.txt"))
	if err != nil {
		t.Fatal(err)
	}
	other.does(other.opens("/desk/received"), other.SeeText("Your key is not in this browser."), other.Type(".opener input", "AGE-SECRET-KEY-1QQQ"), other.Click("button::Open"), other.SeeText("does not open it"))
	other.does(other.Type(".opener input", strings.TrimSpace(strings.Split(string(key), "\n")[1])), other.Click("button::Open"), other.See("article::Twelve million"))
	// Accepted, it stays sealed, under its name; the stock tool opens it with the saved key.
	other.does(other.Click("button::Accept onto my desk"), other.SeeText("Accepted: 1 file"))
	file := testkit.Get[[]contract.Delivery](c, "/api/deliveries?decided=true")[0].Files[0]
	if d := testkit.Get[contract.Document](c, "/api/documents/"+file.Id.String()); d.Name != "Confidential valuation.bin.age" {
		t.Errorf("it is called %q", d.Name)
	}
	plain, err := age.Decrypt(bytes.NewReader(c.Do("GET", "/api/documents/"+file.Id.String()+"/content", nil).Body), identities...)
	if err != nil {
		t.Fatal(err)
	}
	if got, err := io.ReadAll(plain); err != nil || !bytes.Equal(got, content) {
		t.Errorf("by the library %d bytes, %v", len(got), err)
	}
	written.Lock()
	defer written.Unlock()
	for _, s := range []string{"Twelve million", "AGE-SECRET"} {
		if strings.Contains(log.String(), s) {
			t.Errorf("the log holds %q", s)
		}
	}
}
