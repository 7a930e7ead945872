package address

import (
	"strings"
	"testing"
)

func TestDomains(t *testing.T) {
	for raw, want := range map[string]string{
		"Dunlin.EXAMPLE": "dunlin.example", "sparkasse.example": "sparkasse.example", "sparkaße.example": "xn--sparkae-5va.example", "bücher.example": "xn--bcher-kva.example",
		"xn--bcher-kva.example": "xn--bcher-kva.example", "ｄunlin.example": "dunlin.example", "paypаl.example": "xn--paypl-7ve.example", "a.b.c.example": "a.b.c.example",
		"": "", "example": "", "dunlin..example": "", ".example": "", "dunlin.example.": "", "-a.example": "", "a_b.example": "", "dun lin.example": "", "dunlin\u200b.example": "", "dunlin\u202e.example": "",
		"dunlin.example\x00": "", "dunlin\n.example": "", "127.0.0.1": "", "[127.0.0.1]": "", "dunlin\u00ad.example": "", "\xff.example": "", strings.Repeat("a", 64) + ".example": "",
	} {
		if got, ok := Domain(raw); got != want || ok != (want != "") {
			t.Errorf("%q: %q %v, want %q", raw, got, ok, want)
		}
	}
}

// No address passes for another one.
func TestKeysOfDifferentMailboxesDiffer(t *testing.T) {
	same := [][2]string{{"Odile@Dunlin.example", "odile@dunlin.EXAMPLE"}, {" a@b.example ", "a@b.example"}, {"a@bücher.example", "a@xn--bcher-kva.example"}, {"zoe\u0308@b.example", "zoë@b.example"}}
	for _, p := range same {
		if Key(p[0]) != Key(p[1]) || Key(p[0]) == "" {
			t.Errorf("%q and %q differ", p[0], p[1])
		}
	}
	different := [][2]string{{"a@sparkaße.example", "a@sparkasse.example"}, {"straße@b.example", "strasse@b.example"}, {"\u212Aarl@b.example", "karl@b.example"}, {"ſam@b.example", "sam@b.example"},
		{"ﬁn@b.example", "fin@b.example"}, {"a@paypаl.example", "a@paypal.example"}, {"zoë@b.example", "zoe@b.example"}}
	for _, p := range different {
		if Key(p[0]) == Key(p[1]) {
			t.Errorf("%q passes for %q", p[0], p[1])
		}
	}
	for _, raw := range []string{"", "a", "@b.example", "a@", "a@b", "a b@c.example", "a\u200b@b.example", "a\u00ad@b.example", "a\r\n@b.example", "a@b.example\r\nBcc: c@d.example", "a\x00@b.example", "\"a\"@b.example", "a@b@c.example", strings.Repeat("a", 65) + "@b.example"} {
		if Key(raw) != "" {
			t.Errorf("%q was taken", raw)
		}
		if _, err := Check("to", raw); err == nil {
			t.Errorf("%q passed", raw)
		}
	}
}

func FuzzKey(f *testing.F) {
	for _, s := range []string{"a@b.example", "A@Sparkaße.example", "x@xn--a.example", "a@\u0644.example"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, raw string) {
		key := Key(raw)
		if key == "" {
			return
		}
		if again := Key(key); again != key {
			t.Fatalf("%q: %q, again %q", raw, key, again)
		}
		_, domain, ok := Split(key)
		if !ok || strings.ContainsFunc(domain, func(r rune) bool { return r > 0x7f }) {
			t.Fatalf("%q: %q", raw, key)
		}
	})
}
