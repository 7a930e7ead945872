package links

import (
	"context"
	"time"

	"github.com/google/uuid"

	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// below walks all that is there at and below the items $1.
const below = `WITH RECURSIVE down AS (
	SELECT id FROM items WHERE id = ANY($1::uuid[])
	UNION SELECT i.id FROM down JOIN items i ON i.parent_id = down.id) `

// CountGiving counts the open links for which one of the items, or something in them,
// was chosen.
func CountGiving(ctx context.Context, q postgres.Q, chosen []uuid.UUID, now time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, below+`SELECT count(DISTINCT l.id) FROM down JOIN link_items c ON c.item_id = down.id JOIN links l ON l.id = c.link_id AND `+guard.Living("l", "$2"),
		postgres.IDs(chosen), now)
}

// endDeleted ends the links of which nothing is left, and notes with which deletion.
func endDeleted(ctx context.Context, q postgres.Q, deletion, by uuid.UUID, now time.Time) (ended []Link, err error) {
	return ended, q.SelectContext(ctx, &ended, `WITH gone AS (
			UPDATE links l SET ended_at = $3, ended_by = $2 WHERE l.ended_at IS NULL AND NOT `+guard.Leads("l")+`
			AND EXISTS (SELECT 1 FROM link_items c JOIN deleted_items g ON g.item_id = c.item_id WHERE c.link_id = l.id AND g.deletion_id = $1) RETURNING l.*),
		noted AS (INSERT INTO deleted_links (deletion_id, link_id) SELECT $1, id FROM gone)
		SELECT * FROM gone`, deletion, by, now)
}

// reopenDeleted lets the links live again that ended with a deletion, but for those whose
// time is over or that lead to nothing.
func reopenDeleted(ctx context.Context, q postgres.Q, deletion uuid.UUID, now time.Time) (all []Link, err error) {
	return all, q.SelectContext(ctx, &all, `UPDATE links l SET ended_at = NULL, ended_by = NULL FROM deleted_links g WHERE g.deletion_id = $1 AND l.id = g.link_id
		AND (l.until IS NULL OR l.until > $2) AND `+guard.Leads("l")+` RETURNING l.*`, deletion, now)
}

// leaveOut takes an item and what lies in it out of the links that give other things, too,
// and out of the versions that a link gives of a folder. What links that ended before
// gave stays on their record.
func leaveOut(ctx context.Context, q postgres.Q, item uuid.UUID) error {
	const may = `(l.ended_at IS NULL OR EXISTS (SELECT 1 FROM deleted_links g WHERE g.link_id = l.id))`
	one := postgres.IDs([]uuid.UUID{item})
	if err := postgres.Exec(ctx, q, below+`DELETE FROM link_versions v USING down, links l WHERE v.item_id = down.id AND l.id = v.link_id AND `+may, one); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, below+`DELETE FROM link_items c USING down, links l WHERE c.item_id = down.id AND l.id = c.link_id AND `+may+`
		AND EXISTS (SELECT 1 FROM link_items o WHERE o.link_id = l.id AND o.item_id NOT IN (SELECT id FROM down))`, one)
}
