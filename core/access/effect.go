package access

import (
	"encoding/binary"
	"time"
)

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

// count adds n documents on which somebody could do had before, and may do has
// after.
func (e *Effect) count(had, has Caps, n int) {
	if had.Has(See) {
		e.Could += n
	}
	switch {
	case had == has:
	case !had.Has(See) && has.Has(See):
		e.Gains += n
	case had.Has(See) && !has.Has(See):
		e.Loses += n
	case had.Has(See):
		e.Caps += n
	}
}

// Compare says whom a change concerns. Weights counts the documents of each
// root after the change; only roots in it are looked at. People who see and may
// do as before are left out. The order is that of people.
//
// Most roots are single documents with a grant or two. What somebody holds on
// those is told apart from what they hold further up, which they share with
// many: that is decided once for all of them, root by root.
func Compare(before, after *Forest, was, will *Circles, people []ID, weights map[ID]int, now time.Time) []Effect {
	old, then := newLedger(before, now), newLedger(after, now)
	c := comparison{old: old, then: then, shared: map[string]*common{}}
	for root, n := range weights {
		if to := after.roots[root]; to != nil {
			c.rows = append(c.rows, row{old.place(before.roots[after.standsOn(root, before)]), then.place(to), n})
		}
	}
	c.tellApart()
	var out []Effect
	for _, p := range people {
		held := was.Subjects(p)
		holds := held
		if was != will {
			holds = will.Subjects(p)
		}
		e := c.effect(held, holds)
		if e.Gains+e.Loses+e.Caps == 0 {
			continue
		}
		e.Person = p
		if a, ok := will.Account(p); ok {
			e.Outside = a.Outside
		} else if a, ok := was.Account(p); ok {
			e.Outside = a.Outside
		}
		out = append(out, e)
	}
	return out
}

// row is a root that is compared: its places in the ledgers of before and
// after, and its documents.
type row struct{ old, then, n int }

type comparison struct {
	old, then *ledger
	rows      []row
	// shared keeps what is decided for people who hold the same further up.
	shared map[string]*common
	// key, had, has and touched are room that is used again for each person.
	key      []byte
	had, has []Caps
	touched  []int
}

// common is what people who hold the same further up have in common.
type common struct {
	effect   Effect
	had, has []Caps
}

// tellApart finds the rows that can be decided by themselves: those whose
// places nothing hangs on, and no other row shares.
func (c *comparison) tellApart() {
	shares := make([]int, len(c.old.nodes))
	for _, r := range c.rows {
		shares[r.old]++
	}
	for i, r := range c.rows {
		if shares[r.old] == 1 && !c.old.inner[r.old] && !c.then.inner[r.then] {
			c.old.single[r.old], c.then.single[r.then] = i, i
		}
	}
	c.old.sort()
	c.then.sort()
	c.had, c.has = make([]Caps, len(c.rows)), make([]Caps, len(c.rows))
}

// effect compares what somebody with the subjects held could do with what
// somebody with the subjects holds may.
func (c *comparison) effect(held, holds []Subject) Effect {
	base := c.common(held, holds)
	e := base.effect
	c.touched = c.touched[:0]
	take := func(l *ledger, subjects []Subject, into []Caps) {
		for _, s := range subjects {
			if h := l.holdings[s]; h != nil {
				for _, m := range h.single {
					row := l.single[m.at]
					if c.had[row]|c.has[row] == 0 {
						c.touched = append(c.touched, row)
					}
					into[row] |= m.caps
				}
			}
		}
	}
	take(c.old, held, c.had)
	take(c.then, holds, c.has)
	for _, i := range c.touched {
		r := c.rows[i]
		x, y := base.had[r.old], base.has[r.then]
		e.count(x, y, -r.n)
		e.count(x|c.had[i], y|c.has[i], r.n)
		c.had[i], c.has[i] = 0, 0
	}
	return e
}

// common decides all rows by what is held further up.
func (c *comparison) common(held, holds []Subject) *common {
	c.key = c.then.key(holds, append(c.old.key(held, c.key[:0]), 0xff, 0xff, 0xff, 0xff))
	if found, ok := c.shared[string(c.key)]; ok {
		return found
	}
	x := &common{had: c.old.caps(held), has: c.then.caps(holds)}
	for _, r := range c.rows {
		x.effect.count(x.had[r.old], x.has[r.then], r.n)
	}
	c.shared[string(c.key)] = x
	return x
}

// ledger decides roots for one person after the other, from the top down,
// without looking at the grants of others.
type ledger struct {
	forest *Forest
	now    time.Time
	nodes  []*node
	at     map[*node]int
	parent []int
	// inner marks the places that others hang on; single is the row that
	// another place is decided in by itself, or -1.
	inner    []bool
	single   []int
	holdings map[Subject]*holding
	numbered uint32
}

// holding is what a subject holds: further up, and on single rows. Number tells
// apart those that hold something further up; manager is what it may do behind
// closed doors.
type holding struct {
	number        uint32
	above, single []mark
	manager       Caps
}

// mark is what a grant gives at a place.
type mark struct {
	at   int
	caps Caps
}

func newLedger(f *Forest, now time.Time) *ledger {
	return &ledger{forest: f, now: now, at: map[*node]int{}, holdings: map[Subject]*holding{}}
}

// place gives a node its place, after those above it.
func (l *ledger) place(n *node) int {
	if at, ok := l.at[n]; ok {
		return at
	}
	parent := 0
	if n.parent != nil {
		parent = l.place(n.parent)
		l.inner[parent] = true
	}
	at := len(l.nodes)
	l.nodes, l.parent, l.inner, l.single, l.at[n] = append(l.nodes, n), append(l.parent, parent), append(l.inner, false), append(l.single, -1), at
	return at
}

// sort notes what is held at the places, once it is known which are single.
func (l *ledger) sort() {
	for at, n := range l.nodes {
		for _, g := range n.grants {
			if !g.Active(l.now) {
				continue
			}
			h := l.holdings[g.Subject]
			if h == nil {
				h = &holding{}
				l.holdings[g.Subject] = h
			}
			if l.single[at] >= 0 {
				h.single = append(h.single, mark{at, g.Caps()})
				continue
			}
			if h.above == nil {
				l.numbered++
				h.number = l.numbered
			}
			h.above = append(h.above, mark{at, g.Caps()})
			if n == l.forest.top && g.Caps().Has(Manage) {
				h.manager |= g.Caps()
			}
		}
	}
}

// key appends the numbers of those subjects that hold something further up.
func (l *ledger) key(subjects []Subject, key []byte) []byte {
	for _, s := range subjects {
		if h := l.holdings[s]; h != nil && h.above != nil {
			key = binary.NativeEndian.AppendUint32(key, h.number)
		}
	}
	return key
}

// caps returns what somebody with these subjects may do at each place, by what
// they hold further up.
func (l *ledger) caps(subjects []Subject) []Caps {
	var manager Caps
	sum := make([]Caps, len(l.nodes))
	for _, s := range subjects {
		if h := l.holdings[s]; h != nil {
			manager |= h.manager
			for _, m := range h.above {
				sum[m.at] |= m.caps
			}
		}
	}
	for i, n := range l.nodes {
		switch {
		case i == 0:
		case n.Closed:
			sum[i] |= manager
		default:
			sum[i] |= sum[l.parent[i]]
		}
	}
	return sum
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
