package terms

import (
	"regexp"
	"strconv"
	"time"

	"tabularis/core/names"
)

// EndOfBusiness is the hour at which a day ends where none was said.
const EndOfBusiness = 18

var (
	untilWords = wordSet("until till by bis ends ending endet")
	fromWords  = wordSet("from ab starting beginnend")
	spanWords  = wordSet("for für in within innerhalb")
	weekdays   = numbersOf("sunday sun sonntag so|monday mon montag mo|tuesday tue tues dienstag di|wednesday wed mittwoch mi|thursday thu thurs donnerstag do|friday fri freitag fr|saturday sat samstag sonnabend sa")
	months     = numbersOf("|january jan januar|february feb februar|march mar märz mrz|april apr|may mai|june jun juni|july jul juli|august aug|september sep sept|october oct oktober okt|november nov|december dec dezember dez")
	spans      = spansOf(map[string]string{"day": "day days tag tage tagen", "week": "week weeks woche wochen", "month": "month months monat monate monaten",
		"year": "year years jahr jahre jahren", "hour": "hour hours stunde stunden"})
	clock     = regexp.MustCompile(`^([0-9]{1,2})[:.]([0-9]{2})$`)
	clockHour = regexp.MustCompile(`^([0-9]{1,2})(am|pm|h|uhr)$`)
	dateISO   = regexp.MustCompile(`^([0-9]{4})-([0-9]{2})-([0-9]{2})$`)
	dateDots  = regexp.MustCompile(`^([0-9]{1,2})\.([0-9]{1,2})(?:\.([0-9]{4}))?$`)
	ordinal   = regexp.MustCompile(`^([0-9]{1,2})(?:st|nd|rd|th)?$`)
)

// spansOf are the words of each unit of time.
func spansOf(units map[string]string) map[string]string {
	all := map[string]string{}
	for unit, words := range units {
		for w := range wordSet(words) {
			all[w] = unit
		}
	}
	return all
}

// moment reads until when it is good, or from when on.
func (r *reader) moment(i int) (int, Term, func() Why) {
	at, term := i, Until
	switch {
	case untilWords[r.key(i)]:
		at++
	case fromWords[r.key(i)]:
		at, term = i+1, NotBefore
	}
	at = r.skip(at, "the", "zum", "am", "on", "dem", "den")
	t, n := r.when(at, term == NotBefore)
	if n == 0 {
		return 0, "", nil
	}
	return at + n - i, term, func() Why {
		switch {
		case t.IsZero():
			return Range
		case !t.After(r.voice.Now):
			return Past
		case term == NotBefore:
			r.out.NotBefore = &t
		default:
			r.out.Until = &t
		}
		return ""
	}
}

// When reads a moment alone, as it is typed into a field: "4 Dec 18:00", "in 3
// weeks", "Freitag". It reports whether all of it is one.
func When(text string, v Voice) (time.Time, bool) {
	r := &reader{text: text, voice: v, tokens: tokens(text)}
	t, n := r.when(r.skip(0, "until", "bis", "from", "ab"), false)
	return t, n > 0 && !t.IsZero() && r.skip(0, "until", "bis", "from", "ab")+n == len(r.tokens)
}

// when reads a day, perhaps with an hour, or an hour alone; begins says that a day
// begins with its first hour, and does not end at the end of business. A day that is
// none (31 June) is the zero time.
func (r *reader) when(i int, begins bool) (time.Time, int) {
	if t, n := r.span(i); n > 0 {
		return t, n
	}
	now := r.voice.Now.In(r.voice.Zone)
	y, m, d := now.Date()
	day, n := r.day(i)
	hour, minute, words := r.hour(r.afterDay(i, n))
	if n == 0 {
		if words == 0 {
			return time.Time{}, 0
		}
		// An hour alone is the next one.
		t := time.Date(y, m, d, hour, minute, 0, 0, r.voice.Zone)
		if !t.After(now) {
			t = time.Date(y, m, d+1, hour, minute, 0, 0, r.voice.Zone)
		}
		return t.UTC(), words
	}
	if day.IsZero() {
		return time.Time{}, n
	}
	if words > 0 {
		n = r.afterDay(i, n) + words - i
	} else if hour = EndOfBusiness; begins {
		hour = 0
	}
	y, m, d = day.Date()
	return time.Date(y, m, d, hour, minute, 0, 0, r.voice.Zone).UTC(), n
}

// afterDay is where the hour of a day stands.
func (r *reader) afterDay(i, n int) int {
	if n == 0 {
		return i
	}
	return r.skip(i+n, "at", "um")
}

// span reads how long: a week, 3 days, in 2 hours, fortnight.
func (r *reader) span(i int) (time.Time, int) {
	at := i
	if spanWords[r.key(at)] {
		at++
	}
	n, ok := number(r.key(at))
	unit, known := spans[r.key(at+1)]
	if !ok || !known {
		return time.Time{}, 0
	}
	words := at + 2 - i
	if n > 3650 {
		return time.Time{}, words
	}
	now := r.voice.Now.In(r.voice.Zone)
	y, m, d := now.Date()
	switch unit {
	case "hour":
		return now.Add(time.Duration(n)*time.Hour + time.Minute - 1).Truncate(time.Minute).UTC(), words
	case "week":
		d += 7 * n
	case "month", "year":
		months := n
		if unit == "year" {
			months *= 12
		}
		// The last day of a shorter month.
		last := time.Date(y, m+time.Month(months)+1, 0, 0, 0, 0, 0, time.UTC)
		y, m, d = last.Year(), last.Month(), min(d, last.Day())
	default:
		d += n
	}
	hour, minute, more := r.hour(r.skip(at+2, "at", "um"))
	if more > 0 {
		words = r.skip(at+2, "at", "um") + more - i
	} else {
		hour, minute = EndOfBusiness, 0
	}
	return time.Date(y, m, d, hour, minute, 0, 0, r.voice.Zone).UTC(), words
}

// hour reads an hour: 18:00, 18 Uhr, 6pm, noon.
func (r *reader) hour(i int) (hour, minute, words int) {
	switch key := r.key(i); key {
	case "noon", "mittag", "mittags":
		return 12, 0, 1
	case "midnight", "mitternacht":
		return 23, 59, 1
	default:
		if m := clock.FindStringSubmatch(key); m != nil {
			hour, minute = atoi(m[1]), atoi(m[2])
			words = 1
			if r.key(i+1) == "uhr" {
				words = 2
			}
		} else if m := clockHour.FindStringSubmatch(key); m != nil {
			hour, words = atoi(m[1]), 1
			hour = afternoon(hour, m[2])
		} else if next := r.key(i + 1); next == "uhr" || next == "am" || next == "pm" {
			n, ok := number(key)
			if !ok {
				return 0, 0, 0
			}
			hour, words = afternoon(n, next), 2
		}
	}
	if hour > 23 || minute > 59 {
		return 0, 0, 0
	}
	return hour, minute, words
}

func afternoon(hour int, half string) int {
	switch {
	case half == "pm" && hour < 12:
		return hour + 12
	case half == "am" && hour == 12:
		return 0
	}
	return hour
}

func atoi(s string) int {
	n, _ := strconv.Atoi(s)
	return n
}

// day reads a day: today, Friday, 4 Dec, 4.12.2026, the end of the month. The zero
// time is a day that there is not.
func (r *reader) day(i int) (time.Time, int) {
	y, m, d := r.voice.Now.In(r.voice.Zone).Date()
	on := func(y int, m time.Month, d int) time.Time { return time.Date(y, m, d, 0, 0, 0, 0, r.voice.Zone) }
	today := on(y, m, d)
	switch key := r.key(i); key {
	case "today", "heute", "tonight":
		return today, 1
	case "tomorrow", "morgen":
		return on(y, m, d+1), 1
	case names.Key("übermorgen"):
		return on(y, m, d+2), 1
	case "fortnight":
		return on(y, m, d+14), 1
	case "monatsende":
		return on(y, m+1, 0), 1
	case "jahresende":
		return on(y, 12, 31), 1
	case "end", "ende":
		return r.endOf(i, on)
	}
	if w, ok := weekdays[r.key(i)]; ok {
		days := (w - int(today.Weekday()) + 7) % 7
		n := 1
		// "Fri 4 Dec" is the date; the weekday has to be its own.
		if date, more := r.date(i + 1); more > 0 {
			if date.IsZero() || int(date.Weekday()) != w {
				return time.Time{}, 1 + more
			}
			return date, 1 + more
		}
		if days == 0 && r.voice.Now.In(r.voice.Zone).Hour() >= EndOfBusiness {
			days = 7
		}
		return on(y, m, d+days), n
	}
	return r.date(i)
}

// endOf reads the end of a month, week or year.
func (r *reader) endOf(i int, on func(int, time.Month, int) time.Time) (time.Time, int) {
	y, m, d := r.voice.Now.In(r.voice.Zone).Date()
	at := r.skip(i+1, "of", "the", "des", "der", "this", "dieses", "dieser")
	switch r.key(at) {
	case "month", "monats":
		return on(y, m+1, 0), at + 1 - i
	case "week", "woche":
		return on(y, m, d+(5-int(on(y, m, d).Weekday())+7)%7), at + 1 - i
	case "year", "jahres":
		return on(y, 12, 31), at + 1 - i
	}
	if n, ok := months[r.key(at)]; ok && n > 0 {
		if time.Month(n) < m {
			y++
		}
		return on(y, time.Month(n)+1, 0), at + 1 - i
	}
	return time.Time{}, 0
}

// date reads a date by its numbers; without a year it is the next one there is.
func (r *reader) date(i int) (time.Time, int) {
	key := r.key(i)
	if m := dateISO.FindStringSubmatch(key); m != nil {
		return r.dated(atoi(m[1]), atoi(m[2]), atoi(m[3])), 1
	}
	// "4.12." has lost its last dot, and 18.30 is an hour where it can be no date.
	if m := dateDots.FindStringSubmatch(key); m != nil && atoi(m[2]) <= 12 && atoi(m[2]) > 0 {
		return r.dated(atoi(m[3]), atoi(m[2]), atoi(m[1])), 1
	}
	day, month, words := 0, 0, 2
	if m := ordinal.FindStringSubmatch(key); m != nil {
		day, month = atoi(m[1]), months[r.key(i+1)]
	} else if m := ordinal.FindStringSubmatch(r.key(i + 1)); m != nil && months[key] > 0 {
		day, month = atoi(m[1]), months[key]
	}
	if month == 0 {
		return time.Time{}, 0
	}
	year := 0
	if y, ok := number(r.key(i + 2)); ok && y >= 2000 && y < 3000 {
		year, words = y, 3
	}
	return r.dated(year, month, day), words
}

// dated is a date, in the year in which it comes next where none was said; the zero
// time is one that there is not.
func (r *reader) dated(year, month, day int) time.Time {
	now := r.voice.Now.In(r.voice.Zone)
	next := year == 0
	if next {
		year = now.Year()
		if time.Month(month) < now.Month() || time.Month(month) == now.Month() && day < now.Day() {
			year++
		}
	}
	t := time.Date(year, time.Month(month), day, 0, 0, 0, 0, r.voice.Zone)
	if t.Month() != time.Month(month) || t.Day() != day {
		return time.Time{}
	}
	return t
}
