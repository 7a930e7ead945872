package jobs_test

import "testing"

// The finder does what it is told, and finds people.
func TestFinderActs(t *testing.T) {
	t.Parallel()
	k, _, _ := practice(t)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/dossiers"), ines.See("h1::Dossiers"))
	ines.count("a document to be given out, from anywhere", 2, func() {
		ines.does(ines.Type(".finder input", "give out notes"), ines.See("#found [role=option]::give out Notes"), ines.Press("\r"), ines.See(".desk-sheet"))
	})
	ines.does(ines.Press("\x1b"), ines.opens("/dossiers"), ines.Type(".finder input", "give"), ines.See("#found [role=option]::number, name or words"), ines.Press("\r"))
	ines.does(ines.Until(`document.querySelector('.finder input').value === 'give out '`), ines.Type(".finder input", "give out nothing like it"), ines.See("#found::No document is called like that"))
	ines.count("what somebody did", 2, func() {
		ines.does(ines.Type(".finder input", "luca"), ines.See("#found [role=option]::what they did"), ines.Click("#found [role=option]::what they did"), ines.See("h1::Activity"))
	})
	ines.does(ines.Until(`location.search.startsWith('?person=')`))
	ines.count("a dossier to be made", 2, func() {
		ines.does(ines.Type(".finder input", "make a dos"), ines.See("#found [role=option]::make a dossier"), ines.Press("\r"), ines.See(".terms::called"))
	})
}
