// Package keeping says how long what was deleted, or removed, can be brought back.
package keeping

import (
	"time"

	"tabularis/core/fault"
)

// Period is the keeping period, in days of 24 hours.
type Period int

// Usual is the period unless a practice says otherwise; it lies between a day and ten
// years.
const (
	Usual   Period = 60
	longest Period = 3650
)

const day = 24 * time.Hour

// Goes is when something that was deleted at a moment goes for good.
func (p Period) Goes(at time.Time) time.Time { return at.Add(time.Duration(p) * day) }

// Over reports whether it can no longer be brought back.
func (p Period) Over(at, now time.Time) bool { return !now.Before(p.Goes(at)) }

// Left is for how many more days it can be brought back; a day that has begun counts.
// A clock that goes backwards adds none.
func (p Period) Left(at, now time.Time) int {
	left := p.Goes(at).Sub(now)
	if left <= 0 {
		return 0
	}
	return min(int(p), int((left+day-1)/day))
}

// Since is the moment before which what was deleted is over.
func (p Period) Since(now time.Time) time.Time { return now.Add(-time.Duration(p) * day) }

// Check refuses a period that is too short or too long.
func Check(field string, p Period) error {
	if p < 1 || p > longest {
		return errPeriod.In(field, "what is deleted is kept for 1 to %d days", longest)
	}
	return nil
}

// What is refused here.
var errPeriod = fault.Declare(fault.Invalid, "keeping-range", "what is deleted is kept for 1 to … days")
