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
		return Sight{}, signedOut()
	}
	item, err := store.ItemByID(ctx, q, id)
	if err != nil {
		return Sight{}, err
	}
	path, err := store.PathOf(ctx, q, id)
	if err != nil {
		return Sight{}, err
	}
	if len(path) == 0 {
		return Sight{}, fault.Missing()
	}
	grants, err := store.GrantsOn(ctx, q, path)
	if err != nil {
		return Sight{}, err
	}
	caps := access.Decide(corePath(path), coreGrants(grants), person.ID.String(), now).Caps
	if !caps.Has(access.See) {
		return Sight{}, fault.Missing()
	}
	if !caps.Has(need) {
		return Sight{}, fault.Refused("do this")
	}
	return Sight{Item: item, Path: path, Caps: caps}, nil
}

// Content finds a version of a document for the acting person, who needs the
// capabilities on it, together with where its content lies. Number 0 means the
// counting version. It decides like Item, in one statement.
func Content(ctx context.Context, q store.Q, id uuid.UUID, number int, need access.Caps, now time.Time) (store.Sighted, error) {
	person := act.Who(ctx).Person
	if person == nil {
		return store.Sighted{}, signedOut()
	}
	s, err := store.Sight(ctx, q, id, person.ID, number)
	if err != nil {
		return s, err
	}
	path, grants, err := s.Way()
	if err != nil {
		return s, err
	}
	return s, decide(path, grants, person.ID, need, now)
}

func decide(path []uuid.UUID, grants []store.Grant, person uuid.UUID, need access.Caps, now time.Time) error {
	caps := access.Decide(corePath(path), coreGrants(grants), person.String(), now).Caps
	switch {
	case !caps.Has(access.See):
		return fault.Missing()
	case !caps.Has(need):
		return fault.Refused("do this")
	}
	return nil
}

func signedOut() error {
	return fault.New(fault.Unauthenticated, "signed-out", "nobody is signed in, or no longer")
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
		return nil, signedOut()
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
