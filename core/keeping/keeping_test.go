package keeping

import (
	"math/rand/v2"
	"testing"
	"time"

	"tabularis/core/fault"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func TestLeft(t *testing.T) {
	for name, c := range map[string]struct {
		days Period
		now  time.Time
		left int
	}{
		"at once":                        {60, noon, 60},
		"a moment later":                 {60, noon.Add(time.Second), 60},
		"after a day":                    {60, noon.Add(24 * time.Hour), 59},
		"on the last day":                {60, noon.Add(59*24*time.Hour + time.Minute), 1},
		"a moment before":                {60, noon.Add(60*24*time.Hour - 1), 1},
		"at the moment":                  {60, noon.Add(60 * 24 * time.Hour), 0},
		"long after":                     {60, noon.AddDate(1, 0, 0), 0},
		"by a clock that went backwards": {60, noon.Add(-30 * 24 * time.Hour), 60},
		"a period of a day":              {1, noon.Add(time.Hour), 1},
	} {
		if got := c.days.Left(noon, c.now); got != c.left {
			t.Errorf("%s: %d days", name, got)
		}
	}
	if Check("keepingDays", 0) == nil || Check("keepingDays", 3651) == nil || !fault.Is(Check("keepingDays", -1), fault.Invalid) || Check("keepingDays", Usual) != nil {
		t.Error("the period's bounds")
	}
}

// What is shown agrees with what is done: there are days left exactly for as long as it
// is not over, and nothing that is over is after the moment since which it is not.
func TestShownDaysAgreeWithCleaning(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 60))
	for range 20_000 {
		p := Period(1 + r.IntN(400))
		now := noon.Add(time.Duration(r.Int64N(int64(500 * day))))
		if over := p.Over(noon, now); over != (p.Left(noon, now) == 0) || over != !noon.After(p.Since(now)) {
			t.Fatalf("%d days, %s later: over %v, %d left", p, now.Sub(noon), over, p.Left(noon, now))
		}
	}
}
