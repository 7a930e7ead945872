package writing

import (
	"context"
	"encoding/json"
	"slices"

	"tabularis/core/table"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/sheets"
)

// tables is the craft of separated values, and of spreadsheets.
type tables struct{ separated bool }

// grid is a table that is written.
type grid struct{ *table.Book }

// changes are steps of a table.
type changes []table.Step

func (tables) open(state []byte) (body, error) {
	book, err := table.ReadBook(state)
	return grid{book}, err
}

func (g grid) past() body { return nil }

func (g grid) people() (ids []string) {
	for _, s := range g.Sheets {
		for _, row := range s.Rows {
			for _, c := range row {
				if c.Doubt == nil {
					continue
				}
				for _, id := range append([]string{c.Doubt.By}, table.SaidBy(c.Doubt.Others)...) {
					if !slices.Contains(ids, id) {
						ids = append(ids, id)
					}
				}
			}
		}
	}
	return ids
}

// mostMoves is how often rows or columns may come and go at once: each time all formulas follow.
const mostMoves = 200

func (g grid) read(raw []json.RawMessage) (script, error) {
	steps, err := table.Read(raw)
	moves := 0
	for _, step := range steps {
		if step.Moves() {
			moves++
		}
	}
	if moves > mostMoves {
		return nil, errTooMany.New("at most %d times rows or columns come and go at once", mostMoves)
	}
	return changes(steps), err
}

func (c changes) raw() (all []json.RawMessage, err error) {
	for _, step := range c {
		raw, err := json.Marshal(step)
		if err != nil {
			return nil, err
		}
		all = append(all, raw)
	}
	return all, nil
}

// changesOf are the changes of batches that stand, each with who made it.
func changesOf(batches ...Batch) (all changes, err error) {
	for _, b := range batches {
		steps, err := table.ReadStanding(b.Steps)
		if err != nil {
			return nil, err
		}
		for _, step := range steps {
			step.By = b.By.String()
			all = append(all, step)
		}
	}
	return all, nil
}

func (g grid) follow(b Batch) (script, body, error) {
	steps, err := changesOf(b)
	if err != nil {
		return nil, nil, err
	}
	book := g.Book
	for _, step := range steps {
		if book, err = book.Apply(step); err != nil {
			return nil, nil, err
		}
	}
	return steps, grid{book}, nil
}

func (g grid) stand(s script, before []group, from int, by hand) (script, body, error) {
	if err := by.within(); err != nil {
		return nil, nil, err
	}
	mine := slices.Clone(s.(changes))
	for i := range mine {
		mine[i].By = by.id
	}
	var theirs []table.Step
	for _, o := range before[from:] {
		theirs = append(theirs, o.script.(changes)...)
	}
	var stand changes
	book := g.Book
	w := writers{before: before}
	for _, step := range table.Carry(mine, theirs, book.Names()) {
		step = book.Noted(step, w.at)
		after, err := book.Apply(step)
		if err != nil {
			return nil, nil, err
		}
		stand, book = append(stand, step), after
		w.goOn(step)
	}
	return stand, grid{book}, nil
}

// writers say who wrote last at a place, as far as that is remembered.
type writers struct {
	before []group
	since  []table.Step
	last   map[table.Place]string
}

func (w *writers) at(p table.Place) string {
	if w.last == nil {
		var all []table.Step
		for _, g := range w.before {
			all = append(all, g.script.(changes)...)
		}
		w.last = map[table.Place]string{}
		for _, c := range table.Changes(append(all, w.since...), mostWriters) {
			if _, later := w.last[c.Place]; !later {
				w.last[c.Place] = c.By
			}
		}
	}
	return w.last[p]
}

// mostWriters is how many changes are looked through for who wrote somewhere.
const mostWriters = 100_000

// goOn takes a step into account that stands now.
func (w *writers) goOn(s table.Step) {
	w.since = append(w.since, s)
	if s.Moves() {
		w.last = nil
	}
}

func (tables) fromFile(ctx context.Context, r *reading.Reader, s reading.Source) ([]byte, error) {
	return r.Table(ctx, s)
}

func (c tables) file(ctx context.Context, s *Service, r row, b body, since []Batch) ([]byte, error) {
	book := b.(grid).Book
	values, err := s.reckonAll(ctx, book, r.DocumentID)
	if err != nil {
		return nil, err
	}
	if c.separated {
		file, err := book.WriteSeparated(values)
		return []byte(file), err
	}
	order := sheets.Order{}
	for p, v := range values {
		order.Values = append(order.Values, table.Reckoned{Place: p, Result: v})
	}
	steps, err := changesOf(since...)
	if err != nil {
		return nil, err
	}
	for _, step := range steps {
		if step.Moves() {
			order.Moves = append(order.Moves, step)
		}
	}
	source, err := s.sourceOf(ctx, r.DocumentID, r.Base, r.DocumentID)
	if err != nil {
		// What it came from is gone: it is written anew.
		return s.Contents.Reader.TableFile(ctx, nil, book, sheets.Order{Values: order.Values}, r.DocumentID.String())
	}
	return s.Contents.Reader.TableFile(ctx, &source, book, order, r.DocumentID.String())
}

func (tables) merged(old, came, now body, since []Batch) (script, bool) {
	steps, err := changesOf(since...)
	if err != nil {
		return nil, false
	}
	book := now.(grid).Book
	merged, ok := table.Merged(old.(grid).Book, came.(grid).Book, book, steps)
	for i, step := range merged {
		merged[i] = book.Noted(step, func(table.Place) string { return "" })
	}
	return changes(merged), ok
}

func (c tables) fresh(ctx context.Context, s *Service) (file, state []byte, err error) {
	book := table.New(c.separated)
	if state, err = json.Marshal(book); err != nil {
		return nil, nil, err
	}
	if c.separated {
		return []byte("\n"), state, nil
	}
	file, err = s.Contents.Reader.TableFile(ctx, nil, book, sheets.Order{}, "")
	return file, state, err
}
