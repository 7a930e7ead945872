// Package checkout says what somebody who has a document in hand keeps others from.
package checkout

import (
	"time"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
)

// Terms are what somebody says when they take a document in hand.
type Terms struct {
	Note string
	// Back is when they mean to give it back, if they say so.
	Back *time.Time
	// Keeps says that others do not even download it meanwhile.
	Keeps bool
}

const (
	maxNote = 300
	// longest is how far ahead somebody may expect to give it back.
	longest = 366 * 24 * time.Hour
)

// Check returns the terms in normal form, or refuses them: a note of several lines, and a
// day that has gone by or is over a year ahead.
func Check(t Terms, now time.Time) (Terms, error) {
	var err error
	if t.Note, err = names.Line("note", t.Note, maxNote); err != nil {
		return t, err
	}
	if t.Back != nil && (!t.Back.After(now) || t.Back.Sub(now) > longest) {
		return t, errBack.In("back", "it is expected back within a year from now")
	}
	return t, nil
}

// Bars is what stops changes of a document while somebody has it in hand. Others change
// nothing of it; whoever holds it works on it, but gives it back before it is deleted.
func Bars(holder string, mine bool) []items.Bar {
	if mine {
		return []items.Bar{{Only: []items.Operation{items.Deleting}, Refused: errOwn.New("give it back first: you have it in hand")}}
	}
	return []items.Bar{{
		Only:    []items.Operation{items.Revising, items.Renaming, items.Moving, items.Separating, items.Pruning, items.Deleting},
		Refused: Held(holder),
	}}
}

// Held says that somebody has it in hand.
func Held(holder string) *fault.Error { return errHeld.New("%s has it in hand", holder) }

// HeldWithin says that something in a folder is in somebody's hand, without saying what or whose.
func HeldWithin() *fault.Error { return errWithin.New("something in it is in somebody's hand") }

// Forgotten is after how long a holder is reminded who did not say when they mean to
// give it back; who did is reminded then.
const Forgotten = 7 * 24 * time.Hour

// What is refused here.
var (
	errBack   = fault.Declare(fault.Invalid, "back-range", "it is expected back within a year from now")
	errOwn    = fault.Declare(fault.Conflict, "held-by-you", "give it back first: you have it in hand")
	errHeld   = fault.Declare(fault.Conflict, "held", "… has it in hand")
	errWithin = fault.Declare(fault.Conflict, "held-within", "something in it is in somebody's hand")
)
