package terms

import (
	"testing"
	"time"
)

func TestAccessSentence(t *testing.T) {
	zone := time.UTC
	now := time.Date(2026, 11, 23, 12, 0, 0, 0, zone)
	until := time.Date(2026, 12, 4, 18, 0, 0, 0, zone)
	cases := []struct {
		a      Access
		en, de string
	}{
		{Access{Who: []string{"Odile Charron"}, Level: "view", What: "03 Reports", Until: &until},
			"Odile Charron may view and download 03 Reports until Fri 4 Dec, 18:00, and may not pass it on.",
			"Odile Charron darf 03 Reports bis Fr, 4. Dez., 18:00 ansehen und herunterladen und darf es nicht weitergeben."},
		{Access{Who: []string{"Luca", "Priya", "the group Insurers"}, Level: "edit", What: "2 files", Onward: true},
			"Luca, Priya and the group Insurers may edit 2 files, without an end, and may pass it on.",
			"Luca, Priya und the group Insurers dürfen 2 files ohne Ende bearbeiten und dürfen es weitergeben."},
		{Access{Who: []string{"Tomasz"}, Level: "manage", What: "the dossier"},
			"Tomasz may manage the dossier, without an end.", "Tomasz darf the dossier ohne Ende verwalten."},
		{Access{Who: []string{"Callum Wray"}, Level: "deposit", What: "Instruction"},
			"Callum Wray may put papers into Instruction, without an end, and may not pass it on.", "Callum Wray darf in Instruction ohne Ende Papiere einlegen und darf es nicht weitergeben."},
		{Access{Who: []string{"Bram"}, Level: "own-set", May: []string{"see", "download", "change"}, What: "1 file"},
			"Bram may view, download and change 1 file, without an end, and may not pass it on.", "Bram darf 1 file ohne Ende ansehen, herunterladen und ändern und darf es nicht weitergeben."},
	}
	for _, c := range cases {
		if got := c.a.Sentence(Voice{"en", zone, now}).String(); got != c.en {
			t.Errorf("got  %s\nwant %s", got, c.en)
		}
		if got := c.a.Sentence(Voice{"de", zone, now}).String(); got != c.de {
			t.Errorf("got  %s\nwant %s", got, c.de)
		}
	}
}

func TestThings(t *testing.T) {
	for _, c := range []struct {
		names   []string
		folders int
		en      string
	}{{[]string{"Reports"}, 1, "Reports"}, {[]string{"a", "b"}, 0, "2 files"}, {[]string{"a", "b", "c"}, 1, "2 files and 1 folder"}, {[]string{"a", "b"}, 2, "2 folders"}} {
		if got := Things("en", c.names, c.folders); got != c.en {
			t.Errorf("%v: %q", c.names, got)
		}
	}
}
