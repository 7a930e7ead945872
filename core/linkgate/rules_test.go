package linkgate

import (
	"testing"

	"tabularis/core/fault"
)

func TestRules(t *testing.T) {
	all := func(r Required) Rules { return Rules{Required: r, Kinds: Kinds} }
	only := Rules{Required: RequireNothing, Kinds: Kinds, Only: []string{"calder.example"}, Shut: []string{"rival.example"}}
	for name, c := range map[string]struct {
		rules Rules
		link  Wanted
		code  string
	}{
		"nothing asked":         {all(RequireNothing), Wanted{Kind: HandOut}, ""},
		"no password":           {all(RequirePassword), Wanted{Kind: HandOut, Identify: Confirmed}, "rule-password"},
		"a password":            {all(RequirePassword), Wanted{Kind: HandOut, Password: true}, ""},
		"unknown":               {all(RequireIdentity), Wanted{Kind: Intake, Password: true}, "rule-identity"},
		"stated":                {all(RequireIdentity), Wanted{Kind: Intake, Identify: Stated}, ""},
		"neither":               {all(RequireEither), Wanted{Kind: HandOut}, "rule-either"},
		"one of both":           {all(RequireEither), Wanted{Kind: HandOut, Identify: Stated}, ""},
		"a kind that is shut":   {Rules{Required: RequireNothing, Kinds: []string{Intake}}, Wanted{Kind: HandOut}, "rule-kind"},
		"nobody known":          {only, Wanted{Kind: HandOut, Password: true}, "rule-only"},
		"the right domain":      {only, Wanted{Kind: HandOut, Identify: Stated, Allowed: []string{"b.quist@calder.example"}}, ""},
		"another domain":        {only, Wanted{Kind: HandOut, Identify: Stated, Allowed: []string{"calder.example", "elsewhere.example"}}, "rule-domain"},
		"a domain that is shut": {Rules{Required: RequireNothing, Kinds: Kinds, Shut: []string{"rival.example"}}, Wanted{Kind: HandOut, Identify: Stated, Allowed: []string{"Somebody@Rival.example"}}, "rule-domain"},
	} {
		if err := c.rules.Refuse(c.link); (err == nil) != (c.code == "") || err != nil && fault.Of(err).Code != c.code {
			t.Errorf("%s: %v", name, err)
		}
	}
	for name, bad := range map[string]Rules{"no such demand": {Required: "blood"}, "no such kind": {Required: RequireNothing, Kinds: []string{"post"}}, "an address": {Required: RequireNothing, Shut: []string{"a@b.example"}}, "no domain": {Required: RequireNothing, Only: []string{"localhost"}}} {
		if _, err := CheckRules(bad); err == nil {
			t.Errorf("%s passes", name)
		}
	}
	if r, err := CheckRules(Rules{Required: RequireEither, Kinds: Kinds, Only: []string{"@Calder.Example"}}); err != nil || !r.Reaches("b.quist@CALDER.example") || r.Reaches("b@sub.calder.example") || r.Reaches("nobody") {
		t.Errorf("%+v %v", r, err)
	}
}
