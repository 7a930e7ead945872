package dossiers

import (
	"crypto/sha256"
	"encoding/base64"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"regexp"
	"slices"
	"strconv"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/find"
	"tabularis/core/items"
	"tabularis/core/names"
)

// Reading is how a register is read: in which order, in which groups, and what of it.
type Reading struct {
	Order Order
	Group Group
	Only  Only
}

// Order is an order in which a register is read.
type Order struct {
	// Name is one of the register's orders, or ByParticular.
	Name string
	// Particular is by whose values, and Down the other way round. What has none comes last.
	Particular uuid.UUID
	Down       bool
}

// Group is by what documents of a register stand together: none, ByKind, ByPerson or ByParticular.
type Group struct {
	Name       string
	Particular uuid.UUID
}

// ByParticular is by the values of a particular, ByKind by what documents are, ByPerson by who
// brought them.
const (
	ByParticular = "particular"
	ByKind       = "kind"
	ByPerson     = "person"
)

// Only is what a register is narrowed down to; the zero value is everything.
type Only struct {
	// Kind is one of core/find's.
	Kind   string
	Person uuid.UUID
	// Tag is one of the practice's, or of whoever asks.
	Tag uuid.UUID
	// Linked is what an open link reaches.
	Linked bool
	// Particular is one in which Value stands, or nothing.
	Particular uuid.UUID
	Value      string
}

// cursor is behind which document a page begins.
type cursor struct {
	Reading string
	Keys    []string
	ID      uuid.UUID
}

// name tells readings apart.
func (r Reading) name() string {
	sum := sha256.Sum256(fmt.Appendf(nil, "%q", fmt.Sprintf("%+v", r)))
	return hex.EncodeToString(sum[:9])
}

func (r Reading) check() error {
	if _, known := orders[r.Order.Name]; !known && (r.Order.Name != ByParticular || r.Order.Particular == uuid.Nil) {
		return errOrderUnknown.In("order", "there is no order %q", r.Order.Name)
	}
	if !slices.Contains([]string{"", ByKind, ByPerson, ByParticular}, r.Group.Name) || r.Group.Name == ByParticular && r.Group.Particular == uuid.Nil {
		return errOrderUnknown.In("group", "there are no groups by %q", r.Group.Name)
	}
	if !names.Storable(r.Only.Value) {
		return fault.Parameter.In("value", "the value is no text")
	}
	if r.Only.Kind != "" {
		return find.CheckKinds([]string{r.Only.Kind})
	}
	return nil
}

// from reads the cursor that a page before gave out.
func (r Reading) from(after string) (from cursor, err error) {
	if err := r.check(); err != nil || after == "" {
		return cursor{}, err
	}
	raw, err := base64.RawURLEncoding.DecodeString(after)
	if err != nil || json.Unmarshal(raw, &from) != nil || from.Reading != r.name() || from.ID == uuid.Nil || !r.fits(from.Keys) {
		return cursor{}, fault.CursorUnknown.In("after", "the cursor does not belong to this list")
	}
	return from, nil
}

func (r Reading) to(last placedItem) (string, error) {
	next, err := json.Marshal(cursor{r.name(), last.keys, last.ID})
	return base64.RawURLEncoding.EncodeToString(next), err
}

// byValues reports whether the values of a particular alone are the order: there is an index
// for it, and documents without one follow by their numbers.
func (r Reading) byValues() bool { return r.Group.Name == "" && r.Order.Name == ByParticular }

// fits reports whether these can be keys of the reading.
func (r Reading) fits(keys []string) bool {
	if r.byValues() {
		return fit(byNumber, keys) || fit(valueKeys("v", r.Order.Down), keys)
	}
	return fit(r.keys(), keys)
}

func fit(by []key, keys []string) bool {
	if len(by) != len(keys) {
		return false
	}
	for i, k := range by {
		if !k.fits(keys[i]) {
			return false
		}
	}
	return true
}

// key is one of the values by which documents are in order.
type key struct {
	column, cast string
	down         bool
	// of is the value where a document says it itself; nil for what is joined.
	of func(items.Item) string
}

var numeric = regexp.MustCompile(`^-?[0-9]{1,16}(\.[0-9]{1,6})?$`)

// fits reports whether it can be a value of the key.
func (k key) fits(value string) bool {
	switch k.cast {
	case "int", "bigint":
		_, err := strconv.ParseInt(value, 10, map[string]int{"int": 32, "bigint": 64}[k.cast])
		return err == nil
	case "numeric":
		return numeric.MatchString(value)
	case "uuid":
		_, err := uuid.Parse(value)
		return err == nil && len(value) == 36
	}
	return len(value) < 1000 && names.Storable(value)
}
