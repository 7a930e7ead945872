package table

import "slices"

// Merged are the changes that put what came in by another way into the table as it stands, where both began with an older one.
// It fails where rows, columns or sheets of what came in do not lie as they did, or where both changed the same place.
func Merged(old, came, now *Book, since []Step) (steps []Step, ok bool) {
	if len(old.Sheets) != len(came.Sheets) || old.Manner != came.Manner {
		return nil, false
	}
	for i := range old.Sheets {
		was, is := &old.Sheets[i], &came.Sheets[i]
		if was.Name != is.Name || lastRow(*was) != lastRow(*is) || was.Columns != is.Columns {
			return nil, false
		}
		set := Step{Op: Setting, Sheet: i}
		for r := range max(len(was.Rows), len(is.Rows)) {
			for c := range is.Columns {
				before, after := was.At(r, c), is.At(r, c)
				if before.Text != after.Text {
					set.Cells = append(set.Cells, Entry{Row: r, Column: c, Text: after.Text})
				}
			}
		}
		if len(set.Cells) > 0 {
			steps = append(steps, set)
		}
	}
	wanted := 0
	for _, s := range steps {
		wanted += len(s.Cells)
	}
	steps = Carry(steps, since, now.Names())
	for _, s := range steps {
		if slices.ContainsFunc(s.Cells, func(e Entry) bool { return e.Doubt != nil }) {
			return nil, false
		}
		wanted -= len(s.Cells)
	}
	return steps, wanted == 0
}

// Change is what was written at a place, where that is now.
type Change struct {
	Place
	Was, Text string
	By        string
	// Step counts from 0 which of the steps it was.
	Step int
}

// Changes are the newest of what steps wrote, the newest first, where that is now; what is gone is left out.
func Changes(steps []Step, most int) []Change {
	var all []Change
	for i, s := range steps {
		switch s.Op {
		case Setting:
			for _, e := range s.Cells {
				if e.Was != e.Text {
					all = append(all, Change{Place{s.Sheet, e.Row, e.Column}, e.Was, e.Text, s.By, i})
				}
			}
		case Rows, Columns:
			all = slices.DeleteFunc(all, func(c Change) bool { return c.goes(s) })
			for j := range all {
				all[j].Place = all[j].moved(s)
			}
		}
		if len(all) > 2*most {
			all = slices.Clone(all[len(all)-most:])
		}
	}
	slices.Reverse(all)
	return all[:min(len(all), most)]
}

// goes says that a place is taken away.
func (p Place) goes(s Step) bool {
	at := p.Row
	if s.Op == Columns {
		at = p.Column
	}
	return p.Sheet == s.Sheet && s.Drop > 0 && at >= s.At && at < s.At+s.Drop
}

// moved is where a place is after rows or columns came or went.
func (p Place) moved(s Step) Place {
	switch {
	case p.Sheet != s.Sheet:
	case s.Op == Columns:
		p.Column = pointOver(p.Column, s, true)
	default:
		p.Row = pointOver(p.Row, s, true)
	}
	return p
}

// SaidBy are those who said something.
func SaidBy(all []Said) (ids []string) {
	for _, s := range all {
		ids = append(ids, s.By)
	}
	return ids
}
