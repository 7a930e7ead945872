package following

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/events"
)

func id(n byte) uuid.UUID { return uuid.UUID{15: n} }

func TestADocumentCountsMoreThanItsDossier(t *testing.T) {
	document, dossier, other := id(1), id(2), id(3)
	for _, c := range []struct {
		what string
		h    Heeding
		want [4]bool // the document, another one of the dossier, the dossier itself, elsewhere
	}{
		{"nothing", Heeding{}, [4]bool{true, true, true, true}},
		{"the dossier muted", Heeding{Muted: Things{Dossiers: []uuid.UUID{dossier}}}, [4]bool{false, false, false, true}},
		{"the dossier muted, the document followed", Heeding{Followed: Things{Documents: []uuid.UUID{document}}, Muted: Things{Dossiers: []uuid.UUID{dossier}}}, [4]bool{true, false, false, true}},
		{"the document muted", Heeding{Muted: Things{Documents: []uuid.UUID{document}}}, [4]bool{false, true, true, true}},
		{"only what is followed: the dossier, the document muted", Heeding{Only: true, Followed: Things{Dossiers: []uuid.UUID{dossier}}, Muted: Things{Documents: []uuid.UUID{document}}}, [4]bool{false, true, true, false}},
		{"only what is followed: nothing", Heeding{Only: true}, [4]bool{}},
		{"only what is followed: the document in a muted dossier", Heeding{Only: true, Followed: Things{Documents: []uuid.UUID{document}}, Muted: Things{Dossiers: []uuid.UUID{dossier}}}, [4]bool{true, false, false, false}},
	} {
		elsewhere := id(9)
		got := [4]bool{c.h.Shows(&document, &dossier), c.h.Shows(&other, &dossier), c.h.Shows(nil, &dossier), c.h.Shows(&other, &elsewhere)}
		if got != c.want {
			t.Errorf("%s: %v, want %v", c.what, got, c.want)
		}
	}
}

func at(t *testing.T, text string) time.Time {
	t.Helper()
	moment, err := time.Parse("Mon 2006-01-02 15:04 MST", text)
	if err != nil {
		t.Fatal(err)
	}
	return moment
}

func TestWhenADigestIsDue(t *testing.T) {
	london, err := time.LoadLocation("Europe/London")
	if err != nil {
		t.Fatal(err)
	}
	auckland, err := time.LoadLocation("Pacific/Auckland")
	if err != nil {
		t.Fatal(err)
	}
	for _, c := range []struct {
		every       Every
		last, now   string
		zone        *time.Location
		since, till string
	}{
		{Daily, "Mon 2026-11-23 12:00 UTC", "Tue 2026-11-24 07:00 UTC", london, "", ""},
		{Daily, "Mon 2026-11-23 12:00 UTC", "Tue 2026-11-24 07:01 UTC", london, "Mon 2026-11-23 12:00 UTC", "Tue 2026-11-24 07:00 UTC"},
		{Daily, "Tue 2026-11-24 07:00 UTC", "Tue 2026-11-24 23:00 UTC", london, "", ""},
		// Seven in the morning of the twenty-fifth is there at six in the evening before.
		{Daily, "Mon 2026-11-23 12:00 UTC", "Tue 2026-11-24 18:01 UTC", auckland, "Mon 2026-11-23 12:00 UTC", "Tue 2026-11-24 18:00 UTC"},
		// The night in which summer begins has an hour less.
		{Daily, "Sat 2026-03-28 07:00 UTC", "Sun 2026-03-29 06:01 UTC", london, "Sat 2026-03-28 07:00 UTC", "Sun 2026-03-29 06:00 UTC"},
		{Weekly, "Mon 2026-11-23 12:00 UTC", "Sun 2026-11-29 23:59 UTC", london, "", ""},
		{Weekly, "Mon 2026-11-23 12:00 UTC", "Mon 2026-11-30 06:59 UTC", london, "", ""},
		{Weekly, "Mon 2026-11-23 12:00 UTC", "Mon 2026-11-30 07:01 UTC", london, "Mon 2026-11-23 12:00 UTC", "Mon 2026-11-30 07:00 UTC"},
		{Weekly, "Mon 2026-11-23 12:00 UTC", "Wed 2026-12-02 10:00 UTC", london, "Mon 2026-11-23 12:00 UTC", "Mon 2026-11-30 07:00 UTC"},
		{Daily, "Thu 2026-01-01 12:00 UTC", "Tue 2026-11-24 08:00 UTC", london, "Sat 2026-10-24 07:00 UTC", "Tue 2026-11-24 07:00 UTC"},
		{Never, "Thu 2026-01-01 12:00 UTC", "Tue 2026-11-24 08:00 UTC", london, "", ""},
	} {
		since, till := c.every.Due(at(t, c.last), at(t, c.now), c.zone)
		if c.till == "" {
			if till.After(since) {
				t.Errorf("%s at %s: due of %v to %v", c.every, c.now, since, till)
			}
			continue
		}
		if !since.Equal(at(t, c.since)) || !till.Equal(at(t, c.till)) {
			t.Errorf("%s at %s: of %v to %v", c.every, c.now, since, till)
		}
	}
}

// However often one looks, digests follow each other without a gap, and none is empty.
func TestDigestsFollowEachOther(t *testing.T) {
	zones := []string{"Europe/London", "Europe/Berlin", "Pacific/Auckland", "America/St_Johns", "Asia/Kathmandu", "UTC"}
	for seed := range uint64(60) {
		r := rand.New(rand.NewPCG(seed, 14))
		zone, err := time.LoadLocation(zones[r.IntN(len(zones))])
		if err != nil {
			t.Fatal(err)
		}
		every := []Every{Daily, Weekly}[r.IntN(2)]
		now := time.Date(2026, time.Month(1+r.IntN(12)), 1+r.IntN(28), r.IntN(24), r.IntN(60), 0, 0, time.UTC)
		last, sent := now, 0
		for range 3000 {
			now = now.Add(time.Duration(1+r.IntN(180)) * time.Minute)
			since, till := every.Due(last, now, zone)
			if !till.After(since) {
				continue
			}
			local := till.In(zone)
			if !since.Equal(last) || till.After(now) || local.Hour() != hour || local.Minute() != 0 || every == Weekly && local.Weekday() != time.Monday {
				t.Fatalf("%s in %v at %v: of %v to %v, after %v", every, zone, now, since, till, last)
			}
			last, sent = till, sent+1
		}
		if days := int(3000 * 90 / 60 / 24); every == Daily && sent < days-20 {
			t.Errorf("%d digests in some %d days", sent, days)
		}
	}
}

func TestManyThatAreAlikeAreOneLine(t *testing.T) {
	event := func(code, kind, actor string) events.Named {
		return events.Named{Event: events.Event{Kind: kind}, DossierCode: code, DossierName: "of " + code, Actor: actor}
	}
	all := slices.Concat(
		slices.Repeat([]events.Named{event("MER-24", "document.added", "Luca")}, 3), []events.Named{event("TOL-1", "link.opened", "")},
		slices.Repeat([]events.Named{event("MER-24", "document.added", "Luca")}, 2), slices.Repeat([]events.Named{event("MER-24", "document.added", "Hanne")}, 3),
		slices.Repeat([]events.Named{event("MER-24", "access.given", "Luca")}, 5))
	got := ""
	for _, p := range Digest(all) {
		got += p.Code + " " + p.Name + ":"
		for _, l := range p.Lines {
			got += fmt.Sprintf(" %d %s %s;", len(l), l[0].Kind, l[0].Actor)
		}
	}
	want := "MER-24 of MER-24: 5 document.added Luca; 1 document.added Hanne; 1 document.added Hanne; 1 document.added Hanne;" + " 1 access.given Luca; 1 access.given Luca; 1 access.given Luca; 1 access.given Luca; 1 access.given Luca;" + "TOL-1 of TOL-1: 1 link.opened ;"
	if got != want {
		t.Errorf("%s\nwant\n%s", got, want)
	}
	if len(Digest(nil)) != 0 {
		t.Error("nothing makes a digest")
	}
}
