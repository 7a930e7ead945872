package table

import "slices"

// Carry gives steps as they fit after others that came in between. Where both write at one place, what is carried
// stands, and says what the other wrote. Names are those of the sheets.
func Carry(mine, theirs []Step, names []string) []Step {
	mine, _ = across(mine, theirs, names)
	return mine
}

// across gives both, each as it fits after the other: theirs came first.
func across(mine, theirs []Step, names []string) (m, t []Step) {
	switch {
	case len(mine) == 0 || len(theirs) == 0:
		return mine, theirs
	case len(mine) > 1:
		first, t := across(mine[:1], theirs, names)
		rest, t := across(mine[1:], t, names)
		return slices.Concat(first, rest), t
	case len(theirs) > 1:
		m, first := across(mine, theirs[:1], names)
		m, rest := across(m, theirs[1:], names)
		return m, slices.Concat(first, rest)
	}
	return over(mine[0], theirs[0], true, names), over(theirs[0], mine[0], false, names)
}

// over gives what is left of a step after another. Later says that it comes second of both: it goes behind what
// the other adds at the same place.
func over(s, other Step, later bool, names []string) []Step {
	switch {
	case other.Op == Setting && s.Op == Setting && s.Sheet == other.Sheet && later:
		return []Step{doubted(s, other)}
	case other.Op == Setting && s.Op == Setting && s.Sheet == other.Sheet:
		return without(s, other)
	case !other.Moves():
		return []Step{s}
	case s.Op == Setting:
		return cellsOver(s, other, names)
	case s.Sheet != other.Sheet:
		return []Step{s}
	case s.Op == Formated:
		return areaOver(s, other)
	case s.Op != other.Op:
		return []Step{s}
	case s.Add > 0:
		s.At = pointOver(s.At, other, later)
		return []Step{s}
	}
	return dropOver(s, other)
}

// doubted is a set over another one: where both wrote something else at a place, it says so.
func doubted(s, other Step) Step {
	if s.By == other.By {
		return s
	}
	theirs := make(map[[2]int]Entry, len(other.Cells))
	for _, e := range other.Cells {
		theirs[[2]int{e.Row, e.Column}] = e
	}
	s.Cells = slices.Clone(s.Cells)
	for i, e := range s.Cells {
		their, both := theirs[[2]int{e.Row, e.Column}]
		if !both || their.Text == e.Text {
			continue
		}
		d := Doubt{Was: their.Was, By: s.By}
		var all []Said
		// Where it was in doubt already, what stood before all of them counts.
		for _, before := range []*Doubt{their.Doubt, e.Doubt} {
			if before != nil {
				d.Was, all = before.Was, append(all, before.Others...)
			}
		}
		d.Others = latest(append(all, Said{their.Text, other.By}), s.By)
		s.Cells[i].Doubt = &d
	}
	return s
}

// mostSaid is of how many people it is kept what they wrote at one place.
const mostSaid = 8

// latest is what each of the others said last.
func latest(all []Said, except string) (kept []Said) {
	for i, s := range all {
		again := slices.ContainsFunc(all[i+1:], func(o Said) bool { return o.By == s.By })
		if s.By != except && !again {
			kept = append(kept, s)
		}
	}
	return kept[max(0, len(kept)-mostSaid):]
}

// without is a set that another overrides where both write.
func without(s, other Step) []Step {
	theirs := make(map[[2]int]bool, len(other.Cells))
	for _, e := range other.Cells {
		theirs[[2]int{e.Row, e.Column}] = true
	}
	s.Cells = slices.DeleteFunc(slices.Clone(s.Cells), func(e Entry) bool { return theirs[[2]int{e.Row, e.Column}] })
	if len(s.Cells) == 0 {
		return nil
	}
	return []Step{s}
}

// cellsOver moves what is written along with rows and columns; what is gone is not written any more.
func cellsOver(s, other Step, names []string) []Step {
	cells := make([]Entry, 0, len(s.Cells))
	for _, e := range s.Cells {
		if s.Sheet == other.Sheet {
			p := Place{s.Sheet, e.Row, e.Column}
			if p.goes(other) {
				continue
			}
			p = p.moved(other)
			e.Row, e.Column = p.Row, p.Column
		}
		e.Text = Followed(e.Text, names, s.Sheet, other)
		if e.Seen != nil {
			seen := Followed(*e.Seen, names, s.Sheet, other)
			e.Seen = &seen
		}
		cells = append(cells, e)
	}
	if len(cells) == 0 {
		return nil
	}
	s.Cells = cells
	return []Step{s}
}

// pointOver is where a place between rows or columns goes.
func pointOver(at int, other Step, later bool) int {
	switch {
	case other.Add > 0 && (at > other.At || at == other.At && later):
		return at + other.Add
	case other.Drop > 0 && at > other.At:
		return max(other.At, at-other.Drop)
	}
	return at
}

func areaOver(s, other Step) []Step {
	a := *s.Area
	from, long := &a.Row, &a.Rows
	if other.Op == Columns {
		from, long = &a.Column, &a.Columns
	}
	end := *from + *long
	switch {
	case other.Add > 0 && other.At <= *from:
		*from += other.Add
	case other.Add > 0 && other.At < end:
		*long += other.Add
	case other.Drop > 0:
		start := pointOver(*from, other, true)
		*from, *long = start, pointOver(end, other, true)-start
	}
	if *long < 1 {
		return nil
	}
	s.Area = &a
	return []Step{s}
}

// dropOver takes rows or columns away after others came or went: what was added within stays.
func dropOver(s, other Step) []Step {
	end := s.At + s.Drop
	if other.Add > 0 && other.At > s.At && other.At < end {
		first, second := s, s
		first.Drop = other.At - s.At
		second.At, second.Drop = s.At+other.Add, end-other.At
		return []Step{first, second}
	}
	from := pointOver(s.At, other, true)
	s.At, s.Drop = from, pointOver(end, other, true)-from
	if other.Add > 0 && other.At >= end {
		// What is added right behind stays behind.
		s.At, s.Drop = from, end-from
	}
	if s.Drop < 1 {
		return nil
	}
	return []Step{s}
}
