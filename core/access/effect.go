package access

import "time"

// Effect is what a change gives or takes from one person, counted in documents.
type Effect struct {
	Person  ID
	Outside bool
	// Gains and Loses count documents that become visible, or no longer are.
	Gains, Loses int
	// Caps counts documents on which what one may do changes, seen before and
	// after.
	Caps int
	// Could counts what the person could see there before.
	Could int
}

// Compare says whom a change concerns. Weights counts the documents of each
// root after the change; only roots in it are looked at. People who see and may
// do as before are left out. The order is that of people.
func Compare(before, after *Forest, was, will *Circles, people []ID, weights map[ID]int, now time.Time) []Effect {
	old, then := newLedger(before, now), newLedger(after, now)
	type weighed struct{ old, then, n int }
	var roots []weighed
	for root, n := range weights {
		roots = append(roots, weighed{old.at[before.roots[after.standsOn(root, before)]], then.at[after.roots[root]], n})
	}
	var out []Effect
	for _, p := range people {
		e := Effect{Person: p}
		if a, ok := will.Account(p); ok {
			e.Outside = a.Outside
		} else if a, ok := was.Account(p); ok {
			e.Outside = a.Outside
		}
		had, has := old.caps(was.Subjects(p)), then.caps(will.Subjects(p))
		for _, r := range roots {
			x, y := had[r.old], has[r.then]
			if x.Has(See) {
				e.Could += r.n
			}
			switch {
			case x == y:
			case !x.Has(See) && y.Has(See):
				e.Gains += r.n
			case x.Has(See) && !y.Has(See):
				e.Loses += r.n
			case x.Has(See):
				e.Caps += r.n
			}
		}
		if e.Gains+e.Loses+e.Caps > 0 {
			out = append(out, e)
		}
	}
	return out
}

// ledger decides all roots of a dossier for one person after the other, from
// the top down, without looking at the grants of others.
type ledger struct {
	forest *Forest
	now    time.Time
	nodes  []*node
	at     map[*node]int
	parent []int
	own    []Caps
	sum    []Caps
}

func newLedger(f *Forest, now time.Time) *ledger {
	l := &ledger{forest: f, now: now, at: make(map[*node]int, len(f.roots))}
	var place func(n *node, parent int)
	place = func(n *node, parent int) {
		at := len(l.nodes)
		l.nodes, l.parent, l.at[n] = append(l.nodes, n), append(l.parent, parent), at
		for _, c := range n.children {
			place(c, at)
		}
	}
	place(f.top, 0)
	l.own, l.sum = make([]Caps, len(l.nodes)), make([]Caps, len(l.nodes))
	return l
}

// caps returns what somebody with these subjects may do at each root. The next
// call overwrites it.
func (l *ledger) caps(subjects []Subject) []Caps {
	clear(l.own)
	var manager Caps
	for _, s := range subjects {
		for _, g := range l.forest.bySubject[s] {
			if !g.Active(l.now) {
				continue
			}
			n := l.forest.roots[g.Item]
			l.own[l.at[n]] |= g.Caps()
			if n == l.forest.top && g.Caps().Has(Manage) {
				manager |= g.Caps()
			}
		}
	}
	for i, n := range l.nodes {
		switch {
		case i == 0:
			l.sum[i] = l.own[i]
		case n.Closed:
			l.sum[i] = manager | l.own[i]
		default:
			l.sum[i] = l.sum[l.parent[i]] | l.own[i]
		}
	}
	return l.sum
}

// standsOn is the root by which the items of one of f's roots are decided in
// another shape of the same dossier.
func (f *Forest) standsOn(root ID, in *Forest) ID {
	for n := f.roots[root]; n != nil; n = n.parent {
		if in.roots[n.ID] != nil {
			return n.ID
		}
	}
	return in.top.ID
}
