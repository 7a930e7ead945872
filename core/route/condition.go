package route

import (
	"math/big"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/names"
)

// Condition is what must hold: one test, all or any of several conditions, or the opposite of one.
// Exactly one of them is set.
type Condition struct {
	Test *Test       `json:"test,omitempty"`
	All  []Condition `json:"all,omitempty"`
	Any  []Condition `json:"any,omitempty"`
	Not  *Condition  `json:"not,omitempty"`
}

// Subject is what a test is about.
type Subject string

// What can be tested of a document.
const (
	OfParticular Subject = "particular"
	OfSize       Subject = "size"
	OfType       Subject = "type"
	OfName       Subject = "name"
	OfAuthor     Subject = "author"
	OfDossier    Subject = "dossier"
	OfReach      Subject = "reach"
	OfTag        Subject = "tag"
)

// Relation is how a subject stands to a value.
type Relation string

// The relations there are. Not every subject has each of them.
const (
	Is       Relation = "is"
	IsNot    Relation = "is-not"
	AtLeast  Relation = "at-least"
	Under    Relation = "under"
	Contains Relation = "contains"
	IsSet    Relation = "set"
	NotSet   Relation = "not-set"
)

// Test is one comparison. Of a size the value is in bytes, of a type a file name's ending, of a dossier
// its kind, of the reach "closed", "named" or "open", of an author a person's or group's id.
type Test struct {
	Of         Subject    `json:"of"`
	Particular *uuid.UUID `json:"particular,omitempty"`
	Tag        *uuid.UUID `json:"tag,omitempty"`
	Is         Relation   `json:"is"`
	Value      string     `json:"value,omitempty"`
	// Unit is the currency or unit in which the value of a particular is meant.
	Unit string `json:"unit,omitempty"`
}

// Facts are what is known of a document when a condition is looked at.
type Facts struct {
	// Particulars are values in normal form; what is not set is not there.
	Particulars map[uuid.UUID]string `json:"particulars,omitempty"`
	Size        int64                `json:"size"`
	Name        string               `json:"name"`
	Tags        []uuid.UUID          `json:"tags,omitempty"`
	Author      uuid.UUID            `json:"author"`
	// Circles are the groups of the author.
	Circles []uuid.UUID `json:"circles,omitempty"`
	Dossier string      `json:"dossier"`
	Reach   string      `json:"reach"`
	// Sealed says that the content that counts is what was there before, with signatures; Signed that it bears all of them.
	Sealed bool `json:"sealed,omitempty"`
	Signed bool `json:"signed,omitempty"`
}

// Holds reports whether a condition holds; none always does.
func (c *Condition) Holds(f Facts) bool {
	return c == nil || c.holds(func(t Test) bool { return t.holds(f) })
}

func (c *Condition) holds(test func(t Test) bool) bool {
	switch {
	case c.Test != nil:
		return test(*c.Test)
	case c.Not != nil:
		return !c.Not.holds(test)
	case c.Any != nil:
		return slices.ContainsFunc(c.Any, func(one Condition) bool { return one.holds(test) })
	}
	return !slices.ContainsFunc(c.All, func(one Condition) bool { return !one.holds(test) })
}

// tests calls fn with every test of a condition and the way to it.
func (c *Condition) tests(at string, fn func(at string, t *Test)) {
	switch {
	case c == nil:
	case c.Test != nil:
		fn(at+"/test", c.Test)
	case c.Not != nil:
		c.Not.tests(at+"/not", fn)
	default:
		for i := range c.All {
			c.All[i].tests(step(at, "all", i), fn)
		}
		for i := range c.Any {
			c.Any[i].tests(step(at, "any", i), fn)
		}
	}
}

// holds compares what is known with the value. What is not set is neither above nor below anything,
// and differs from everything.
func (t Test) holds(f Facts) bool {
	value, set := f.value(t)
	return t.compare(value, set)
}

// value is what the test looks at, in the form in which values are written.
func (f Facts) value(t Test) (value string, set bool) {
	switch t.Of {
	case OfParticular:
		if t.Particular == nil {
			return "", false
		}
		value, set = f.Particulars[*t.Particular]
		return value, set
	case OfSize:
		return big.NewInt(f.Size).String(), true
	case OfType:
		return TypeOf(f.Name), true
	case OfName:
		return f.Name, true
	case OfAuthor:
		for _, circle := range f.Circles {
			if circle.String() == t.Value {
				return t.Value, true
			}
		}
		return f.Author.String(), true
	case OfDossier:
		return f.Dossier, true
	case OfReach:
		return f.Reach, true
	case OfTag:
		return "", t.Tag != nil && slices.Contains(f.Tags, *t.Tag)
	}
	return "", false
}

// TypeOf is a file name's ending without its point, in small letters.
func TypeOf(name string) string {
	_, ending := names.Split(name)
	return strings.ToLower(strings.TrimPrefix(ending, "."))
}

func (t Test) compare(value string, set bool) bool {
	switch t.Is {
	case IsSet:
		return set
	case NotSet:
		return !set
	case Is:
		return set && same(value, t.Value)
	case IsNot:
		return !set || !same(value, t.Value)
	case Contains:
		return set && strings.Contains(names.Key(value), names.Key(t.Value))
	case AtLeast:
		return set && order(value, t.Value) >= 0
	case Under:
		return set && order(value, t.Value) < 0
	}
	return false
}

func same(a, b string) bool {
	if x, ok := rational(a); ok {
		if y, ok := rational(b); ok {
			return x.Cmp(y) == 0
		}
	}
	return names.Key(a) == names.Key(b)
}

// order compares numbers by what they are worth, and dates as ISO 8601 writes them.
func order(a, b string) int {
	if x, ok := rational(a); ok {
		if y, ok := rational(b); ok {
			return x.Cmp(y)
		}
	}
	return strings.Compare(a, b)
}

// rational reads a number in normal form. Longer ones than any normal form are none.
func rational(s string) (*big.Rat, bool) {
	if s == "" || len(s) > 40 || strings.ContainsAny(s, "eE/_xX") {
		return nil, false
	}
	return new(big.Rat).SetString(s)
}
