package following

import (
	"time"

	"tabularis/core/events"
	"tabularis/core/events/words"
)

// Every is how often somebody is sent a digest of what happened.
type Every string

// Never is the zero value.
const (
	Never  Every = ""
	Daily  Every = "daily"
	Weekly Every = "weekly"
)

// Known reports whether there are digests like that.
func (e Every) Known() bool { return e == Never || e == Daily || e == Weekly }

// hour is when digests go out by the reader's clock, on Mondays where they are weekly.
const hour = 7

// longest is how far back a digest looks, where none could be sent for a while.
const longest = 31 * 24 * time.Hour

// Settled is how long an act may take until it can be read: so much after a moment, all
// that happened before it is known.
const Settled = time.Minute

// Due tells of which time a digest is to be sent now, where the last one reached to a
// moment; it is not due where until is not after since.
func (e Every) Due(last, now time.Time, zone *time.Location) (since, until time.Time) {
	if e == Never {
		return last, last
	}
	until = e.before(now.Add(-Settled), zone)
	if !until.After(last) {
		return last, last
	}
	if since = last; until.Sub(since) > longest {
		since = until.Add(-longest)
	}
	return since, until
}

// before is the last moment for a digest up to now.
func (e Every) before(now time.Time, zone *time.Location) time.Time {
	local := now.In(zone)
	at := func(daysAgo int) time.Time {
		return time.Date(local.Year(), local.Month(), local.Day()-daysAgo, hour, 0, 0, 0, zone)
	}
	ago, step := 0, 1
	if e == Weekly {
		ago, step = (int(local.Weekday())+6)%7, 7
	}
	if at(ago).After(now) {
		ago += step
	}
	return at(ago)
}

// Line is what a digest says: one event, or several that are alike, newest first.
type Line []events.Named

// Part is what happened in one dossier, newest first.
type Part struct {
	Code, Name string
	Lines      []Line
}

// alike is from how many events on that are alike they are one line.
const alike = 4

// Digest puts events, newest first, together by dossiers, and makes one line of many that
// are alike.
func Digest(all []events.Named) []Part {
	type likeness struct{ code, kind, actor, link string }
	like := func(e events.Named) likeness {
		l := likeness{code: e.DossierCode, kind: e.Kind, actor: e.Actor}
		if e.LinkName != nil {
			l.link = *e.LinkName
		}
		return l
	}
	number := map[likeness]int{}
	for _, e := range all {
		number[like(e)]++
	}
	var parts []Part
	part, line := map[string]int{}, map[likeness]int{}
	for _, e := range all {
		at, known := part[e.DossierCode]
		if !known {
			at = len(parts)
			part[e.DossierCode] = at
			parts = append(parts, Part{Code: e.DossierCode, Name: e.DossierName})
		}
		p := &parts[at]
		if l := like(e); words.Folds(e.Kind) && number[l] >= alike {
			if i, begun := line[l]; begun {
				p.Lines[i] = append(p.Lines[i], e)
				continue
			}
			line[l] = len(p.Lines)
		}
		p.Lines = append(p.Lines, Line{e})
	}
	return parts
}
