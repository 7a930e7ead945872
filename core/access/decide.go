package access

import (
	"slices"
	"time"
)

// Way is one grant by which somebody comes to an item.
type Way struct {
	Grant Grant
	// Through is the chain of groups from the person to the grant's subject.
	Through []ID
	// AsManager marks a grant that counts behind a closed door because it
	// manages the dossier.
	AsManager bool
}

// Decision is what a person may do with an item, and the ways that contribute
// to it, from the nearest root up.
type Decision struct {
	Caps Caps
	Ways []Way
	// Ends is the next moment at which the decision may change by itself.
	Ends *time.Time
}

// Sees reports whether the item exists for the person, who may have added it.
func (d Decision) Sees(own bool) bool { return d.Caps.Has(See) || own && d.Caps.Has(Add) }

// Decide computes what the person may do with the items of a root, without
// saying why.
func (f *Forest) Decide(root ID, subjects []Subject, now time.Time) Decision {
	var d Decision
	f.each(root, now, func(g Grant, _ bool) {
		for _, s := range subjects {
			if s == g.Subject {
				d.Caps |= g.Caps()
				d.Ends = Earlier(d.Ends, g.Ends)
				return
			}
		}
	})
	return d
}

// Explain is Decide with the ways that lead to the answer.
func (f *Forest) Explain(root, person ID, c *Circles, now time.Time) Decision {
	subjects := c.Subjects(person)
	d := f.Decide(root, subjects, now)
	f.each(root, now, func(g Grant, manager bool) {
		for _, s := range subjects {
			if s == g.Subject {
				d.Ways = append(d.Ways, Way{Grant: g, Through: c.Through(person, s), AsManager: manager})
				return
			}
		}
	})
	return d
}

// each visits the running grants that count on a root: those on it and above it
// up to the nearest closed root, and beyond that those which manage the dossier.
func (f *Forest) each(root ID, now time.Time, visit func(g Grant, manager bool)) {
	shut := false
	for n := f.roots[root]; n != nil; n = n.parent {
		if !shut || n == f.top {
			for _, g := range n.grants {
				if g.Active(now) && (!shut || g.Caps().Has(Manage)) {
					visit(g, shut)
				}
			}
		}
		shut = shut || n.Closed
	}
}

// Reacher is somebody who can open an item, and how.
type Reacher struct {
	Person ID
	Decision
}

// Reach lists who may see the items of a root, in no order.
func (f *Forest) Reach(root ID, c *Circles, now time.Time) []Reacher {
	seen := map[ID]bool{}
	var out []Reacher
	f.each(root, now, func(g Grant, _ bool) {
		for _, p := range c.People(g.Subject) {
			if seen[p] {
				continue
			}
			seen[p] = true
			if d := f.Explain(root, p, c, now); d.Caps.Has(See) {
				out = append(out, Reacher{p, d})
			}
		}
	})
	return out
}

// Door counts who can open an item: people inside the practice, and outside.
type Door struct {
	Inside, Outside int
	// Ends is the next moment at which the counts may change by themselves.
	Ends *time.Time
}

// Door counts the reach of a root.
func (f *Forest) Door(root ID, c *Circles, now time.Time) Door {
	var d Door
	seen := map[ID]bool{}
	f.each(root, now, func(g Grant, _ bool) {
		d.Ends = Earlier(d.Ends, g.Ends)
		if !g.Caps().Has(See) {
			return
		}
		for _, p := range c.People(g.Subject) {
			if seen[p] {
				continue
			}
			seen[p] = true
			if c.accounts[p].Outside {
				d.Outside++
			} else {
				d.Inside++
			}
		}
	})
	return d
}

// DoorWithin is the door of the dossier's top, at which whoever from outside can open
// something further down counts, too; of roots that are not seen nothing is said.
func (f *Forest) DoorWithin(c *Circles, now time.Time, sees func(root ID) bool) Door {
	d := f.Door(f.top.ID, c, now)
	outside := map[ID]bool{}
	for subject, grants := range f.bySubject {
		guests := slices.DeleteFunc(c.People(subject), func(p ID) bool { return !c.accounts[p].Outside })
		if len(guests) == 0 {
			continue
		}
		for _, g := range grants {
			if !g.Active(now) || !g.Caps().Has(See) || g.Item != f.top.ID && !sees(g.Item) {
				continue
			}
			d.Ends = Earlier(d.Ends, g.Ends)
			for _, p := range guests {
				outside[p] = true
			}
		}
	}
	d.Outside = len(outside)
	return d
}

// Adds reports whether somebody with these subjects may add somewhere in the
// dossier.
func (f *Forest) Adds(subjects []Subject, now time.Time) bool {
	for _, s := range subjects {
		for _, g := range f.bySubject[s] {
			if g.Active(now) && g.Caps().Has(Add) {
				return true
			}
		}
	}
	return false
}

// LastEnd is when the last running grant of the subjects in the dossier ends;
// endless where some does not.
func (f *Forest) LastEnd(subjects []Subject, now time.Time) (last *time.Time, endless bool) {
	for _, s := range subjects {
		for _, g := range f.bySubject[s] {
			switch {
			case !g.Active(now):
			case g.Ends == nil:
				return nil, true
			case last == nil || g.Ends.After(*last):
				last = g.Ends
			}
		}
	}
	return last, false
}

// Ways lists the running grants that count on a root, from the nearest root up.
func (f *Forest) Ways(root ID, now time.Time) []Way {
	var out []Way
	f.each(root, now, func(g Grant, manager bool) { out = append(out, Way{Grant: g, AsManager: manager}) })
	return out
}
