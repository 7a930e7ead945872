package links

import (
	"errors"
	"strings"
	"testing"

	"tabularis/internal/app/accounts"

	"tabularis/core/fault"
)

func TestTheLetterThatCarriesALink(t *testing.T) {
	for _, c := range []struct {
		language string
		password bool
		subject  string
		holds    []string
		lacks    string
	}{
		{"en", false, "Draft for yard from Halyard & Rook", []string{"Dear Marit", "https://papers.example/l/token", "You may view", "You need no account", "Ines Okafor\nprincipal surveyor"}, "password"},
		{"en", true, "Draft for yard from Halyard & Rook", []string{"You need a password for it. It comes to you by another way."}, "Passwort"},
		{"de", true, "Draft for yard von Halyard & Rook", []string{"Sie brauchen dazu ein Passwort", "Sie brauchen kein Konto"}, "You"},
	} {
		terms := "You may view."
		if c.language == "de" {
			terms = "Sie dürfen ansehen."
		}
		subject, text := letter{language: c.language, practice: "Halyard & Rook", name: "Draft for yard", message: "Dear Marit", address: "https://papers.example/l/token", terms: terms, password: c.password,
			sender: accounts.Person{Name: "Ines Okafor", Role: "principal surveyor", Email: "ines.okafor@halyard-rook.example"}}.write()
		if subject != c.subject {
			t.Errorf("subject %q", subject)
		}
		for _, want := range c.holds {
			if !strings.Contains(text, want) {
				t.Errorf("%s, password %v: lacks %q in\n%s", c.language, c.password, want, text)
			}
		}
		if strings.Contains(text, c.lacks) {
			t.Errorf("%s, password %v: holds %q", c.language, c.password, c.lacks)
		}
	}
}

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
