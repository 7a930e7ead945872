package sharing

import (
	"context"
	"slices"
	"time"

	"tabularis/core/items"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Move is a wish to put items into another folder.
type Move struct {
	Items []uuid.UUID
	To    uuid.UUID
	// Deleted says that the items are deleted, and would come back for it.
	Deleted bool
}

// mayMove finds what is to be moved and where to. Whoever moves may delete it
// where it is, and add where it goes. Refused are dossiers, and folders that
// would lie in themselves.
func (s *Service) mayMove(ctx context.Context, q postgres.Q, m Move, now time.Time) ([]guard.Sight, guard.Sight, error) {
	if len(m.Items) == 0 || len(m.Items) > maxItems {
		return nil, guard.Sight{}, fault.ItemsCount.In("items", "choose between 1 and %d items", maxItems)
	}
	to, err := s.Access.Kind(ctx, q, m.To, items.Folder, access.Add, now)
	if err != nil {
		return nil, to, err
	}
	way, err := tree.PathOf(ctx, q, m.To)
	if err != nil {
		return nil, to, err
	}
	var moved []guard.Sight
	for _, id := range dedupe(m.Items) {
		find := s.Access.Item
		if m.Deleted {
			find = s.Access.Deleted
		}
		item, err := find(ctx, q, id, 0, now)
		if err != nil {
			return nil, to, err
		}
		if !item.MayDelete(act.Who(ctx).Person.ID) {
			return nil, to, fault.Refused("move this")
		}
		there := item.Item
		there.DeletedAt = nil // As it will be.
		if err := s.Items.MayMove(ctx, q, there, to.Item); err != nil {
			return nil, to, err
		}
		if slices.Contains(way, id) {
			return nil, to, errIntoItself.In("to", "%q cannot lie in itself", item.Name)
		}
		moved = append(moved, item)
	}
	return moved, to, nil
}

// Move puts items into another folder, all of them or none. Where a name is
// taken there it refuses, and where an open link would give things of two
// dossiers.
func (s *Service) Move(ctx context.Context, m Move) error {
	if err := s.notOutgoing(ctx, m.To); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return s.MoveIn(ctx, tx, m) })
}

// notOutgoing refuses a folder of a transfer: what lies in it is frozen, and comes there by the
// transfer alone.
func (s *Service) notOutgoing(ctx context.Context, folder uuid.UUID) error {
	to, err := tree.ItemByID(ctx, s.Acts.DB, folder)
	if err != nil {
		return err
	}
	d, err := tree.DossierByID(ctx, s.Acts.DB, to.DossierID)
	if err == nil && d.Kind == items.Outgoing {
		err = fault.Missing()
	}
	return err
}

// MoveIn is Move as a part of an act.
func (s *Service) MoveIn(ctx context.Context, tx *act.Tx, m Move) error {
	items, to, err := s.mayMove(ctx, tx, m, tx.Now)
	if err != nil {
		return err
	}
	held, err := s.lock(ctx, tx, append(slices.Clone(items), to))
	if err != nil {
		return err
	}
	// Nobody changes access now; what was allowed before must still be.
	if items, to, err = s.mayMove(ctx, tx, m, tx.Now); err != nil {
		return err
	}
	for _, item := range items {
		if err := s.mayTake(ctx, tx, item, to, tx.Now); err != nil {
			return err
		}
	}
	for _, item := range items {
		if err := s.Items.Move(ctx, tx, item, to); err != nil {
			return err
		}
	}
	if err := links.NotTorn(ctx, tx, to.DossierID); err != nil {
		return err
	}
	for _, d := range held {
		if err := guard.Bump(ctx, tx, d); err != nil {
			return err
		}
	}
	return nil
}

// mayTake refuses to move what the mover would do more with afterwards, or what
// holds closed things that are not theirs. It does not say which.
func (s *Service) mayTake(ctx context.Context, q postgres.Q, item, to guard.Sight, now time.Time) error {
	m, err := s.moved(ctx, q, item, to)
	if err != nil {
		return err
	}
	if !m.before.MayMove(access.ID(item.ID), m.after, m.circles.Subjects(access.ID(act.Who(ctx).Person.ID)), now) {
		return fault.Refused("move this")
	}
	return nil
}

// whatIfMoved says what moving would mean.
func (s *Service) whatIfMoved(ctx context.Context, m Move) (Consequence, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	items, to, err := s.mayMove(ctx, q, m, now)
	if err != nil {
		return Consequence{}, err
	}
	var out Consequence
	var totals tally
	for _, item := range items {
		if err := s.mayTake(ctx, q, item, to, now); err != nil {
			return out, err
		}
		n, err := s.compareMoved(ctx, q, &totals, item, to, now)
		if err != nil {
			return out, err
		}
		out.Documents += n
	}
	if out.Effects, err = totals.named(ctx, q); err != nil {
		return out, err
	}
	way, err := tree.ZonePathOf(ctx, q, m.To)
	if err != nil {
		return out, err
	}
	out.Links, err = links.NewestOn(ctx, q, way, now)
	return out, err
}

// move is a dossier's access before and after an item was moved, with the roots
// that the item brings along.
type move struct {
	before, after *access.Forest
	circles       *access.Circles
	weights       map[access.ID]int
}

// moved says how access would be with the item in its new place.
func (s *Service) moved(ctx context.Context, q postgres.Q, item, to guard.Sight) (m move, err error) {
	if m.before, m.circles, err = s.Access.Dossier(ctx, q, item.DossierID); err != nil {
		return m, err
	}
	target := m.before
	if to.DossierID != item.DossierID {
		if target, _, err = s.Access.Dossier(ctx, q, to.DossierID); err != nil {
			return m, err
		}
	}
	id, p := access.ID(item.ID), access.Plan{}
	m.weights = map[access.ID]int{}
	if item.Root != item.ID {
		if m.weights[id], err = s.newRoot(ctx, q, item, &p); err != nil {
			return m, err
		}
		if m.before, err = m.before.With(p); err != nil {
			return m, err
		}
		if to.DossierID == item.DossierID {
			target = m.before
		}
	}
	var folder access.ID
	if item.Item.Kind == items.Document {
		folder = access.ID(to.ID)
	}
	m.after, err = m.before.Moved(id, target, access.ID(to.Root), folder)
	return m, err
}

func (s *Service) compareMoved(ctx context.Context, q postgres.Q, totals *tally, item, to guard.Sight, now time.Time) (int, error) {
	m, err := s.moved(ctx, q, item, to)
	if err != nil {
		return 0, err
	}
	id := access.ID(item.ID)
	if item.DeletedAt != nil {
		// What is deleted is counted nowhere but with its deletion.
		if m.weights[id], err = tree.DeletedDocuments(ctx, q, item.ID); err != nil {
			return 0, err
		}
	} else if err := addWeights(ctx, q, m.weights, visible(m.before, m.before.Below(id), id, m.circles.Subjects(access.ID(act.Who(ctx).Person.ID)), now), id, item.Root == item.ID); err != nil {
		return 0, err
	}
	return totals.compare(m.before, m.after, m.circles, m.circles, m.circles.Everybody(append(m.before.Subjects(), m.after.Subjects()...)), m.weights, now), nil
}
