package decisions

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
)

const (
	mostAbsences = 50
	// farthest is how far ahead somebody may say that they are away.
	farthest = 2 * 366
)

// Absences are the acting person's that are not over, with the names of those who stand in.
func (s *Service) Absences(ctx context.Context) ([]Absence, map[uuid.UUID]string, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return nil, nil, fault.SignedOut()
	}
	c, err := s.Calendar(ctx, s.Acts.DB)
	if err != nil {
		return nil, nil, err
	}
	all, err := absencesFrom(ctx, s.Acts.DB, c.Date(s.Acts.Now()))
	if err != nil {
		return nil, nil, err
	}
	all = slices.DeleteFunc(all, func(a Absence) bool { return a.PersonID != me.ID })
	var ids []uuid.UUID
	for _, a := range all {
		if a.Substitute != nil {
			ids = append(ids, *a.Substitute)
		}
	}
	names, err := s.Names(ctx, s.Acts.DB, ids)
	return all, names, err
}

// BeAway says that the acting person is away from one day to the end of another, and who stands in. What
// waits for them already goes to whoever stands in if they ask for it.
func (s *Service) BeAway(ctx context.Context, from, to string, substitute *uuid.UUID) error {
	known, err := s.Known(ctx)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		me := tx.Actor.Person
		if me == nil {
			return fault.SignedOut()
		}
		c, err := s.Calendar(ctx, tx)
		if err != nil {
			return err
		}
		today := c.Date(tx.Now)
		a := Absence{ID: uuid.Must(uuid.NewV7()), PersonID: me.ID, Substitute: substitute}
		if a.From, a.To, err = between(from, to, today); err != nil {
			return err
		}
		if substitute != nil && !slices.ContainsFunc(known, func(p accounts.Person) bool {
			return p.ID == *substitute && p.ID != me.ID && p.Inside() && p.DeactivatedAt == nil
		}) {
			return errSubstitute.In("substitute", "name somebody else of the practice")
		}
		all, err := absencesFrom(ctx, tx, today)
		if err != nil {
			return err
		}
		mine := 0
		for _, other := range all {
			if other.PersonID == me.ID {
				mine++
			}
		}
		if mine >= mostAbsences {
			return errAbsences.In("from", "at most %d absences", mostAbsences)
		}
		return addAbsence(ctx, tx, a)
	})
}

// between reads two days; refused are those that are none, in the wrong order, over, or too far ahead.
func between(from, to, now string) (a, b time.Time, err error) {
	refused := func(field string) error {
		return errAbsence.In(field, "an absence ends after it begins, and within two years from now")
	}
	if a, err = time.Parse(time.DateOnly, from); err != nil {
		return a, b, refused("from")
	}
	if b, err = time.Parse(time.DateOnly, to); err != nil || b.Before(a) {
		return a, b, refused("to")
	}
	today, err := time.Parse(time.DateOnly, now)
	if err != nil {
		return a, b, err
	}
	if b.Before(today) || b.After(today.AddDate(0, 0, farthest)) {
		return a, b, refused("to")
	}
	return a, b, nil
}

// BeBack takes an absence of the acting person's back.
func (s *Service) BeBack(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if tx.Actor.Person == nil {
			return fault.SignedOut()
		}
		return dropAbsence(ctx, tx, id, tx.Actor.Person.ID)
	})
}
