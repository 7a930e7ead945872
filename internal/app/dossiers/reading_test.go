package dossiers

import (
	"encoding/base64"
	"encoding/json"
	"testing"

	"github.com/google/uuid"

	"tabularis/core/items"
)

// A cursor that did not come from us is refused, never used.
func FuzzFrom(f *testing.F) {
	by := uuid.NewString()
	of := func(r Reading, keys ...string) string {
		raw, _ := json.Marshal(cursor{r.name(), keys, uuid.New()})
		return base64.RawURLEncoding.EncodeToString(raw)
	}
	f.Add("name", of(Reading{Order: Order{Name: "name"}}, "a"), "", "", false)
	f.Add("event", of(Reading{Order: Order{Name: "name"}}, "a"), "", "", false)
	f.Add("name", "e30", "", "", false)
	f.Add("", "%%%", "", "", true)
	f.Add("particular", of(Reading{Order: Order{"particular", uuid.MustParse(by), true}}, "1.5", "x"), by, "", true)
	f.Add("size", of(Reading{Order: Order{Name: "size"}, Group: Group{Name: "person"}}, "Luca", by, "12"), by, "person", false)
	f.Fuzz(func(t *testing.T, name, after, by, group string, down bool) {
		particular, _ := uuid.Parse(by)
		r := Reading{Order: Order{name, particular, down}, Group: Group{group, particular}}
		from, err := r.from(after)
		if err == nil && after != "" && (from.Reading != r.name() || from.ID == uuid.Nil || !r.fits(from.Keys)) {
			t.Errorf("%v %q was taken as %+v", r, after, from)
		}
	})
}

// What a page gives out the next one takes, and no other reading.
func TestCursorsOfReadings(t *testing.T) {
	particular := uuid.New()
	readings := map[string]Reading{
		"event":    {Order: Order{Name: "event"}},
		"the rest": {Order: Order{Name: "event", Down: true}},
		"12":       {Order: Order{ByParticular, particular, false}},
		"kind":     {Order: Order{Name: "event"}, Group: Group{Name: ByKind}},
		"person":   {Order: Order{Name: "event"}, Only: Only{Person: particular}},
	}
	keys := map[string][]string{"event": {"7"}, "the rest": {"7"}, "12": {"-1200.5", "a b\nc"}, "kind": {"3", "7"}, "person": {"7"}}
	for at, r := range readings {
		after, err := r.to(placedItem{Item: items.Item{ID: uuid.New()}, keys: keys[at]})
		if err != nil {
			t.Fatal(err)
		}
		for other, o := range readings {
			if from, err := o.from(after); (err == nil) != (other == at) {
				t.Errorf("a cursor of %q read for %q: %+v %v", at, other, from, err)
			}
		}
	}
	values := readings["12"]
	for _, bad := range [][]string{nil, {""}, {"x", "y"}, {"1.5"}, {"1.2345678", ""}, {"-", "a"}, {"99999999999"}, {"0", "a\x00"}, {"0", "\xff"}, {"1", "2", "3"}} {
		if values.fits(bad) {
			t.Errorf("%q are taken for keys", bad)
		}
	}
	if !values.fits([]string{"12"}) || !values.fits([]string{"0", "afloat"}) {
		t.Error("keys with and without a value must both be taken")
	}
}
