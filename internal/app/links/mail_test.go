package links

import (
	"errors"
	"strings"
	"testing"

	"tabularis/core/fault"
)

func TestAddresses(t *testing.T) {
	for in, ok := range map[string]bool{"a@b.example": true, "Odile Charron <odile@brackwater.example>": true, "": false, "a": false, "a@b": false, "a@b.example\nBcc: x@y.example": false, "<>": false, "a@b.example, c@d.example": false} {
		_, err := parse([]string{in})
		if (err == nil) != ok {
			t.Errorf("%q: %v", in, err)
		}
		var f *fault.Error
		if err != nil && (!errors.As(err, &f) || f.Field != "to") {
			t.Errorf("%q names no field: %v", in, err)
		}
	}
	if _, err := parse(make([]string, 21)); err == nil {
		t.Error("21 addresses were taken")
	}
}

func FuzzAddresses(f *testing.F) {
	f.Add("a@b.example")
	f.Add("x <a@b.example>")
	f.Fuzz(func(t *testing.T, in string) {
		all, err := parse([]string{in})
		if err == nil && (strings.ContainsAny(all[0].Address, "\r\n") || !strings.Contains(all[0].Address, "@")) {
			t.Fatalf("%q was taken as %q", in, all[0].Address)
		}
	})
}
