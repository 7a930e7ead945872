package access

import (
	"context"
	"maps"
	"slices"
	"time"

	"tabularis/core/access"
)

// Extents measures what people can open: for those who administer accounts, who
// learn no more than these figures.
func (g *Guard) Extents(ctx context.Context, people []access.ID, now time.Time) (map[access.ID]access.Extent, error) {
	forests, _, circles, _, err := g.everything(ctx)
	if err != nil {
		return nil, err
	}
	counted, err := AllWeights(ctx, g.db)
	if err != nil {
		return nil, err
	}
	weights := make(map[access.ID]int, len(counted))
	for root, n := range counted {
		weights[access.ID(root)] = n
	}
	return access.Extents(slices.Collect(maps.Values(forests)), circles, people, weights, now), nil
}
