package uploads

import (
	"context"
	"time"

	"tabularis/core/fault"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
)

// turn is how long an upload that is complete waits for being asked for: a page that is
// still open asks long before.
const turn = time.Minute

// FinishWaiting makes documents of what has arrived whole and was not asked for: the page
// that brought it was closed. What is refused by now is left for whoever comes back to it.
func (s *Service) FinishWaiting(ctx context.Context) error {
	all, err := waitingUploads(ctx, s.Acts.DB, s.Acts.Now().Add(-turn), 1000)
	if err != nil {
		return err
	}
	for _, u := range all {
		p, err := accounts.PersonByID(ctx, s.Acts.DB, *u.PersonID)
		if err != nil {
			return err
		}
		err = fault.Missing() // whoever is no longer here brings nothing in
		if p.DeactivatedAt == nil {
			_, err = s.Finish(act.As(ctx, act.Actor{Person: &p}), u.ID)
		}
		if err != nil && final(err) {
			err = waitNoMore(ctx, s.Acts.DB, u.ID)
		}
		if err != nil {
			return err
		}
	}
	return nil
}
