package access

import (
	"fmt"
	"math/rand/v2"
	"testing"
	"time"
)

var noon = time.Date(2026, 11, 23, 12, 0, 0, 0, time.UTC)

func at(h int) *time.Time { t := noon.Add(time.Duration(h) * time.Hour); return &t }

// ladder lists the levels from the narrowest to the widest.
var ladder = []Level{LevelView, LevelEdit, LevelManage}

func TestLevelsWiden(t *testing.T) {
	var before Caps
	for _, l := range ladder {
		if !l.Caps().Has(before) {
			t.Errorf("%s does not hold all that the level below it holds", l)
		}
		before = l.Caps()
	}
	if LevelEdit.Caps().Has(Delete) {
		t.Error("edit must not delete what others added")
	}
	if Level("owner").Known() || Level("owner").Caps() != 0 {
		t.Error("an unknown level must hold nothing")
	}
}

func TestDecide(t *testing.T) {
	path := Path{"top", "folder", "doc"}
	cases := []struct {
		name   string
		grants []Grant
		person string
		want   Caps
		why    int
	}{
		{"nobody", nil, "ines", 0, 0},
		{"member of the dossier", []Grant{{"g1", "ines", "top", LevelEdit, nil}}, "ines", LevelEdit.Caps(), 1},
		{"another person's grant", []Grant{{"g1", "luca", "top", LevelEdit, nil}}, "ines", 0, 0},
		{"lower grant widens", []Grant{{"g1", "ines", "top", LevelView, nil}, {"g2", "ines", "doc", LevelManage, nil}}, "ines", LevelManage.Caps(), 2},
		{"lower grant does not narrow", []Grant{{"g1", "ines", "top", LevelManage, nil}, {"g2", "ines", "doc", LevelView, nil}}, "ines", LevelManage.Caps(), 2},
		{"a grant beside the path", []Grant{{"g1", "ines", "other", LevelEdit, nil}}, "ines", 0, 0},
		{"still running", []Grant{{"g1", "ines", "top", LevelView, at(1)}}, "ines", LevelView.Caps(), 1},
		{"ends exactly now", []Grant{{"g1", "ines", "top", LevelView, at(0)}}, "ines", 0, 0},
		{"ended", []Grant{{"g1", "ines", "top", LevelView, at(-1)}}, "ines", 0, 0},
	}
	for _, c := range cases {
		t.Run(c.name, func(t *testing.T) {
			d := Decide(path, c.grants, c.person, noon)
			if d.Caps != c.want || len(d.Why) != c.why {
				t.Errorf("got %v with %d reasons, want %v with %d", d.Caps.Names(), len(d.Why), c.want.Names(), c.why)
			}
		})
	}
}

func TestDecideNamesTheNextEnd(t *testing.T) {
	d := Decide(Path{"top"}, []Grant{{"a", "p", "top", LevelView, at(5)}, {"b", "p", "top", LevelEdit, at(2)}, {"c", "p", "top", LevelView, nil}}, "p", noon)
	if d.Ends == nil || !d.Ends.Equal(*at(2)) {
		t.Errorf("next end %v, want %v", d.Ends, at(2))
	}
}

// decideSlowly asks each capability of each grant alone; it shares no code
// with Decide.
func decideSlowly(path Path, grants []Grant, person string, now time.Time) Caps {
	var caps Caps
	for bit := See; bit <= Manage; bit <<= 1 {
		for _, g := range grants {
			onPath := false
			for _, p := range path {
				onPath = onPath || p == g.Item
			}
			running := g.Ends == nil || g.Ends.Sub(now) > 0
			if onPath && running && g.Person == person && levels[g.Level]&bit != 0 {
				caps |= bit
			}
		}
	}
	return caps
}

func TestDecideAgreesWithTheSlowWay(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 24))
	for world := range 3000 {
		var path Path
		for i := range 1 + r.IntN(6) {
			path = append(path, fmt.Sprint("i", i))
		}
		var grants []Grant
		for i := range r.IntN(12) {
			g := Grant{ID: fmt.Sprint(i), Person: fmt.Sprint("p", r.IntN(4)), Item: fmt.Sprint("i", r.IntN(8)), Level: ladder[r.IntN(3)]}
			if r.IntN(2) == 0 {
				g.Ends = at(r.IntN(5) - 2)
			}
			grants = append(grants, g)
		}
		for i := range 4 {
			p := fmt.Sprint("p", i)
			want := decideSlowly(path, grants, p, noon)
			if got := Decide(path, grants, p, noon).Caps; got != want {
				t.Fatalf("world %d, %s: %v, want %v", world, p, got.Names(), want.Names())
			}
		}
	}
}
