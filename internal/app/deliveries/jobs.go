package deliveries

import (
	"context"
	"errors"
	"time"

	"github.com/google/uuid"

	rules "tabularis/core/deliveries"
	"tabularis/core/fault"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/jobs"
)

// looking is how often it is looked what has waited too long.
const looking = time.Hour

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("look after deliveries", looking, s.Look)
}

// Look destroys what was not accepted within the keeping period, and what was brought and never sent
// off.
func (s *Service) Look(ctx context.Context) error {
	p, err := practice.ThePractice(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	now := s.Acts.Now()
	old, err := lapsed(ctx, s.Acts.DB, now.AddDate(0, 0, -p.KeepingDays))
	if err != nil {
		return err
	}
	var failed []error
	for _, d := range old {
		failed = append(failed, s.as(ctx, d.PersonID, func(ctx context.Context) error { return s.Refuse(ctx, d.ID) }))
	}
	left, err := neverSent(ctx, s.Acts.DB, now.Add(-rules.Unsent))
	failed = append(failed, err)
	for _, u := range left {
		failed = append(failed, s.as(ctx, u.Owner, func(ctx context.Context) error {
			return s.Acts.Do(ctx, func(tx *act.Tx) error {
				if err := dropUnsent(ctx, tx, u); err != nil {
					return err
				}
				return s.Items.Discard(ctx, tx, u.ItemID)
			})
		}))
	}
	return errors.Join(failed...)
}

// as does something on somebody's behalf. What somebody else has done meanwhile is no failure.
func (s *Service) as(ctx context.Context, id uuid.UUID, do func(ctx context.Context) error) error {
	person, err := accounts.PersonByID(ctx, s.Acts.DB, id)
	if err != nil {
		return err
	}
	err = do(act.As(ctx, act.Actor{Person: &person, Language: person.Language}))
	if fault.Is(err, fault.Conflict) || fault.Is(err, fault.NotFound) {
		return nil
	}
	return err
}
