package items

import (
	"testing"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
)

func TestAllow(t *testing.T) {
	held := &fault.Error{Kind: fault.Conflict, Code: "held"}
	bars := []Bar{{Refused: held}}
	partly := []Bar{{Only: []Operation{Revising}, Refused: held}}
	for name, c := range map[string]struct {
		op   Operation
		s    State
		kind fault.Kind
		ok   bool
	}{
		"adding into a folder":             {Adding, State{Kind: Folder}, 0, true},
		"adding into a dossier's top":      {Adding, State{Kind: Folder, Top: true}, 0, true},
		"adding into a document":           {Adding, State{Kind: Document}, fault.NotFound, false},
		"revising a document":              {Revising, State{Kind: Document}, 0, true},
		"revising a folder":                {Revising, State{Kind: Folder}, fault.NotFound, false},
		"separating a folder":              {Separating, State{Kind: Folder}, fault.NotFound, false},
		"renaming a dossier's top":         {Renaming, State{Kind: Folder, Top: true}, fault.Forbidden, false},
		"retitling a dossier":              {Retitling, State{Kind: Folder, Top: true}, 0, true},
		"retitling a folder":               {Retitling, State{Kind: Folder}, fault.NotFound, false},
		"deleting a dossier's top":         {Deleting, State{Kind: Folder, Top: true}, 0, true},
		"moving a dossier's top":           {Moving, State{Kind: Folder, Top: true}, fault.Conflict, false},
		"what stands on it concerns this":  {Revising, State{Kind: Document, Bars: partly}, fault.Conflict, false},
		"what stands on it concerns other": {Renaming, State{Kind: Document, Bars: partly}, 0, true},
	} {
		err := Allow(c.op, c.s)
		if c.ok != (err == nil) || err != nil && fault.Of(err).Kind != c.kind {
			t.Errorf("%s: %v", name, err)
		}
	}
	// Whatever is done, what is deleted is not there but for being brought back or
	// destroyed, and a bar stops it.
	for _, op := range Operations() {
		back := op == BringingBack || op == Destroying
		kind := Document
		if op == Adding {
			kind = Folder
		}
		gone, folder := time.Unix(0, 0), &uuid.UUID{1}
		if op == Retitling {
			kind, folder = Folder, nil
		}
		there, deleted := StateOf(Item{Kind: kind, ParentID: folder}, bars), StateOf(Item{Kind: kind, ParentID: folder, DeletedAt: &gone}, bars)
		if back {
			there, deleted = deleted, there
		}
		if err := Allow(op, deleted); !fault.Is(err, fault.NotFound) {
			t.Errorf("%s of what is not there for it: %v", op, err)
		}
		if err := Allow(op, there); err != error(held) {
			t.Errorf("%s of what is held: %v", op, err)
		}
	}
}
