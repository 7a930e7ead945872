// Package remembered finds, among what somebody gave before, the terms they would
// want again.
package remembered

import (
	"encoding/json"
	"slices"
	"time"

	"tabularis/core/linkgate"
	"tabularis/core/terms"
)

// Given is something that was given out, or asked for, before.
type Given struct {
	Terms linkgate.Terms
	At    time.Time
	// Code is that of the dossier, To the addresses it was sent to.
	Code string
	To   []string
}

// Offer is what was given, under the terms as they would be today. At is when that was
// done last, Times how often.
type Offer struct {
	Given
	Times int
}

// Offers are the different terms, to different people, among what was given: those of
// the dossier first, and of these the latest. What has no term but its end, and was
// sent to nobody, is nothing to remember.
func Offers(given []Given, code string, now time.Time, zone *time.Location) []Offer {
	var all []Offer
	at := map[string]int{}
	for _, g := range given {
		if len(g.To) == 0 && plain(g.Terms) {
			continue
		}
		g.To = slices.Clone(g.To)
		slices.Sort(g.To)
		g.Terms = Again(g.Terms, g.At, now, zone)
		k := key(g.Terms, g.To)
		n, ok := at[k]
		if !ok {
			at[k] = len(all)
			all = append(all, Offer{g, 1})
			continue
		}
		o := &all[n]
		if g.At.After(o.At) {
			o.At = g.At
		}
		if g.Code == code {
			o.Code = code
		}
		o.Times++
	}
	slices.SortStableFunc(all, func(a, b Offer) int {
		if here, there := a.Code == code, b.Code == code; here != there {
			if here {
				return -1
			}
			return 1
		}
		return b.At.Compare(a.At)
	})
	return all
}

// Again is terms as they would be if the same were given now: they end after as many
// days as then, at the same hour. A readable address is good for one link.
func Again(t linkgate.Terms, at, now time.Time, zone *time.Location) linkgate.Terms {
	t.Slug = nil
	t.Until = shifted(t.Until, at, now, zone)
	if t.NotBefore = shifted(t.NotBefore, at, now, zone); t.NotBefore != nil && !t.NotBefore.After(now) {
		t.NotBefore = nil
	}
	return t
}

// shifted moves a moment by the days that passed since, by the calendar of the zone.
func shifted(t *time.Time, at, now time.Time, zone *time.Location) *time.Time {
	if t == nil {
		return nil
	}
	y, m, d := now.In(zone).Date()
	was := t.In(zone)
	moved := time.Date(y, m, d+terms.DaysBetween(at.In(zone), was), was.Hour(), was.Minute(), was.Second(), 0, zone).UTC()
	return &moved
}

// plain says that terms are what they are when nobody says anything but an end.
func plain(t linkgate.Terms) bool {
	return key(t, nil) == key(linkgate.Terms{Kind: linkgate.HandOut, MayDownload: true, Until: t.Until, Slug: t.Slug, Tell: t.Tell}, nil)
}

// key is the same for the same terms and people.
func key(t linkgate.Terms, to []string) string {
	t.Allowed, t.Endings = t.Allowed.Kept(), t.Endings.Kept()
	// Terms are made of nothing that could not be written.
	raw, _ := json.Marshal(struct {
		Terms linkgate.Terms
		To    []string
	}{t, to})
	return string(raw)
}
