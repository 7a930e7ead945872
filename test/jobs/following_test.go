package jobs_test

import (
	"testing"
	"time"

	"tabularis/core/access"
)

// The activity is narrowed to a folder and kept under a name; a dossier is followed, its
// news come as a notice, and everything as a digest the next morning.
func TestFilterFollowAndDigest(t *testing.T) {
	t.Parallel()
	k, _, reports := practice(t)
	k.Give("ines", reports, "luca", access.LevelEdit)
	ines := sits(t, k, 1280, 800)
	ines.signsIn("Ines Okafor")
	ines.does(ines.opens("/activity"), ines.See(".e"), ines.Pick("select[aria-label=in]", "MER-24"), ines.Pick("select[aria-label=Folder]", "Reports"), ines.Gone("[data-kind='dossier.made']"))
	ines.count("the filter is kept under a name", 3, func() {
		ines.does(ines.Click(".kept button::Keep this filter"), ines.Type(".kept input", "Our reports"), ines.Click(".kept button::Keep"))
	})
	ines.does(ines.See(".kept li::Our reports"), ines.opens("/activity"), ines.See("[data-kind='dossier.made']"))
	ines.count("a kept filter is chosen", 1, func() { ines.does(ines.Click(".kept button::Our reports")) })
	ines.does(ines.Gone("[data-kind='dossier.made']"), ines.See("[data-kind='document.added']"))

	ines.does(ines.opens("/dossiers/MER-24"), ines.See(".overview .stance"))
	ines.count("a dossier is followed", 1, func() { ines.does(ines.Pick(".overview .stance select", "I am told")) })
	ines.does(ines.See(".toast-line::You are told"), ines.opens("/me"), ines.See(".things li::Corran Lass"))
	ines.count("a digest every morning", 1, func() { ines.does(ines.Pick("select[aria-label='How often']", "every morning")) })
	ines.does(ines.See(".toast-line::from now on"))

	luca := k.SignIn("luca")
	luca.Upload(reports, "", "Gauging of frame 40.txt", []byte("6.9"))
	k.Later(2 * time.Minute)
	if err := k.App.Jobs.Do(t.Context(), "tell who follows"); err != nil {
		t.Fatal(err)
	}
	ines.does(ines.opens("/today"), ines.Click("[aria-label^=Notices]"), ines.Click("a::Something new in MER-24 Corran Lass"), ines.See(".overview"))
	k.Later(25 * time.Hour)
	if err := k.App.Jobs.Do(t.Context(), "send digests"); err != nil {
		t.Fatal(err)
	}
	mailed(t, k, k.People["ines"].Email, "Luca Ferrante added Gauging of frame 40 (MER-24/004)")
}
