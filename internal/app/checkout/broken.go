package checkout

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
)

// brokenFor is how long after a check-out was broken its holder's work is kept apart.
const brokenFor = 30 * 24 * time.Hour

// KeptApart reports whether what a person brings of a document is to be kept apart: their
// check-out of it was broken, and since then it has moved on, or is in another hand.
func KeptApart(ctx context.Context, q postgres.Q, document items.Item, person uuid.UUID, now time.Time) (apart bool, err error) {
	version, broken, err := brokenAt(ctx, q, document.ID, person, now.Add(-brokenFor))
	if err != nil || !broken {
		return false, err
	}
	by, err := Of(ctx, q, []uuid.UUID{document.ID})
	if err != nil {
		return false, err
	}
	h, held := by[document.ID]
	return document.Version > version || held && h.PersonID != person, nil
}

// Settle forgets that somebody's check-out was broken: their work has come.
func Settle(ctx context.Context, q postgres.Q, document, person uuid.UUID) error {
	return dropBroken(ctx, q, document, person)
}

// forgetBroken forgets what was broken long ago.
func (s *Service) forgetBroken(ctx context.Context) error {
	return dropBrokenBefore(ctx, s.Acts.DB, s.Acts.Now().Add(-brokenFor))
}
