// Package intake holds the rules for papers that outsiders put in through a
// link: how much, of which kinds, which ones are waited for, and when somebody is
// reminded of what is missing.
package intake

import (
	"path"
	"regexp"
	"slices"
	"strings"
	"time"

	"tabularis/core/names"
)

const (
	maxFiles    = 10_000
	maxEndings  = 30
	maxExpected = 50
)

// Limits is what a link takes in. What is nil or empty is not limited.
type Limits struct {
	Files *int   `db:"intake_files"`
	Bytes *int64 `db:"intake_bytes"`
	// Endings are the endings of names that are taken, in small letters, without
	// the dot.
	Endings names.List `db:"intake_endings"`
}

// Check refuses limits that make no sense.
func (l Limits) Check() error {
	if l.Files != nil && (*l.Files < 1 || *l.Files > maxFiles) {
		return errFilesRange.In("intakeFiles", "a limit is between 1 and %d files", maxFiles)
	}
	if l.Bytes != nil && *l.Bytes < 1 {
		return errBytesRange.In("intakeBytes", "a limit is at least one byte")
	}
	return nil
}

var endingForm = regexp.MustCompile(`^[\p{L}\p{N}][\p{L}\p{N}_-]{0,15}$`)

// Endings reads a list of name endings, with or without their dot.
func Endings(field string, raw []string) ([]string, error) {
	if len(raw) > maxEndings {
		return nil, errEndingsCount.In(field, "name at most %d kinds of files", maxEndings)
	}
	var out []string
	for _, r := range raw {
		e := names.Key(strings.TrimPrefix(strings.TrimSpace(r), "."))
		if !endingForm.MatchString(e) {
			return nil, errEndingForm.In(field, "%q is not the ending of a file's name", r)
		}
		if !slices.Contains(out, e) {
			out = append(out, e)
		}
	}
	return out, nil
}

// Tally is how much has come in.
type Tally struct {
	Files int
	Bytes int64
}

// Takes refuses a file that goes beyond the limits, after what has come in.
func (l Limits) Takes(have Tally, name string, size int64) error {
	ending := names.Key(strings.TrimPrefix(path.Ext(name), "."))
	if len(l.Endings) > 0 && !slices.Contains(l.Endings, ending) {
		return errEndingNotTaken.In("name", "only files of these kinds are taken: %s", strings.Join(l.Endings, ", "))
	}
	if l.Files != nil && have.Files >= *l.Files {
		return errIntakeFull.In("name", "no further file is taken")
	}
	if l.Bytes != nil && have.Bytes+size > *l.Bytes {
		return errIntakeFull.In("size", "this is more than is taken")
	}
	return nil
}

// Expected reads the names of papers that are waited for.
func Expected(field string, raw []string) ([]string, error) {
	var out, keys []string
	for _, r := range raw {
		if strings.TrimSpace(r) == "" {
			continue
		}
		name, err := names.Check(field, r)
		if err != nil {
			return nil, err
		}
		if key := names.Key(name); !slices.Contains(keys, key) {
			out, keys = append(out, name), append(keys, key)
		}
	}
	if len(out) > maxExpected {
		return nil, errExpectedCount.In(field, "expect at most %d papers", maxExpected)
	}
	return out, nil
}

// Match finds the expected paper that a file is by its name: every word of the
// paper's name stands in it. -1 is none. taken are those that are here already.
func Match(expected []string, taken []int, file string) int {
	words := split(file)
	best, most := -1, 0
	for i, paper := range expected {
		want := split(paper)
		missing := func(w string) bool { return !slices.Contains(words, w) }
		if slices.Contains(taken, i) || len(want) <= most || slices.ContainsFunc(want, missing) {
			continue
		}
		best, most = i, len(want)
	}
	return best
}

var between = regexp.MustCompile(`[^\p{L}\p{N}]+`)

func split(s string) []string {
	return slices.DeleteFunc(between.Split(names.Key(s), -1), func(w string) bool { return w == "" })
}

// Pause is how long an outsider is left in peace between two reminders, and
// before the first one.
const Pause = 3 * 24 * time.Hour

// Remind reports whether an outsider is to be reminded of missing papers now:
// some are missing, the last word to them is a while ago, and the link is open.
func Remind(missing int, lastWord, until, now time.Time) bool {
	return missing > 0 && now.Before(until) && !now.Before(lastWord.Add(Pause))
}
