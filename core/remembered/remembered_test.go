package remembered

import (
	"slices"
	"testing"
	"time"
	_ "time/tzdata"

	"tabularis/core/linkgate"
)

var zone = func() *time.Location {
	z, err := time.LoadLocation("Europe/Berlin")
	if err != nil {
		panic(err)
	}
	return z
}()

func on(month time.Month, day, hour int) time.Time {
	return time.Date(2026, month, day, hour, 0, 0, 0, zone)
}

func once(until time.Time) linkgate.Terms {
	one := 1
	return linkgate.Terms{Kind: linkgate.HandOut, MayDownload: true, Openings: &one, Until: &until, Tell: linkgate.TellNever}
}

// The same terms from another day on end after as many days, at the same hour, also
// across the day on which clocks change.
func TestAgain(t *testing.T) {
	slug := "corran"
	for _, c := range []struct {
		name            string
		at, until, from time.Time
		now, want       time.Time
		wantFrom        *time.Time
	}{
		{"two weeks", on(10, 5, 9), on(10, 19, 18), time.Time{}, on(11, 2, 15), on(11, 16, 18), nil},
		{"over the end of summer time", on(10, 5, 9), on(10, 8, 18), time.Time{}, on(10, 23, 9), on(10, 26, 18), nil},
		{"made at night", on(10, 5, 0), on(10, 6, 23), time.Time{}, on(11, 2, 23), on(11, 3, 23), nil},
		{"the same day, later", on(10, 5, 9), on(10, 5, 18), time.Time{}, on(11, 2, 19), on(11, 2, 18), nil},
		{"from tomorrow on", on(10, 5, 9), on(10, 9, 18), on(10, 6, 8), on(11, 2, 9), on(11, 6, 18), ptr(on(11, 3, 8))},
		{"from an hour on that is past", on(10, 5, 9), on(10, 9, 18), on(10, 5, 10), on(11, 2, 11), on(11, 6, 18), nil},
	} {
		terms := once(c.until)
		terms.Slug = &slug
		if !c.from.IsZero() {
			terms.NotBefore = &c.from
		}
		got := Again(terms, c.at, c.now, zone)
		if !got.Until.Equal(c.want) || got.Slug != nil || (got.NotBefore == nil) != (c.wantFrom == nil) || c.wantFrom != nil && !got.NotBefore.Equal(*c.wantFrom) {
			t.Errorf("%s: until %v, from %v", c.name, got.Until.In(zone), got.NotBefore)
		}
		if terms.Slug == nil || !terms.Until.Equal(c.until) {
			t.Errorf("%s: what was given is changed", c.name)
		}
	}
	if got := Again(linkgate.Terms{}, on(10, 1, 9), on(11, 1, 9), zone); got.Until != nil {
		t.Errorf("without an end it ends %v", got.Until)
	}
}

func ptr[T any](v T) *T { return &v }

func TestOffers(t *testing.T) {
	now := on(11, 23, 12)
	plainly := func(at time.Time) linkgate.Terms {
		until := at.AddDate(0, 0, 14)
		return linkgate.Terms{Kind: linkgate.HandOut, MayDownload: true, Until: &until, Tell: linkgate.TellNever}
	}
	intake := linkgate.Terms{Kind: linkgate.Intake, MayDownload: true}
	given := []Given{
		{once(on(11, 25, 18)), on(11, 20, 9), "KIR-12", nil},
		{once(on(11, 10, 18)), on(11, 5, 10), "MER-24", nil},
		{once(on(11, 12, 18)), on(11, 5, 10), "KIR-12", nil},
		{plainly(on(11, 21, 9)), on(11, 21, 9), "MER-24", nil},
		{plainly(on(11, 19, 18)), on(11, 19, 9), "KIR-12", []string{"b@dunlin.example", "a@dunlin.example"}},
		{plainly(on(11, 18, 18)), on(11, 18, 9), "KIR-12", []string{"a@dunlin.example", "b@dunlin.example"}},
		{intake, on(11, 1, 9), "KIR-12", nil},
	}
	got := Offers(given, "MER-24", now, zone)
	var said []string
	for _, o := range got {
		said = append(said, o.Code+" "+o.At.Format("0102")+" "+string(rune('0'+o.Times))+" "+o.Terms.Kind)
	}
	// Five days, once, was given in both dossiers; the papers without a term went to
	// two people, in whatever order they were named; nobody needs to be reminded of
	// what has no term and went to nobody.
	want := []string{"MER-24 1120 2 hand-out", "KIR-12 1119 2 hand-out", "KIR-12 1105 1 hand-out", "KIR-12 1101 1 intake"}
	if !slices.Equal(said, want) {
		t.Errorf("got  %v\nwant %v", said, want)
	}
	if given[4].To[0] != "b@dunlin.example" {
		t.Error("what was given is changed")
	}
}
