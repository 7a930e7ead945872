package visits

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/platform/jobs"
)

// Withdraw takes back what this visitor brought and has not handed in yet: a wrong file is
// gone at once, and only that it was there is known. Refused is what somebody of the
// practice works with already (fault.Conflict).
func (s *Service) Withdraw(ctx context.Context, v Visitor, document uuid.UUID) (in Intake, err error) {
	b := &bringer{s: s, visitor: v}
	err = s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, visit, err := s.within(ctx, tx, v)
		if err != nil {
			return err
		}
		b.link, b.visit = l, visit
		if err := s.withdraw(ctx, tx, b, document); err != nil {
			return err
		}
		in, err = s.intake(ctx, tx, l, visit)
		return err
	})
	return in, err
}

func (s *Service) withdraw(ctx context.Context, tx *act.Tx, b *bringer, document uuid.UUID) error {
	item, err := tree.ItemByID(ctx, tx, document)
	if err != nil {
		return err
	}
	mine, err := receivedItem(ctx, tx, b.visit, document)
	if err != nil {
		return err
	}
	if err := tree.LockDossier(ctx, tx, item.DossierID); err != nil {
		return err
	}
	if _, err := links.LockLink(ctx, tx, b.link.ID); err != nil {
		return err
	}
	// As it is now that nobody else changes it.
	if item, err = tree.ItemByID(ctx, tx, document); err != nil {
		return err
	}
	if mine, err = receivedItem(ctx, tx, b.visit, document); err != nil {
		return err
	}
	if mine.HandedAt != nil {
		return errHandedIn.New("it is handed in already; ask them to delete it")
	}
	used, err := takenUp(ctx, tx, document)
	if err != nil {
		return err
	}
	if _, err := b.Into(ctx, tx, *item.ParentID); used || fault.Is(err, fault.NotFound) {
		return errTakenUp.New("somebody works with it already; ask them to delete it")
	} else if err != nil {
		return err
	}
	places, err := s.Uploads.Items.TakeBack(ctx, tx, b, item)
	if err != nil {
		return err
	}
	if err := dropReceived(ctx, tx, b.link.ID, document); err != nil || len(places) == 0 {
		return err
	}
	return tx.Enqueue(ctx, jobs.DropContent{Places: places})
}
