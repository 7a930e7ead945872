package linkgate

import (
	"slices"

	"tabularis/core/fault"
)

// Seal is what opens a transfer that its sender sealed before anything of it left their browser.
// The practice keeps neither the key nor the passphrase.
type Seal string

const (
	// Unsealed is open to the practice.
	Unsealed Seal = ""
	// ByKey opens by the key behind the link's address.
	ByKey Seal = "key"
	// ByPassphrase opens by words that are told another way.
	ByPassphrase Seal = "passphrase"
)

var (
	errSealUnknown    = fault.Declare(fault.Invalid, "seal-unknown", "a transfer is sealed by a key or by a passphrase")
	errSealedViewOnly = fault.Declare(fault.Invalid, "sealed-view-only", "what is sealed cannot be shown here; it is fetched")
	errRuleSealed     = fault.Declare(fault.Invalid, "rule-sealed", "the practice does not let transfers be sealed")
	errRuleUnseen     = fault.Declare(fault.Invalid, "rule-unseen", "the practice looks through what goes out, and cannot look through what is sealed")
	errSealsBoth      = fault.Declare(fault.Invalid, "seals-both", "sealing is either forbidden or wanted")
	errRuleSealFor    = fault.Declare(fault.Invalid, "rule-seal-for", "the practice wants what goes to … to be sealed")
)

// ParseSeal reads a seal.
func ParseSeal(field, s string) (Seal, error) {
	if seal := Seal(s); slices.Contains([]Seal{Unsealed, ByKey, ByPassphrase}, seal) {
		return seal, nil
	}
	return Unsealed, errSealUnknown.In(field, "a transfer is sealed by a key or by a passphrase")
}

// RefuseSealedIn refuses that somebody publishes a key for which they are sent things sealed.
func (r Rules) RefuseSealedIn() error {
	if r.SealsForbidden {
		return errRuleSealed.In("recipient", "the practice does not let transfers be sealed")
	}
	return nil
}

// refuseSeal says why terms may not be sealed, or must be.
func (r Rules) refuseSeal(w Terms) error {
	sealed := w.Sealed != Unsealed
	switch {
	case sealed && r.SealsForbidden:
		return errRuleSealed.In("sealed", "the practice does not let transfers be sealed")
	case sealed && r.LooksThrough:
		return errRuleUnseen.In("sealed", "the practice looks through what goes out, and cannot look through what is sealed")
	case sealed && !w.MayDownload:
		return errSealedViewOnly.In("sealed", "what is sealed cannot be shown here; it is fetched")
	}
	return r.RefuseOpen(w, w.Allowed)
}

// RefuseOpen refuses that a transfer goes out unsealed to somebody to whom the practice wants
// everything sealed.
func (r Rules) RefuseOpen(w Terms, to []string) error {
	if w.Kind != Transfer || w.Sealed != Unsealed {
		return nil
	}
	for _, one := range to {
		if domain, ok := domainOf(one); ok && slices.Contains(r.SealedFor, domain) {
			return errRuleSealFor.In("sealed", "the practice wants what goes to %s to be sealed", domain)
		}
	}
	return nil
}
