package items

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// below walks all folders and single documents at and below $1. A plain join
// would merge with the whole forest at each level; OFFSET 0 keeps it to the
// children.
const below = `WITH RECURSIVE down AS (
	SELECT id FROM scopes WHERE id = $1
	UNION ALL SELECT c.id FROM down CROSS JOIN LATERAL (SELECT id FROM scopes WHERE parent_id = down.id OFFSET 0) c) `

// moveItem puts an item into another folder, of the same dossier or of another
// one. What stands on it and below goes along; what was decided by the root and
// zone around it is decided by those of its new place. In another dossier its
// documents get new register numbers. The caller holds the rows of both
// dossiers and has checked that the folder does not lie in the item.
func moveItem(ctx context.Context, q postgres.Q, item items.Item, folder uuid.UUID, twin int) error {
	old, err := guard.ScopeOf(ctx, q, item.ID)
	if err != nil {
		return err
	}
	to, err := guard.ScopeOf(ctx, q, folder)
	if err != nil {
		return err
	}
	if item.Kind == items.Document {
		if err := recount(ctx, q, item, folder); err != nil {
			return err
		}
	}
	position := 0
	if item.Kind == items.Folder {
		if position, err = nextPosition(ctx, q, folder); err != nil {
			return err
		}
	}
	if err := postgres.Exec(ctx, q, `UPDATE items SET parent_id = $2, position = $3, twin = $4 WHERE id = $1`, item.ID, folder, position, twin); err != nil {
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
	if err := moveStorage(ctx, q, item.ID, old.Dossier, to.Dossier); err != nil {
		return err
	}
	return renumber(ctx, q, item.ID, to.Dossier)
}

// moveStorage counts what an item and what is below it takes in the dossier it comes
// to, and no longer in the one it leaves.
func moveStorage(ctx context.Context, q postgres.Q, item, from, to uuid.UUID) error {
	return postgres.Exec(ctx, q, `WITH RECURSIVE under AS (
			SELECT id FROM all_items WHERE id = $1
			UNION ALL SELECT c.id FROM under JOIN all_items c ON c.parent_id = under.id),
		moved AS (SELECT coalesce(sum(v.size), 0)::bigint AS bytes FROM under JOIN versions v ON v.item_id = under.id WHERE v.moved_to IS NULL)
		INSERT INTO storage_of AS s (owner, bytes) SELECT o.owner, o.way * moved.bytes FROM moved, (VALUES ($2::uuid, -1), ($3::uuid, 1)) o (owner, way) ORDER BY 1
		ON CONFLICT (owner) DO UPDATE SET bytes = s.bytes + excluded.bytes`, item, from, to)
}

// foldersIn are the folders in a folder, in order.
func foldersIn(ctx context.Context, q postgres.Q, parent uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM items WHERE parent_id = $1 AND kind = 'folder' ORDER BY position, id`, parent)
}

// orderFolders puts folders in the order in which they are named.
func orderFolders(ctx context.Context, q postgres.Q, folders []uuid.UUID) error {
	return postgres.Exec(ctx, q, `UPDATE items i SET position = o.n FROM unnest($1::uuid[]) WITH ORDINALITY AS o(id, n) WHERE i.id = o.id AND i.position <> o.n`, postgres.IDs(folders))
}

// recount counts a document in the folder it comes to, and no longer in the one
// it leaves.
func recount(ctx context.Context, q postgres.Q, item items.Item, folder uuid.UUID) error {
	return postgres.Exec(ctx, q, `UPDATE items SET n_documents = n_documents + CASE WHEN id = $2 THEN 1 ELSE -1 END, n_bytes = n_bytes + CASE WHEN id = $2 THEN $3::bigint ELSE -$3::bigint END
		WHERE id IN ($1, $2) AND $1 <> $2`, item.ParentID, folder, item.Size)
}

// moveDocument moves a document that is decided like its folder.
func moveDocument(ctx context.Context, q postgres.Q, item items.Item, old, to guard.Scope) error {
	if err := guard.Weigh(ctx, q, old.ID, -1, -item.Size); err != nil {
		return err
	}
	if err := guard.Weigh(ctx, q, to.ID, 1, item.Size); err != nil {
		return err
	}
	return guard.Rescope(ctx, q, item.ID, to.ID)
}

// moveScopes moves a folder, or a document that is a root itself.
func moveScopes(ctx context.Context, q postgres.Q, old, to guard.Scope) error {
	args := []any{old.ID, old.Root, to.Root, to.Dossier}
	if err := postgres.Exec(ctx, q, below+`UPDATE access_roots r SET dossier_id = $4, parent_root_id = CASE WHEN r.id = $1 OR r.parent_root_id = $2
		AND $1 <> $2 THEN $3 ELSE r.parent_root_id END
		FROM down WHERE r.id = down.id AND (r.dossier_id <> $4 OR r.id = $1 OR r.parent_root_id = $2 AND $1 <> $2)`, args...); err != nil {
		return err
	}
	if err := postgres.Exec(ctx, q, below+`UPDATE scopes s SET dossier_id = $4, root_id = CASE WHEN s.root_id = $2 AND $1 <> $2 THEN $3 ELSE s.root_id END,
		zone_id = CASE WHEN s.zone_id = $5 AND $1 <> $5 THEN $6 ELSE s.zone_id END
		FROM down WHERE s.id = down.id AND (s.dossier_id <> $4 OR s.root_id = $2 AND $1 <> $2 AND $2 <> $3 OR s.zone_id = $5 AND $1 <> $5
		AND $5 <> $6)`, append(args, old.Zone, to.Zone)...); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `UPDATE scopes SET parent_id = $2 WHERE id = $1`, old.ID, to.ID)
}

// renumber gives everything at and below an item to another dossier, and its
// documents the next numbers there.
func renumber(ctx context.Context, q postgres.Q, item, dossier uuid.UUID) error {
	var papers int
	if err := q.GetContext(ctx, &papers, subtree+`SELECT count(*) FROM papers`, item); err != nil {
		return err
	}
	var last int
	if err := postgres.Found(q.GetContext(ctx, &last, `UPDATE dossiers SET last_number = last_number + $2 WHERE id = $1 RETURNING last_number - $2`,
		dossier, papers)); err != nil {
		return err
	}
	if err := postgres.Exec(ctx, q, subtree+`INSERT INTO former_numbers (dossier_id, number, item_id) SELECT i.dossier_id, i.number, i.id FROM all_items i
		JOIN papers p ON p.id = i.id`, item); err != nil {
		return err
	}
	// Joined by the items' key each: the two walks joined with one another would be
	// compared row by row.
	if err := postgres.Exec(ctx, q, subtree+`UPDATE all_items i SET dossier_id = $2, number = $3 + p.n FROM papers p WHERE i.id = p.id`, item, dossier, last); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, subtree+`UPDATE all_items i SET dossier_id = $2 FROM down d WHERE i.id = d.id AND d.kind = 'folder'`, item, dossier)
}

// subtree walks all items at and below $1, what is deleted too, and numbers the documents among them
// in the order of their register numbers.
const subtree = `WITH RECURSIVE down AS (
	SELECT id, kind, number FROM all_items WHERE id = $1
	UNION ALL SELECT c.id, c.kind, c.number FROM down CROSS JOIN LATERAL (SELECT id, kind, number FROM all_items WHERE parent_id = down.id OFFSET 0) c),
	papers AS (SELECT id, row_number() OVER (ORDER BY number, id)::int AS n FROM down WHERE kind = 'document') `
