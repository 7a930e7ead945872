package access

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// What a move means is what the slow way says once it has been made, and
// nothing changes for what was not moved.
func TestMovingAgreesWithDoingIt(t *testing.T) {
	r := rand.New(rand.NewPCG(11, 9))
	changed := 0
	for n := range 6000 {
		w := randomWorld(r)
		f, rootOf := w.forest(t, r)
		c := NewCircles(w.accounts, w.members)
		item, to := w.items[r.IntN(len(w.items))], w.items[r.IntN(len(w.items))]
		inside := false
		for up := to; up.id != (ID{}); up = w.item(up.parent) {
			inside = inside || up.id == item.id
		}
		if item.parent == (ID{}) || !to.folder {
			continue
		}
		before, plan := f, Plan{}
		if rootOf[item.id] != item.id {
			root := Root{ID: item.id, Parent: rootOf[item.id]}
			if !item.folder {
				root.Folder = item.parent
			}
			plan.NewRoot, plan.Below = &root, w.rootsBelow(item.id, rootOf)
			var err error
			if before, err = f.With(plan); err != nil {
				t.Fatal(err)
			}
			rootOf = w.rootsAfter(rootOf, plan)
		}
		folder := to.id
		if item.folder {
			folder = ID{}
		}
		after, err := before.Moved(item.id, before, rootOf[to.id], folder)
		if inside {
			if err == nil {
				t.Fatalf("world %d: %s was moved into itself", n, item.id)
			}
			continue
		}
		if err != nil {
			t.Fatalf("world %d: %v", n, err)
		}
		then := w
		then.items = slices.Clone(w.items)
		then.items[slices.Index(w.items, item)].parent = to.id
		weights := w.weights(rootOf)
		changed += w.agrees(t, n, then, rootOf, weights, Compare(before, after, c, c, w.people(), weights, noon))
	}
	if changed < 300 {
		t.Errorf("only %d people were concerned: the worlds are too dull", changed)
	}
}

// From one dossier to another: whoever could open it only there no longer can,
// and what was given on the thing itself goes along.
func TestMovingToAnotherDossier(t *testing.T) {
	give := func(name, item, person string, l Level) Grant {
		return Grant{ID: id(name), Item: id(item), Subject: Subject{Person, id(person)}, Level: l}
	}
	desk, err := NewForest(id("desk"), []Root{{ID: id("desk")}, {ID: id("paper"), Parent: id("desk"), Folder: id("desk")}}, []Grant{give("1", "desk", "ines", LevelManage), give("2", "paper", "odile", LevelView)})
	if err != nil {
		t.Fatal(err)
	}
	dossier, err := NewForest(id("mer"), []Root{{ID: id("mer")}}, []Grant{give("3", "mer", "tomasz", LevelEdit)})
	if err != nil {
		t.Fatal(err)
	}
	after, err := desk.Moved(id("paper"), dossier, id("mer"), id("mer"))
	if err != nil {
		t.Fatal(err)
	}
	people := []ID{id("ines"), id("odile"), id("tomasz"), id("luca")}
	c := NewCircles([]Account{{ID: id("ines")}, {id("odile"), true}, {ID: id("tomasz")}, {ID: id("luca")}}, nil)
	effects := Compare(desk, after, c, c, people, map[ID]int{id("paper"): 1}, noon)
	want := []Effect{{Person: id("ines"), Loses: 1, Could: 1}, {Person: id("tomasz"), Gains: 1}}
	if !slices.Equal(effects, want) {
		t.Errorf("%+v, want %+v", effects, want)
	}
	if d := after.Decide(id("paper"), c.Subjects(id("odile")), noon); d.Caps != LevelView.Caps() {
		t.Errorf("what stands on the paper: %v", d.Caps.Names())
	}
	if got := after.Single(id("mer"), after.Reading(c.Subjects(id("tomasz")), noon)); len(got) != 1 || got[0] != id("paper") {
		t.Errorf("the paper is not found in its new folder: %v", got)
	}
	if _, err := desk.Moved(id("desk"), dossier, id("mer"), ID{}); err == nil {
		t.Error("a dossier was moved")
	}
}
