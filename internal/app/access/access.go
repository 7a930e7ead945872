// Package access is the one place where use cases ask whether somebody may. It
// fetches what core/access decides by; what may not be seen answers like what
// does not exist.
package access

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/store"
)

// Sight is an item as the acting person may deal with it.
type Sight struct {
	Item store.Item
	// Path leads from the dossier's top to the item, the item last.
	Path []uuid.UUID
	Caps access.Caps
}

// Item finds an item for the acting person, who needs the capabilities on it.
func Item(ctx context.Context, q store.Q, id uuid.UUID, need access.Caps, now time.Time) (Sight, error) {
	person := act.Who(ctx).Person
	if person == nil {
		return Sight{}, fault.SignedOut()
	}
	s, err := store.SightOf(ctx, q, id, person.ID)
	if err != nil {
		return Sight{}, err
	}
	path, caps, err := decide(s, person.ID, need, now)
	if err != nil {
		return Sight{}, err
	}
	return Sight{Item: s.Item, Path: path, Caps: caps}, nil
}

// Content finds a version of a document for the acting person, who needs the
// capabilities on it, together with where its content lies. Number 0 means the
// counting version.
func Content(ctx context.Context, q store.Q, id uuid.UUID, number int, need access.Caps, now time.Time) (store.ContentSight, error) {
	person := act.Who(ctx).Person
	if person == nil {
		return store.ContentSight{}, fault.SignedOut()
	}
	s, err := store.ContentSightOf(ctx, q, id, person.ID, number)
	if err != nil {
		return s, err
	}
	_, _, err = decide(s.Sight, person.ID, need, now)
	return s, err
}

// decide asks core/access, and refuses what the person may not.
func decide(s store.Sight, person uuid.UUID, need access.Caps, now time.Time) ([]uuid.UUID, access.Caps, error) {
	path, grants, err := s.Way()
	if err != nil {
		return nil, 0, err
	}
	caps := access.Decide(corePath(path), coreGrants(grants), person.String(), now).Caps
	switch {
	case !caps.Has(access.See):
		err = fault.Missing()
	case !caps.Has(need):
		err = fault.Refused("do this")
	}
	return path, caps, err
}

// Kind finds an item of a kind, like Item.
func Kind(ctx context.Context, q store.Q, id uuid.UUID, kind string, need access.Caps, now time.Time) (Sight, error) {
	s, err := Item(ctx, q, id, need, now)
	if err == nil && s.Item.Kind != kind {
		err = fault.Missing()
	}
	return s, err
}

// Dossiers lists the ids of the dossiers the acting person is in.
func Dossiers(ctx context.Context, q store.Q, now time.Time) ([]uuid.UUID, error) {
	person := act.Who(ctx).Person
	if person == nil {
		return nil, fault.SignedOut()
	}
	ids := []uuid.UUID{}
	return ids, q.SelectContext(ctx, &ids, `SELECT d.id FROM grants g JOIN dossiers d ON d.id = g.item_id
		WHERE g.person_id = $1 AND (g.ends_at IS NULL OR g.ends_at > $2)`, person.ID, now)
}

func corePath(ids []uuid.UUID) access.Path {
	p := make(access.Path, len(ids))
	for i, id := range ids {
		p[i] = id.String()
	}
	return p
}

func coreGrants(rows []store.Grant) []access.Grant {
	gs := make([]access.Grant, len(rows))
	for i, r := range rows {
		gs[i] = access.Grant{ID: r.ID.String(), Person: r.PersonID.String(), Item: r.ItemID.String(), Level: access.Level(r.Level), Ends: r.EndsAt}
	}
	return gs
}
