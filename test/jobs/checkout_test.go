package jobs_test

import (
	"fmt"
	"os"
	"path/filepath"
	"testing"

	"tabularis/core/access"
)

// Somebody takes a document in hand, stores two versions with notes and gives it back; a
// colleague sees it at once, cannot take it, and is told when it is free.
func TestCheckingOutAndIn(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	k.Give("ines", reports, "luca", access.LevelEdit)
	file := func(n int) string {
		path := filepath.Join(t.TempDir(), fmt.Sprintf("my copy %d.md", n))
		if err := os.WriteFile(path, fmt.Appendf(nil, "# Frame 31\n\nVersion %d.\n", n), 0o600); err != nil {
			t.Fatal(err)
		}
		return path
	}
	ines, luca := sits(t, k, 1280, 800), sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	luca.signsIn("Luca Ferrante")
	luca.does(luca.Click("a::Corran Lass"), luca.Click("tr[data-ref]::Notes"), luca.See(".slip button::Check out"))
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"), ines.Click("tr[data-ref]::Notes"), ines.See(".slip button::Check out"))
	ines.count("check out, two versions with notes, check in", 5, func() {
		ines.does(ines.Click(".slip button::Check out"), ines.See("[data-held=me]"))
		// The colleague sees it without loading anything anew.
		luca.does(luca.See("[data-held=other]::Ines Okafor"), luca.Gone(".slip button::Check out"), luca.See("tr[data-ref]::Ines Okafor has it"))
		luca.count("be told when it is free", 1, func() {
			luca.does(luca.Click(".slip button::Tell me when it is free"), luca.See("[data-held=other]::You are told"))
		})
		ines.does(ines.Type("[data-field=held-note]", "steel prices"), ines.Choose("[data-file=more]", file(2)), ines.See("[data-version='2'].counts::steel prices"), ines.See("[data-held=me]"))
		ines.does(ines.Type("[data-field=held-note]", "labour, too"), ines.Choose("[data-file=last]", file(3)), ines.See("[data-version='3'].counts::labour, too"), ines.Gone("[data-held=me]"))
	})
	luca.does(luca.Gone("[data-held=other]"), luca.Click("[aria-label^=Notices]"), luca.See("a::Notes.md is free"))
}
