package richtext

// StepMap says which ranges a step replaced: each begins at start, was old long
// and is new long. Positions are carried over it.
type StepMap struct {
	spans    []span
	inverted bool
}

type span struct{ start, old, new int }

// Inverted maps the other way.
func (m StepMap) Inverted() StepMap { return StepMap{m.spans, !m.inverted} }

// What happened to a position.
const (
	goneBefore = 1 << iota
	goneAfter
	goneAcross
	goneBeside
)

// mapped is a carried position, what was deleted around it, and, where it lay in
// a replaced range, in which one and how far within.
type mapped struct {
	at, gone      int
	within, depth int
}

func (s span) sizes(inverted bool) (old, new int) {
	if inverted {
		return s.new, s.old
	}
	return s.old, s.new
}

// carry maps a position. Side tells which way one goes where content was inserted
// at it: -1 stays before, 1 goes after.
func (m StepMap) carry(at, side int) mapped {
	shift := 0
	for i, s := range m.spans {
		start := s.start
		if m.inverted {
			start -= shift
		}
		if start > at {
			break
		}
		old, new := s.sizes(m.inverted)
		end := start + old
		if at <= end {
			to := side
			switch {
			case old == 0:
			case at == start:
				to = -1
			case at == end:
				to = 1
			}
			r := mapped{at: start + shift, within: i, depth: at - start}
			if to >= 0 {
				r.at += new
			}
			edge := end
			if side < 0 {
				edge = start
			}
			if at == edge {
				r.within = -1
			}
			if old > 0 {
				switch at {
				case start:
					r.gone = goneAfter
				case end:
					r.gone = goneBefore
				default:
					r.gone = goneAcross
				}
				if at != edge {
					r.gone |= goneBeside
				}
			}
			return r
		}
		shift += new - old
	}
	return mapped{at: at + shift, within: -1}
}

// recover finds a position again in a range that came back.
func (m StepMap) recover(within, depth int) int {
	shift := 0
	if !m.inverted {
		for _, s := range m.spans[:within] {
			shift += s.new - s.old
		}
	}
	return m.spans[within].start + shift + depth
}

// Map carries a position over the step.
func (m StepMap) Map(at, side int) int { return m.carry(at, side).at }

// Mapping is several maps, one after the other. Where one brings back what an
// earlier one took away, they mirror each other, and a position that lay in the
// range is found again.
type Mapping struct {
	maps   []StepMap
	mirror map[int]int
}

// Over is the mapping over maps.
func Over(maps ...StepMap) *Mapping { return &Mapping{maps: maps, mirror: map[int]int{}} }

func (m *Mapping) add(one StepMap) { m.maps = append(m.maps, one) }

func (m *Mapping) mirrored(a, b int) { m.mirror[a], m.mirror[b] = b, a }

// carry maps a position over the maps from one on.
func (m *Mapping) carry(from, at, side int) mapped {
	gone := 0
	for i := from; i < len(m.maps); i++ {
		r := m.maps[i].carry(at, side)
		if r.within >= 0 {
			if back, ok := m.mirror[i]; ok && back > i {
				at, i = m.maps[back].recover(r.within, r.depth), back
				continue
			}
		}
		gone |= r.gone
		at = r.at
	}
	return mapped{at: at, gone: gone, within: -1}
}

// Map carries a position over all of them.
func (m *Mapping) Map(at, side int) int { return m.carry(0, at, side).at }
