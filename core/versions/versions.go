// Package versions decides what becomes of content that arrives under a name.
package versions

import "time"

// Origin says how a version came about.
type Origin string

const (
	Uploaded Origin = "uploaded"
	// Saved is what a program stored by itself while somebody worked.
	Saved Origin = "saved"
	// Copied is the first of a copy.
	Copied Origin = "copied"
	// Written is what people wrote here in one sitting.
	Written Origin = "written"
	// Signed bears what parties have signed.
	Signed Origin = "signed"
	// BroughtBack is an older version that counts again.
	BroughtBack Origin = "brought-back"
)

// Outcome is what becomes of arriving content.
type Outcome string

const (
	// NewDocument: the name was free.
	NewDocument Outcome = "document"
	// NewVersion: the document of that name gets a further version.
	NewVersion Outcome = "version"
	// Apart: a document of its own beside the one of that name.
	Apart Outcome = "apart"
	// Unchanged: the content is that of the counting version; nothing is added.
	Unchanged Outcome = "unchanged"
)

// Standing is the document that has the name already.
type Standing struct {
	SHA256 string
}

// Place decides on content with the given hash. standing is nil where the name
// is free; apart is the person's wish to keep it apart.
func Place(standing *Standing, sha256 string, apart bool) Outcome {
	switch {
	case standing == nil:
		return NewDocument
	case apart:
		return Apart
	case standing.SHA256 == sha256:
		return Unchanged
	}
	return NewVersion
}

// Version is what the rules need to know of a version.
type Version struct {
	Number  int
	Removed bool
	// Apart says that it became a document of its own, Named that somebody named it.
	Apart, Named bool
	// Noted says that somebody noted something of it, Held that it was put back by hand,
	// Saved that a program stored it by itself. By is who made it.
	Noted, Held, Saved bool
	By                 string
	At                 time.Time
}

// Counting is the number of the version that counts: the highest that is not
// removed. Zero means none.
func Counting(all []Version) int {
	n := 0
	for _, v := range all {
		if !v.Removed && v.Number > n {
			n = v.Number
		}
	}
	return n
}

// MaySeparate reports whether version n can be made a document of its own: it
// counts now, and another one remains to count after it.
func MaySeparate(all []Version, n int) bool {
	if Counting(all) != n {
		return false
	}
	left := 0
	for _, v := range all {
		if !v.Removed && v.Number != n {
			left++
		}
	}
	return left > 0
}
