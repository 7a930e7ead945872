package access

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/internal/platform/postgres"
)

// Grant gives a subject a level on an item. The subject is a person, a group,
// or everyone in the practice, whose id is nil.
type Grant struct {
	ID          uuid.UUID          `db:"id"`
	ItemID      uuid.UUID          `db:"item_id"`
	SubjectKind access.SubjectKind `db:"subject_kind"`
	SubjectID   uuid.UUID          `db:"subject_id"`
	Level       string             `db:"level"`
	OwnSet      access.Caps        `db:"own_set"`
	Onward      bool               `db:"onward"`
	EndsAt      *time.Time         `db:"ends_at"`
	Message     string             `db:"message"`
	Version     int                `db:"version"`
	CreatedBy   *uuid.UUID         `db:"created_by"`
	CreatedAt   time.Time          `db:"created_at"`
}

// Core is the grant as the rules know it.
func (g Grant) Core() access.Grant {
	return access.Grant{ID: access.ID(g.ID), Item: access.ID(g.ItemID), Subject: access.Subject{Kind: g.SubjectKind, ID: access.ID(g.SubjectID)},
		Level: access.Level(g.Level), OwnSet: g.OwnSet, Onward: g.Onward, Ends: g.EndsAt}
}

// SubjectIndex is violated by a second grant for a subject on an item.
const SubjectIndex = "grants_subject_item"

// AddGrant adds a grant. Its item must be a root of access.
func AddGrant(ctx context.Context, q postgres.Q, g Grant) error {
	return postgres.Exec(ctx, q, `INSERT INTO grants (id, item_id, subject_kind, subject_id, level, own_set, onward, ends_at, message, created_by, created_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
		g.ID, g.ItemID, g.SubjectKind, g.SubjectID, g.Level, g.OwnSet, g.Onward, g.EndsAt, g.Message, g.CreatedBy, g.CreatedAt)
}

// GrantByID finds a grant, also one that has run out.
func GrantByID(ctx context.Context, q postgres.Q, id uuid.UUID) (g Grant, err error) {
	return g, postgres.Found(q.GetContext(ctx, &g, `SELECT * FROM grants WHERE id = $1`, id))
}

// GrantFor finds the grant of a subject on an item.
func GrantFor(ctx context.Context, q postgres.Q, item uuid.UUID, kind access.SubjectKind, subject uuid.UUID) (g Grant, err error) {
	return g, postgres.Found(q.GetContext(ctx, &g, `SELECT * FROM grants WHERE item_id = $1 AND subject_kind = $2 AND subject_id = $3`, item, kind, subject))
}

// ChangeGrant changes a grant's terms, provided that nobody changed them since
// the version it was read at.
func ChangeGrant(ctx context.Context, q postgres.Q, g Grant) error {
	err := postgres.ExecOne(ctx, q, `UPDATE grants SET level = $3, own_set = $4, onward = $5, ends_at = $6, version = version + 1 WHERE id = $1
		AND version = $2`, g.ID, g.Version, g.Level, g.OwnSet, g.Onward, g.EndsAt)
	if fault.Is(err, fault.NotFound) {
		return fault.ChangedMeanwhile.New("somebody else changed this access meanwhile; look at it again")
	}
	return err
}

// EndGrant removes a grant and reports whether it was there.
func EndGrant(ctx context.Context, q postgres.Q, id uuid.UUID) (bool, error) {
	return postgres.Touches(ctx, q, `DELETE FROM grants WHERE id = $1`, id)
}

// PlacedGrant is a grant with its dossier.
type PlacedGrant struct {
	Grant
	DossierID uuid.UUID `db:"dossier_id"`
}

// Circle reads who is active and who belongs to which groups.
func Circle(ctx context.Context, q postgres.Q) (accounts []access.Account, members []access.Membership, err error) {
	var people []struct {
		ID      uuid.UUID `db:"id"`
		Outside bool      `db:"outside"`
	}
	if err = q.SelectContext(ctx, &people, `SELECT id, standing = 'guest' AS outside FROM people WHERE deactivated_at IS NULL`); err != nil {
		return nil, nil, err
	}
	for _, p := range people {
		accounts = append(accounts, access.Account{ID: access.ID(p.ID), Outside: p.Outside})
	}
	var rows []GroupMember
	if err = q.SelectContext(ctx, &rows, `SELECT * FROM group_members`); err != nil {
		return nil, nil, err
	}
	for _, r := range rows {
		members = append(members, access.Membership{Group: access.ID(r.GroupID), Member: r.Subject()})
	}
	return accounts, members, nil
}

// GroupMember is a person or a group in a group.
type GroupMember struct {
	GroupID    uuid.UUID  `db:"group_id"`
	PersonID   *uuid.UUID `db:"person_id"`
	SubgroupID *uuid.UUID `db:"subgroup_id"`
	CreatedBy  *uuid.UUID `db:"created_by"`
	CreatedAt  time.Time  `db:"created_at"`
}

// Subject is the member as the rules know it.
func (m GroupMember) Subject() access.Subject {
	if m.PersonID != nil {
		return access.Subject{Kind: access.Person, ID: access.ID(*m.PersonID)}
	}
	return access.Subject{Kind: access.Group, ID: access.ID(*m.SubgroupID)}
}

// ForgetGrants removes grants that ran out before a moment. They decide nothing any
// more, so that no stamp changes.
func ForgetGrants(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM grants WHERE ends_at < $1`, before)
}
