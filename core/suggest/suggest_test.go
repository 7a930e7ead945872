package suggest

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func ago(days int) time.Time { return noon.AddDate(0, 0, -days) }

func TestRank(t *testing.T) {
	mine := map[string]bool{"MER": true, "PEL": true}
	cases := []struct {
		name   string
		traces []Trace
		want   []string
		reason Reason
	}{
		{"nobody", nil, nil, ""},
		{"here before elsewhere", []Trace{{"luca", "PEL", 4, ago(1), false}, {"priya", "MER", 4, ago(1), false}}, []string{"priya", "luca"}, Here},
		{"lately before long ago", []Trace{{"luca", "MER", 4, ago(60), false}, {"priya", "MER", 4, ago(1), false}}, []string{"priya", "luca"}, Here},
		{"much, but long ago, loses", []Trace{{"luca", "MER", 60, ago(90), false}, {"priya", "MER", 2, ago(0), false}}, []string{"priya", "luca"}, Here},
		{"whom I gave something lately", []Trace{{"sunniva", "PEL", 1, ago(0), true}, {"luca", "PEL", 1, ago(0), false}}, []string{"sunniva", "luca"}, Given},
		{"not from a dossier of others", []Trace{{"luca", "HR", 50, ago(0), false}}, nil, ""},
		{"traces add up", []Trace{{"luca", "PEL", 3, ago(1), false}, {"luca", "MER", 3, ago(1), false}, {"priya", "MER", 3, ago(1), false}}, []string{"luca", "priya"}, Here},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			got := Rank("MER", mine, c.traces, noon)
			var names []string
			for _, s := range got {
				names = append(names, s.Person)
			}
			if !slices.Equal(names, c.want) {
				t.Fatalf("got %v, want %v", names, c.want)
			}
			if len(got) > 0 && got[0].Reason != c.reason {
				t.Errorf("reason %q, want %q", got[0].Reason, c.reason)
			}
		})
	}
}

// A later or a further act never makes somebody less likely.
func TestMoreNeverWeighsLess(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for range 2000 {
		tr := Trace{"p", []string{"MER", "PEL"}[r.IntN(2)], 1 + r.IntN(30), ago(r.IntN(80)), r.IntN(2) == 0}
		more, later := tr, tr
		more.Acts++
		later.Last = tr.Last.Add(time.Hour)
		w, _ := weight(tr, "MER", map[string]bool{"PEL": true}, noon)
		a, _ := weight(more, "MER", map[string]bool{"PEL": true}, noon)
		b, _ := weight(later, "MER", map[string]bool{"PEL": true}, noon)
		if a <= w || b < w {
			t.Fatalf("%+v weighs %v, one act more %v, an hour later %v", tr, w, a, b)
		}
	}
}

func TestFit(t *testing.T) {
	for _, c := range []struct {
		typed, text string
		want        int
	}{
		{"", "ines okafor", 2}, {"in", "ines okafor", 2}, {"ok", "ines okafor", 2}, {"for", "ines okafor", 1}, {"zz", "ines okafor", 0},
		{"du", "sunniva.aker@dunlin.example", 2}, {"ak", "sunniva.aker@dunlin.example", 2}, {" ines ", "ines okafor", 2}, {"a", "banana anna", 2},
	} {
		if got := Fit(c.typed, c.text); got != c.want {
			t.Errorf("%q in %q: %d, want %d", c.typed, c.text, got, c.want)
		}
	}
}

func FuzzFit(f *testing.F) {
	f.Add("in", "ines okafor")
	f.Fuzz(func(t *testing.T, typed, text string) {
		if n := Fit(typed, text); n < 0 || n > 2 {
			t.Errorf("%d", n)
		}
	})
}
