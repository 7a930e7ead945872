package access

import (
	"context"
	"encoding/binary"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/internal/store"
)

// Extent is how much somebody can open, and until when.
type Extent struct {
	Dossiers, Documents int
	// Ends is when the last access ends; nil where some does not, or there is none.
	Ends    *time.Time
	endless bool
}

// Extents measures what people can open: for those who administer accounts, who
// learn no more than these figures.
func (g *Guard) Extents(ctx context.Context, people []uuid.UUID, now time.Time) (map[uuid.UUID]Extent, error) {
	forests, circles, _, err := g.everything(ctx)
	if err != nil {
		return nil, err
	}
	weights, err := store.AllWeights(ctx, g.db)
	if err != nil {
		return nil, err
	}
	s := surveyor{now: now, weights: weights, zones: map[access.ID]int{}, given: map[access.Subject]*given{}, parts: map[part]Extent{}}
	for _, f := range forests {
		s.take(f)
	}
	out := make(map[uuid.UUID]Extent, len(people))
	for _, p := range people {
		out[p] = s.extent(circles.Subjects(access.ID(p)))
	}
	return out, nil
}

// surveyor measures one person after the other. What people hold in a dossier
// through the same subjects, as most do, is measured once.
type surveyor struct {
	now     time.Time
	weights map[uuid.UUID]int
	// zones counts the documents of whole zones.
	zones map[access.ID]int
	given map[access.Subject]*given
	parts map[part]Extent
}

// given is where a subject holds something; number tells subjects apart.
type given struct {
	number  uint32
	forests []*access.Forest
}

// part is a dossier as it is seen by whoever holds grants through the same
// subjects, named by their numbers.
type part struct {
	forest   *access.Forest
	subjects string
}

func (s *surveyor) take(f *access.Forest) {
	for root, zone := range f.ZoneOfRoots() {
		s.zones[zone] += s.weights[uuid.UUID(root)]
	}
	for _, subject := range f.Subjects() {
		at := s.given[subject]
		if at == nil {
			at = &given{number: uint32(len(s.given))}
			s.given[subject] = at
		}
		at.forests = append(at.forests, f)
	}
}

func (s *surveyor) extent(subjects []access.Subject) Extent {
	held := map[*access.Forest][]byte{}
	for _, subject := range subjects {
		if at := s.given[subject]; at != nil {
			for _, f := range at.forests {
				held[f] = binary.NativeEndian.AppendUint32(held[f], at.number)
			}
		}
	}
	var sum Extent
	for f, numbers := range held {
		key := part{f, string(numbers)}
		e, ok := s.parts[key]
		if !ok {
			e = s.measure(f, subjects)
			s.parts[key] = e
		}
		sum.Dossiers += e.Dossiers
		sum.Documents += e.Documents
		sum.endless = sum.endless || e.endless
		if e.Ends != nil && (sum.Ends == nil || e.Ends.After(*sum.Ends)) {
			sum.Ends = e.Ends
		}
	}
	if sum.endless {
		sum.Ends = nil
	}
	return sum
}

// measure is the extent in one dossier.
func (s *surveyor) measure(f *access.Forest, subjects []access.Subject) (e Extent) {
	r := f.Reading(subjects, s.now)
	for _, z := range r.Zones {
		e.Documents += s.zones[z]
	}
	for _, root := range r.Roots {
		e.Documents += s.weights[uuid.UUID(root)]
	}
	if !r.Empty() || f.Adds(subjects, s.now) {
		e.Dossiers = 1
	}
	e.Ends, e.endless = f.LastEnd(subjects, s.now)
	return e
}
