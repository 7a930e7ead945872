package access

import (
	"math/rand/v2"
	"slices"
	"testing"
	"time"
)

// until asks the slow way, hour by hour, up to when somebody may do something.
func (w world) until(item, person ID, want Caps) (hours int) {
	for hours = 0; hours < 6; hours++ {
		if caps, _ := w.may(item, person, *at(hours)); !caps.Has(want) {
			return hours
		}
	}
	return hours
}

func hour(end *time.Time) int {
	for h := range 6 {
		if end != nil && !at(h).Before(*end) {
			return h
		}
	}
	return 6
}

// What is held, and until when, is what the slow way says hour by hour; what may
// be given never goes beyond it.
func TestHeldAgreesWithTheSlowWay(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 12))
	limited := 0
	for n := range 3000 {
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		c := NewCircles(w.accounts, w.members)
		for _, a := range w.accounts {
			it := w.items[r.IntN(len(w.items))]
			h := f.Held(rootOf[it.id], c.Subjects(a.ID), noon)
			if want, _ := w.may(it.id, a.ID, noon); h.Caps() != want {
				t.Fatalf("world %d: holds %v, want %v", n, h.Caps().Names(), want.Names())
			}
			for caps := See; caps <= Manage; caps <<= 1 {
				if h.Caps().Has(caps) && hour(h.Until(caps)) != w.until(it.id, a.ID, caps) {
					t.Fatalf("world %d: %v until %v, want hour %d", n, caps.Names(), h.Until(caps), w.until(it.id, a.ID, caps))
				}
				end, ok := h.Gives(caps)
				may := h.Caps().Has(Manage) || h.Caps().Has(Share|caps)
				if ok != may {
					t.Fatalf("world %d: gives %v: %v", n, caps.Names(), ok)
				}
				if most := max(w.until(it.id, a.ID, Manage), w.until(it.id, a.ID, Share|caps)); ok && hour(end) > most {
					t.Fatalf("world %d: gives %v until hour %d, holds it until %d", n, caps.Names(), hour(end), most)
				}
				if ok && end != nil {
					limited++
				}
			}
		}
	}
	if limited < 300 {
		t.Errorf("only %d ends were limited: the worlds are too dull", limited)
	}
}

// Whatever is moved wherever: the mover can do nothing with it that they could not
// do before, at any hour, and what is closed and not theirs stays untouched.
func TestMovingWidensNothingForTheMover(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 7))
	let, refused := 0, 0
	for n := range 12000 {
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		c := NewCircles(w.accounts, w.members)
		item, to := w.items[r.IntN(len(w.items))], w.items[r.IntN(len(w.items))]
		mover := w.accounts[r.IntN(len(w.accounts))].ID
		inside := item.parent == (ID{}) || !to.folder
		for up := to; up.id != (ID{}); up = w.item(up.parent) {
			inside = inside || up.id == item.id
		}
		if inside {
			continue
		}
		before := f
		if rootOf[item.id] != item.id {
			root := Root{ID: item.id, Parent: rootOf[item.id]}
			if !item.folder {
				root.Folder = item.parent
			}
			var err error
			if before, err = f.With(Plan{NewRoot: &root, Below: w.rootsBelow(item.id, rootOf)}); err != nil {
				t.Fatal(err)
			}
		}
		folder := to.id
		if item.folder {
			folder = ID{}
		}
		after, err := before.Moved(item.id, before, rootOf[to.id], folder)
		if err != nil {
			t.Fatal(err)
		}
		may := before.MayMove(item.id, after, c.Subjects(mover), noon)
		then := w
		then.items = slices.Clone(w.items)
		then.items[slices.Index(w.items, item)].parent = to.id
		harmless := true
		for _, it := range w.items {
			below := false
			for up := it; up.id != (ID{}); up = w.item(up.parent) {
				below = below || up.id == item.id
			}
			if !below {
				continue
			}
			for h := range 5 {
				had, _ := w.may(it.id, mover, *at(h))
				has, _ := then.may(it.id, mover, *at(h))
				harmless = harmless && had.Has(has)
				if h == 0 && it.closed && !had.Has(Manage) {
					harmless = false
				}
			}
		}
		if may && !harmless {
			t.Fatalf("world %d: %s may move %s into %s and gains by it", n, mover, item.id, to.id)
		}
		if may {
			let++
		} else {
			refused++
		}
	}
	if let < 1000 || refused < 1000 {
		t.Errorf("%d let, %d refused: the worlds are too dull", let, refused)
	}
}

// Into another dossier goes only what the mover manages, and nothing that is
// closed inside it and hidden from them.
func TestMovingAcrossDossiersNeedsTheSource(t *testing.T) {
	give := func(name, item, person string, l Level) Grant {
		return Grant{ID: id(name), Item: id(item), Subject: Subject{Person, id(person)}, Level: l}
	}
	source, err := NewForest(id("mer"), []Root{{ID: id("mer")}, {ID: id("reports"), Parent: id("mer")}, {ID: id("fees"), Parent: id("reports"), Closed: true}},
		[]Grant{give("1", "mer", "ines", LevelManage), give("2", "reports", "luca", LevelManage), give("3", "reports", "priya", LevelEdit), give("4", "fees", "tomasz", LevelView)})
	if err != nil {
		t.Fatal(err)
	}
	desk, err := NewForest(id("desk"), []Root{{ID: id("desk")}}, []Grant{give("5", "desk", "luca", LevelManage), give("6", "desk", "ines", LevelManage), give("7", "desk", "priya", LevelManage)})
	if err != nil {
		t.Fatal(err)
	}
	c := NewCircles([]Account{{ID: id("ines")}, {ID: id("luca")}, {ID: id("priya")}}, nil)
	after, err := source.Moved(id("reports"), desk, id("desk"), ID{})
	if err != nil {
		t.Fatal(err)
	}
	for who, want := range map[string]bool{"ines": true, "luca": false, "priya": false} {
		if got := source.MayMove(id("reports"), after, c.Subjects(id(who)), noon); got != want {
			t.Errorf("%s: %v", who, got)
		}
	}
}
