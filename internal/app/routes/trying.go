package routes

import (
	"cmp"
	"context"
	"encoding/hex"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/route"
	"tabularis/core/working"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Tried is what would have become of one document.
type Tried struct {
	Sight guard.Sight
	route.Outcome
	// Before is what would have become of it by the edition that counts.
	Before *route.Outcome
	// Took is in how many working days it would have come to its end at the latest.
	Took float64
	// cases is how many each stop has.
	cases []int
}

// Trial is what would have happened to the last documents: nothing has.
type Trial struct {
	Tried []Tried
	Names map[uuid.UUID]string
	// Since and Until are when the first and the last of them came.
	Since, Until time.Time

	definition, counting route.Definition
}

// mostTried is on how many documents a route is tried.
const mostTried = 50

// Try tries what is written of a route on the last documents of its folders, by their data as they are
// now. Nobody is told and nothing is changed.
func (s *Service) Try(ctx context.Context, id uuid.UUID) (out Trial, err error) {
	shown, err := s.One(ctx, id)
	if err != nil {
		return out, err
	}
	if !shown.Manages || shown.FolderID == nil {
		return out, fault.Refused("try routes")
	}
	if flaws := serious(shown.Problems); len(flaws) > 0 {
		return out, errFlawed.In(flaws[0].At, "%d words do not hold: %s", len(flaws), flaws[0].Code)
	}
	folders := []uuid.UUID{*shown.FolderID}
	for _, st := range shown.Definition.Starts {
		if st.Folder != nil && !slices.Contains(folders, *st.Folder) {
			folders = append(folders, *st.Folder)
		}
	}
	ids, err := newest(ctx, s.Acts.DB, folders, mostTried)
	if err != nil {
		return out, err
	}
	return out, s.Acts.Do(ctx, func(tx *act.Tx) error {
		out = Trial{definition: shown.Definition}
		if shown.Counting != nil {
			out.counting = *shown.Counting
		}
		for _, document := range ids {
			sight, err := s.Access.Kind(ctx, tx, document, items.Document, access.See, tx.Now)
			if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
				continue
			}
			if err != nil {
				return err
			}
			t, err := s.try(ctx, tx, shown, sight)
			if err != nil {
				return err
			}
			out.Tried = append(out.Tried, t)
		}
		return s.sumUp(ctx, tx, &out)
	})
}

// serious are flaws without which a definition cannot be tried: what does not fit together is just what
// a trial shows.
func serious(all []route.Problem) []route.Problem {
	return slices.DeleteFunc(slices.Clone(all), func(p route.Problem) bool {
		return slices.Contains([]route.Flaw{route.Gap, route.Overlaps, route.NeverHolds, route.CannotOpen, route.LeftPractice, route.MayNot, route.NoMembers, route.Loops}, p.Code)
	})
}

func (s *Service) try(ctx context.Context, tx *act.Tx, shown Shown, sight guard.Sight) (t Tried, err error) {
	w, err := s.Decisions.World(ctx, tx, sight.Located)
	if err != nil {
		return t, err
	}
	w.Now = sight.CreatedAt
	c := route.Content{Version: sight.Version, SHA256: hex.EncodeToString(sight.SHA256)}
	t = Tried{Sight: sight, Outcome: route.Simulate(shown.Definition, w, c, w.Facts.Author)}
	for _, stop := range shown.Definition.Stops {
		t.cases = append(t.cases, len(stop.Cases))
	}
	if shown.Counting != nil {
		before := route.Simulate(*shown.Counting, w, c, w.Facts.Author)
		t.Before = &before
	}
	if t.Starts {
		t.Took = w.Calendar.Between(sight.CreatedAt, t.End, working.InDays)
	}
	return t, nil
}

// sumUp names those who would have been asked.
func (s *Service) sumUp(ctx context.Context, tx *act.Tx, out *Trial) (err error) {
	var ids []uuid.UUID
	for _, t := range out.Tried {
		if at := t.Sight.CreatedAt; out.Since.IsZero() || at.Before(out.Since) {
			out.Since = at
		}
		if at := t.Sight.CreatedAt; at.After(out.Until) {
			out.Until = at
		}
		for _, step := range t.Steps {
			for _, a := range step.Asked {
				ids = append(ids, a.Person)
			}
		}
	}
	out.Names, err = s.Decisions.Names(ctx, tx, ids)
	return err
}

// Called is a place as people say it: the number of the stop, and a letter for its case, where it has
// several.
func (t Tried) Called(p route.Place) string {
	name := strconv.Itoa(p.Stop + 1)
	if t.cases[p.Stop] > 1 {
		name += string(rune('a' + p.Case))
	}
	return name
}

// Tally is how many documents would have come to a case of a stop, by what is written and by what counts;
// stop 0 are those that would not have been started.
type Tally struct {
	Stop, Case  int
	Do          route.Doing
	Held        route.Reason
	Now, Before int
}

// Tally adds up what would have become of the documents, in the order of the stops.
func (t Trial) Tally() (all []Tally) {
	at := func(stop, n int, do route.Doing, held route.Reason) *Tally {
		for i := range all {
			if all[i].Stop == stop && all[i].Case == n && all[i].Held == held {
				return &all[i]
			}
		}
		all = append(all, Tally{Stop: stop, Case: n, Do: do, Held: held})
		return &all[len(all)-1]
	}
	for _, one := range t.Tried {
		each(t.definition, &one.Outcome, func(stop, n int, do route.Doing, held route.Reason) { at(stop, n, do, held).Now++ })
		if one.Before != nil {
			each(t.counting, one.Before, func(stop, n int, do route.Doing, held route.Reason) { at(stop, n, do, held).Before++ })
		}
	}
	slices.SortStableFunc(all, func(a, b Tally) int {
		return cmp.Or(a.Stop-b.Stop, strings.Compare(string(a.Held), string(b.Held)), a.Case-b.Case)
	})
	return all
}

// each calls fn with the cases to which a document would have come.
func each(d route.Definition, o *route.Outcome, fn func(stop, n int, do route.Doing, held route.Reason)) {
	if !o.Starts {
		fn(0, 0, "", "")
		return
	}
	for i, s := range o.Steps {
		if held := o.Held; held != "" && i == len(o.Steps)-1 {
			fn(s.Stop+1, 0, "", held)
			continue
		}
		n := 0
		if len(d.Stops[s.Stop].Cases) > 1 {
			n = s.Case + 1
		}
		fn(s.Stop+1, n, d.Stops[s.Stop].Cases[s.Case].Do, "")
	}
}

// Burden is how often somebody would have been asked at a stop.
type Burden struct {
	Stop int
	Name string
	N    int
}

// Asked is who would have been asked how often, the most first, by stop.
func (t Trial) Asked() (all []Burden) {
	type key struct {
		stop   int
		person uuid.UUID
	}
	n := map[key]int{}
	for _, one := range t.Tried {
		for _, s := range one.Steps {
			if do := t.definition.Stops[s.Stop].Cases[s.Case].Do; do == route.Hold || do == route.Fill {
				continue
			}
			for _, a := range s.Asked {
				n[key{s.Stop + 1, a.Person}]++
			}
		}
	}
	for k, count := range n {
		all = append(all, Burden{k.stop, t.Names[k.person], count})
	}
	slices.SortFunc(all, func(a, b Burden) int { return cmp.Or(a.Stop-b.Stop, b.N-a.N, strings.Compare(a.Name, b.Name)) })
	return all
}
