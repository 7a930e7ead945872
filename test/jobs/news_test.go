package jobs_test

import (
	"fmt"
	"slices"
	"testing"

	"tabularis/internal/browser"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// asked are the addresses that a page has asked for since it was opened, or since
// asked was called last.
func asked(t *testing.T, p person) []string {
	t.Helper()
	paths, err := browser.Eval[[]string](p.Browser, `(() => { const all = performance.getEntriesByType('resource').map(e => new URL(e.name).pathname).filter(p => p.startsWith('/api/')); performance.clearResourceTimings(); return all })()`)
	p.does(err)
	slices.Sort(paths)
	return paths
}

// An open page asks anew for what an event concerns, once, and for nothing else:
// what happens in another dossier causes no request at all.
func TestNewsOfAnotherDossierCauseNoRequest(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	elsewhere := testkit.Post[contract.DossierRow](c, 201, "/api/dossiers", contract.NewDossier{Code: "TES-03", Name: "Tessaly quay", Kind: "client"}).Id
	hanne := sits(t, k, 1280, 800)
	k.Give("ines", elsewhere, "hanne", "manage")
	hanne.signsIn("Hanne Solvik")
	hanne.does(hanne.opens(fmt.Sprintf("/dossiers/MER-24/%s", reports)), hanne.See("tr[data-ref]::Thickness"))
	// The stream is open when something that happens here is seen.
	c.Upload(reports, "", "Soundings.txt", []byte("8.1"))
	hanne.does(hanne.See("tr[data-ref]::Soundings"), hanne.See(".contents [data-n='4']"))
	asked(t, hanne)

	for i := range 5 {
		c.Upload(elsewhere, "", fmt.Sprintf("Quay %d.txt", i), []byte(fmt.Sprint(i)))
	}
	// News come in their order: what is seen of the next came after those.
	c.Upload(reports, "", "Frames.txt", []byte("31"))
	hanne.does(hanne.See("tr[data-ref]::Frames"), hanne.See(".contents [data-n='5']"))
	if got, want := asked(t, hanne), []string{"/api/dossiers/MER-24", fmt.Sprintf("/api/folders/%s/register", reports)}; !slices.Equal(got, want) {
		t.Errorf("asked for %v, want %v", got, want)
	}

	// What concerns the document that is shown is asked for, too.
	hanne.does(hanne.Click("tr[data-ref]::Frames"), hanne.SeeText("Ines Okafor"))
	asked(t, hanne)
	c.Upload(reports, "", "Frames.txt", []byte("31, 32"))
	hanne.does(hanne.See("[data-version='2']"))
	shown := asked(t, hanne)
	if n := len(shown); n == 0 || !slices.ContainsFunc(shown, func(p string) bool {
		return len(p) > len("/api/documents/") && p[:len("/api/documents/")] == "/api/documents/"
	}) || slices.Contains(shown, "/api/session") {
		t.Errorf("asked for %v", shown)
	}
}

// Many documents that come in at once are one line, which unfolds.
func TestManyDocumentsAreOneLine(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	for i := range 9 {
		c.Upload(reports, "", fmt.Sprintf("Frame %d.txt", i), []byte("as found"))
	}
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("nav a::Activity"), ines.See(".many::Ines Okafor added 12 documents"), ines.Gone(".within"))
	ines.does(ines.Click(".many"), ines.See(".within::Frame 3"), ines.Click(".many"), ines.Gone(".within"))
	ines.does(ines.Pick("select[aria-label=Kind]", "a folder was made"), ines.See(".e::made the folder"), ines.Gone(".many"))
}
