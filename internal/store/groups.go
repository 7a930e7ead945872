package store

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
)

// Group is a named circle of people and other groups.
type Group struct {
	ID        uuid.UUID  `db:"id"`
	Name      string     `db:"name"`
	NameKey   string     `db:"name_key"`
	CreatedBy *uuid.UUID `db:"created_by"`
	CreatedAt time.Time  `db:"created_at"`
}

// GroupNames is violated by a second group of a name.
const GroupNames = "groups_name_key_key"

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

// Groups lists all groups by name.
func Groups(ctx context.Context, q Q) (all []Group, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM groups ORDER BY name_key`)
}

// GroupByID finds a group.
func GroupByID(ctx context.Context, q Q, id uuid.UUID) (g Group, err error) {
	return g, found(q.GetContext(ctx, &g, `SELECT * FROM groups WHERE id = $1`, id))
}

// GroupNamesOf returns the names of groups.
func GroupNamesOf(ctx context.Context, q Q, ids []uuid.UUID) (map[uuid.UUID]string, error) {
	names := map[uuid.UUID]string{}
	if len(ids) == 0 {
		return names, nil
	}
	var all []Group
	err := q.SelectContext(ctx, &all, `SELECT * FROM groups WHERE id = ANY($1::uuid[])`, IDs(ids))
	for _, g := range all {
		names[g.ID] = g.Name
	}
	return names, err
}

// AddGroup adds a group.
func AddGroup(ctx context.Context, q Q, g Group) error {
	return exec(ctx, q, `INSERT INTO groups (id, name, name_key, created_by, created_at) VALUES ($1, $2, $3, $4, $5)`,
		g.ID, g.Name, g.NameKey, g.CreatedBy, g.CreatedAt)
}

// RemoveGroup removes a group with its memberships and grants, and returns the
// dossiers in which it had some.
func RemoveGroup(ctx context.Context, q Q, id uuid.UUID) (dossiers []uuid.UUID, err error) {
	err = q.SelectContext(ctx, &dossiers, `WITH gone AS (DELETE FROM grants WHERE subject_kind = 1 AND subject_id = $1 RETURNING item_id)
		SELECT DISTINCT r.dossier_id FROM gone JOIN access_roots r ON r.id = gone.item_id`, id)
	if err != nil {
		return nil, err
	}
	return sorted(dossiers), execOne(ctx, q, `DELETE FROM groups WHERE id = $1`, id)
}

// MembersOfGroups lists all memberships.
func MembersOfGroups(ctx context.Context, q Q) (all []GroupMember, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM group_members ORDER BY created_at`)
}

// LockGroups lets one act at a time change memberships, so that two of them
// cannot close a ring together.
func LockGroups(ctx context.Context, q Q) error {
	return exec(ctx, q, `SELECT 1 FROM access_stamps WHERE scope = $1 FOR UPDATE`, PeopleStamp)
}

// AddToGroup puts a member into a group. One that is in it already stays.
func AddToGroup(ctx context.Context, q Q, m GroupMember) error {
	return exec(ctx, q, `INSERT INTO group_members (group_id, person_id, subgroup_id, created_by, created_at) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT DO NOTHING`, m.GroupID, m.PersonID, m.SubgroupID, m.CreatedBy, m.CreatedAt)
}

// TakeFromGroup takes a person or group out of a group.
func TakeFromGroup(ctx context.Context, q Q, group, member uuid.UUID) error {
	return execOne(ctx, q, `DELETE FROM group_members WHERE group_id = $1 AND (person_id = $2 OR subgroup_id = $2)`, group, member)
}
