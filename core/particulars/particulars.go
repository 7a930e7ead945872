// Package particulars says what a practice keeps about its documents beside their content: of
// which kind each particular is, and what may stand in it.
package particulars

import (
	"regexp"
	"slices"
	"strings"

	"github.com/google/uuid"
	"golang.org/x/text/currency"

	"tabularis/core/fault"
	"tabularis/core/names"
)

// Kind is what may stand in a particular.
type Kind string

// The kinds of particulars.
const (
	Text   Kind = "text"
	Number Kind = "number"
	Money  Kind = "money"
	Date   Kind = "date"
	Choice Kind = "choice"
	Person Kind = "person"
)

const (
	// Most is how many particulars a practice defines.
	Most = 60
	// MostDocuments is how many documents are given values by one act.
	MostDocuments = 1000
	mostChoices   = 200
	longestName   = 60
	longestUnit   = 20
)

var (
	// ErrMany is refused where a practice would define too many.
	ErrMany       = fault.Declare(fault.Invalid, "particulars-many", "a practice defines at most … particulars")
	errKind       = fault.Declare(fault.Invalid, "particular-kind", "there is no such kind of particular")
	errChoices    = fault.Declare(fault.Invalid, "particular-choices", "a choice needs between 1 and … words to choose from, each once")
	errCurrency   = fault.Declare(fault.Invalid, "particular-currency", "money needs a currency by its three letters")
	errUnneeded   = fault.Declare(fault.Invalid, "particular-unneeded", "such a particular has no unit, or no choices")
	errDossier    = fault.Declare(fault.Invalid, "particular-dossiers", "there is no such kind of dossier")
	dossierKinds  = []string{"client", "internal", "desk"}
	kinds         = []Kind{Text, Number, Money, Date, Choice, Person}
	withUnit      = []Kind{Number, Money}
	threeCapitals = regexp.MustCompile(`^[A-Z]{3}$`)
)

// Definition is one particular, as a practice defines it.
type Definition struct {
	ID   uuid.UUID
	Name string
	Kind Kind
	// Unit follows a number; of money it is the currency (ISO 4217).
	Unit string
	// Choices are what can be chosen, in their order.
	Choices []string
	// Required says that a value, once there, is not taken away, and that documents without
	// one are shown to lack it.
	Required bool
	// DossierKinds are those in whose documents it stands; none is all.
	DossierKinds []string
}

// Applies reports whether it stands in the documents of a kind of dossier.
func (d Definition) Applies(dossierKind string) bool {
	return len(d.DossierKinds) == 0 || slices.Contains(d.DossierKinds, dossierKind)
}

// Summed reports whether values can be added up.
func (d Definition) Summed() bool { return slices.Contains(withUnit, d.Kind) }

// Checked returns a definition in normal form, or refuses it.
func Checked(d Definition) (Definition, error) {
	var err error
	if d.Name, err = names.Named("name", strings.Join(strings.Fields(d.Name), " "), longestName); err != nil {
		return d, err
	}
	if !slices.Contains(kinds, d.Kind) {
		return d, errKind.In("kind", "there is no kind %.20q", d.Kind)
	}
	if d.Unit, err = unit(d); err != nil {
		return d, err
	}
	if d.Choices, err = choices(d); err != nil {
		return d, err
	}
	for _, k := range d.DossierKinds {
		if !slices.Contains(dossierKinds, k) {
			return d, errDossier.In("dossierKinds", "there is no kind of dossier %.20q", k)
		}
	}
	slices.Sort(d.DossierKinds)
	d.DossierKinds = slices.Compact(d.DossierKinds)
	return d, nil
}

func unit(d Definition) (string, error) {
	u := strings.Join(strings.Fields(d.Unit), " ")
	switch {
	case d.Kind == Money:
		u = strings.ToUpper(u)
		if _, err := currency.ParseISO(u); err != nil || !threeCapitals.MatchString(u) {
			return "", errCurrency.In("unit", "%.20q is no currency; EUR is one", u)
		}
		return u, nil
	case u == "":
		return "", nil
	case d.Kind != Number:
		return "", errUnneeded.In("unit", "only numbers and money have a unit")
	}
	return names.Named("unit", u, longestUnit)
}

func choices(d Definition) (all []string, err error) {
	if d.Kind != Choice {
		if len(d.Choices) > 0 {
			return nil, errUnneeded.In("choices", "there is nothing to choose in it")
		}
		return nil, nil
	}
	if len(d.Choices) == 0 || len(d.Choices) > mostChoices {
		return nil, errChoices.In("choices", "give between 1 and %d", mostChoices)
	}
	seen := map[string]bool{}
	for _, c := range d.Choices {
		c, err := names.Named("choices", strings.Join(strings.Fields(c), " "), longestName)
		if err != nil {
			return nil, err
		}
		if seen[names.Key(c)] {
			return nil, errChoices.In("choices", "%q is there twice", c)
		}
		seen[names.Key(c)] = true
		all = append(all, c)
	}
	return all, nil
}
