package fault

import (
	"fmt"
	"maps"
	"slices"
	"time"
)

// Code is a declared refusal: its stable name, its usual kind, and what it means.
type Code struct {
	kind    Kind
	name    string
	meaning string
}

var declared = map[string]Code{}

// Declare makes a refusal known. Two of one name are a mistake of whoever wrote them.
func Declare(kind Kind, name, meaning string) Code {
	if _, twice := declared[name]; twice {
		panic("two refusals are named " + name)
	}
	c := Code{kind, name, meaning}
	declared[name] = c
	return c
}

// Declared returns all refusals in the order of their names.
func Declared() []Code {
	names := slices.Sorted(maps.Keys(declared))
	all := make([]Code, len(names))
	for i, n := range names {
		all[i] = declared[n]
	}
	return all
}

// Name is the stable name, Kind the usual kind, and Meaning a sentence in English.
func (c Code) Name() string    { return c.name }
func (c Code) Kind() Kind      { return c.kind }
func (c Code) Meaning() string { return c.meaning }

// As is the same refusal where it is answered in another way: a wrong code is
// another thing in a form than at a door.
func (c Code) As(kind Kind) Code {
	c.kind = kind
	return c
}

// New refuses with a detail for logs and programs.
func (c Code) New(format string, args ...any) *Error {
	return &Error{Kind: c.kind, Code: c.name, Detail: fmt.Sprintf(format, args...)}
}

// In refuses an input field.
func (c Code) In(field, format string, args ...any) *Error {
	e := c.New(format, args...)
	e.Field = field
	return e
}

// Later says when to come back.
func (e *Error) Later(d time.Duration) *Error {
	e.RetryAfter = d
	return e
}
