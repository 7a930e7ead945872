package writing

import "time"

// Budget is how much somebody may do: so much at once, so much a second after that. It is used by one at a time.
type Budget struct {
	AtOnce, PerSecond float64
	left              float64
	last              time.Time
}

// Take takes one of it; false where nothing is left.
func (b *Budget) Take(now time.Time) bool {
	if b.last.IsZero() {
		b.left = b.AtOnce
	} else {
		b.left = min(b.AtOnce, b.left+now.Sub(b.last).Seconds()*b.PerSecond)
	}
	b.last = now
	b.left--
	return b.left >= 0
}
