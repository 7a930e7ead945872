package access

import (
	"encoding/binary"
	"time"
)

// Extent is how much somebody can open, and until when.
type Extent struct {
	Dossiers, Documents int
	// Ends is when the last access ends; nil where some does not, or there is none.
	Ends    *time.Time
	endless bool
}

// Extents measures what people can open in all dossiers together. Weights counts
// the documents of each root.
func Extents(forests []*Forest, c *Circles, people []ID, weights map[ID]int, now time.Time) map[ID]Extent {
	s := surveyor{now: now, weights: weights, zones: map[ID]int{}, given: map[Subject]*given{}, parts: map[part]Extent{}}
	for _, f := range forests {
		s.take(f)
	}
	out := make(map[ID]Extent, len(people))
	for _, p := range people {
		out[p] = s.extent(c.Subjects(p))
	}
	return out
}

// surveyor measures one person after the other. What people hold in a dossier
// through the same subjects, as most do, is measured once.
type surveyor struct {
	now     time.Time
	weights map[ID]int
	// zones counts the documents of whole zones.
	zones map[ID]int
	given map[Subject]*given
	parts map[part]Extent
}

// given is where a subject holds something; number tells subjects apart.
type given struct {
	number  uint32
	forests []*Forest
}

// part is a dossier as it is seen by whoever holds grants through the same
// subjects, named by their numbers.
type part struct {
	forest   *Forest
	subjects string
}

func (s *surveyor) take(f *Forest) {
	for id, n := range f.roots {
		s.zones[n.zone] += s.weights[id]
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

func (s *surveyor) extent(subjects []Subject) Extent {
	held := map[*Forest][]byte{}
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
func (s *surveyor) measure(f *Forest, subjects []Subject) (e Extent) {
	r := f.Reading(subjects, s.now)
	for _, z := range r.Zones {
		e.Documents += s.zones[z]
	}
	for _, root := range r.Roots {
		e.Documents += s.weights[root]
	}
	if !r.Empty() || f.Adds(subjects, s.now) {
		e.Dossiers = 1
	}
	e.Ends, e.endless = f.LastEnd(subjects, s.now)
	return e
}
