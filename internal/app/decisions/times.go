package decisions

import (
	"cmp"
	"context"
	"slices"
	"time"

	"github.com/google/uuid"
)

// Load is how much waits for somebody along a route, and how long they take.
type Load struct {
	Name        string
	Waits, Late int
	Times
}

// mostPassed is how many passed stops are looked at for how long they take.
const mostPassed = 20_000

// TimesAlong says how long each stop of a route takes, by its number, and for whom how much waits, from runs
// whose documents the acting person sees. Who may know of the route is for the caller to decide.
func (s *Service) TimesAlong(ctx context.Context, of uuid.UUID, since time.Time) (map[int]Times, []Load, error) {
	count, err := s.counter(ctx)
	if err != nil {
		return nil, nil, err
	}
	v, err := s.Access.Mine(ctx, s.Acts.Now())
	if err != nil {
		return nil, nil, err
	}
	all, err := passedAlong(ctx, s.Acts.DB, of, since, mostPassed, v.Readable())
	if err != nil {
		return nil, nil, err
	}
	waits, err := loadAlong(ctx, s.Acts.DB, of, v.Readable())
	if err != nil {
		return nil, nil, err
	}
	stops, people := map[int][]float64{}, map[uuid.UUID][]float64{}
	for _, p := range all {
		days := count(p.Since, p.Till)
		stops[p.Stop+1] = append(stops[p.Stop+1], days)
		if p.Person != nil {
			people[*p.Person] = append(people[*p.Person], days)
		}
	}
	times := map[int]Times{}
	for n, days := range stops {
		times[n] = quantiles(days)
	}
	load, err := s.load(ctx, people, waits)
	return times, load, err
}

// load joins what people decided with what waits for them, those for whom most waits first.
func (s *Service) load(ctx context.Context, decided map[uuid.UUID][]float64, waits []waitsFor) ([]Load, error) {
	by := map[uuid.UUID]*Load{}
	var ids []uuid.UUID
	of := func(person uuid.UUID) *Load {
		if by[person] == nil {
			by[person] = &Load{}
			ids = append(ids, person)
		}
		return by[person]
	}
	for person, days := range decided {
		of(person).Times = quantiles(days)
	}
	for _, w := range waits {
		l := of(w.Person)
		l.Waits, l.Late = w.N, w.Late
	}
	names, err := s.Names(ctx, s.Acts.DB, ids)
	out := make([]Load, 0, len(ids))
	for _, person := range ids {
		by[person].Name = names[person]
		out = append(out, *by[person])
	}
	slices.SortFunc(out, func(a, b Load) int { return cmp.Or(b.Waits-a.Waits, cmp.Compare(a.Name, b.Name)) })
	return out, err
}
