package names

import (
	"errors"
	"strings"
	"testing"
	"unicode/utf8"

	"tabularis/core/fault"
)

func TestCheck(t *testing.T) {
	cases := []struct{ in, want, code string }{
		{"Survey plan.pdf", "Survey plan.pdf", ""},
		{"  padded.txt ", "padded.txt", ""},
		{"Schätzung.xlsx", "Schätzung.xlsx", ""},
		{"Scha\u0308tzung.xlsx", "Sch\u00e4tzung.xlsx", ""},
		{"סקר.pdf", "סקר.pdf", ""},
		{".profile", ".profile", ""},
		{"", "", "name-empty"},
		{" \t ", "", "name-empty"},
		{"..", "", "name-reserved"},
		{"a/b", "", "name-slash"},
		{`a\b`, "", "name-slash"},
		{"a\x00b", "", "name-control"},
		{"a\nb", "", "name-control"},
		{"invoice\u202Efdp.exe", "", "name-direction"},
		{"a\u2066b", "", "name-direction"},
		{"a\xff", "", "name-not-text"},
		{strings.Repeat("é", 128), "", "name-too-long"},
		{strings.Repeat("e", 255), strings.Repeat("e", 255), ""},
	}
	for _, c := range cases {
		got, err := Check("name", c.in)
		var f *fault.Error
		if c.code == "" && (err != nil || got != c.want) {
			t.Errorf("%q: got %q, %v; want %q", c.in, got, err, c.want)
		}
		if c.code != "" && (!errors.As(err, &f) || f.Code != c.code || f.Field != "name") {
			t.Errorf("%q: got %v, want %s", c.in, err, c.code)
		}
	}
}

func TestKeyFoldsCaseAndForm(t *testing.T) {
	for _, p := range [][2]string{{"Report.PDF", "report.pdf"}, {"STRASSE", "straße"}, {"Scha\u0308den", "SCHÄDEN"}} {
		if Key(p[0]) != Key(p[1]) {
			t.Errorf("%q and %q have different keys", p[0], p[1])
		}
	}
	if Key("a") == Key("b") {
		t.Error("different names share a key")
	}
}

func TestPath(t *testing.T) {
	parts, err := Path("path", "Photos/Tank 4", 5)
	if err != nil || len(parts) != 2 || parts[1] != "Tank 4" {
		t.Errorf("got %v, %v", parts, err)
	}
	for _, bad := range []string{"/etc", "a//b", "a/../b", "a/b/c/d/e/f"} {
		if _, err := Path("path", bad, 5); err == nil {
			t.Errorf("%q was accepted", bad)
		}
	}
}

func TestApart(t *testing.T) {
	taken := map[string]bool{"a.pdf": true, "a (2).pdf": true, strings.Repeat("x", 255): true}
	is := func(s string) bool { return taken[s] }
	if got := Apart("a.pdf", is); got != "a (3).pdf" {
		t.Errorf("got %q", got)
	}
	if got := Apart("b.pdf", is); got != "b.pdf" {
		t.Errorf("got %q", got)
	}
	if got := Apart(strings.Repeat("x", 255), is); len(got) > MaxBytes || !strings.HasSuffix(got, " (2)") {
		t.Errorf("got %q", got)
	}
}

func FuzzCheck(f *testing.F) {
	for _, s := range []string{"a", "a/b", "\u202e", "é", strings.Repeat("a", 300), "a\x00", "  ", "Ǆ.pdf"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, in string) {
		got, err := Check("name", in)
		if err != nil {
			return
		}
		if len(got) > MaxBytes || !utf8.ValidString(got) || strings.ContainsAny(got, "/\\\x00\n") || got == "" {
			t.Fatalf("%q was accepted as %q", in, got)
		}
		again, err := Check("name", got)
		if err != nil || again != got {
			t.Fatalf("checking %q again gives %q, %v", got, again, err)
		}
		if apart := Apart(got, func(s string) bool { return s == got }); apart == got || len(apart) > MaxBytes || !utf8.ValidString(apart) {
			t.Fatalf("%q apart is %q", got, apart)
		}
	})
}
