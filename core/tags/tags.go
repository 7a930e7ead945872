// Package tags says what a tag may be called, and what becomes of tags that are put on
// documents together.
package tags

import (
	"slices"
	"strings"

	"tabularis/core/fault"
	"tabularis/core/names"
)

const (
	// longestName is a tag's, in bytes of UTF-8.
	longestName = 60
	// MostOn is how many tags a document bears, and MostOwn how many one person makes for themselves.
	MostOn, MostOwn = 40, 500
	// MostAtOnce is how many tags are put or taken by one act.
	MostAtOnce = 20
)

var (
	errComma = fault.Declare(fault.Invalid, "tag-comma", "a comma ends a tag")
	// ErrMany is refused where a document would bear too many.
	ErrMany = fault.Declare(fault.Invalid, "tags-many", "a document bears at most … tags")
)

// Name returns a tag's name in normal form, or refuses it: empty, too long, on several lines,
// or with a comma, by which tags are told apart where several are written.
func Name(name string) (string, error) {
	name, err := names.Named("name", strings.Join(strings.Fields(name), " "), longestName)
	if err == nil && strings.ContainsRune(name, ',') {
		err = errComma.In("name", "a comma ends a tag")
	}
	return name, err
}

// Wanted are names of tags, each once, in the order in which they come.
func Wanted(written []string) (wanted []string, err error) {
	for _, one := range written {
		name, err := Name(one)
		if err != nil {
			return nil, err
		}
		known := func(other string) bool { return names.Key(other) == names.Key(name) }
		if !slices.ContainsFunc(wanted, known) {
			wanted = append(wanted, name)
		}
	}
	if len(wanted) > MostAtOnce {
		return nil, ErrMany.In("add", "put at most %d tags at once", MostAtOnce)
	}
	return wanted, nil
}
