package versions

import (
	"fmt"
	"slices"
	"time"

	"tabularis/core/fault"
)

// Rule says which versions a document keeps: every one for so many months, 0 for ever;
// after that one a day, a week or a month, or none; and the last ones in any case. The
// version that counts, those that somebody named or noted, and those that were put back by
// hand are kept always.
type Rule struct {
	Months int  `db:"months"`
	Then   Then `db:"after"`
	Last   int  `db:"last"`
}

// Then is what is kept of versions that are older.
type Then string

// What can be kept of them.
const (
	None    Then = "none"
	Daily   Then = "daily"
	Weekly  Then = "weekly"
	Monthly Then = "monthly"
)

const (
	longestMonths = 600
	mostLast      = 1000
)

// KeepsAll reports whether nothing is ever removed by the rule.
func (r Rule) KeepsAll() bool { return r.Months == 0 }

// Check refuses a rule that is none.
func (r Rule) Check(field string) error {
	switch {
	case r.Months < 0 || r.Months > longestMonths:
		return errMonths.In(field, "versions are kept for 1 to %d months, or for ever", longestMonths)
	case r.Last < 0 || r.Last > mostLast:
		return errLast.In(field, "at most the last %d versions are kept in any case", mostLast)
	case !slices.Contains([]Then{None, Daily, Weekly, Monthly}, r.Then):
		return errThen.In(field, "one a day, a week or a month is kept, or none")
	}
	return nil
}

// Superfluous are the numbers of the versions that the rule removes at a moment, the oldest
// first. Days, weeks (ISO 8601) and months are those of the zone.
func (r Rule) Superfluous(all []Version, now time.Time, zone *time.Location) []int {
	var out []int
	for n, at := range r.going(all, now, zone) {
		if !at.After(now) {
			out = append(out, n)
		}
	}
	slices.Sort(out)
	return out
}

// Next is when the rule removes something of a document as it is now; false where it never
// does.
func (r Rule) Next(all []Version, now time.Time, zone *time.Location) (next time.Time, ok bool) {
	for _, at := range r.going(all, now, zone) {
		if !ok || at.Before(next) {
			next, ok = at, true
		}
	}
	return next, ok
}

// going is of each version that will be removed, when. What stands for its day, week or
// month among those that are in the list stays.
func (r Rule) going(all []Version, now time.Time, zone *time.Location) map[int]time.Time {
	if r.KeepsAll() {
		return nil
	}
	there := slices.DeleteFunc(slices.Clone(all), func(v Version) bool { return v.Removed || v.Apart })
	slices.SortFunc(there, func(a, b Version) int { return b.Number - a.Number })
	out := map[int]time.Time{}
	stands := map[string]bool{}
	for i, v := range there {
		period := r.Then.period(v.At.In(zone))
		first := !stands[period]
		stands[period] = true
		if i == 0 || i < r.Last || v.Named || v.Noted || v.Held || r.Then != None && first {
			continue
		}
		out[v.Number] = v.At.In(zone).AddDate(0, r.Months, 0)
	}
	return out
}

// period names the day, week or month of a moment.
func (t Then) period(at time.Time) string {
	switch t {
	case Daily:
		return at.Format(time.DateOnly)
	case Weekly:
		year, week := at.ISOWeek()
		return fmt.Sprint(year, " ", week)
	}
	return at.Format("2006-01")
}

// What is refused here.
var (
	errMonths = fault.Declare(fault.Invalid, "keep-months", "versions are kept for 1 to … months, or for ever")
	errLast   = fault.Declare(fault.Invalid, "keep-last", "at most the last … versions are kept in any case")
	errThen   = fault.Declare(fault.Invalid, "keep-then", "one a day, a week or a month is kept, or none")
)
