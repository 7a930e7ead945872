package transfers

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/jobs"
)

// reminding is how often it is looked who is to be told, and what is to be destroyed.
const reminding = 10 * time.Minute

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("look after transfers", reminding, s.Look)
}

// End takes a transfer back: nobody is let in any more, and what is on its way breaks off. For
// a while that can be undone, then the copies are destroyed.
func (s *Service) End(ctx context.Context, id uuid.UUID) error {
	if _, err := s.mine(ctx, s.Acts.DB, id); err != nil {
		return err
	}
	return s.Links.End(ctx, id)
}

// Discard ends a transfer that nobody was told of, with its copies, for good.
func (s *Service) Discard(ctx context.Context, id uuid.UUID) error {
	if err := s.End(ctx, id); err != nil {
		return err
	}
	return s.destroy(ctx, id)
}

// Reopen undoes End.
func (s *Service) Reopen(ctx context.Context, id uuid.UUID) error {
	if _, err := s.mine(ctx, s.Acts.DB, id); err != nil {
		return err
	}
	return s.Links.Reopen(ctx, id)
}

// destroy destroys the copies of a transfer that is over; the record stays. What was still arriving
// is given up.
func (s *Service) destroy(ctx context.Context, id uuid.UUID) error {
	if err := s.giveUp(ctx, id, nil); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := transferByLink(ctx, tx, id)
		if err != nil || t.DestroyedAt != nil {
			return err
		}
		if err := s.Items.Discard(ctx, tx, t.FolderID); err != nil {
			return err
		}
		if err := dropManifest(ctx, tx, id); err != nil {
			return err
		}
		return setDestroyed(ctx, tx, id, tx.Now)
	})
}

// giveUp gives up what is still arriving for a transfer, or for one of its files.
func (s *Service) giveUp(ctx context.Context, id uuid.UUID, file *uuid.UUID) error {
	left, err := uploadsFor(ctx, s.Acts.DB, id, file)
	if err != nil {
		return err
	}
	for _, one := range left {
		u, err := uploads.UploadByID(ctx, s.Acts.DB, one, false)
		if err == nil {
			err = s.Uploads.Drop(ctx, u)
		}
		if err != nil && !fault.Is(err, fault.NotFound) {
			return err
		}
	}
	return nil
}
