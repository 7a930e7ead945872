package access

import (
	"bytes"
	"slices"
	"time"
)

// Reading is all that a person may see in one or several dossiers: whole zones,
// and single roots outside of those, each in the order of their ids.
type Reading struct {
	Zones, Roots []ID
	// Ends is the next moment at which it may change by itself.
	Ends *time.Time
}

// Empty reports whether there is nothing to see.
func (r Reading) Empty() bool { return len(r.Zones) == 0 && len(r.Roots) == 0 }

// Join adds another dossier's reading. Order comes after the last of them.
func (r *Reading) Join(o Reading) {
	r.Zones = append(r.Zones, o.Zones...)
	r.Roots = append(r.Roots, o.Roots...)
	r.Ends = Earlier(r.Ends, o.Ends)
}

// Order puts the ids in order.
func (r *Reading) Order() {
	slices.SortFunc(r.Zones, compareIDs)
	slices.SortFunc(r.Roots, compareIDs)
}

func compareIDs(a, b ID) int { return bytes.Compare(a[:], b[:]) }

// Reading computes what somebody with these subjects may see, from their grants
// downward.
func (f *Forest) Reading(subjects []Subject, now time.Time) Reading {
	var r Reading
	starts := map[*node]bool{}
	manager := false
	for _, s := range subjects {
		for _, g := range f.bySubject[s] {
			if !g.Active(now) {
				continue
			}
			r.Ends = Earlier(r.Ends, g.Ends)
			if n := f.roots[g.Item]; g.Caps().Has(See) {
				starts[n] = true
				manager = manager || n == f.top && g.Caps().Has(Manage)
			}
		}
	}
	whole := map[ID]bool{}
	for n := range starts {
		if n.zone == n.ID {
			whole[n.ID] = true
		}
	}
	if manager {
		for _, n := range f.closed {
			whole[n.ID] = true
		}
	}
	for z := range whole {
		r.Zones = append(r.Zones, z)
	}
	seen := map[*node]bool{}
	var take func(n *node)
	take = func(n *node) {
		if seen[n] || whole[n.zone] {
			return
		}
		seen[n] = true
		r.Roots = append(r.Roots, n.ID)
		for _, c := range n.children {
			if c.zone == n.zone {
				take(c)
			}
		}
	}
	for n := range starts {
		take(n)
	}
	r.Order()
	return r
}

// Holds reports whether the items of a root in a zone are among the reading.
func (r Reading) Holds(zone, root ID) bool {
	if _, ok := slices.BinarySearchFunc(r.Zones, zone, compareIDs); ok {
		return true
	}
	_, ok := slices.BinarySearchFunc(r.Roots, root, compareIDs)
	return ok
}

// Hidden lists the single documents in a folder that the reading does not hold.
func (f *Forest) Hidden(folder ID, r Reading) []ID {
	var out []ID
	for _, n := range f.closed {
		if n.Folder == folder && folder != (ID{}) && !r.Holds(n.zone, n.ID) {
			out = append(out, n.ID)
		}
	}
	return out
}

// Single lists the single documents in a folder that the reading holds: all of
// a zone's, and those that are held by themselves.
func (f *Forest) Single(folder ID, r Reading) []ID {
	if folder == (ID{}) {
		return nil
	}
	var out []ID
	if len(r.Zones) > 0 {
		for _, n := range f.roots {
			if n.Folder == folder && r.Holds(n.zone, ID{}) {
				out = append(out, n.ID)
			}
		}
	}
	for _, id := range r.Roots {
		if n := f.roots[id]; n != nil && n.Folder == folder && !r.Holds(n.zone, ID{}) {
			out = append(out, id)
		}
	}
	return out
}

// Admits reports whether somebody who held with some subjects and now holds with
// others sees something of the dossier that they did not see before. Whoever
// administers groups may put themselves into one and come in by it; that is not
// refused, since they answer for the groups, but it never happens unseen: those who
// manage the dossier are told in the same act.
func (f *Forest) Admits(before, after []Subject, now time.Time) bool {
	had, has := f.Reading(before, now), f.Reading(after, now)
	return slices.ContainsFunc(has.Zones, func(zone ID) bool { return !had.Holds(zone, ID{}) }) ||
		slices.ContainsFunc(has.Roots, func(root ID) bool { return !had.Holds(f.Zone(root), root) })
}

// Company lists whom the grants are for that count on something of the reading:
// with whom whoever has it shares what they see.
func (f *Forest) Company(r Reading, now time.Time) []Subject {
	seen, out := map[Subject]bool{}, []Subject(nil)
	done := map[*node]bool{}
	for _, n := range f.roots {
		if !r.Holds(n.zone, n.ID) {
			continue
		}
		for up, shut := n, false; up != nil && !done[up]; up = up.parent {
			if shut && up != f.top {
				continue
			}
			// Behind a closed door only the managers of the top count, who are seen with
			// what is not closed as well.
			done[up] = !shut
			for _, g := range up.grants {
				if g.Active(now) && !seen[g.Subject] && (!shut || g.Caps().Has(Manage)) {
					seen[g.Subject] = true
					out = append(out, g.Subject)
				}
			}
			shut = shut || up.Closed
		}
	}
	return out
}

// Zones are all zones of the dossier: its top and what is closed in it.
func (f *Forest) Zones() []ID {
	zones := []ID{f.top.ID}
	for _, n := range f.closed {
		zones = append(zones, n.ID)
	}
	return zones
}

// Zone is the zone of a root.
func (f *Forest) Zone(root ID) ID {
	if n := f.roots[root]; n != nil {
		return n.zone
	}
	return ID{}
}
