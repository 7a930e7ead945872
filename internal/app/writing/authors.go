package writing

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/richtext"
	"tabularis/internal/app/accounts"
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
		for _, raw := range b.Steps {
			step, err := richtext.Written.ReadStep(raw)
			if err != nil {
				return w, err
			}
			steps[len(steps)-1] = append(steps[len(steps)-1], step)
		}
		w.Version = b.Version + len(b.Steps)
	}
	for _, p := range richtext.Authors(steps) {
		w.Parts = append(w.Parts, Part{p.From, p.To, whose[p.By].By, whose[p.By].At})
	}
	people, err := accounts.PeopleByID(ctx, s.Acts.DB, ids)
	for _, p := range people {
		w.Authors = append(w.Authors, Author{p.ID, p.Name})
	}
	return w, err
}
