package linkgate

import (
	"slices"
	"strings"

	"tabularis/core/address"
)

// Identity is how surely it is known who comes in, each more than the one
// before.
type Identity int

const (
	// Anyone may come in unknown.
	Anyone Identity = iota
	// Stated is an address that the visitor typed.
	Stated
	// Confirmed is an address to which a code was sent, and given back.
	Confirmed
	// SignedIn is an account of the practice.
	SignedIn
)

var identities = [...]string{"none", "stated", "confirmed", "signed-in"}

func (i Identity) String() string { return identities[i] }

// ParseIdentity reads what String writes; nothing is Anyone.
func ParseIdentity(field, s string) (Identity, error) {
	if s == "" {
		return Anyone, nil
	}
	if at := slices.Index(identities[:], s); at >= 0 {
		return Identity(at), nil
	}
	return Anyone, errIdentityUnknown.In(field, "a visitor's identity is none, stated, confirmed or signed-in")
}

// maxAllowed is how many addresses and domains a link may name.
const maxAllowed = 100

// Allowed reads a list of addresses and domains, without case and doubles.
// A domain is written with or without its at sign.
func Allowed(field string, raw []string) ([]string, error) {
	if len(raw) > maxAllowed {
		return nil, errAllowedCount.In(field, "name at most %d addresses and domains", maxAllowed)
	}
	var out []string
	for _, r := range raw {
		one := strings.TrimPrefix(strings.TrimSpace(r), "@")
		key, ok := address.Domain(one)
		if strings.Contains(one, "@") {
			key = address.Key(one)
			ok = key != ""
		}
		if !ok {
			return nil, errAllowedForm.In(field, "%q is neither a mail address nor a domain", r)
		}
		if !slices.Contains(out, key) {
			out = append(out, key)
		}
	}
	return out, nil
}

// Admits reports whether an address is among those that Allowed returned: it
// stands there itself, or its domain does. A domain's subdomains are others.
// Without a list everybody is admitted.
func Admits(allowed []string, email string) bool {
	if len(allowed) == 0 {
		return true
	}
	key := address.Key(email)
	_, domain, ok := address.Split(key)
	return ok && (slices.Contains(allowed, key) || slices.Contains(allowed, domain))
}
