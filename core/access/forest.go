package access

import (
	"fmt"
	"slices"
	"time"
)

// Root is an item at which access may change: a dossier's top, a closed item,
// or an item with grants of its own.
type Root struct {
	ID ID
	// Parent is the root above; the top has none.
	Parent ID
	Closed bool
	// Folder is the folder in which a single document lies; zero for folders.
	Folder ID
}

type node struct {
	Root
	zone     ID
	parent   *node
	children []*node
	grants   []Grant
}

// Forest is one dossier's roots with the grants that stand on them. It does not
// change once made.
type Forest struct {
	top   *node
	roots map[ID]*node
	// bySubject finds the grants a person may hold without walking all roots.
	bySubject map[Subject][]Grant
	closed    []*node
}

// NewForest puts a dossier's roots and grants together. It refuses roots whose
// parents are not among them, and grants that stand elsewhere.
func NewForest(top ID, roots []Root, grants []Grant) (*Forest, error) {
	f := &Forest{roots: make(map[ID]*node, len(roots)), bySubject: map[Subject][]Grant{}}
	for _, r := range roots {
		f.roots[r.ID] = &node{Root: r}
	}
	for _, r := range roots {
		n := f.roots[r.ID]
		if r.ID == top {
			f.top = n
			continue
		}
		if n.parent = f.roots[r.Parent]; n.parent == nil {
			return nil, fmt.Errorf("root %x has no parent", r.ID)
		}
		n.parent.children = append(n.parent.children, n)
	}
	if f.top == nil {
		return nil, fmt.Errorf("dossier %x has no top", top)
	}
	if placed := f.mark(f.top, top); placed != len(roots) {
		return nil, fmt.Errorf("%d of %d roots hang together", placed, len(roots))
	}
	for _, g := range grants {
		n := f.roots[g.Item]
		if n == nil {
			return nil, fmt.Errorf("grant %x stands on no root", g.ID)
		}
		n.grants = append(n.grants, g)
		f.bySubject[g.Subject] = append(f.bySubject[g.Subject], g)
	}
	return f, nil
}

// mark sets the zones from a root down, and counts the roots.
func (f *Forest) mark(n *node, zone ID) int {
	if n.Closed {
		zone = n.ID
		f.closed = append(f.closed, n)
	}
	n.zone = zone
	count := 1
	for _, c := range n.children {
		count += f.mark(c, zone)
	}
	return count
}

// Root returns a root of the dossier.
func (f *Forest) Root(id ID) (Root, bool) {
	n, ok := f.roots[id]
	if !ok {
		return Root{}, false
	}
	return n.Root, true
}

// Subjects lists whom the dossier's grants are for.
func (f *Forest) Subjects() []Subject {
	out := make([]Subject, 0, len(f.bySubject))
	for s := range f.bySubject {
		out = append(out, s)
	}
	return out
}

// Plan is a change that is not made yet. Of its parts only those that are set
// count.
type Plan struct {
	// NewRoot becomes a root first, above those of the roots in Below.
	NewRoot *Root
	Below   []ID
	// Add gives, Remove ends a grant.
	Add    []Grant
	Remove []ID
	// Close and Open change whether a root is closed.
	Close, Open *ID
}

// With returns the dossier as it would be after the plan.
func (f *Forest) With(p Plan) (*Forest, error) {
	var roots []Root
	var grants []Grant
	for _, n := range f.roots {
		r := n.Root
		if p.NewRoot != nil && slices.Contains(p.Below, r.ID) {
			r.Parent = p.NewRoot.ID
		}
		if p.Close != nil && *p.Close == r.ID {
			r.Closed = true
		}
		if p.Open != nil && *p.Open == r.ID {
			r.Closed = false
		}
		roots = append(roots, r)
		for _, g := range n.grants {
			if !slices.Contains(p.Remove, g.ID) {
				grants = append(grants, g)
			}
		}
	}
	if p.NewRoot != nil {
		r := *p.NewRoot
		r.Closed = p.Close != nil && *p.Close == r.ID
		roots = append(roots, r)
	}
	return NewForest(f.top.ID, roots, append(grants, p.Add...))
}

// Managers lists the subjects that manage the dossier at the moment.
func (f *Forest) Managers(now time.Time) []Grant {
	var out []Grant
	for _, g := range f.top.grants {
		if g.Caps().Has(Manage) && g.Active(now) {
			out = append(out, g)
		}
	}
	return out
}

// Managed reports whether an active account manages the dossier for good.
func (f *Forest) Managed(c *Circles, now time.Time) bool {
	for _, g := range f.Managers(now) {
		if g.Ends == nil && len(c.People(g.Subject)) > 0 {
			return true
		}
	}
	return false
}

// Below lists a root and all roots under it.
func (f *Forest) Below(root ID) []ID {
	n := f.roots[root]
	if n == nil {
		return nil
	}
	all := []*node{n}
	for at := 0; at < len(all); at++ {
		all = append(all, all[at].children...)
	}
	ids := make([]ID, len(all))
	for i, n := range all {
		ids[i] = n.ID
	}
	return ids
}

// Given lists the roots on which running grants of the subjects may count: those
// they stand on, and all below.
func (f *Forest) Given(subjects []Subject, now time.Time) []ID {
	var out []ID
	seen := map[ID]bool{}
	for _, s := range subjects {
		for _, g := range f.bySubject[s] {
			if !g.Active(now) || seen[g.Item] {
				continue
			}
			for _, id := range f.Below(g.Item) {
				if !seen[id] {
					seen[id] = true
					out = append(out, id)
				}
			}
		}
	}
	return out
}

// SubjectOf says whom a grant is for.
func (f *Forest) SubjectOf(grant ID) (Subject, bool) {
	for s, grants := range f.bySubject {
		for _, g := range grants {
			if g.ID == grant {
				return s, true
			}
		}
	}
	return Subject{}, false
}
