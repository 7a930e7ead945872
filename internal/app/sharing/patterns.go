package sharing

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/people"
)

// Pattern is a dossier after which another is made.
type Pattern struct {
	Code string
	// Documents says that what lies in it is copied, too.
	Documents bool
}

// Fill makes in a new dossier what there is in another: its folders as far as the acting
// person sees them and, if they want, what they may download there. Where they manage the
// pattern, folders are closed as they are there, and colleagues and groups of colleagues may
// do what they may there; nobody outside comes in by it.
func (s *Service) Fill(ctx context.Context, tx *act.Tx, p Pattern, top items.Item) error {
	d, err := s.Access.ByCode(ctx, tx, p.Code, tx.Now)
	if err != nil {
		return err
	}
	sight, err := s.Access.Item(ctx, tx, d.ID, access.See, tx.Now)
	if err != nil {
		return err
	}
	one := source{Sight: sight}
	if p.Documents {
		if one.documents, err = s.Access.Under(ctx, tx, sight, access.See|access.Download, tx.Now); err != nil {
			return err
		}
	}
	if one.folders, err = s.foldersWithin(ctx, tx, sight, one.documents, tx.Now); err != nil {
		return err
	}
	if n := len(one.folders) + len(one.documents); n > mostCopied {
		return errCopiesMany.In("like", "a pattern has at most %d folders and documents", mostCopied)
	}
	if err := s.TakesStorage(ctx, tx, one.size(), guard.Sight{Located: guard.Located{Item: top}}); err != nil {
		return err
	}
	by := tree.Person(s.Access, func() time.Time { return tx.Now }, tx.Actor.Person.ID)
	made := map[uuid.UUID]items.Item{one.ID: top}
	if err := s.copyWithin(ctx, tx, by, one.folders[1:], one.documents, made); err != nil {
		return err
	}
	if sight.Caps.Has(access.Manage) {
		if err := s.repeatAccess(ctx, tx, d.ID, made); err != nil {
			return err
		}
	}
	return guard.Bump(ctx, tx, top.DossierID)
}

// repeatAccess closes what is closed in a pattern, and gives to colleagues what they have there.
func (s *Service) repeatAccess(ctx context.Context, tx *act.Tx, pattern uuid.UUID, made map[uuid.UUID]items.Item) error {
	f, c, err := s.Access.Dossier(ctx, tx, pattern)
	if err != nil {
		return err
	}
	_, grants, err := guard.RootsAndGrants(ctx, tx, []uuid.UUID{pattern})
	if err != nil {
		return err
	}
	for _, id := range sortedKeys(made) {
		item := made[id]
		root, isRoot := f.Root(access.ID(id))
		if !isRoot {
			continue
		}
		if item.ParentID != nil {
			if err := guard.MakeRoot(ctx, tx, item); err != nil {
				return err
			}
		}
		if root.Closed {
			if err := guard.SetClosed(ctx, tx, item.ID, true); err != nil {
				return err
			}
			if err := tx.Record(ctx, act.Event{What: events.AccessClosed.With(events.Name{Name: item.Name}), Dossier: item.DossierID, Item: &item.ID}); err != nil {
				return err
			}
		}
		for _, g := range grants {
			if g.ItemID == id && s.inside(c, g.Grant, tx) {
				if err := s.giveLike(ctx, tx, g.Grant, item); err != nil {
					return err
				}
			}
		}
	}
	return nil
}

// inside reports whether a grant is one for colleagues alone, which does not end: the acting
// person has their own already.
func (s *Service) inside(c *access.Circles, g guard.Grant, tx *act.Tx) bool {
	subject := g.Core().Subject
	if g.EndsAt != nil || subject.Kind == access.Person && uuid.UUID(subject.ID) == tx.Actor.Person.ID {
		return false
	}
	all := c.Everybody([]access.Subject{subject})
	return len(all) > 0 && !slices.ContainsFunc(all, func(id access.ID) bool {
		account, known := c.Account(id)
		return !known || account.Outside
	})
}

// giveLike gives on an item what is given on another.
func (s *Service) giveLike(ctx context.Context, tx *act.Tx, g guard.Grant, item items.Item) error {
	r := recipient{subject: g.Core().Subject}
	switch g.SubjectKind {
	case access.Group:
		group, err := people.GroupByID(ctx, tx, g.SubjectID)
		if err != nil {
			return err
		}
		r.name = group.Name
	case access.Person:
		person, err := accounts.PersonByID(ctx, tx, g.SubjectID)
		if err != nil {
			return err
		}
		r.name = person.Name
	}
	g.ID, g.ItemID, g.Message, g.Version, g.CreatedBy, g.CreatedAt = uuid.Must(uuid.NewV7()), item.ID, "", 1, &tx.Actor.Person.ID, tx.Now
	if err := guard.AddGrant(ctx, tx, g); err != nil {
		return err
	}
	id := item.ID
	return tx.Record(ctx, act.Event{What: events.AccessGiven.With(giving(g, r)), Dossier: item.DossierID, Item: &id})
}

// sortedKeys are the ids of what was made, always in one order.
func sortedKeys(made map[uuid.UUID]items.Item) []uuid.UUID {
	ids := make([]uuid.UUID, 0, len(made))
	for id := range made {
		ids = append(ids, id)
	}
	return guard.Sorted(ids)
}
