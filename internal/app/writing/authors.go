package writing

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/richtext"
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
	if _, err := s.allowed(ctx, document); err != nil {
		return w, err
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
		read, err := b.read()
		if err != nil {
			return w, err
		}
		steps[len(steps)-1] = append(steps[len(steps)-1], read...)
		w.Version = b.end()
	}
	for _, p := range richtext.Authors(steps) {
		w.Parts = append(w.Parts, Part{p.From, p.To, whose[p.By].By, whose[p.By].At})
	}
	w.Authors, err = authorsByID(ctx, s.Acts.DB, ids)
	return w, err
}

// Author is somebody who wrote or proposes something in a text.
type Author struct {
	ID   uuid.UUID
	Name string
}

func authorsByID(ctx context.Context, q postgres.Q, ids []uuid.UUID) (all []Author, err error) {
	people, err := accounts.PeopleByID(ctx, q, ids)
	for _, p := range people {
		all = append(all, Author{p.ID, p.Name})
	}
	return all, err
}

// mostAuthors is how many of those who propose are named.
const mostAuthors = 200

func authorsOf(ctx context.Context, q postgres.Q, doc *richtext.Node) ([]Author, error) {
	var ids []uuid.UUID
	for _, by := range richtext.Proposals(doc) {
		if id, err := uuid.Parse(by); err == nil && !slices.Contains(ids, id) && len(ids) < mostAuthors {
			ids = append(ids, id)
		}
	}
	if len(ids) == 0 {
		return nil, nil
	}
	return authorsByID(ctx, q, ids)
}
