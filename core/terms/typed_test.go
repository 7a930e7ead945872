package terms

import (
	"fmt"
	"strings"
	"testing"
	"time"
	_ "time/tzdata"

	"tabularis/core/linkgate"
)

var tessaly = func() *time.Location {
	z, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		panic(err)
	}
	return z
}()

// Saturday, a quarter past two.
var saturday = Voice{"en", tessaly, time.Date(2026, 11, 28, 14, 15, 0, 0, tessaly)}

// told writes what was understood in a short form, and marks what was not.
func told(t Typed) string {
	var all []string
	add := func(format string, args ...any) { all = append(all, fmt.Sprintf(format, args...)) }
	moment := func(at time.Time) string { return at.In(tessaly).Format("2006-01-02 15:04") }
	if t.Until != nil {
		add("until %s", moment(*t.Until))
	}
	if t.NotBefore != nil {
		add("from %s", moment(*t.NotBefore))
	}
	if t.Openings != nil {
		add("openings %d", *t.Openings)
	}
	if t.Downloads != nil {
		add("downloads %d", *t.Downloads)
	}
	if t.Files != nil {
		add("files %d", *t.Files)
	}
	if t.Bytes != nil {
		add("bytes %d", *t.Bytes)
	}
	if t.Password {
		add("password")
	}
	if t.ViewOnly != nil {
		add("viewOnly %v", *t.ViewOnly)
	}
	if t.Newest != nil {
		add("newest %v", *t.Newest)
	}
	if t.Kind != "" {
		add("kind %s", t.Kind)
	}
	if t.Identify != nil {
		add("identify %s", t.Identify)
	}
	if len(t.Allowed) > 0 {
		add("allowed %s", strings.Join(t.Allowed, " "))
	}
	if len(t.Endings) > 0 {
		add("endings %s", strings.Join(t.Endings, " "))
	}
	if t.Name != "" {
		add("name %s", t.Name)
	}
	for _, p := range t.Pieces {
		if p.Why != "" {
			add("[%s: %s]", p.Text, p.Why)
		}
	}
	return strings.Join(all, ", ")
}

func TestReadingTypedTerms(t *testing.T) {
	for typed, want := range map[string]string{
		"":                             "",
		"3 days, once, password, name": "until 2026-12-01 18:00, openings 1, password, identify stated",
		"bis Freitag, fünf Downloads, nur für dunlin.example": "until 2026-12-04 18:00, downloads 5, allowed dunlin.example",
		"friday":                             "until 2026-12-04 18:00",
		"Saturday":                           "until 2026-11-28 18:00",
		"tomorrow at 9:30":                   "until 2026-11-29 09:30",
		"heute 18 Uhr":                       "until 2026-11-28 18:00",
		"until 6pm":                          "until 2026-11-28 18:00",
		"bis 12:00":                          "until 2026-11-29 12:00",
		"Fri 4 Dec, 18:00":                   "until 2026-12-04 18:00",
		"Fr, 4. Dez., 18:00":                 "until 2026-12-04 18:00",
		"4.12.":                              "until 2026-12-04 18:00",
		"4.12.2026 17:30":                    "until 2026-12-04 17:30",
		"2026-12-04":                         "until 2026-12-04 18:00",
		"Dec 4th":                            "until 2026-12-04 18:00",
		"3 January":                          "until 2027-01-03 18:00",
		"a week":                             "until 2026-12-05 18:00",
		"for two weeks":                      "until 2026-12-12 18:00",
		"in drei Monaten":                    "until 2027-02-28 18:00",
		"a year":                             "until 2027-11-28 18:00",
		"4 whiles, and more":                 "[4 whiles: unknown], [more: unknown]",
		"2 hours":                            "until 2026-11-28 16:15",
		"end of the month":                   "until 2026-11-30 18:00",
		"Ende Januar":                        "until 2027-01-31 18:00",
		"Monatsende, einmal":                 "until 2026-11-30 18:00, openings 1",
		"from Monday, until Friday":          "until 2026-12-04 18:00, from 2026-11-30 00:00",
		"ab morgen 8:00":                     "from 2026-11-29 08:00",
		"twice":                              "openings 2",
		"5 mal":                              "openings 5",
		"3x":                                 "openings 3",
		"at most 3 openings and 2 downloads": "openings 3, downloads 2",
		"download once":                      "downloads 1",
		"einmal herunterladen":               "downloads 1",
		"mit Passwort und Code":              "password, identify confirmed",
		"after confirming their e-mail, if they are at dunlin.example or pelham-dock.example": "identify confirmed, allowed dunlin.example pelham-dock.example",
		"sunniva.aker@dunlin.example":  "allowed sunniva.aker@dunlin.example",
		"only view":                    "viewOnly true",
		"nur ansehen, neueste Fassung": "viewOnly true, newest true",
		"deposit only, at most 20 files, 1,5 GB, only pdf and jpg": "files 20, bytes 1500000000, kind intake, endings pdf jpg",
		"einlegen, 500MB, .step":                                   "bytes 500000000, kind intake, endings step",
		`"Draft for yard", five downloads, Friday`:                 "until 2026-12-04 18:00, downloads 5, name Draft for yard",
		"„Entwurf, Werft“, zweimal":                                "openings 2, name Entwurf, Werft",
		// What means nothing is marked, and sets nothing.
		"3 days, wonce":    "until 2026-12-01 18:00, [wonce: unknown]",
		"no password":      "password, [no: unknown]",
		"friday, monday":   "until 2026-12-04 18:00, [monday: twice]",
		"once, 3 times":    "openings 1, [3 times: twice]",
		"until 27.11.2026": "[until 27.11.2026: past]",
		"31 June":          "[31 June: range]",
		"Mon 4 Dec":        "[Mon 4 Dec: range]",
		"0 openings":       "[0 openings: range]",
		"999999 downloads": "[999999 downloads: range]",
		"4000 days":        "[4000 days: range]",
		"until":            "[until: unknown]",
		"5":                "[5: unknown]",
		"only for sunniva": "[sunniva: unknown]",
		`"a/b"`:            `["a/b": range]`,
		`"unfinished`:      `["unfinished: unknown]`,
		"0 GB":             "[0 GB: range]",
		"25:00":            "[25:00: unknown]",
	} {
		if got := told(Read(typed, saturday)); got != want {
			t.Errorf("%q\n got  %s\n want %s", typed, got, want)
		}
	}
	late := saturday
	late.Now = time.Date(2026, 11, 28, 19, 0, 0, 0, tessaly)
	if got := told(Read("Saturday, today", late)); got != "until 2026-12-05 18:00, [today: twice]" {
		t.Errorf("in the evening: %s", got)
	}
	if got := told(Read("today", late)); got != "[today: past]" {
		t.Errorf("in the evening: %s", got)
	}
}

func TestReadingTypedAccess(t *testing.T) {
	for typed, want := range map[string]string{
		"edit, a week":                      "edit, until 2026-12-05 18:00",
		"bearbeiten bis Freitag":            "edit, until 2026-12-04 18:00",
		"view only, pass it on":             "look, onward true",
		"ohne Ende, nicht weitergeben":      "onward false, no end",
		"view and remark until 4 Dec 12:00": "remark, until 2026-12-04 12:00",
		"view, edit":                        "view, [edit: twice]",
		"without an end, friday":            "no end, [friday: twice]",
		"once, password":                    "[once: unknown], [password: unknown]",
		"edit yesterday":                    "edit, [yesterday: unknown]",
	} {
		got := ReadAccess(typed, saturday)
		var all []string
		if got.Level != "" {
			all = append(all, got.Level)
		}
		if got.Onward != nil {
			all = append(all, fmt.Sprintf("onward %v", *got.Onward))
		}
		if got.NoEnd {
			all = append(all, "no end")
		}
		got.Onward = nil
		if rest := told(got); rest != "" {
			all = append(all, rest)
		}
		if s := strings.Join(all, ", "); s != want {
			t.Errorf("%q\n got  %s\n want %s", typed, s, want)
		}
	}
}

// Whatever a sentence says of its end is read as that.
func TestMomentsAreReadAsTheyAreWritten(t *testing.T) {
	for days := range 500 {
		for _, language := range []string{"en", "de"} {
			v := saturday
			v.Language = language
			at := time.Date(2026, 11, 28+days, 18+days%6, days%60, 0, 0, tessaly)
			if got, ok := When(v.Moment(at), v); !ok || !got.Equal(at) {
				t.Fatalf("%q is read as %v, %v, not %v", v.Moment(at), got.In(tessaly), ok, at)
			}
		}
	}
	for _, typed := range []string{"", "once", "4 Dec and more", "tomorrow tomorrow", "yesterday"} {
		if got, ok := When(typed, saturday); ok {
			t.Errorf("%q is read as %v", typed, got)
		}
	}
}

// A link's own sentence can be typed, and means the same.
func TestSentencesAreReadAsTheyAreWritten(t *testing.T) {
	three, two := 3, 2
	until, from := time.Date(2026, 12, 4, 18, 0, 0, 0, tessaly), time.Date(2026, 11, 30, 8, 0, 0, 0, tessaly)
	terms := linkgate.Terms{Kind: linkgate.HandOut, MayDownload: true, Until: &until, NotBefore: &from, Openings: &three, Downloads: &two, Password: true, Identify: linkgate.Confirmed, Allowed: []string{"dunlin.example"}}
	for _, language := range []string{"en", "de"} {
		v := saturday
		v.Language = language
		var typed []string
		for _, p := range (Link{Files: 1, Terms: terms}).Sentence(v) {
			switch p.Term {
			case Until, Openings, Password, Identify, Allowed, May:
				typed = append(typed, p.Text)
			case NotBefore:
				typed = append(typed, pick(language == "de", "ab ", "from ")+p.Text)
			case Downloads:
				typed = append(typed, "downloading at most "+p.Text)
			}
		}
		got := told(Read(strings.Join(typed, ", "), v))
		want := "until 2026-12-04 18:00, from 2026-11-30 08:00, openings 3, downloads 2, password, viewOnly false, identify confirmed, allowed dunlin.example"
		if got != want {
			t.Errorf("%q\n got  %s\n want %s", typed, got, want)
		}
	}
}

func TestCompletions(t *testing.T) {
	for typed, want := range map[string]string{
		"pass": "password", "once, tod": "today", "3 days, en": "end of the month", "PASS": "password", "friday": "", "fri": "", "": "", "zz": "", "pass ": "",
		"d": "downloads deposit only December",
	} {
		if got := strings.Join(Read(typed, saturday).Completions, " "); got != want {
			t.Errorf("%q goes on as %q, not %q", typed, got, want)
		}
	}
	german := saturday
	german.Language = "de"
	if got := strings.Join(Read("nur f", german).Completions, " "); got != "Freitag Februar" {
		t.Errorf("goes on as %q", got)
	}
}

// Whatever is typed, the pieces are the whole of it, and nothing that was not
// understood sets anything.
func FuzzRead(f *testing.F) {
	for _, s := range []string{"3 days, once, password", "bis Fr, 4. Dez., 18:00", `"a" „b“ 31.2.`, "\xff,\u00a01,5 GB", "an an an", "until until"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		if len(s) > 1000 {
			return
		}
		got := Read(s, saturday)
		var whole strings.Builder
		for _, p := range got.Pieces {
			whole.WriteString(p.Text)
		}
		if whole.String() != s {
			t.Errorf("%q is %q in pieces", s, whole.String())
		}
		if got.Until != nil && !got.Until.After(saturday.Now) {
			t.Errorf("%q ends %v", s, got.Until)
		}
		if again := told(Read(s, saturday)); again != told(got) {
			t.Errorf("%q is read in two ways", s)
		}
	})
}
