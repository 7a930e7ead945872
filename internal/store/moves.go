package store

import (
	"context"
	"time"

	"github.com/google/uuid"
)

// below walks all folders and single documents at and below $1. A plain join
// would merge with the whole forest at each level; OFFSET 0 keeps it to the
// children.
const below = `WITH RECURSIVE down AS (
	SELECT id FROM scopes WHERE id = $1
	UNION ALL SELECT c.id FROM down CROSS JOIN LATERAL (SELECT id FROM scopes WHERE parent_id = down.id OFFSET 0) c) `

// MoveItem puts an item into another folder, of the same dossier or of another
// one. What stands on it and below goes along; what was decided by the root and
// zone around it is decided by those of its new place. In another dossier its
// documents get new register numbers. The caller holds the rows of both
// dossiers and has checked that the folder does not lie in the item.
func MoveItem(ctx context.Context, q Q, item Item, folder uuid.UUID, twin int) error {
	old, err := ScopeOf(ctx, q, item.ID)
	if err != nil {
		return err
	}
	to, err := ScopeOf(ctx, q, folder)
	if err != nil {
		return err
	}
	if item.Kind == Document {
		if err := recount(ctx, q, item, folder); err != nil {
			return err
		}
	}
	position := 0
	if item.Kind == Folder {
		if position, err = NextPosition(ctx, q, folder); err != nil {
			return err
		}
	}
	if err := exec(ctx, q, `UPDATE items SET parent_id = $2, position = $3, twin = $4 WHERE id = $1`, item.ID, folder, position, twin); err != nil {
		return err
	}
	if old.ID == item.ID {
		if err := moveScopes(ctx, q, old, to); err != nil {
			return err
		}
	} else if err := moveDocument(ctx, q, item, old, to); err != nil {
		return err
	}
	if old.Dossier == to.Dossier {
		return nil
	}
	return renumber(ctx, q, item.ID, to.Dossier)
}

// recount counts a document in the folder it comes to, and no longer in the one
// it leaves.
func recount(ctx context.Context, q Q, item Item, folder uuid.UUID) error {
	return exec(ctx, q, `UPDATE items SET n_documents = n_documents + CASE WHEN id = $2 THEN 1 ELSE -1 END, n_bytes = n_bytes + CASE WHEN id = $2 THEN $3::bigint ELSE -$3::bigint END
		WHERE id IN ($1, $2) AND $1 <> $2`, item.ParentID, folder, item.Size)
}

// moveDocument moves a document that is decided like its folder.
func moveDocument(ctx context.Context, q Q, item Item, old, to Scope) error {
	if err := weigh(ctx, q, old.ID, -1, -item.Size); err != nil {
		return err
	}
	if err := weigh(ctx, q, to.ID, 1, item.Size); err != nil {
		return err
	}
	return rescope(ctx, q, item.ID, to.ID)
}

// moveScopes moves a folder, or a document that is a root itself.
func moveScopes(ctx context.Context, q Q, old, to Scope) error {
	args := []any{old.ID, old.Root, to.Root, to.Dossier}
	if err := exec(ctx, q, below+`UPDATE access_roots r SET dossier_id = $4, parent_root_id = CASE WHEN r.id = $1 OR r.parent_root_id = $2
		AND $1 <> $2 THEN $3 ELSE r.parent_root_id END
		FROM down WHERE r.id = down.id AND (r.dossier_id <> $4 OR r.id = $1 OR r.parent_root_id = $2 AND $1 <> $2)`, args...); err != nil {
		return err
	}
	if err := exec(ctx, q, below+`UPDATE scopes s SET dossier_id = $4, root_id = CASE WHEN s.root_id = $2 AND $1 <> $2 THEN $3 ELSE s.root_id END,
		zone_id = CASE WHEN s.zone_id = $5 AND $1 <> $5 THEN $6 ELSE s.zone_id END
		FROM down WHERE s.id = down.id AND (s.dossier_id <> $4 OR s.root_id = $2 AND $1 <> $2 AND $2 <> $3 OR s.zone_id = $5 AND $1 <> $5
		AND $5 <> $6)`, append(args, old.Zone, to.Zone)...); err != nil {
		return err
	}
	return exec(ctx, q, `UPDATE scopes SET parent_id = $2 WHERE id = $1`, old.ID, to.ID)
}

// renumber gives everything at and below an item to another dossier, and its
// documents the next numbers there.
func renumber(ctx context.Context, q Q, item, dossier uuid.UUID) error {
	var papers int
	if err := q.GetContext(ctx, &papers, subtree+`SELECT count(*) FROM papers`, item); err != nil {
		return err
	}
	var last int
	if err := found(q.GetContext(ctx, &last, `UPDATE dossiers SET last_number = last_number + $2 WHERE id = $1 RETURNING last_number - $2`,
		dossier, papers)); err != nil {
		return err
	}
	if err := exec(ctx, q, subtree+`INSERT INTO former_numbers (dossier_id, number, item_id) SELECT i.dossier_id, i.number, i.id FROM items i
		JOIN papers p ON p.id = i.id`, item); err != nil {
		return err
	}
	// Joined by the items' key each: the two walks joined with one another would be
	// compared row by row.
	if err := exec(ctx, q, subtree+`UPDATE items i SET dossier_id = $2, number = $3 + p.n FROM papers p WHERE i.id = p.id`, item, dossier, last); err != nil {
		return err
	}
	return exec(ctx, q, subtree+`UPDATE items i SET dossier_id = $2 FROM down d WHERE i.id = d.id AND d.kind = 'folder'`, item, dossier)
}

// subtree walks all items at and below $1, and numbers the documents among them
// in the order of their register numbers.
const subtree = `WITH RECURSIVE down AS (
	SELECT id, kind, number FROM items WHERE id = $1
	UNION ALL SELECT c.id, c.kind, c.number FROM down CROSS JOIN LATERAL (SELECT id, kind, number FROM items WHERE parent_id = down.id OFFSET 0) c),
	papers AS (SELECT id, row_number() OVER (ORDER BY number, id)::int AS n FROM down WHERE kind = 'document') `

// MoveLinks lets the links of which everything that was chosen has been moved
// belong to the dossier where it is now.
func MoveLinks(ctx context.Context, q Q, dossier uuid.UUID) error {
	return exec(ctx, q, `UPDATE links l SET dossier_id = $1 WHERE l.id IN (SELECT link_id FROM link_items c JOIN items i ON i.id = c.item_id
		WHERE i.dossier_id = $1) AND l.dossier_id <> $1
		AND NOT EXISTS (SELECT 1 FROM link_items c JOIN items i ON i.id = c.item_id WHERE c.link_id = l.id AND i.dossier_id <> $1)`, dossier)
}

// TornLinks names the open links that give things of two dossiers, one of them
// this one.
func TornLinks(ctx context.Context, q Q, dossier uuid.UUID, now time.Time) (names []string, err error) {
	return names, q.SelectContext(ctx, &names, `SELECT l.name FROM links l WHERE (l.dossier_id = $1 OR EXISTS (SELECT 1 FROM link_items c
		JOIN items i ON i.id = c.item_id WHERE c.link_id = l.id AND i.dossier_id = $1)) AND `+living("l", "$2")+`
		AND EXISTS (SELECT 1 FROM link_items c JOIN items i ON i.id = c.item_id WHERE c.link_id = l.id AND i.dossier_id <> l.dossier_id)`, dossier, now)
}

// NewestOn counts the open links that always give what is newest in one of the
// folders.
func NewestOn(ctx context.Context, q Q, folders []uuid.UUID, now time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(DISTINCT l.id) FROM link_items c JOIN links l ON l.id = c.link_id WHERE l.newest
		AND c.item_id = ANY($1::uuid[]) AND `+living("l", "$2"), IDs(folders), now)
}
