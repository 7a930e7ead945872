package checkout

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/checkout"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
	"tabularis/internal/platform/jobs"
)

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("remind of what is in hand", 10*time.Minute, s.Remind)
	r.Every("forget broken check-outs", 24*time.Hour, s.forgetBroken)
}

// atOnce is how many holders are reminded in one act.
const atOnce = 100

// Remind reminds holders, once, of what should have come back.
func (s *Service) Remind(ctx context.Context) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		all, err := toRemind(ctx, tx, tx.Now, tx.Now.Add(-checkout.Forgotten), atOnce)
		if err != nil {
			return err
		}
		for _, h := range all {
			sight, err := guard.SightsOf(ctx, tx, []uuid.UUID{h.ItemID}, tx.Now)
			if err != nil {
				return err
			}
			if len(sight) == 1 {
				if err := notices.Add(ctx, tx, h.PersonID, notices.HeldLong, sight[0].Item.Name, way(guard.Sight{Located: sight[0]})); err != nil {
					return err
				}
			}
			if err := reminded(ctx, tx, h.ItemID, tx.Now); err != nil {
				return err
			}
		}
		return nil
	})
}
