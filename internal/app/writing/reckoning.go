package writing

import (
	"context"
	"errors"
	"maps"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/table"
	"tabularis/internal/platform/reading"
)

// sums are what the formulas of an open table come to. They are no part of what is written: each process reckons them
// for its own pages, in a cell, some moments after something changed.
type sums struct {
	values table.Values
	// changed are where something was written since it was reckoned, anew that all is reckoned, and moves how often rows or
	// columns came or went.
	changed map[table.Place]bool
	anew    bool
	moves   int
	busy    bool
	// leads are where formulas refer to, as far as that was found out since moves.
	leads table.Leads
	// slow are formulas that took more than they may.
	slow map[string]bool
	// count counts reckonings.
	count int
}

// How long changes are waited for that come together, and how many tries are made to find out which formula takes too long.
const (
	reckonAfter = 80 * time.Millisecond
	reckonTries = 6
)

func (s *sums) all() []table.Reckoned {
	all := make([]table.Reckoned, 0, len(s.values))
	for p, r := range s.values {
		all = append(all, table.Reckoned{Place: p, Result: r})
	}
	return all
}

// sumAnew reckons all formulas. The lock is held.
func (r *room) sumAnew() {
	if _, isTable := r.doc.(grid); !isTable {
		return
	}
	r.sums.anew, r.sums.moves, r.sums.values, r.sums.leads = true, r.sums.moves+1, nil, nil
	r.reckonSoon()
}

// sum reckons what a group of steps changes. The lock is held.
func (r *room) sum(g group) {
	steps, isTable := g.script.(changes)
	if !isTable {
		return
	}
	if r.sums.changed == nil {
		r.sums.changed = map[table.Place]bool{}
	}
	for _, s := range steps {
		switch s.Op {
		case table.Rows, table.Columns:
			r.sums.values, r.sums.anew, r.sums.moves, r.sums.leads = r.sums.values.Moved(s), true, r.sums.moves+1, nil
		case table.Setting:
			for _, e := range s.Cells {
				r.sums.changed[table.Place{Sheet: s.Sheet, Row: e.Row, Column: e.Column}] = true
			}
		}
	}
	r.reckonSoon()
}

// reckonSoon reckons in a moment. The lock is held.
func (r *room) reckonSoon() {
	if r.sums.busy {
		return
	}
	r.sums.busy = true
	time.AfterFunc(reckonAfter, r.reckon)
}

// reckon reckons what changed, and tells everybody here.
func (r *room) reckon() {
	r.mu.Lock()
	now, isTable := r.doc.(grid)
	if !isTable {
		r.sums.busy = false
		r.mu.Unlock()
		return
	}
	book, changed, anew, moves := now.Book, r.sums.changed, r.sums.anew, r.sums.moves
	known, slow, leads := cloned(r.sums.values), cloned(r.sums.slow), r.sums.leads
	r.sums.changed, r.sums.anew = nil, false
	r.mu.Unlock()
	formulas := book.Formulas()
	ask := formulas
	leads = book.Leads(formulas, leads, changed)
	if !anew {
		ask = table.Touched(changed, formulas, leads)
	}
	for _, p := range ask {
		delete(known, p)
	}
	found, slow, err := r.reckoned(r.life, book, ask, known, slow, r.document)
	r.mu.Lock()
	defer r.mu.Unlock()
	r.sums.busy = false
	if err != nil || r.sums.moves != moves {
		// Rows went meanwhile, or all cells were busy: it is reckoned anew.
		r.sums.anew, r.sums.leads = true, nil
	} else {
		r.sums.leads = leads
		r.tellSums(found, slow)
	}
	if (r.sums.anew || len(r.sums.changed) > 0) && !r.closed && r.life.Err() == nil {
		r.sums.busy = true
		time.AfterFunc(reckonAfter+backoff(err), r.reckon)
	}
}

func backoff(err error) time.Duration {
	if err != nil {
		return 2 * time.Second
	}
	return 0
}

// tellSums takes over what was reckoned. The lock is held.
func (r *room) tellSums(found table.Values, slow map[string]bool) {
	if r.sums.values == nil {
		r.sums.values = table.Values{}
	}
	maps.DeleteFunc(r.sums.values, func(p table.Place, _ table.Result) bool {
		_, isFormula := r.sums.leads[p]
		return !isFormula
	})
	var told []table.Reckoned
	for p, v := range found {
		if was, known := r.sums.values[p]; !known || !was.Same(v) {
			told = append(told, table.Reckoned{Place: p, Result: v})
		}
		r.sums.values[p] = v
	}
	r.sums.slow = slow
	if len(told) == 0 {
		return
	}
	r.sums.count++
	for s := range r.seats {
		s.say(Message{Sums: told})
	}
}

// cloned is a copy of a map, of none an empty one.
func cloned[K comparable, V any](m map[K]V) map[K]V {
	c := make(map[K]V, len(m))
	maps.Copy(c, m)
	return c
}

// What formulas come to that refer to themselves, or take too long.
var (
	circular = table.Result{Error: "#REF!"}
	tooSlow  = table.Result{Error: "#N/A"}
)

// reckoned says what formulas come to. One that brings down what reckons is found by halving, and remembered.
func (s *Service) reckoned(ctx context.Context, book *table.Book, ask []table.Place, known table.Values, slow map[string]bool, document uuid.UUID) (table.Values, map[string]bool, error) {
	found := table.Values{}
	itself, ok := book.Circular(ask)
	var rest []table.Place
	for _, p := range ask {
		switch {
		case itself[p]:
			found[p], known[p] = circular, circular
		case !ok || slow[book.Cell(p).Text]:
			found[p], known[p] = tooSlow, tooSlow
		default:
			rest = append(rest, p)
		}
	}
	tries := reckonTries
	var halve func(ask []table.Place) error
	halve = func(ask []table.Place) error {
		if len(ask) == 0 {
			return nil
		}
		task, ok := book.Task(ask, known)
		var results []table.Result
		err := reading.ErrTooMuch
		if tries--; ok && tries >= 0 {
			results, err = s.Contents.Reader.Reckon(ctx, task, document.String())
		}
		switch {
		case err == nil:
			for i, p := range ask {
				found[p], known[p] = results[i], results[i]
			}
			return nil
		case !errors.Is(err, reading.ErrTooMuch) && !fault.Is(err, fault.Invalid):
			return err // All cells are busy, or the process ends: it is tried again.
		case len(ask) > 1 && tries > 0:
			return errors.Join(halve(ask[:len(ask)/2]), halve(ask[len(ask)/2:]))
		}
		for _, p := range ask {
			found[p], known[p] = tooSlow, tooSlow
			if len(ask) == 1 {
				slow[book.Cell(p).Text] = true
			}
		}
		return nil
	}
	return found, slow, halve(rest)
}

// reckonAll says what all formulas of a table come to.
func (s *Service) reckonAll(ctx context.Context, book *table.Book, document uuid.UUID) (table.Values, error) {
	formulas := book.Formulas()
	if len(formulas) == 0 {
		return nil, nil
	}
	slow := map[string]bool{}
	if r := s.roomOf(document); r != nil {
		r.mu.Lock()
		slow = cloned(r.sums.slow)
		r.mu.Unlock()
	}
	found, _, err := s.reckoned(ctx, book, slices.Clone(formulas), table.Values{}, slow, document)
	return found, err
}
