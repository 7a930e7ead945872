package checkout

import (
	"slices"
	"strings"
	"testing"
	"time"

	"tabularis/core/fault"
	"tabularis/core/items"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func TestCheck(t *testing.T) {
	at := func(d time.Duration) *time.Time { m := noon.Add(d); return &m }
	for name, c := range map[string]struct {
		terms Terms
		code  string
	}{
		"without a word":       {Terms{}, ""},
		"back tonight":         {Terms{Note: " the figures of frame 31 ", Back: at(5 * time.Hour)}, ""},
		"back a year from now": {Terms{Back: at(366 * 24 * time.Hour)}, ""},
		"back at once":         {Terms{Back: at(0)}, "back-range"},
		"back yesterday":       {Terms{Back: at(-24 * time.Hour)}, "back-range"},
		"back in two years":    {Terms{Back: at(2 * 366 * 24 * time.Hour)}, "back-range"},
		"a note of two lines":  {Terms{Note: "a\nb"}, "name-length"},
		"a note that is long":  {Terms{Note: strings.Repeat("x", 301)}, "name-length"},
	} {
		got, err := Check(c.terms, noon)
		if c.code == "" && err != nil || c.code != "" && fault.Of(err).Code != c.code {
			t.Errorf("%s: %v", name, err)
		}
		if err == nil && got.Note != strings.TrimSpace(c.terms.Note) {
			t.Errorf("%s: %q", name, got.Note)
		}
	}
}

// Others change nothing, and no way is forgotten; the holder works on it.
func TestBars(t *testing.T) {
	for _, op := range items.Operations() {
		s := items.State{Kind: items.Document, Bars: Bars("Luca", false)}
		if slices.Contains([]items.Operation{items.Adding, items.Retitling, items.BringingBack, items.Destroying}, op) {
			continue // They are none of a document that is there.
		}
		if err := items.Allow(op, s); fault.Of(err).Code != "held" {
			t.Errorf("%s by another: %v", op, err)
		}
		s.Bars = Bars("Luca", true)
		if err := items.Allow(op, s); (err != nil) != (op == items.Deleting) {
			t.Errorf("%s by the holder: %v", op, err)
		}
	}
}
