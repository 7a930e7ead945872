package jobs_test

import "testing"

// Two versions are compared from the slip; a key goes from change to change, and the
// older one is brought back from there.
func TestComparingVersions(t *testing.T) {
	t.Parallel()
	k, c, reports := practice(t)
	c.Upload(reports, "", "Notes.md", []byte("# Frame 31\n\n**Pitting** as gauged.\n\nAs agreed.\n"))
	c.Upload(reports, "", "Thickness.csv", []byte("Frame,Original,Measured\n30,10.0,8.1\n30.5,10.0,8.0\n31,10.0,6.8\n"))
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.Click("a::Corran Lass"), ines.Click(".folders a::Reports"))
	ines.count("compare two versions", 2, func() {
		ines.does(ines.Click("tr[data-ref]::Notes"), ines.See(".slip h2::Notes"), ines.Click("[data-version='1'] a::compare"), ines.See(".comparison del::noted"), ines.See(".comparison ins::gauged"))
	})
	ines.does(ines.SeeText("2 changes"), ines.Press("n"), ines.See("[data-change='1'].here"), ines.SeeText("Change 1 of 2"), ines.Press("n"), ines.See(".here::As agreed"), ines.Press("p"), ines.SeeText("Change 1 of 2"))
	ines.does(ines.Click("button::Bring back version 1"), ines.See(".toast-line::Version 1 counts again"))
	ines.does(ines.Click(".top a::Reports"), ines.Click("tr[data-ref]::Thickness"), ines.See(".slip h2::Thickness"), ines.Click("[data-version='1'] a::compare"), ines.See("td.changed::6.9"), ines.See("tr.added::30.5"), ines.SeeText("1 cell changed"))
}
