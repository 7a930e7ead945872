package access

import (
	"fmt"
	"maps"
	"math/rand/v2"
	"slices"
	"testing"
	"time"
)

// plot is an item of a random world, as plainly as it can be written down.
type plot struct {
	id, parent ID
	folder     bool
	closed     bool
}

// world is a dossier without roots and zones: items, grants, people, groups.
type world struct {
	items    []plot
	grants   []Grant
	accounts []Account
	members  []Membership
}

func randomWorld(r *rand.Rand) world {
	w := world{items: []plot{{id: id("i0"), folder: true}}}
	for i := 1; i < 2+r.IntN(14); i++ {
		parent := w.items[r.IntN(len(w.items))]
		for !parent.folder {
			parent = w.items[r.IntN(len(w.items))]
		}
		w.items = append(w.items, plot{id(fmt.Sprint("i", i)), parent.id, r.IntN(3) > 0, r.IntN(5) == 0})
	}
	for i := range 6 {
		w.accounts = append(w.accounts, Account{id(fmt.Sprint("p", i)), i > 3})
	}
	for range r.IntN(10) {
		m := Subject{Person, id(fmt.Sprint("p", r.IntN(7)))}
		g := r.IntN(4)
		if r.IntN(3) == 0 && g > 0 {
			m = Subject{Group, id(fmt.Sprint("g", r.IntN(g)))}
		}
		w.members = append(w.members, Membership{id(fmt.Sprint("g", g)), m})
	}
	for i := range r.IntN(10) {
		w.grants = append(w.grants, randomGrant(r, i, w.items[r.IntN(len(w.items))].id))
	}
	return w
}

func randomGrant(r *rand.Rand, n int, item ID) Grant {
	g := Grant{ID: id(fmt.Sprint("grant", n)), Item: item, Subject: Subject{Person, id(fmt.Sprint("p", r.IntN(6)))}, Onward: r.IntN(4) == 0}
	switch r.IntN(4) {
	case 0:
		g.Subject = Subject{Group, id(fmt.Sprint("g", r.IntN(4)))}
	case 1:
		if r.IntN(3) == 0 {
			g.Subject = Subject{Kind: Everyone}
		}
	}
	all := Levels()
	if g.Level = all[r.IntN(len(all))]; r.IntN(6) == 0 {
		g.Level, g.OwnSet = LevelOwnSet, See|Caps(1<<r.IntN(9))
	}
	if r.IntN(3) == 0 {
		g.Ends = at(r.IntN(5) - 2)
	}
	return g
}

func (w world) item(i ID) plot {
	for _, it := range w.items {
		if it.id == i {
			return it
		}
	}
	return plot{}
}

// belongs asks membership the slow way, one group after another.
func (w world) belongs(p ID, s Subject, depth int) bool {
	active, outside := false, false
	for _, a := range w.accounts {
		if a.ID == p {
			active, outside = true, a.Outside
		}
	}
	switch {
	case !active || depth > 20:
		return false
	case s.Kind == Person:
		return s.ID == p
	case s.Kind == Everyone:
		return !outside
	}
	for _, m := range w.members {
		if m.Group == s.ID && w.belongs(p, m.Member, depth+1) {
			return true
		}
	}
	return false
}

// may decides one item for one person by going from it to the top, item by
// item. It shares no code with the forest.
func (w world) may(item, p ID, now time.Time) (caps Caps, ways []ID) {
	shut := false
	for at := w.item(item); ; at = w.item(at.parent) {
		top := at.parent == ID{}
		for _, g := range w.grants {
			running := g.Ends == nil || g.Ends.Sub(now) > 0
			if g.Item != at.id || !running || !w.belongs(p, g.Subject, 0) {
				continue
			}
			if shut && (!top || g.Caps()&Manage == 0) {
				continue
			}
			caps |= g.Caps()
			ways = append(ways, g.ID)
		}
		shut = shut || at.closed
		if top {
			return caps, ways
		}
	}
}

// forest makes roots of the items that need it, and of some that do not.
func (w world) forest(t *testing.T, r *rand.Rand) (*Forest, map[ID]ID) {
	t.Helper()
	isRoot := map[ID]bool{w.items[0].id: true}
	for _, it := range w.items {
		if it.closed || r.IntN(6) == 0 {
			isRoot[it.id] = true
		}
	}
	for _, g := range w.grants {
		isRoot[g.Item] = true
	}
	rootOf := map[ID]ID{}
	var roots []Root
	for _, it := range w.items {
		above := rootOf[it.parent]
		rootOf[it.id] = above
		if isRoot[it.id] {
			rootOf[it.id] = it.id
			x := Root{ID: it.id, Parent: above, Closed: it.closed}
			if !it.folder {
				x.Folder = it.parent
			}
			roots = append(roots, x)
		}
	}
	f, err := NewForest(w.items[0].id, roots, w.grants)
	if err != nil {
		t.Fatal(err)
	}
	return f, rootOf
}

func TestForestAgreesWithTheSlowWay(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 24))
	for n := range 4000 {
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		c := NewCircles(w.accounts, w.members)
		for _, a := range w.accounts {
			reading := f.Reading(c.Subjects(a.ID), noon)
			for _, it := range w.items {
				want, ways := w.may(it.id, a.ID, noon)
				root := rootOf[it.id]
				d := f.Explain(root, a.ID, c, noon)
				if d.Caps != want || f.Decide(root, c.Subjects(a.ID), noon).Caps != want {
					t.Fatalf("world %d, %s on %s: %v, want %v", n, a.ID, it.id, d.Caps.Names(), want.Names())
				}
				var got []ID
				var told Caps
				for _, way := range d.Ways {
					got = append(got, way.Grant.ID)
					told |= way.Grant.Caps()
				}
				if told != d.Caps || !sameIDs(got, ways) {
					t.Fatalf("world %d, %s on %s: the explanation does not agree with the decision", n, a.ID, it.id)
				}
				if reading.Holds(f.Zone(root), root) != want.Has(See) {
					t.Fatalf("world %d, %s on %s: the reading says %v", n, a.ID, it.id, !want.Has(See))
				}
			}
		}
		checkReach(t, n, w, f, rootOf, c)
	}
}

func sameIDs(a, b []ID) bool {
	count := map[ID]int{}
	for _, x := range a {
		count[x]++
	}
	for _, x := range b {
		count[x]--
	}
	for _, n := range count {
		if n != 0 {
			return false
		}
	}
	return true
}

func checkReach(t *testing.T, n int, w world, f *Forest, rootOf map[ID]ID, c *Circles) {
	t.Helper()
	for _, it := range w.items {
		reached := map[ID]Caps{}
		for _, x := range f.Reach(rootOf[it.id], c, noon) {
			reached[x.Person] = x.Caps
		}
		var door Door
		for _, a := range w.accounts {
			want, _ := w.may(it.id, a.ID, noon)
			switch {
			case !want.Has(See):
				want = 0
			case a.Outside:
				door.Outside++
			default:
				door.Inside++
			}
			if reached[a.ID] != want {
				t.Fatalf("world %d: reach of %s for %s: %v, want %v", n, it.id, a.ID, reached[a.ID].Names(), want.Names())
			}
		}
		if got := f.Door(rootOf[it.id], c, noon); got.Inside != door.Inside || got.Outside != door.Outside {
			t.Fatalf("world %d: the door of %s counts %+v, want %+v", n, it.id, got, door)
		}
	}
}

// Nothing changes before the end that a decision or a reading names.
func TestEndsAreTheNextChange(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 3))
	for n := range 2000 {
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		c := NewCircles(w.accounts, w.members)
		for _, a := range w.accounts {
			s := c.Subjects(a.ID)
			now, reading := f.Decide(rootOf[w.items[0].id], s, noon), f.Reading(s, noon)
			for h := 1; h < 5; h++ {
				if now.Ends == nil || at(h).Before(*now.Ends) {
					if later := f.Decide(rootOf[w.items[0].id], s, *at(h)); later.Caps != now.Caps {
						t.Fatalf("world %d: a decision changed before its end", n)
					}
				}
				if reading.Ends == nil || at(h).Before(*reading.Ends) {
					later := f.Reading(s, *at(h))
					if !sameIDs(later.Zones, reading.Zones) || !sameIDs(later.Roots, reading.Roots) {
						t.Fatalf("world %d: a reading changed before its end", n)
					}
				}
			}
		}
	}
}

// A reading is as short as it can be: no single root stands in a whole zone.
func TestReadingsAreCompressed(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 9))
	for n := range 1000 {
		w := randomWorld(r)
		f, _ := w.forest(t, r)
		c := NewCircles(w.accounts, w.members)
		for _, a := range w.accounts {
			reading := f.Reading(c.Subjects(a.ID), noon)
			for _, root := range reading.Roots {
				if slices.Contains(reading.Zones, f.Zone(root)) || f.Zone(root) == root {
					t.Fatalf("world %d: %s stands in a whole zone", n, root)
				}
			}
		}
	}
}

// What a plan would do is what is different after it was done.
func TestCompareAgreesWithDoingIt(t *testing.T) {
	r := rand.New(rand.NewPCG(24, 17))
	changed := 0
	for n := range 3000 {
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		c := NewCircles(w.accounts, w.members)
		at := w.items[r.IntN(len(w.items))]
		plan := Plan{}
		if rootOf[at.id] != at.id {
			root := Root{ID: at.id, Parent: rootOf[at.id]}
			if !at.folder {
				root.Folder = at.parent
			}
			plan.NewRoot, plan.Below = &root, w.rootsBelow(at.id, rootOf)
		}
		then := w
		then.items = slices.Clone(w.items)
		switch kind := r.IntN(4); {
		case kind == 0:
			g := randomGrant(r, 99, at.id)
			plan.Add, then.grants = []Grant{g}, append(slices.Clone(w.grants), g)
		case kind == 1 && len(w.grants) > 0:
			i := r.IntN(len(w.grants))
			plan.Remove, then.grants = []ID{w.grants[i].ID}, slices.Delete(slices.Clone(w.grants), i, i+1)
		default:
			i := slices.Index(w.items, at)
			then.items[i].closed = !at.closed
			if at.closed {
				plan.Open = &at.id
			} else {
				plan.Close = &at.id
			}
		}
		after, err := f.With(plan)
		if err != nil {
			t.Fatalf("world %d: %v", n, err)
		}
		newRoot := then.rootsAfter(rootOf, plan)
		weights := w.weights(newRoot)
		changed += w.agrees(t, n, then, newRoot, weights, Compare(f, after, c, c, w.people(), weights, noon))
	}
	if changed < 500 {
		t.Errorf("only %d people were concerned: the worlds are too dull", changed)
	}
}

// What a change of groups means is what the slow way says once it has been made,
// also where only the roots are looked at on which the groups hold something.
func TestRegroupingAgreesWithDoingIt(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 31))
	changed := 0
	for n := range 12_000 {
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		then := w
		group := id(fmt.Sprint("g", r.IntN(4)))
		var moved Subject
		switch kind := r.IntN(3); {
		case kind == 0 && len(w.members) > 0:
			i := r.IntN(len(w.members))
			group, moved = w.members[i].Group, w.members[i].Member
			then.members = slices.Delete(slices.Clone(w.members), i, i+1)
		case kind == 1:
			moved = Subject{Group, group}
			then.members = slices.DeleteFunc(slices.Clone(w.members), func(m Membership) bool { return m.Group == group || m.Member == moved })
		default:
			moved = Subject{Person, id(fmt.Sprint("p", r.IntN(6)))}
			then.members = append(slices.Clone(w.members), Membership{group, moved})
		}
		was, will := NewCircles(w.accounts, w.members), NewCircles(then.accounts, then.members)
		weights := w.weights(rootOf)
		given := f.Given(was.Around(group), noon)
		maps.DeleteFunc(weights, func(root ID, _ int) bool { return !slices.Contains(given, root) })
		changed += w.agrees(t, n, then, rootOf, weights, Compare(f, f, was, will, was.People(moved), weights, noon))
	}
	if changed < 500 {
		t.Errorf("only %d people were concerned: the worlds are too dull", changed)
	}
}

// How much people can open is what going through all items gives.
func TestExtentsAgreeWithTheSlowWay(t *testing.T) {
	r := rand.New(rand.NewPCG(5, 42))
	seen := 0
	for n := range 3000 {
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		got := Extents([]*Forest{f}, NewCircles(w.accounts, w.members), w.people(), w.weights(rootOf), noon)
		for _, a := range w.accounts {
			documents, in := 0, 0
			for _, it := range w.items {
				may, _ := w.may(it.id, a.ID, noon)
				if may.Has(See) {
					in = 1
					if !it.folder {
						documents++
					}
				}
			}
			endless := false
			var last *time.Time
			for _, g := range w.grants {
				if !g.Active(noon) || !w.belongs(a.ID, g.Subject, 0) {
					continue
				}
				if g.Caps().Has(Add) {
					in = 1
				}
				endless = endless || g.Ends == nil
				if g.Ends != nil && (last == nil || g.Ends.After(*last)) {
					last = g.Ends
				}
			}
			if endless {
				last = nil
			}
			e := got[a.ID]
			sameEnd := (e.Ends == nil) == (last == nil) && (last == nil || e.Ends.Equal(*last))
			if e.Documents != documents || e.Dossiers != in || !sameEnd {
				t.Fatalf("world %d, %s: %+v, want %d documents in %d dossiers until %v", n, a.ID, e, documents, in, last)
			}
			seen += documents
		}
	}
	if seen < 5000 {
		t.Errorf("only %d documents are seen: the worlds are too dull", seen)
	}
}

func (w world) people() []ID {
	var people []ID
	for _, a := range w.accounts {
		people = append(people, a.ID)
	}
	return people
}

// weights counts the documents of each root.
func (w world) weights(rootOf map[ID]ID) map[ID]int {
	weights := map[ID]int{}
	for _, it := range w.items {
		if !it.folder {
			weights[rootOf[it.id]]++
		}
	}
	return weights
}

// agrees compares effects with the world as it is then, and counts whom they
// concern. What somebody could see before is told of the roots with weights.
func (w world) agrees(t *testing.T, n int, then world, rootOf map[ID]ID, weights map[ID]int, effects []Effect) (changed int) {
	t.Helper()
	got := map[ID]Effect{}
	for _, e := range effects {
		got[e.Person] = e
	}
	for _, a := range w.accounts {
		want, have := w.effect(then, a, func(item ID) bool { return weights[rootOf[item]] > 0 }), got[a.ID]
		if have.Gains != want.Gains || have.Loses != want.Loses || have.Caps != want.Caps {
			t.Fatalf("world %d, %s: %+v, want %+v", n, a.ID, have, want)
		}
		if want.Gains+want.Loses+want.Caps > 0 {
			changed++
			if have.Outside != a.Outside || have.Could != want.Could {
				t.Fatalf("world %d, %s: %+v, want %+v", n, a.ID, have, want)
			}
		}
	}
	return changed
}

// rootsBelow lists the roots under an item whose nearest root above lies above
// the item too.
func (w world) rootsBelow(item ID, rootOf map[ID]ID) []ID {
	var out []ID
	for _, it := range w.items {
		if rootOf[it.id] != it.id || it.id == item {
			continue
		}
		for up := w.item(it.parent); up.id != (ID{}); up = w.item(up.parent) {
			if up.id == item {
				out = append(out, it.id)
			}
			if rootOf[up.id] == up.id {
				break
			}
		}
	}
	return out
}

func (w world) rootsAfter(rootOf map[ID]ID, p Plan) map[ID]ID {
	out := maps.Clone(rootOf)
	if p.NewRoot == nil {
		return out
	}
	for _, it := range w.items {
		for up := it; up.id != (ID{}); up = w.item(up.parent) {
			if up.id == p.NewRoot.ID {
				out[it.id] = p.NewRoot.ID
			}
			if rootOf[up.id] == up.id {
				break
			}
		}
	}
	return out
}

func (w world) effect(then world, a Account, looked func(ID) bool) (e Effect) {
	for _, it := range w.items {
		if it.folder {
			continue
		}
		x, _ := w.may(it.id, a.ID, noon)
		y, _ := then.may(it.id, a.ID, noon)
		if x.Has(See) && looked(it.id) {
			e.Could++
		}
		switch {
		case x == y:
		case !x.Has(See) && y.Has(See):
			e.Gains++
		case x.Has(See) && !y.Has(See):
			e.Loses++
		case x.Has(See):
			e.Caps++
		}
	}
	return e
}

func BenchmarkDecide(b *testing.B) {
	r := rand.New(rand.NewPCG(1, 2))
	w := randomWorld(r)
	f, err := NewForest(w.items[0].id, []Root{{ID: w.items[0].id}}, nil)
	if err != nil {
		b.Fatal(err)
	}
	s := []Subject{{Person, id("p1")}, {Kind: Everyone}}
	for b.Loop() {
		f.Decide(w.items[0].id, s, noon)
	}
}

// The door within a dossier counts whoever from outside can open anything of it that
// is seen, told by asking item by item.
func TestDoorWithinAgreesWithTheSlowWay(t *testing.T) {
	for n := range 3000 {
		r := rand.New(rand.NewPCG(uint64(n), 17))
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		c := NewCircles(w.accounts, w.members)
		seen := func(root ID) bool { return root[0]%3 > 0 }
		outside := map[ID]bool{}
		for _, a := range w.accounts {
			for item, root := range rootOf {
				if item != root || item != w.items[0].id && !seen(root) || !a.Outside {
					continue
				}
				for _, g := range w.grants {
					if rootOf[g.Item] == root && g.Item == root && g.Active(noon) && g.Caps().Has(See) && w.belongs(a.ID, g.Subject, 0) {
						outside[a.ID] = true
					}
				}
			}
		}
		if d := f.DoorWithin(c, noon, seen); d.Outside != len(outside) {
			t.Fatalf("world %d: %d from outside, %d by asking everybody", n, d.Outside, len(outside))
		}
		if d, top := f.DoorWithin(c, noon, func(ID) bool { return false }), f.Door(w.items[0].id, c, noon); d.Inside != top.Inside || d.Outside != top.Outside {
			t.Fatalf("world %d: seeing nothing below, it says %+v and not %+v", n, d, top)
		}
	}
}
