package links

import (
	"context"
	"maps"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/store"
)

// Reaching counts for each of a folder's documents the open links that give it.
// A link to a folder does not give what is closed in it.
func Reaching(ctx context.Context, q store.Q, folder uuid.UUID, documents []store.PlacedItem, now time.Time) (map[uuid.UUID]int, error) {
	scope, err := store.ScopeOf(ctx, q, folder)
	if err != nil {
		return nil, err
	}
	var with, apart []uuid.UUID
	for _, d := range documents {
		if d.Zone == scope.Zone {
			with = append(with, d.ID)
		} else {
			apart = append(apart, d.ID)
		}
	}
	path, err := store.ZonePathOf(ctx, q, folder)
	if err != nil {
		return nil, err
	}
	counts, err := store.LivingLinkCounts(ctx, q, path, with, now)
	if err != nil || len(apart) == 0 {
		return counts, err
	}
	more, err := store.LivingLinkCounts(ctx, q, nil, apart, now)
	maps.Copy(counts, more)
	return counts, err
}
