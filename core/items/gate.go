package items

import (
	"slices"

	"tabularis/core/fault"
)

// Operation is a way to change an item.
type Operation string

// The ways to change an item there are.
const (
	// Adding puts something new into a folder; the item is the folder.
	Adding Operation = "adding"
	// Revising gives a document a further version.
	Revising Operation = "revising"
	// Renaming changes an item's name.
	Renaming Operation = "renaming"
	// Moving takes an item out of its folder; into the other one something is added.
	Moving Operation = "moving"
	// Separating makes a version of a document a document of its own.
	Separating Operation = "separating"
	// Deleting takes an item, and what lies in it, out of sight; BringingBack undoes
	// that, and Destroying does it for good.
	Deleting     Operation = "deleting"
	BringingBack Operation = "bringing-back"
	Destroying   Operation = "destroying"
	// Pruning removes a version, or puts one back.
	Pruning Operation = "pruning"
	// Retitling changes what a dossier is called and about; the item is its top.
	Retitling Operation = "retitling"
)

// Operations are all of them.
func Operations() []Operation {
	return []Operation{Adding, Revising, Renaming, Moving, Separating, Retitling, Deleting, BringingBack, Destroying, Pruning}
}

// Bar stops changes of an item for as long as something else stands on it: whoever
// keeps it in hand, a decision on its content, a period that it has to be kept.
type Bar struct {
	// Only are the operations that it stops; none means every change.
	Only []Operation
	// Refused says why, and what to do about it.
	Refused *fault.Error
}

// stops reports whether the bar stops an operation.
func (b Bar) stops(op Operation) bool { return len(b.Only) == 0 || slices.Contains(b.Only, op) }

// State is what the gate knows of an item.
type State struct {
	Kind    string
	Top     bool
	Deleted bool
	// Bars stand on the item itself or on a folder around it.
	Bars []Bar
}

// StateOf is the state of an item that was read.
func StateOf(i Item, bars []Bar) State {
	return State{Kind: i.Kind, Top: i.ParentID == nil, Deleted: i.DeletedAt != nil, Bars: bars}
}

// Allow decides whether an item in this state may be changed: nil, or the reason.
// Whoever asks has checked that the person may. A deleted item answers like one
// that never was (fault.NotFound); the others refuse with fault.Conflict or
// fault.Forbidden.
func Allow(op Operation, s State) error {
	switch {
	case s.Deleted != (op == BringingBack || op == Destroying):
		return fault.Missing()
	case op == Adding && s.Kind != Folder, op == Revising && s.Kind != Document, (op == Separating || op == Pruning) && s.Kind != Document, op == Retitling && !s.Top:
		return fault.Missing()
	case op == Renaming && s.Top:
		return fault.Refused("rename a dossier")
	case op == Moving && s.Top:
		return errDossierStays.New("a dossier cannot be moved")
	}
	for _, b := range s.Bars {
		if b.stops(op) {
			return b.Refused
		}
	}
	return nil
}
