package working

import (
	"math"
	"math/rand/v2"
	"testing"
	"time"

	"tabularis/core/fault"
)

func moment(t *testing.T, zone *time.Location, s string) time.Time {
	t.Helper()
	at, err := time.ParseInLocation("2006-01-02 15:04", s, zone)
	if err != nil {
		t.Fatal(err)
	}
	return at
}

func TestAdd(t *testing.T) {
	berlin, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		t.Fatal(err)
	}
	c := Usual()
	c.Week[time.Friday] = Hours{From: 8 * 60, To: 14 * 60}
	c.Days = []Day{{"2026-12-24", Half, "Christmas Eve"}, {"2026-12-25", Whole, "Christmas Day"}}
	c = c.In(berlin)
	for _, x := range []struct {
		from string
		span Span
		want string
	}{
		{"2026-11-23 10:20", Span{2, InDays}, "2026-11-25 10:20"},
		{"2026-11-24 10:20", Span{1, InHours}, "2026-11-24 11:20"},
		{"2026-11-24 17:20", Span{1, InHours}, "2026-11-25 08:20"},
		// A shorter day passes as fast as a long one.
		{"2026-11-26 13:00", Span{1, InDays}, "2026-11-27 11:00"},
		// Before, between and after work nothing passes.
		{"2026-11-28 12:00", Span{1, InDays}, "2026-11-30 18:00"},
		{"2026-11-23 06:00", Span{1, InDays}, "2026-11-23 18:00"},
		{"2026-11-23 22:00", Span{1, InHours}, "2026-11-24 09:00"},
		// Half a day counts half, and a holiday not at all.
		{"2026-12-23 08:00", Span{2, InDays}, "2026-12-28 13:00"},
		{"2026-12-24 08:00", Span{6, InHours}, "2026-12-28 09:00"},
		// The clock goes forward on Sunday 29 March 2026.
		{"2026-03-27 08:00", Span{2, InDays}, "2026-03-30 18:00"},
	} {
		if got := c.Add(moment(t, berlin, x.from), x.span); !got.Equal(moment(t, berlin, x.want)) {
			t.Errorf("%s and %d %s: %s, want %s", x.from, x.span.N, x.span.Unit, got.In(berlin), x.want)
		}
	}
	away := c.Without(Absence{"2026-11-26", "2026-11-27"})
	if got := away.Add(moment(t, berlin, "2026-11-25 11:08"), Span{2, InDays}); !got.Equal(moment(t, berlin, "2026-12-01 11:08")) {
		t.Errorf("somebody who is away has until %s", got.In(berlin))
	}
	// An hour that does not exist, and one that there is twice.
	night := Calendar{Week: [7]Hours{{From: 0, To: 240}, {}, {}, {}, {}, {}, {}}}.In(berlin)
	if got := night.Add(moment(t, berlin, "2026-03-29 00:00"), Span{2, InHours}).In(berlin); got.Format("15:04") != "03:00" {
		t.Errorf("two hours into a night without its third: %s", got)
	}
	if back, ok := Back([]Absence{{"2026-11-26", "2026-11-27"}, {"2026-11-28", "2026-11-30"}}, "2026-11-26"); !ok || back != "2026-12-01" {
		t.Errorf("back on %s, %v", back, ok)
	}
}

// Whatever the calendar: later stays later, time adds up, and what is added lies between.
func TestAddingUp(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 17))
	zones := []string{"Europe/Berlin", "America/St_Johns", "Australia/Lord_Howe", "UTC"}
	for range 400 {
		zone, err := time.LoadLocation(zones[r.IntN(len(zones))])
		if err != nil {
			t.Fatal(err)
		}
		var c Calendar
		for d := range c.Week {
			if from := r.IntN(20) * 60; r.IntN(4) > 0 {
				// Work that begins after the hours at which clocks are changed.
				from = max(from, 4*60)
				c.Week[d] = Hours{from, from + 60 + r.IntN(wholeDay-from-60+1)/60*60}
			}
		}
		c.Week[time.Tuesday] = Hours{9 * 60, 17 * 60}
		day := time.Date(2026, time.Month(1+r.IntN(12)), 1+r.IntN(28), 0, 0, 0, 0, time.UTC)
		for n := range r.IntN(6) {
			c.Days = append(c.Days, Day{day.AddDate(0, 0, n*2).Format(time.DateOnly), []Part{Whole, Half}[r.IntN(2)], ""})
		}
		c, err = c.Checked()
		if err != nil {
			t.Fatal(err)
		}
		c = c.In(zone)
		from := day.Add(time.Duration(r.IntN(200)) * time.Hour)
		a, b := 1+r.IntN(5), 1+r.IntN(5)
		unit := []Unit{InDays, InHours}[r.IntN(2)]
		first := c.Add(from, Span{a, unit})
		both, once := c.Add(first, Span{b, unit}), c.Add(from, Span{a + b, unit})
		// A day's end and the next one's beginning are the same working moment.
		if rest := c.Between(min2(both, once), max2(both, once), unit); math.Abs(rest) > 1e-3 {
			t.Fatalf("%+v: %s and %d and %d %s: %s or %s", c.Week, from, a, b, unit, both, once)
		}
		if got := c.Between(from, once, unit); math.Abs(got-float64(a+b)) > 1e-3 {
			t.Fatalf("%+v %+v: between %s and %s lie %f, want %d %s", c.Week, c.Days, from, once, got, a+b, unit)
		}
		if !once.After(from) || both.Before(first) {
			t.Fatalf("%s comes before %s", once, from)
		}
	}
}

func min2(a, b time.Time) time.Time {
	if a.Before(b) {
		return a
	}
	return b
}

func max2(a, b time.Time) time.Time {
	if a.Before(b) {
		return b
	}
	return a
}

func TestChecked(t *testing.T) {
	for code, change := range map[string]func(c *Calendar){
		"working-week":      func(c *Calendar) { c.Week = [7]Hours{} },
		"working-hours":     func(c *Calendar) { c.Week[1] = Hours{600, 600} },
		"working-day":       func(c *Calendar) { c.Days = []Day{{"2026-02-30", Whole, ""}} },
		"working-days-many": func(c *Calendar) { c.Days = make([]Day, mostDays+1) },
	} {
		c := Usual()
		change(&c)
		if _, err := c.Checked(); fault.Of(err).Code != code {
			t.Errorf("%s is refused by %v", code, err)
		}
	}
	twice := Usual()
	twice.Days = []Day{{"2026-12-25", Whole, ""}, {"2026-12-25", Half, ""}}
	if _, err := twice.Checked(); err == nil {
		t.Error("a day is named twice")
	}
	for _, s := range []Span{{}, {-1, InDays}, {366, InDays}, {2001, InHours}, {1, "weeks"}} {
		if s.Check("within") == nil {
			t.Errorf("%+v is taken", s)
		}
	}
	// Nobody works: it ends all the same.
	none := Calendar{}.In(time.UTC)
	if got := none.Add(time.Unix(0, 0), Span{5, InDays}); !got.Equal(time.Unix(0, 0)) {
		t.Errorf("%s", got)
	}
}
