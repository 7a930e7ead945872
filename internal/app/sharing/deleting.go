package sharing

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
)

// whatIfDeleted says who could no longer open what, and how many links would give less.
func (s *Service) whatIfDeleted(ctx context.Context, ids []uuid.UUID) (Consequence, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	if len(ids) == 0 || len(ids) > maxItems {
		return Consequence{}, fault.ItemsCount.In("items", "choose between 1 and %d items", maxItems)
	}
	me := act.Who(ctx).Person.ID
	var out Consequence
	var totals tally
	for _, id := range dedupe(ids) {
		item, err := s.Access.Item(ctx, q, id, 0, now)
		if err != nil {
			return out, err
		}
		if !item.MayDelete(me) {
			return out, fault.Refused("delete this")
		}
		if err := s.Access.MayDeleteDossier(ctx, q, item); err != nil {
			return out, err
		}
		f, c, err := s.Access.Dossier(ctx, q, item.DossierID)
		if err != nil {
			return out, err
		}
		root, p, weights := access.ID(item.ID), access.Plan{}, map[access.ID]int{}
		if item.Root != item.ID {
			if weights[root], err = s.newRoot(ctx, q, item, &p); err != nil {
				return out, err
			}
			if f, err = f.With(p); err != nil {
				return out, err
			}
		}
		seen := visible(f, f.Below(root), root, c.Subjects(access.ID(me)), now)
		if err := addWeights(ctx, q, weights, seen, root, item.Root == item.ID); err != nil {
			return out, err
		}
		for _, n := range weights {
			out.Documents += n
		}
		if item.Item.Kind == items.Folder {
			if err := s.Access.Throughout(ctx, q, item, access.Delete, now); err != nil {
				return out, err
			}
		}
		for _, person := range c.Everybody(f.Subjects()) {
			if person != access.ID(me) {
				totals.lose(f, c, person, weights, now)
			}
		}
	}
	var err error
	if out.Links, err = links.CountGiving(ctx, q, ids, now); err != nil {
		return out, err
	}
	out.Effects, err = totals.named(ctx, q)
	return out, err
}
