package mark

import (
	"strings"
	"testing"
	"time"
	"unicode"
	"unicode/utf8"
)

func TestLines(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon")
	if err != nil {
		t.Fatal(err)
	}
	at := time.Date(2026, 7, 24, 8, 5, 0, 0, time.UTC)
	for name, c := range map[string]struct {
		m    Mark
		want [2]string
	}{
		"known":            {Mark{Viewer: "b.quist@calder.example", Network: "198.51.100.7", Link: "Quist, hull claim", At: at}, [2]string{"b.quist@calder.example, 198.51.100.7", "2026-07-24 09:05, Quist, hull claim"}},
		"unknown":          {Mark{Link: "Report", At: at}, [2]string{"unknown visitor", "2026-07-24 09:05, Report"}},
		"unknown, German":  {Mark{At: at, Language: "de"}, [2]string{"unbekannt", "2026-07-24 09:05"}},
		"turned direction": {Mark{Viewer: "a\u202eelpmaxe.b@c\u2066\u200b\x00\x1b[31m", At: at}, [2]string{"aelpmaxe.b@c[31m", "2026-07-24 09:05"}},
		"lines":            {Mark{Viewer: "first\nsecond\r\n\tthird\u2028fourth", At: at}, [2]string{"first second third fourth", "2026-07-24 09:05"}},
		"stacked accents":  {Mark{Viewer: "a" + strings.Repeat("\u0301", 500), At: at}, [2]string{"a", "2026-07-24 09:05"}},
	} {
		if got := c.m.Lines(zone); got != c.want {
			t.Errorf("%s: %q, not %q", name, got, c.want)
		}
	}
}

func FuzzClean(f *testing.F) {
	f.Add("b.quist@calder.example")
	f.Add("a\u202eb\xff\u2028")
	f.Fuzz(func(t *testing.T, s string) {
		got := Clean(s)
		if utf8.RuneCountInString(got) > longest || !utf8.ValidString(got) || strings.ContainsFunc(got, func(r rune) bool { return unicode.Is(unicode.C, r) || r != ' ' && unicode.IsSpace(r) }) {
			t.Errorf("%q became %q", s, got)
		}
		if again := Clean(got); again != got {
			t.Errorf("%q became %q, and then %q", s, got, again)
		}
	})
}
