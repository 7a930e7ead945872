package mail

import (
	"strings"
	"testing"
)

// An address that is taken can be put into a mail's header as it is.
func FuzzAddress(f *testing.F) {
	for _, s := range []string{"a@b.example", "Odile Charron <odile@brackwater.example>", "a@b.example\r\nBcc: c@d.example", "\"a b\"@c.example", "a@localhost", ""} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, raw string) {
		a, err := Address("to", raw)
		if err == nil && (strings.ContainsAny(a.Address+a.Name, "\r\n") || strings.Count(a.Address, "@") == 0 || len(a.Address) > 320) {
			t.Errorf("%q became %q", raw, a.Address)
		}
	})
}
