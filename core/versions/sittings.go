package versions

import (
	"slices"
	"time"

	"tabularis/core/fault"
)

// Sitting is how long, in minutes, somebody may pause for their automatic saves to belong
// to one sitting.
type Sitting int

// UsualSitting is the pause unless a practice says otherwise.
const (
	UsualSitting   Sitting = 30
	longestSitting Sitting = 24 * 60
)

// Check refuses a pause that is too short or too long.
func (s Sitting) Check(field string) error {
	if s < 1 || s > longestSitting {
		return errSitting.In(field, "a sitting ends after a pause of 1 to %d minutes", longestSitting)
	}
	return nil
}

// Fold says into which version each automatic save folds: the last of its sitting, by one
// person, without longer pauses. What somebody named or noted, what was removed, and what
// came about in another way ends a sitting and never folds.
func Fold(all []Version, pause Sitting) map[int]int {
	sorted := slices.Clone(all)
	slices.SortFunc(sorted, func(a, b Version) int { return a.Number - b.Number })
	out := map[int]int{}
	var sitting []int
	end := func() {
		for _, n := range sitting[:max(0, len(sitting)-1)] {
			out[n] = sitting[len(sitting)-1]
		}
		sitting = nil
	}
	for i, v := range sorted {
		if !v.Saved || v.Removed || v.Apart || v.Named || v.Noted {
			end()
			continue
		}
		if i > 0 && len(sitting) > 0 && (sorted[i-1].By != v.By || v.At.Sub(sorted[i-1].At) > time.Duration(pause)*time.Minute) {
			end()
		}
		sitting = append(sitting, v.Number)
	}
	end()
	return out
}

// What is refused here.
var errSitting = fault.Declare(fault.Invalid, "sitting-range", "a sitting ends after a pause of 1 to … minutes")
