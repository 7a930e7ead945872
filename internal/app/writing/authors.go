package writing

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/richtext"
	"tabularis/core/table"
	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/postgres"
)

// Part is a part of a text, by whom it was written, and when they began.
type Part struct {
	From, To int
	By       uuid.UUID
	At       time.Time
}

// Wrote is who wrote what in a version of a text, as far as its steps are still known.
type Wrote struct {
	Version int
	Parts   []Part
	Authors []Author
}

// onePart is how long what somebody writes without another in between is one part in time.
const onePart = 10 * time.Minute

// Wrote says who wrote what, for whoever may read the text.
func (s *Service) Wrote(ctx context.Context, document uuid.UUID) (w Wrote, err error) {
	at, err := s.allowed(ctx, document)
	if err != nil {
		return w, err
	}
	if at.Item.MediaType != markdownType {
		return w, errNotWritten.New("who wrote what in a table is told by its changes")
	}
	all, err := batchesFrom(ctx, s.Acts.DB, s.Keys, document, 0)
	if err != nil {
		return w, err
	}
	var steps [][]richtext.Step
	var whose []Part
	var ids []uuid.UUID
	for _, b := range all {
		if last := len(whose) - 1; last < 0 || whose[last].By != b.By || b.At.Sub(whose[last].At) > onePart {
			whose, steps, ids = append(whose, Part{By: b.By, At: b.At}), append(steps, nil), append(ids, b.By)
		}
		read, err := readLines(b.Steps)
		if err != nil {
			return w, err
		}
		steps[len(steps)-1] = append(steps[len(steps)-1], read.steps...)
		w.Version = b.end()
	}
	for _, p := range richtext.Authors(steps) {
		w.Parts = append(w.Parts, Part{p.From, p.To, whose[p.By].By, whose[p.By].At})
	}
	w.Authors, err = authorsByID(ctx, s.Acts.DB, document, ids)
	return w, err
}

// Author is somebody who wrote or proposes something in a text.
type Author struct {
	ID   uuid.UUID `db:"id"`
	Name string    `db:"name"`
}

func authorsByID(ctx context.Context, q postgres.Q, document uuid.UUID, ids []uuid.UUID) ([]Author, error) {
	all, err := outsidersOf(ctx, q, document, ids)
	if err != nil {
		return nil, err
	}
	people, err := accounts.PeopleByID(ctx, q, ids)
	for _, p := range people {
		all = append(all, Author{p.ID, p.Name})
	}
	return all, err
}

// mostAuthors is how many of those who propose are named.
const mostAuthors = 200

func authorsOf(ctx context.Context, q postgres.Q, document uuid.UUID, people []string) ([]Author, error) {
	var ids []uuid.UUID
	for _, by := range people {
		if id, err := uuid.Parse(by); err == nil && len(ids) < mostAuthors {
			ids = append(ids, id)
		}
	}
	if len(ids) == 0 {
		return nil, nil
	}
	return authorsByID(ctx, q, document, ids)
}

// Changed is what somebody changed in a table since it became a version last.
type Changed struct {
	table.Change
	At time.Time
}

// mostChanges is how many of them are told, the newest.
const mostChanges = 100

// Changes are what was changed in a table since it became a version last, the newest first, for whoever may read it.
func (s *Service) Changes(ctx context.Context, document uuid.UUID) (all []Changed, authors []Author, err error) {
	at, err := s.allowed(ctx, document)
	if err != nil {
		return nil, nil, err
	}
	if _, isTable := crafts[at.Item.MediaType].(tables); !isTable {
		return nil, nil, errNotWritten.New("who wrote what in a text is told by its parts")
	}
	r, err := rowOf(ctx, s.Acts.DB, document, false)
	if fault.Is(err, fault.NotFound) || err == nil && r.MediaType != at.Item.MediaType {
		return nil, nil, nil // Nobody has written in it yet.
	}
	if err != nil {
		return nil, nil, err
	}
	batches, err := batchesFrom(ctx, s.Acts.DB, s.Keys, document, r.KeptVersion)
	if err != nil {
		return nil, nil, err
	}
	var steps []table.Step
	var when []time.Time
	for _, b := range batches {
		read, err := changesOf(b)
		if err != nil {
			return nil, nil, err
		}
		for _, step := range read {
			steps, when = append(steps, step), append(when, b.At)
		}
	}
	var people []string
	for _, c := range table.Changes(steps, mostChanges) {
		all = append(all, Changed{c, when[c.Step]})
		if !slices.Contains(people, c.By) {
			people = append(people, c.By)
		}
	}
	authors, err = authorsOf(ctx, s.Acts.DB, document, people)
	return all, authors, err
}

// Held are the words that remarks hold on to in a text that is written, by their threads; none where it is not written.
func (s *Service) Held(ctx context.Context, document uuid.UUID) (map[string]richtext.Held, error) {
	r, err := rowOf(ctx, s.Acts.DB, document, false)
	if fault.Is(err, fault.NotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	b, _, _, err := s.bodyNow(ctx, r)
	if err != nil {
		return nil, err
	}
	t, is := b.(text)
	if !is {
		return nil, nil
	}
	return richtext.HeldBy(t.Node), nil
}
