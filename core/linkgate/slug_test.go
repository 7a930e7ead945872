package linkgate

import (
	"strings"
	"testing"

	"tabularis/core/fault"
)

func TestSlug(t *testing.T) {
	for s, code := range map[string]string{
		"corran-lass-report": "", "2026": "", "a1-b2": "",
		"": "slug-length", "ab": "slug-length", strings.Repeat("a", maxSlug+1): "slug-length",
		"Report": "slug-form", "-report": "slug-form", "report-": "slug-form", "two--hyphens": "slug-form", "a b c": "slug-form", "../etc": "slug-form", "rep%20ort": "slug-form",
		"bericht-größe": "slug-form", "rероrt": "slug-form", "re\u200dport": "slug-form", "report\n": "slug-form",
		"admin": "slug-reserved", "sign-in": "slug-reserved",
	} {
		if err := Slug("slug", s); (err == nil) != (code == "") || err != nil && fault.Of(err).Code != code {
			t.Errorf("%q: %v", s, err)
		}
	}
}

func TestTelling(t *testing.T) {
	for s, want := range map[string]Telling{"": TellNever, "each": TellEach, "daily": TellDaily, "never": TellNever} {
		if got, err := ParseTelling("tell", s); err != nil || got != want {
			t.Errorf("%q: %v %v", s, got, err)
		}
	}
	if _, err := ParseTelling("tell", "hourly"); err == nil {
		t.Error("hourly passes")
	}
}

func FuzzSlug(f *testing.F) {
	f.Add("corran-lass")
	f.Fuzz(func(t *testing.T, s string) {
		if Slug("slug", s) == nil && (!LooksRead(s) || strings.ToLower(s) != s || strings.ContainsAny(s, "/.?#% \\")) {
			t.Errorf("%q passes", s)
		}
	})
}
