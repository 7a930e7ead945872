package linkgate

import (
	"testing"

	"tabularis/core/fault"
)

func TestRules(t *testing.T) {
	all := func(r Required) Rules { return Rules{Required: r, Kinds: Kinds} }
	only := Rules{Required: RequireNothing, Kinds: Kinds, Only: []string{"calder.example"}, Shut: []string{"rival.example"}}
	sealedFor := Rules{Required: RequireNothing, Kinds: Kinds, SealedFor: []string{"calder.example"}}
	for name, c := range map[string]struct {
		rules Rules
		link  Terms
		code  string
	}{
		"nothing asked":            {all(RequireNothing), Terms{Kind: HandOut}, ""},
		"no password":              {all(RequirePassword), Terms{Kind: HandOut, Identify: Confirmed}, "rule-password"},
		"a password":               {all(RequirePassword), Terms{Kind: HandOut, Password: true}, ""},
		"unknown":                  {all(RequireIdentity), Terms{Kind: Intake, Password: true}, "rule-identity"},
		"stated":                   {all(RequireIdentity), Terms{Kind: Intake, Identify: Stated}, ""},
		"neither":                  {all(RequireEither), Terms{Kind: HandOut}, "rule-either"},
		"one of both":              {all(RequireEither), Terms{Kind: HandOut, Identify: Stated}, ""},
		"a kind that is shut":      {Rules{Required: RequireNothing, Kinds: []string{Intake}}, Terms{Kind: HandOut}, "rule-kind"},
		"nobody known":             {only, Terms{Kind: HandOut, Password: true}, "rule-only"},
		"the right domain":         {only, Terms{Kind: HandOut, Identify: Stated, Allowed: []string{"b.quist@calder.example"}}, ""},
		"another domain":           {only, Terms{Kind: HandOut, Identify: Stated, Allowed: []string{"calder.example", "elsewhere.example"}}, "rule-domain"},
		"a domain that is shut":    {Rules{Required: RequireNothing, Kinds: Kinds, Shut: []string{"rival.example"}}, Terms{Kind: HandOut, Identify: Stated, Allowed: []string{"Somebody@Rival.example"}}, "rule-domain"},
		"sealed":                   {all(RequireNothing), Terms{Kind: Transfer, Sealed: ByKey, MayDownload: true}, ""},
		"sealed, only looked at":   {all(RequireNothing), Terms{Kind: Transfer, Sealed: ByKey}, "sealed-view-only"},
		"sealed where forbidden":   {Rules{Required: RequireNothing, Kinds: Kinds, SealsForbidden: true}, Terms{Kind: Transfer, Sealed: ByPassphrase, MayDownload: true}, "rule-sealed"},
		"sealed, to be looked at":  {Rules{Required: RequireNothing, Kinds: Kinds, LooksThrough: true}, Terms{Kind: Transfer, Sealed: ByKey, MayDownload: true}, "rule-unseen"},
		"open where to be sealed":  {sealedFor, Terms{Kind: Transfer, Identify: Stated, Allowed: []string{"b.quist@Calder.example"}}, "rule-seal-for"},
		"sealed where to be":       {sealedFor, Terms{Kind: Transfer, Identify: Stated, Allowed: []string{"calder.example"}, Sealed: ByKey, MayDownload: true}, ""},
		"a hand-out is not sealed": {sealedFor, Terms{Kind: HandOut, Identify: Stated, Allowed: []string{"calder.example"}}, ""},
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
