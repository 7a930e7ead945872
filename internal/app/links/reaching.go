package links

import (
	"context"
	"maps"
	"time"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"
)

// Reaching counts for each of a folder's documents the open links that give it.
// A link to a folder does not give what is closed in it.
func Reaching(ctx context.Context, q postgres.Q, folder uuid.UUID, documents []items.Placed, now time.Time) (map[uuid.UUID]int, error) {
	scope, err := guard.ScopeOf(ctx, q, folder)
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
	path, err := tree.ZonePathOf(ctx, q, folder)
	if err != nil {
		return nil, err
	}
	counts, err := LivingLinkCounts(ctx, q, path, with, now)
	if err != nil || len(apart) == 0 {
		return counts, err
	}
	more, err := LivingLinkCounts(ctx, q, nil, apart, now)
	maps.Copy(counts, more)
	return counts, err
}

// ReachedIn says which of a folder's documents open links give: single ones, and, where a link
// gives whatever lies there, all that are in the folder's zone.
func ReachedIn(ctx context.Context, q postgres.Q, folder uuid.UUID, now time.Time) (documents []uuid.UUID, zone uuid.UUID, all bool, err error) {
	scope, err := guard.ScopeOf(ctx, q, folder)
	if err != nil {
		return nil, uuid.Nil, false, err
	}
	path, err := tree.ZonePathOf(ctx, q, folder)
	if err != nil {
		return nil, uuid.Nil, false, err
	}
	documents, all, err = reachedIn(ctx, q, folder, path, now)
	return documents, scope.Zone, all, err
}

// ReachedAnywhere says what open links give, of all that there is: single documents, and by
// their numbers the scopes of folders that they give with whatever lies there.
func ReachedAnywhere(ctx context.Context, q postgres.Q, now time.Time) (documents []uuid.UUID, scopes []int, err error) {
	if documents, err = reachedDocuments(ctx, q, now); err != nil {
		return nil, nil, err
	}
	scopes, err = reachedScopes(ctx, q, now)
	return documents, scopes, err
}
