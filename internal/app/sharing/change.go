package sharing

import (
	"context"

	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/people"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// grant finds a grant that the acting person may change: managers change every
// grant, others what they gave themselves as long as they may share, and
// everybody may leave. Holding the dossier's row, it is read once more, so that
// two changes come one after the other.
func (s *Service) grant(ctx context.Context, tx *act.Tx, id uuid.UUID, leaving bool) (guard.Grant, guard.Sight, error) {
	g, err := guard.GrantByID(ctx, tx, id)
	if err != nil {
		return g, guard.Sight{}, err
	}
	me := tx.Actor.Person
	if me == nil {
		return g, guard.Sight{}, fault.SignedOut()
	}
	sight, err := s.Access.Item(ctx, tx, g.ItemID, 0, tx.Now)
	if err != nil {
		return g, sight, err
	}
	if err := tree.LockDossier(ctx, tx, sight.DossierID); err != nil {
		return g, sight, err
	}
	if g, err = guard.GrantByID(ctx, tx, id); err != nil {
		return g, sight, err
	}
	if !MayChange(sight.Caps, g, me.ID) && !(leaving && g.SubjectKind == access.Person && g.SubjectID == me.ID) {
		return g, sight, fault.Refused("change this access")
	}
	return g, sight, nil
}

// MayChange reports whether somebody with these capabilities on its item may
// change a grant.
func MayChange(have access.Caps, g guard.Grant, person uuid.UUID) bool {
	return have.Has(access.Manage) || have.Has(access.Share) && g.CreatedBy != nil && *g.CreatedBy == person
}

// Change sets the terms of a grant anew. version is that at which it was read:
// of two people who change it at once, the second is told.
func (s *Service) Change(ctx context.Context, id uuid.UUID, version int, t Terms) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := t.check(tx.Now); err != nil {
			return err
		}
		g, sight, err := s.grant(ctx, tx, id, false)
		if err != nil {
			return err
		}
		have, err := s.Access.Held(ctx, tx, sight, tx.Actor.Person.ID, tx.Now)
		if err != nil {
			return err
		}
		if _, err := t.within(have); err != nil {
			return err
		}
		g.Version, g.Level, g.OwnSet, g.Onward, g.EndsAt = version, string(t.Level), ownSet(t), t.Onward, t.Until
		if err := s.keepsManager(ctx, tx, sight, access.Plan{Remove: []access.ID{access.ID(id)}, Add: []access.Grant{g.Core()}}); err != nil {
			return err
		}
		if err := guard.ChangeGrant(ctx, tx, g); err != nil {
			return err
		}
		return s.changed(ctx, tx, events.AccessChanged, sight, g)
	})
}

// End takes access away at once.
func (s *Service) End(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		g, sight, err := s.grant(ctx, tx, id, true)
		if err != nil {
			return err
		}
		if err := s.keepsManager(ctx, tx, sight, access.Plan{Remove: []access.ID{access.ID(id)}}); err != nil {
			return err
		}
		if _, err := guard.EndGrant(ctx, tx, id); err != nil {
			return err
		}
		return s.changed(ctx, tx, events.AccessEnded, sight, g)
	})
}

// changed records a change of a grant and lets lists be made anew.
func (s *Service) changed(ctx context.Context, tx *act.Tx, what events.Of[events.Giving], sight guard.Sight, g guard.Grant) error {
	shown, err := s.subject(ctx, tx, g)
	if err != nil {
		return err
	}
	if err := tx.Record(ctx, act.Event{What: what.With(giving(g, shown)), Dossier: sight.DossierID, Item: itemOf(sight)}); err != nil {
		return err
	}
	return guard.Bump(ctx, tx, sight.DossierID)
}

func (s *Service) subject(ctx context.Context, q postgres.Q, g guard.Grant) (recipient, error) {
	r := recipient{subject: g.Core().Subject}
	switch g.SubjectKind {
	case access.Person:
		p, err := accounts.PersonByID(ctx, q, g.SubjectID)
		return toPerson(p), err
	case access.Group:
		group, err := people.GroupByID(ctx, q, g.SubjectID)
		r.name = group.Name
		return r, err
	}
	return r, nil
}

// keepsManager refuses what would leave a dossier without anybody who manages
// it for good.
func (s *Service) keepsManager(ctx context.Context, tx *act.Tx, sight guard.Sight, p access.Plan) error {
	if sight.ParentID != nil {
		return nil
	}
	f, c, err := s.Access.Dossier(ctx, tx, sight.DossierID)
	if err != nil {
		return err
	}
	after, err := f.With(p)
	if err != nil {
		return err
	}
	if !after.Managed(c, tx.Now) {
		return fault.LastManager.New("a dossier keeps at least one manager without an end; name another one first")
	}
	return nil
}

// SetClosed closes an item, so that only its own people and the dossier's
// managers come in, or opens it again. Only who manages it may.
func (s *Service) SetClosed(ctx context.Context, id uuid.UUID, closed bool) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		sight, err := s.Access.Item(ctx, tx, id, access.Manage, tx.Now)
		if err != nil {
			return err
		}
		if sight.ParentID == nil {
			return errDossierClosed.New("a dossier is closed as it is: nobody comes in who is not in it")
		}
		if err := tree.LockDossier(ctx, tx, sight.DossierID); err != nil {
			return err
		}
		f, _, err := s.Access.Dossier(ctx, tx, sight.DossierID)
		if err != nil {
			return err
		}
		root, isRoot := f.Root(access.ID(id))
		if isRoot && root.Closed == closed || !isRoot && !closed {
			return nil
		}
		if err := guard.MakeRoot(ctx, tx, sight.Item); err != nil {
			return err
		}
		if err := guard.SetClosed(ctx, tx, id, closed); err != nil {
			return err
		}
		what := events.AccessClosed
		if !closed {
			what = events.AccessOpened
		}
		if err := tx.Record(ctx, act.Event{What: what.With(events.Name{Name: sight.Name}), Dossier: sight.DossierID, Item: &id}); err != nil {
			return err
		}
		return guard.Bump(ctx, tx, sight.DossierID)
	})
}
