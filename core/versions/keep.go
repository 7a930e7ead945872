package versions

import (
	"tabularis/core/fault"
	"tabularis/core/names"
)

// In bytes.
const maxTitle, maxNote = 120, 500

// Title returns the name of a version in normal form, or refuses it; an empty one takes
// the name away.
func Title(field, text string) (string, error) { return names.Line(field, text, maxTitle) }

// Note returns what somebody says of a version in normal form, or refuses it.
func Note(field, text string) (string, error) { return names.Line(field, text, maxNote) }

// find is the version of a number that is there, in whatever state.
func find(all []Version, n int) (Version, bool) {
	for _, v := range all {
		if v.Number == n && !v.Apart {
			return v, true
		}
	}
	return Version{}, false
}

// MayRemove refuses to take a version out of the list: one that is not there or removed
// already (fault.NotFound), one that has a name, and the only one (fault.Conflict).
func MayRemove(all []Version, n int) error {
	v, ok := find(all, n)
	if !ok || v.Removed {
		return fault.Missing()
	}
	if v.Named {
		return errNamed.New("version %d has a name; take that away first", n)
	}
	for _, other := range all {
		if !other.Removed && other.Number != n {
			return nil
		}
	}
	return errOnly.New("version %d is the only one", n)
}

// MayRestore refuses to put a version back into the list that was not removed.
func MayRestore(all []Version, n int) error {
	if v, ok := find(all, n); !ok || !v.Removed {
		return fault.Missing()
	}
	return nil
}

// MayBringBack refuses to let a version count again that is not in the list, or counts.
func MayBringBack(all []Version, n int) error {
	if v, ok := find(all, n); !ok || v.Removed {
		return fault.Missing()
	}
	if Counting(all) == n {
		return errCounts.New("version %d counts already", n)
	}
	return nil
}

// What is refused here.
var (
	errNamed  = fault.Declare(fault.Conflict, "version-named", "version … has a name; take that away first")
	errOnly   = fault.Declare(fault.Conflict, "version-only", "version … is the only one")
	errCounts = fault.Declare(fault.Conflict, "version-counts", "version … counts already")
)
