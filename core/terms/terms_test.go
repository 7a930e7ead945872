package terms

import (
	"testing"
	"time"

	"tabularis/core/intake"
	"tabularis/core/linkgate"
)

var monday = time.Date(2026, 11, 23, 11, 8, 0, 0, time.UTC)

func in(lang string) Voice { return Voice{Language: lang, Zone: time.UTC, Now: monday} }

func TestSentence(t *testing.T) {
	friday := time.Date(2026, 12, 4, 18, 0, 0, 0, time.UTC)
	one, three := 1, 3
	cases := []struct {
		lang string
		link Link
		want string
	}{
		{"en", Link{Files: 2, Terms: linkgate.Terms{MayDownload: true, Until: &friday}}, "Whoever has this link may view and download 2 files in this version until Fri 4 Dec, 18:00."},
		{"en", Link{Files: 2, Terms: linkgate.Terms{Password: true, MayDownload: true, Until: &friday, Openings: &three}}, "Whoever has this link and the password may view and download 2 files in this version until Fri 4 Dec, 18:00, at most 3 times."},
		{"en", Link{Files: 1, Terms: linkgate.Terms{Newest: true, Openings: &one}}, "Whoever has this link may only view 1 file in the newest version, without an end, at most once."},
		{"en", Link{Folder: "03 Reports", Files: 9, Terms: linkgate.Terms{MayDownload: true, Newest: true, Until: &friday}}, "Whoever has this link may view and download the folder 03 Reports with whatever is in it until Fri 4 Dec, 18:00."},
		{"de", Link{Files: 2, Terms: linkgate.Terms{Password: true, MayDownload: true, Until: &friday, Openings: &three}}, "Wer diesen Link hat und das Passwort, darf 2 Dateien in dieser Fassung bis Fr, 4. Dez., 18:00 höchstens 3-mal ansehen und herunterladen."},
		{"de", Link{Folder: "03 Reports"}, "Wer diesen Link hat, darf den Ordner 03 Reports mit dem, was jetzt darin liegt, ohne Ende nur ansehen."},
	}
	for _, c := range cases {
		if got := c.link.Sentence(in(c.lang)).String(); got != c.want {
			t.Errorf("got  %s\nwant %s", got, c.want)
		}
	}
}

func TestForVisitor(t *testing.T) {
	friday := time.Date(2026, 12, 4, 18, 0, 0, 0, time.UTC)
	zero, one, two := 0, 1, 2
	cases := []struct {
		lang string
		link Link
		left *int
		want string
	}{
		{"en", Link{Files: 2, Terms: linkgate.Terms{MayDownload: true, Until: &friday}}, &two, "You may view and download these 2 files until Fri 4 Dec, 18:00, and come back 2 more times."},
		{"en", Link{Files: 1, Terms: linkgate.Terms{Until: &friday}}, &one, "You may only view this file until Fri 4 Dec, 18:00, and come back once more."},
		{"en", Link{Files: 1}, &zero, "You may only view this file; after this visit the link is used up."},
		{"en", Link{Folder: "03 Reports", Terms: linkgate.Terms{MayDownload: true}}, nil, "You may view and download the folder 03 Reports."},
		{"de", Link{Files: 2, Terms: linkgate.Terms{MayDownload: true, Until: &friday}}, nil, "Sie dürfen diese 2 Dateien bis Fr, 4. Dez., 18:00 ansehen und herunterladen."},
		{"de", Link{Files: 1}, &two, "Sie dürfen diese Datei nur ansehen und noch 2-mal wiederkommen."},
	}
	for _, c := range cases {
		if got := c.link.ForVisitor(in(c.lang), c.left).String(); got != c.want {
			t.Errorf("got  %s\nwant %s", got, c.want)
		}
	}
}

func TestEverySetTermCanBeFound(t *testing.T) {
	until, n := monday, 2
	for _, lang := range []string{"en", "de"} {
		found := map[Term]bool{}
		for _, p := range (Link{Files: 1, Terms: linkgate.Terms{Password: true, Until: &until, Openings: &n}}).Sentence(in(lang)) {
			found[p.Term] = true
		}
		for _, term := range []Term{Holder, Password, May, What, Version, Until, Openings} {
			if !found[term] {
				t.Errorf("%s: no part speaks of %s", lang, term)
			}
		}
	}
}

func TestMoment(t *testing.T) {
	zone := time.FixedZone("east", 3*3600)
	v := Voice{Language: "en", Zone: zone, Now: monday}
	cases := map[string]time.Time{
		"today 18:00":           time.Date(2026, 11, 23, 15, 0, 0, 0, time.UTC),
		"tomorrow 00:30":        time.Date(2026, 11, 23, 21, 30, 0, 0, time.UTC),
		"Wed 25 Nov, 12:00":     time.Date(2026, 11, 25, 9, 0, 0, 0, time.UTC),
		"Mon 4 Jan 2027, 12:00": time.Date(2027, 1, 4, 9, 0, 0, 0, time.UTC),
		"Sun 22 Nov, 12:00":     time.Date(2026, 11, 22, 9, 0, 0, 0, time.UTC),
	}
	for want, at := range cases {
		if got := v.Moment(at); got != want {
			t.Errorf("got %q, want %q", got, want)
		}
	}
}

func TestIntakeSentence(t *testing.T) {
	until := time.Date(2026, 12, 4, 18, 0, 0, 0, time.UTC)
	voice := func(language string) Voice {
		return Voice{Language: language, Zone: time.UTC, Now: time.Date(2026, 11, 23, 9, 0, 0, 0, time.UTC)}
	}
	n, size := 20, int64(2_500_000_000)
	bare := Link{Folder: "05 Intake", Terms: linkgate.Terms{Kind: linkgate.Intake, Until: &until}}
	full := Link{Folder: "05 Intake", Terms: linkgate.Terms{Kind: linkgate.Intake, Until: &until, Password: true, Identify: linkgate.Confirmed, Allowed: []string{"calder.example"}, Limits: intake.Limits{Files: &n, Bytes: &size, Endings: []string{"pdf", "jpg"}}}}
	for _, c := range []struct {
		got  Sentence
		want string
	}{
		{bare.Sentence(voice("en")), "Whoever has this link may put files into the folder 05 Intake until Fri 4 Dec, 18:00. Nobody sees through it what lies there."},
		{bare.Sentence(voice("de")), "Wer diesen Link hat, darf Dateien in den Ordner 05 Intake bis Fr, 4. Dez., 18:00 legen. Was dort liegt, sieht man dadurch nicht."},
		{full.Sentence(voice("en")), "Whoever has this link and the password may put files into the folder 05 Intake until Fri 4 Dec, 18:00, after confirming their e-mail, at most 20 files, together at most 2.5 GB, only pdf, jpg, if they are at calder.example. Nobody sees through it what lies there."},
		{full.ForVisitor(voice("en"), nil), "You can hand in files here until Fri 4 Dec, 18:00, at most 20 files, together at most 2.5 GB, only pdf, jpg."},
		{full.ForVisitor(voice("de"), nil), "Sie können hier Dateien abgeben bis Fr, 4. Dez., 18:00, höchstens 20 Dateien, zusammen höchstens 2,5 GB, nur pdf, jpg."},
	} {
		if c.got.String() != c.want {
			t.Errorf("got  %s\nwant %s", c.got, c.want)
		}
	}
}
