package intake

import (
	"slices"
	"strings"
	"testing"
	"time"

	"tabularis/core/fault"
)

func p[T any](v T) *T { return &v }

func TestLimits(t *testing.T) {
	endings, err := Endings("endings", []string{".PDF", "jpg", " pdf ", "Straße"})
	if err != nil || !slices.Equal(endings, []string{"pdf", "jpg", "strasse"}) && !slices.Equal(endings, []string{"pdf", "jpg", "straße"}) {
		t.Fatalf("%q %v", endings, err)
	}
	l := Limits{Files: p(2), Bytes: p(int64(100)), Endings: []string{"pdf", "jpg"}}
	for name, c := range map[string]struct {
		have Tally
		file string
		size int64
		code string
	}{
		"fits":           {Tally{}, "Class certificate.PDF", 100, ""},
		"one byte more":  {Tally{}, "a.pdf", 101, "intake-full"},
		"fits the rest":  {Tally{1, 60}, "a.jpg", 40, ""},
		"third file":     {Tally{2, 10}, "a.jpg", 1, "intake-full"},
		"another kind":   {Tally{}, "a.exe", 1, "ending-not-taken"},
		"no ending":      {Tally{}, "pdf", 1, "ending-not-taken"},
		"double endings": {Tally{}, "a.pdf.exe", 1, "ending-not-taken"},
	} {
		if err := l.Takes(c.have, c.file, c.size); (err == nil) != (c.code == "") || err != nil && fault.Of(err).Code != c.code {
			t.Errorf("%s: %v", name, err)
		}
	}
	if err := (Limits{}).Takes(Tally{1 << 30, 1 << 60}, "anything", 1); err != nil {
		t.Error(err)
	}
	for _, bad := range []Limits{{Files: p(0)}, {Files: p(maxFiles + 1)}, {Bytes: p(int64(0))}, {Bytes: p(int64(-1))}} {
		if bad.Check() == nil {
			t.Errorf("%+v passes", bad)
		}
	}
	for _, bad := range [][]string{{""}, {"a b"}, {"../x"}, {strings.Repeat("x", 17)}, slices.Repeat([]string{"x"}, maxEndings+1)} {
		if got, err := Endings("endings", bad); err == nil {
			t.Errorf("%q became %q", bad, got)
		}
	}
}

func TestExpectedPapers(t *testing.T) {
	all, err := Expected("expected", []string{"Class certificate", " ", "Log book, July", "class certificate", "Tank soundings"})
	if err != nil || len(all) != 3 {
		t.Fatalf("%q %v", all, err)
	}
	for file, want := range map[string]int{"class_certificate-2026 (scan).pdf": 0, "LOG BOOK july.jpg": 1, "logbook july.jpg": -1, "Tank soundings 4.csv": 2, "certificate.pdf": -1, "photo.jpg": -1} {
		if got := Match(all, nil, file); got != want {
			t.Errorf("%s is paper %d, not %d", file, got, want)
		}
	}
	if got := Match(all, []int{0}, "class certificate.pdf"); got != -1 {
		t.Errorf("what is here already is matched again: %d", got)
	}
	if got := Match([]string{"Certificate", "Class certificate"}, nil, "class certificate.pdf"); got != 1 {
		t.Errorf("the closer one is %d", got)
	}
	if _, err := Expected("expected", []string{"a/b"}); err == nil {
		t.Error("a name with a slash passes")
	}
	var many []string
	for i := range maxExpected + 1 {
		many = append(many, "paper "+strings.Repeat("x", i+1))
	}
	if _, err := Expected("expected", many); err == nil {
		t.Error("too many pass")
	}
}

func TestReminders(t *testing.T) {
	sent := time.Date(2026, 7, 1, 9, 0, 0, 0, time.UTC)
	until := sent.Add(14 * 24 * time.Hour)
	for name, c := range map[string]struct {
		missing int
		after   time.Duration
		want    bool
	}{"at once": {1, 0, false}, "a second early": {1, Pause - time.Second, false}, "in time": {1, Pause, true}, "nothing missing": {0, Pause, false}, "over": {1, 14 * 24 * time.Hour, false}} {
		if got := Remind(c.missing, sent, until, sent.Add(c.after)); got != c.want {
			t.Errorf("%s: %v", name, got)
		}
	}
}

func FuzzMatch(f *testing.F) {
	f.Add("Class certificate", "class_certificate.pdf")
	f.Fuzz(func(t *testing.T, paper, file string) {
		if got := Match([]string{paper}, nil, file); got == 0 && len(split(paper)) == 0 {
			t.Errorf("%q matches a paper without a word", file)
		}
	})
}
