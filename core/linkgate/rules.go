package linkgate

import (
	"slices"
	"strings"

	"tabularis/core/address"
	"tabularis/core/fault"
)

// Kinds of links: what gives papers out, what takes papers in, what lets
// outsiders view, add and change papers in a folder, what gives frozen copies for a while,
// and the address at which a colleague is sent files.
const (
	HandOut  = "hand-out"
	Working  = "working"
	Intake   = "intake"
	Transfer = "transfer"
	Address  = "address"
	// Fill lets outsiders fill in a form.
	Fill = "fill"
)

// Kinds are all kinds of links.
var Kinds = []string{HandOut, Working, Intake, Fill, Transfer, Address}

// Written are the kinds that somebody makes by writing a sentence about what lies there.
var Written = []string{HandOut, Working, Intake, Fill}

// TakesIn reports whether a link takes papers in, and gives none out.
func TakesIn(kind string) bool { return kind == Intake || kind == Address }

// GivesOut reports whether visitors read what a link is about.
func GivesOut(kind string) bool { return kind == HandOut || kind == Working || kind == Transfer }

// Required is what the practice wants before anybody outside comes in.
type Required string

const (
	RequireNothing  Required = "nothing"
	RequirePassword Required = "password"
	RequireIdentity Required = "identity"
	// RequireEither wants a password, or to know who comes.
	RequireEither Required = "either"
)

// Rules is what the practice lets out, and to whom.
type Rules struct {
	Required Required
	// Kinds are the kinds of links that may be made.
	Kinds []string
	// Shut are domains to which nothing goes, Only, if there are any, the only ones.
	Shut, Only []string
	// SealsForbidden forbids that transfers are sealed; SealedFor are domains to which they go in no
	// other way.
	SealsForbidden bool
	SealedFor      []string
	// LooksThrough says that nothing goes out that was not looked through.
	LooksThrough bool
}

// Lets reports whether the practice lets links of a kind be made.
func (r Rules) Lets(kind string) bool { return slices.Contains(r.Kinds, kind) }

// CheckRules reads rules and refuses what makes no sense.
func CheckRules(r Rules) (Rules, error) {
	if !slices.Contains([]Required{RequireNothing, RequirePassword, RequireIdentity, RequireEither}, r.Required) {
		return r, errRequiredUnknown.In("outwardRequired", "a link may require nothing, a password, an identity, or either")
	}
	for _, k := range r.Kinds {
		if !slices.Contains(Kinds, k) {
			return r, fault.KindUnknown.In("outwardKinds", "%q is no kind of link", k)
		}
	}
	var err error
	if r.Shut, err = domains("outwardShut", r.Shut); err != nil {
		return r, err
	}
	if r.Only, err = domains("outwardOnly", r.Only); err != nil {
		return r, err
	}
	r.SealedFor, err = domains("outwardSealedFor", r.SealedFor)
	if err == nil && r.SealsForbidden && len(r.SealedFor) > 0 {
		err = errSealsBoth.In("outwardSealedFor", "sealing is either forbidden or wanted")
	}
	return r, err
}

func domains(field string, raw []string) ([]string, error) {
	all, err := Allowed(field, raw)
	if err == nil && slices.ContainsFunc(all, func(a string) bool { return strings.Contains(a, "@") }) {
		err = fault.DomainForm.In(field, "name domains, not addresses")
	}
	return all, err
}

// Refuse says which rule forbids a link, at the term it concerns.
func (r Rules) Refuse(w Terms) error {
	known := w.Identify > Anyone
	switch {
	case !r.Lets(w.Kind):
		return errRuleKind.In("kind", "the practice does not let links of this kind be made")
	case r.Required == RequirePassword && !w.Password:
		return errRulePassword.In("password", "the practice wants a password on every link")
	case r.Required == RequireIdentity && !known:
		return errRuleIdentity.In("identify", "the practice wants to know who comes in")
	case r.Required == RequireEither && !w.Password && !known:
		return errRuleEither.In("password", "the practice wants a password on every link, or to know who comes in")
	case len(r.Only) > 0 && !known:
		return errRuleOnly.In("identify", "the practice lets only certain domains in, so it has to know who comes")
	}
	for _, a := range w.Allowed {
		if !r.Reaches(a) {
			return fault.RuleDomain.In("allowed", "the practice lets nothing out to %s", a)
		}
	}
	return r.refuseSeal(w)
}

// Reaches reports whether something may go to an address or domain.
func (r Rules) Reaches(to string) bool {
	domain, ok := domainOf(to)
	return ok && !slices.Contains(r.Shut, domain) && (len(r.Only) == 0 || slices.Contains(r.Only, domain))
}

// domainOf is the domain of an address, or a domain itself.
func domainOf(to string) (string, bool) {
	to = strings.TrimSpace(to)
	return address.Domain(to[strings.LastIndex(to, "@")+1:])
}
