package items

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
)

// UnreferencedPlaces returns which of the places neither a blob nor an upload refers to.
func UnreferencedPlaces(ctx context.Context, q postgres.Q, places []uuid.UUID) (orphans []uuid.UUID, err error) {
	return orphans, q.SelectContext(ctx, &orphans, `SELECT p FROM unnest($1::uuid[]) AS p
		WHERE NOT EXISTS (SELECT 1 FROM blobs WHERE place = p) AND NOT EXISTS (SELECT 1 FROM uploads WHERE id = p AND outcome = '')
			AND NOT EXISTS (SELECT 1 FROM left_places l WHERE l.place = p)`, postgres.IDs(places))
}

// EachBlob calls fn with every blob.
func EachBlob(ctx context.Context, q postgres.Q, fn func(items.Blob) error) error {
	after := []byte{}
	for {
		var some []items.Blob
		if err := q.SelectContext(ctx, &some, `SELECT * FROM blobs WHERE sha256 > $1 ORDER BY sha256 LIMIT 500`, after); err != nil {
			return err
		}
		for _, b := range some {
			if err := fn(b); err != nil {
				return err
			}
			after = b.SHA256
		}
		if len(some) == 0 {
			return nil
		}
	}
}

// WrongItems lists documents which do not show their highest version that is
// not removed, and folders that count their documents wrongly.
func WrongItems(ctx context.Context, q postgres.Q) (ids []string, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT i.id::text FROM items i
		LEFT JOIN LATERAL (SELECT number, sha256, size FROM versions v WHERE v.item_id = i.id AND v.removed_at IS NULL ORDER BY number DESC
		LIMIT 1) v ON true
		WHERE i.kind = 'document' AND (v.number IS DISTINCT FROM i.version OR v.sha256 IS DISTINCT FROM i.sha256 OR v.size IS DISTINCT FROM i.size)
		UNION ALL SELECT f.id::text FROM items f LEFT JOIN LATERAL (SELECT count(*) AS n, coalesce(sum(size), 0) AS bytes FROM items i
		WHERE i.parent_id = f.id AND i.kind = 'document') c ON true
		WHERE f.kind = 'folder' AND (c.n <> f.n_documents OR c.bytes <> f.n_bytes)`)
}
