// Package working counts time as a practice works: in its zone, on its working days, between the
// hours it is open, without its holidays and without the days somebody is away.
package working

import (
	"math"
	"slices"
	"time"

	"tabularis/core/fault"
	"tabularis/core/names"
)

// What is refused here.
var (
	errHours = fault.Declare(fault.Invalid, "working-hours", "a working day begins before it ends, within one day")
	errWeek  = fault.Declare(fault.Invalid, "working-week", "a week has at least one working day")
	errDay   = fault.Declare(fault.Invalid, "working-day", "that is no day of the calendar")
	errMany  = fault.Declare(fault.Invalid, "working-days-many", "a calendar names at most … days")
	errSpan  = fault.Declare(fault.Invalid, "working-span", "a time is between 1 and … working days or hours")
)

// Hours are when a day's work begins and ends, in minutes from midnight; none are no work.
type Hours struct {
	From int `json:"from"`
	To   int `json:"to"`
}

func (h Hours) works() bool { return h.To > h.From }

// Part says how much of a day is free.
type Part string

// A day can be free as a whole, or from its middle on.
const (
	Whole Part = "whole"
	Half  Part = "half"
)

// Day is a day that is not like the others of the week.
type Day struct {
	// Day is a date as ISO 8601 writes it.
	Day  string `json:"day"`
	Free Part   `json:"free"`
	Name string `json:"name"`
}

// Calendar is when a practice works. Week begins with Sunday, as time.Weekday does.
type Calendar struct {
	Week [7]Hours `json:"week"`
	Days []Day    `json:"days"`

	zone *time.Location
	free map[string]Part
	away []Absence
}

// Usual is a calendar from Monday to Friday.
func Usual() Calendar {
	var c Calendar
	for d := time.Monday; d <= time.Friday; d++ {
		c.Week[d] = Hours{From: 8 * 60, To: 18 * 60}
	}
	return c
}

const (
	mostDays    = 500
	longestName = 100
	wholeDay    = 24 * 60
	// MostDays and MostHours bound a span.
	MostDays, MostHours = 365, 2000
	// horizon is how many days ahead working time is looked for.
	horizon = 3 * 366
)

// Checked returns a calendar in normal form, its days in order and each once, or refuses it.
func (c Calendar) Checked() (Calendar, error) {
	any := false
	for _, h := range c.Week {
		if h == (Hours{}) {
			continue
		}
		if h.From < 0 || h.To > wholeDay || !h.works() {
			return c, errHours.In("week", "a working day begins before it ends, between 00:00 and 24:00")
		}
		any = true
	}
	if !any {
		return c, errWeek.In("week", "name at least one working day of the week")
	}
	if len(c.Days) > mostDays {
		return c, errMany.In("days", "name at most %d days", mostDays)
	}
	days := slices.Clone(c.Days)
	for i, d := range days {
		if _, err := time.Parse(time.DateOnly, d.Day); err != nil || d.Free != Whole && d.Free != Half {
			return c, errDay.In("days", "%.20q is no day, or neither free as a whole nor half", d.Day)
		}
		name, err := names.Line("days", d.Name, longestName)
		if err != nil {
			return c, err
		}
		days[i].Name = name
	}
	slices.SortStableFunc(days, func(a, b Day) int {
		switch {
		case a.Day < b.Day:
			return -1
		case a.Day > b.Day:
			return 1
		}
		return 0
	})
	for i := 1; i < len(days); i++ {
		if days[i].Day == days[i-1].Day {
			return c, errDay.In("days", "%s is named twice", days[i].Day)
		}
	}
	c.Days = days
	return c, nil
}

// In is the calendar in a zone, ready to count.
func (c Calendar) In(zone *time.Location) Calendar {
	c.zone, c.free = zone, make(map[string]Part, len(c.Days))
	for _, d := range c.Days {
		c.free[d.Day] = d.Free
	}
	return c
}

// Absence is when somebody is away: from the first of two days to the end of the second.
type Absence struct {
	From string `json:"from"`
	To   string `json:"to"`
}

// Covers reports whether a day, as ISO 8601 writes it, belongs to it.
func (a Absence) Covers(day string) bool { return a.From <= day && day <= a.To }

// Without is the calendar of somebody who is away on further days.
func (c Calendar) Without(away ...Absence) Calendar {
	c.away = append(slices.Clone(c.away), away...)
	return c
}

// Date is the day of a moment in the calendar's zone.
func (c Calendar) Date(t time.Time) string { return t.In(c.zone).Format(time.DateOnly) }

// Span is so much working time.
type Span struct {
	N    int  `json:"n"`
	Unit Unit `json:"unit"`
}

// Unit is in what a span is counted.
type Unit string

// Working time is counted in days or in hours.
const (
	InDays  Unit = "days"
	InHours Unit = "hours"
)

// Check refuses spans that are none.
func (s Span) Check(field string) error {
	most := MostDays
	if s.Unit == InHours {
		most = MostHours
	}
	if s.N < 1 || s.N > most || s.Unit != InDays && s.Unit != InHours {
		return errSpan.In(field, "a time is between 1 and %d working days or %d working hours", MostDays, MostHours)
	}
	return nil
}

// work is what is worked on one day: between two seconds after midnight, worth a day or half of one.
type work struct {
	y        int
	m        time.Month
	d        int
	from, to float64
	worth    float64
}

// on is what is worked on the day n days after that of a moment.
func (c Calendar) on(t time.Time, n int) (work, bool) {
	at := t.In(c.zone)
	noon := time.Date(at.Year(), at.Month(), at.Day()+n, 12, 0, 0, 0, time.UTC)
	h := c.Week[noon.Weekday()]
	w := work{noon.Year(), noon.Month(), noon.Day(), float64(h.From * 60), float64(h.To * 60), 1}
	day := noon.Format(time.DateOnly)
	free := c.free[day]
	if !h.works() || free == Whole || slices.ContainsFunc(c.away, func(a Absence) bool { return a.Covers(day) }) {
		return w, false
	}
	if free == Half {
		w.to, w.worth = (w.from+w.to)/2, 0.5
	}
	return w, true
}

// at is the moment so many seconds after midnight. An hour that a zone leaves out is the next one.
func (c Calendar) at(w work, seconds float64) time.Time {
	s := int(math.Round(seconds))
	return time.Date(w.y, w.m, w.d, s/3600, s/60%60, s%60, 0, c.zone)
}

// passed is where in the day's work a moment lies, in seconds after midnight.
func (c Calendar) passed(w work, t time.Time) float64 {
	at := t.In(c.zone)
	switch day := time.Date(at.Year(), at.Month(), at.Day(), 0, 0, 0, 0, time.UTC).Compare(time.Date(w.y, w.m, w.d, 0, 0, 0, 0, time.UTC)); {
	case day < 0:
		return w.from
	case day > 0:
		return w.to
	}
	h, m, s := at.Clock()
	return min(max(float64(h*3600+m*60+s), w.from), w.to)
}

// per is how much working time a second of a day is worth.
func (w work) per(u Unit) float64 {
	if u == InHours {
		return 1.0 / 3600
	}
	return w.worth / (w.to - w.from)
}

// Add is the moment by which so much working time has gone by. Of a day it is the same time on a
// later one; half a day counts as half. Where nobody works for years it is the end of that.
func (c Calendar) Add(t time.Time, s Span) time.Time {
	left := float64(s.N)
	last := t
	for n := range horizon {
		w, works := c.on(t, n)
		if !works {
			continue
		}
		from := c.passed(w, t)
		if took := (w.to - from) * w.per(s.Unit); took < left-1e-9 {
			left -= took
			last = c.at(w, w.to)
			continue
		}
		return c.at(w, from+left/w.per(s.Unit))
	}
	return last
}

// Between is how much working time lies between two moments, in days or hours; never below none.
func (c Calendar) Between(from, to time.Time, u Unit) (sum float64) {
	if !to.After(from) {
		return 0
	}
	days := int(to.Sub(from).Hours()/24) + 2
	for n := range min(days, horizon) + 1 {
		w, works := c.on(from, n)
		if !works {
			continue
		}
		if took := c.passed(w, to) - c.passed(w, from); took > 0 {
			sum += took * w.per(u)
		}
	}
	return sum
}

// Back is the day after the last of an unbroken absence that holds at a moment; false where none does.
func Back(all []Absence, day string) (back string, away bool) {
	for again := true; again; {
		again = false
		for _, a := range all {
			if a.Covers(day) {
				to, err := time.Parse(time.DateOnly, a.To)
				if err != nil {
					continue
				}
				day, away, again = to.AddDate(0, 0, 1).Format(time.DateOnly), true, true
			}
		}
	}
	return day, away
}

// Begins is when a day begins, as ISO 8601 writes it, or one some days before or after it; false where
// it is no day.
func (c Calendar) Begins(day string, shift int) (time.Time, bool) {
	at, err := time.ParseInLocation(time.DateOnly, day, c.zone)
	return at.AddDate(0, 0, shift), err == nil
}
