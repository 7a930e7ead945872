package access

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
)

// CountReadable counts the documents that may be seen.
func CountReadable(ctx context.Context, q postgres.Q, r Readable) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT coalesce(sum(s.n_documents), 0)::int FROM scopes s WHERE `+r.WithinSummed("s", 1), r.Zones, r.Roots)
}

// RootRow is a root of access.
type RootRow struct {
	ID      uuid.UUID  `db:"id"`
	Parent  *uuid.UUID `db:"parent_root_id"`
	Dossier uuid.UUID  `db:"dossier_id"`
	Closed  bool       `db:"closed"`
	// Folder is where a single document lies.
	Folder *uuid.UUID `db:"folder_id"`
}

// Core is the root as the rules know it.
func (r RootRow) Core() access.Root {
	c := access.Root{ID: access.ID(r.ID), Closed: r.Closed}
	if r.Parent != nil {
		c.Parent = access.ID(*r.Parent)
	}
	if r.Folder != nil {
		c.Folder = access.ID(*r.Folder)
	}
	return c
}

// RootsAndGrants reads all roots of dossiers with what is given on them.
func RootsAndGrants(ctx context.Context, q postgres.Q, dossiers []uuid.UUID) (roots []RootRow, grants []PlacedGrant, err error) {
	ids := postgres.IDs(dossiers)
	if err = q.SelectContext(ctx, &roots, `SELECT r.*, CASE WHEN s.is_folder THEN NULL ELSE s.parent_id END AS folder_id
		FROM access_roots r JOIN scopes s ON s.id = r.id WHERE r.dossier_id = ANY($1::uuid[])`, ids); err != nil {
		return nil, nil, err
	}
	return roots, grants, q.SelectContext(ctx, &grants, `SELECT g.*, r.dossier_id FROM grants g JOIN access_roots r ON r.id = g.item_id
		WHERE r.dossier_id = ANY($1::uuid[])`, ids)
}

// AddTop makes a new dossier's top a root of access.
func AddTop(ctx context.Context, q postgres.Q, dossier uuid.UUID) error {
	if err := postgres.Exec(ctx, q, `INSERT INTO access_roots (id, dossier_id) VALUES ($1, $1)`, dossier); err != nil {
		return err
	}
	if err := postgres.Exec(ctx, q, `INSERT INTO scopes (id, dossier_id, root_id, zone_id, is_folder) VALUES ($1, $1, $1, $1, true)`, dossier); err != nil {
		return err
	}
	return Bump(ctx, q, dossier)
}

// AddScope gives a new folder the access of the folder it lies in. The caller
// holds the dossier's row, so that nobody changes that access meanwhile.
func AddScope(ctx context.Context, q postgres.Q, folder, parent uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `INSERT INTO scopes (id, parent_id, dossier_id, root_id, zone_id, is_folder) SELECT $1, id, dossier_id, root_id, zone_id, true
		FROM scopes WHERE id = $2`, folder, parent)
}

// Scope is the access of a folder, or of a document that is a root itself.
type Scope struct {
	ID       uuid.UUID  `db:"id"`
	No       int32      `db:"no"`
	ParentID *uuid.UUID `db:"parent_id"`
	Dossier  uuid.UUID  `db:"dossier_id"`
	Root     uuid.UUID  `db:"root_id"`
	Zone     uuid.UUID  `db:"zone_id"`
	IsFolder bool       `db:"is_folder"`
	// Documents are those that are decided by it, Bytes their size.
	Documents   int   `db:"n_documents"`
	Bytes       int64 `db:"n_bytes"`
	LastEventID int64 `db:"last_event_id"`
}

// ScopeOf finds the scope by which an item is decided.
func ScopeOf(ctx context.Context, q postgres.Q, item uuid.UUID) (s Scope, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT s.* FROM items i JOIN scopes s ON s.id = i.scope_id WHERE i.id = $1`, item))
}

// under walks the folders from $1 down that are decided by the same root $2; what
// is not inside are the roots next below them. A plain join would merge with the
// whole forest at each level; OFFSET 0 keeps it to the children, and the root
// outside of it: the indexes of both together would read all of the root for each
// folder. What is found is joined in the order of the walk: an IN would hash it,
// and go through the table's pages at random.
const under = `WITH RECURSIVE down AS (
	SELECT id, n_documents, true AS inside FROM scopes WHERE id = $1
	UNION ALL SELECT c.id, c.n_documents, c.root_id = $2 AND c.is_folder FROM down CROSS JOIN LATERAL (SELECT id, root_id, is_folder, n_documents
	FROM scopes WHERE parent_id = down.id OFFSET 0) c WHERE down.inside)`

// RootsBelow lists the roots next below an item that is not a root itself.
func RootsBelow(ctx context.Context, q postgres.Q, item, root uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, under+` SELECT id FROM down WHERE NOT inside`, item, root)
}

// MakeRoot makes an item a root of access, so that grants can stand on it. The
// caller holds the dossier's row.
func MakeRoot(ctx context.Context, q postgres.Q, item items.Item) error {
	s, err := ScopeOf(ctx, q, item.ID)
	if err != nil || s.Root == item.ID {
		return err
	}
	if err := postgres.Exec(ctx, q, `INSERT INTO access_roots (id, parent_root_id, dossier_id) VALUES ($1, $2, $3)`, item.ID, s.Root, s.Dossier); err != nil {
		return err
	}
	if item.Kind == items.Document {
		if err := postgres.Exec(ctx, q, `INSERT INTO scopes (id, parent_id, dossier_id, root_id, zone_id, is_folder, n_documents, n_bytes)
			VALUES ($1, $2, $3, $1, $4, false, 1, $5)`, item.ID, s.ID, s.Dossier, s.Zone, item.Size); err != nil {
			return err
		}
		if err := Weigh(ctx, q, s.ID, -1, -item.Size); err != nil {
			return err
		}
		return Rescope(ctx, q, item.ID, item.ID)
	}
	return postgres.Exec(ctx, q, under+`, lower AS (UPDATE access_roots r SET parent_root_id = $1 FROM down WHERE r.id = down.id AND NOT down.inside)
		UPDATE scopes s SET root_id = $1 FROM down WHERE s.id = down.id AND down.inside`, item.ID, s.Root)
}

// Weigh changes how many documents are decided by a scope, and their size.
func Weigh(ctx context.Context, q postgres.Q, scope uuid.UUID, n int, bytes int64) error {
	return postgres.ExecOne(ctx, q, `UPDATE scopes SET n_documents = n_documents + $2, n_bytes = n_bytes + $3 WHERE id = $1`, scope, n, bytes)
}

// Rescope lets a document, and its events, be decided by another scope.
func Rescope(ctx context.Context, q postgres.Q, document, scope uuid.UUID) error {
	if err := postgres.ExecOne(ctx, q, `UPDATE all_items SET scope_id = $2 WHERE id = $1`, document, scope); err != nil {
		return err
	}
	var old []string
	if err := q.SelectContext(ctx, &old, `WITH its AS (SELECT id FROM events WHERE item_id = $1), was AS (SELECT DISTINCT scope_id FROM event_scopes WHERE event_id IN (SELECT id FROM its)),
		moved AS (UPDATE event_scopes SET scope_id = $2 WHERE event_id IN (SELECT id FROM its)) SELECT scope_id FROM was WHERE scope_id <> $2`, document, scope); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `UPDATE scopes s SET last_event_id = coalesce((SELECT max(event_id) FROM event_scopes w WHERE w.scope_id = s.id), 0)
		WHERE s.id = ANY($1::uuid[])`, append(old, scope.String()))
}

// zone walks the roots of $1's zone from it down: those before the next closed
// ones.
const zone = `WITH RECURSIVE z AS (
	SELECT id FROM access_roots WHERE id = $1
	UNION ALL SELECT c.id FROM z CROSS JOIN LATERAL (SELECT id FROM access_roots WHERE parent_root_id = z.id AND NOT closed OFFSET 0) c) `

// SetClosed closes or opens a root; what lies in it becomes a zone of its own,
// or part of the one around it.
func SetClosed(ctx context.Context, q postgres.Q, root uuid.UUID, closed bool) error {
	into := root
	if !closed {
		if err := postgres.Found(q.GetContext(ctx, &into, `SELECT s.zone_id FROM access_roots r JOIN scopes s ON s.id = r.parent_root_id WHERE r.id = $1`,
			root)); err != nil {
			return err
		}
	}
	if err := postgres.ExecOne(ctx, q, `UPDATE access_roots SET closed = $2 WHERE id = $1`, root, closed); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, zone+`UPDATE scopes s SET zone_id = $2 FROM z WHERE s.root_id = z.id`, root, into)
}

// Weights counts the documents decided by each of the roots.
func Weights(ctx context.Context, q postgres.Q, roots []uuid.UUID) (map[uuid.UUID]int, error) {
	return weights(ctx, q, `SELECT root_id, sum(n_documents)::int AS n FROM scopes WHERE root_id = ANY($1::uuid[]) GROUP BY root_id`, postgres.IDs(roots))
}

// AllWeights counts the documents decided by each root of the practice.
func AllWeights(ctx context.Context, q postgres.Q) (map[uuid.UUID]int, error) {
	return weights(ctx, q, `SELECT root_id, sum(n_documents)::int AS n FROM scopes WHERE n_documents > 0 GROUP BY root_id`)
}

func weights(ctx context.Context, q postgres.Q, statement string, args ...any) (map[uuid.UUID]int, error) {
	var rows []struct {
		Root uuid.UUID `db:"root_id"`
		N    int       `db:"n"`
	}
	err := q.SelectContext(ctx, &rows, statement, args...)
	weights := make(map[uuid.UUID]int, len(rows))
	for _, r := range rows {
		weights[r.Root] = r.N
	}
	return weights, err
}

// WeightUnder counts the documents at or below an item that are decided by the
// same root as it.
func WeightUnder(ctx context.Context, q postgres.Q, item items.Item, root uuid.UUID) (n int, err error) {
	if item.Kind == items.Document {
		return 1, nil
	}
	return n, q.GetContext(ctx, &n, under+` SELECT coalesce(sum(n_documents), 0)::int FROM down WHERE inside`, item.ID, root)
}

// WrongScopes lists items whose scope, root or zone is not what a walk from
// their dossier's top gives, whose events are decided by another scope, and
// scopes that count their documents wrongly.
func WrongScopes(ctx context.Context, q postgres.Q) (ids []string, err error) {
	return ids, q.SelectContext(ctx, &ids, `WITH RECURSIVE walk AS (
			SELECT i.id, i.kind, i.scope_id, i.id AS scope, i.id AS root, NULL::uuid AS above, i.id AS zone FROM all_items i WHERE parent_id IS NULL
			UNION ALL SELECT i.id, i.kind, i.scope_id,
				CASE WHEN i.kind = 'folder' OR r.id IS NOT NULL THEN i.id ELSE w.scope END,
				CASE WHEN r.id IS NOT NULL THEN i.id ELSE w.root END,
				CASE WHEN r.id IS NOT NULL THEN w.root ELSE w.above END,
				CASE WHEN r.closed THEN i.id ELSE w.zone END
			FROM walk w JOIN all_items i ON i.parent_id = w.id LEFT JOIN access_roots r ON r.id = i.id)
		SELECT DISTINCT e.item_id::text FROM events e JOIN all_items i ON i.id = e.item_id LEFT JOIN event_scopes w ON w.event_id = e.id WHERE w.scope_id IS DISTINCT FROM i.scope_id
		UNION ALL SELECT s.id::text FROM scopes s LEFT JOIN (SELECT scope_id, count(*) AS n, sum(size) AS bytes FROM items WHERE kind = 'document' GROUP BY 1) c ON c.scope_id = s.id
		WHERE s.n_documents <> coalesce(c.n, 0) OR s.n_bytes <> coalesce(c.bytes, 0)
		UNION ALL SELECT w.id::text FROM walk w LEFT JOIN scopes s ON s.id = w.scope LEFT JOIN access_roots r ON r.id = w.root
		WHERE w.scope_id <> w.scope OR s.id IS NULL OR s.root_id <> w.root OR s.zone_id <> w.zone OR r.id IS NULL OR (r.id = w.id
		AND r.parent_root_id IS DISTINCT FROM w.above)`)
}

// Sorted orders ids, so that rows are always taken in one order.
func Sorted(ids []uuid.UUID) []uuid.UUID {
	ids = slices.Clone(ids)
	slices.SortFunc(ids, func(a, b uuid.UUID) int { return slices.Compare(a[:], b[:]) })
	return slices.Compact(ids)
}

// FoldersMade is how many folders were ever made. One that was made later has no bit yet.
func FoldersMade(ctx context.Context, q postgres.Q) (n int64, err error) {
	return n, q.GetContext(ctx, &n, `SELECT coalesce(sum(n_folders), 0)::bigint FROM all_dossiers`)
}

// FoldersMadeIn is how many of them in which dossier.
func FoldersMadeIn(ctx context.Context, q postgres.Q) (map[uuid.UUID]int64, error) {
	var rows []struct {
		ID uuid.UUID `db:"id"`
		N  int64     `db:"n_folders"`
	}
	err := q.SelectContext(ctx, &rows, `SELECT id, n_folders FROM all_dossiers`)
	made := make(map[uuid.UUID]int64, len(rows))
	for _, r := range rows {
		made[r.ID] = r.N
	}
	return made, err
}
