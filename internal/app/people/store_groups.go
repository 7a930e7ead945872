package people

import (
	"context"
	"time"

	"github.com/google/uuid"

	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
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

// Groups lists all groups by name.
func Groups(ctx context.Context, q postgres.Q) (all []Group, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM groups ORDER BY name_key`)
}

// GroupByID finds a group.
func GroupByID(ctx context.Context, q postgres.Q, id uuid.UUID) (g Group, err error) {
	return g, postgres.Found(q.GetContext(ctx, &g, `SELECT * FROM groups WHERE id = $1`, id))
}

// GroupNamesOf returns the names of groups.
func GroupNamesOf(ctx context.Context, q postgres.Q, ids []uuid.UUID) (map[uuid.UUID]string, error) {
	names := map[uuid.UUID]string{}
	if len(ids) == 0 {
		return names, nil
	}
	var all []Group
	err := q.SelectContext(ctx, &all, `SELECT * FROM groups WHERE id = ANY($1::uuid[])`, postgres.IDs(ids))
	for _, g := range all {
		names[g.ID] = g.Name
	}
	return names, err
}

// AddGroup adds a group.
func AddGroup(ctx context.Context, q postgres.Q, g Group) error {
	return postgres.Exec(ctx, q, `INSERT INTO groups (id, name, name_key, created_by, created_at) VALUES ($1, $2, $3, $4, $5)`,
		g.ID, g.Name, g.NameKey, g.CreatedBy, g.CreatedAt)
}

// RemoveGroup removes a group with its memberships and grants, and returns the
// dossiers in which it had some.
func RemoveGroup(ctx context.Context, q postgres.Q, id uuid.UUID) (dossiers []uuid.UUID, err error) {
	err = q.SelectContext(ctx, &dossiers, `WITH gone AS (DELETE FROM grants WHERE subject_kind = 1 AND subject_id = $1 RETURNING item_id)
		SELECT DISTINCT r.dossier_id FROM gone JOIN access_roots r ON r.id = gone.item_id`, id)
	if err != nil {
		return nil, err
	}
	return guard.Sorted(dossiers), postgres.ExecOne(ctx, q, `DELETE FROM groups WHERE id = $1`, id)
}

// MembersOfGroups lists all memberships.
func MembersOfGroups(ctx context.Context, q postgres.Q) (all []guard.GroupMember, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM group_members ORDER BY created_at`)
}

// LockGroups lets one act at a time change memberships, so that two of them
// cannot close a ring together.
func LockGroups(ctx context.Context, q postgres.Q) error {
	return postgres.Exec(ctx, q, `SELECT 1 FROM access_stamps WHERE scope = $1 FOR UPDATE`, guard.PeopleStamp)
}

// AddToGroup puts a member into a group. One that is in it already stays.
func AddToGroup(ctx context.Context, q postgres.Q, m guard.GroupMember) error {
	return postgres.Exec(ctx, q, `INSERT INTO group_members (group_id, person_id, subgroup_id, created_by, created_at) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT DO NOTHING`, m.GroupID, m.PersonID, m.SubgroupID, m.CreatedBy, m.CreatedAt)
}

// TakeFromGroup takes a person or group out of a group.
func TakeFromGroup(ctx context.Context, q postgres.Q, group, member uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM group_members WHERE group_id = $1 AND (person_id = $2 OR subgroup_id = $2)`, group, member)
}
