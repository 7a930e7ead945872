package items

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
)

// addVersion adds a version.
func addVersion(ctx context.Context, q postgres.Q, v items.Version) error {
	return postgres.Exec(ctx, q, `INSERT INTO versions (item_id, number, sha256, size, media_type, origin, created_at, actor_kind, actor_id, actor_link, actor_said, note, back_from)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)`,
		v.ItemID, v.Number, v.SHA256, v.Size, v.MediaType, v.Origin, v.CreatedAt, v.Actor.Kind, v.PersonID, v.LinkID, v.Said, v.Note, v.BackFrom)
}

// letCount makes a version the one that counts.
func letCount(ctx context.Context, q postgres.Q, v items.Version) error {
	if err := postgres.Exec(ctx, q, `UPDATE items f SET n_bytes = f.n_bytes + $2 - i.size FROM items i WHERE i.id = $1 AND f.id = i.parent_id`,
		v.ItemID, v.Size); err != nil {
		return err
	}
	if err := postgres.Exec(ctx, q, `UPDATE scopes s SET n_bytes = s.n_bytes + $2 - i.size FROM items i WHERE i.id = $1 AND s.id = i.scope_id`,
		v.ItemID, v.Size); err != nil {
		return err
	}
	return postgres.ExecOne(ctx, q, `UPDATE items SET version = $2, sha256 = $3, size = $4, media_type = $5 WHERE id = $1`,
		v.ItemID, v.Number, v.SHA256, v.Size, v.MediaType)
}

// moveVersion marks a version as kept apart in another document.
func moveVersion(ctx context.Context, q postgres.Q, item uuid.UUID, number int, to uuid.UUID, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE versions SET removed_at = $3, moved_to = $4 WHERE item_id = $1 AND number = $2`, item, number, now, to)
}

// describeVersion keeps a version's name and note. Refused is a name that another version
// has.
func describeVersion(ctx context.Context, q postgres.Q, v items.Version) error {
	err := postgres.ExecOne(ctx, q, `UPDATE versions SET title = $3, note = $4 WHERE item_id = $1 AND number = $2`, v.ItemID, v.Number, v.Title, v.Note)
	if postgres.Collides(err, "versions_title") {
		return errTitleTaken.In("title", "another version is called %q", v.Title)
	}
	return err
}

func removeVersion(ctx context.Context, q postgres.Q, item uuid.UUID, number int, by uuid.UUID, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE versions SET removed_at = $3, removed_by = $4 WHERE item_id = $1 AND number = $2`, item, number, now, by)
}

// thinVersions removes versions that a rule lets go: nobody did.
func thinVersions(ctx context.Context, q postgres.Q, item uuid.UUID, numbers []int, now time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE versions SET removed_at = $3, removed_by = NULL WHERE item_id = $1 AND number = ANY($2::int[]) AND removed_at IS NULL`, item, numbers, now)
}

func restoreVersion(ctx context.Context, q postgres.Q, item uuid.UUID, number int) error {
	return postgres.ExecOne(ctx, q, `UPDATE versions SET removed_at = NULL, removed_by = NULL, held = true WHERE item_id = $1 AND number = $2`, item, number)
}

// removedBefore lists versions that were removed before a moment, the oldest first.
func removedBefore(ctx context.Context, q postgres.Q, before time.Time, limit int) (all []items.Version, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM versions WHERE removed_at <= $1 AND moved_to IS NULL AND sha256 IS NOT NULL ORDER BY removed_at LIMIT $2 FOR UPDATE SKIP LOCKED`, before, limit)
}

// purgeVersion forgets what a version holds; its number stays taken.
func purgeVersion(ctx context.Context, q postgres.Q, v items.Version) error {
	return postgres.ExecOne(ctx, q, `UPDATE versions SET sha256 = NULL, size = 0, title = '', note = '' WHERE item_id = $1 AND number = $2`, v.ItemID, v.Number)
}

// NamedVersion is a version with its maker's name and the number of the
// document it was moved to.
type NamedVersion struct {
	items.Version
	By string `db:"by_name"`
	// LinkName is the name of the link through which a visitor made it.
	LinkName  string `db:"link_name"`
	MovedToNo *int   `db:"moved_to_no"`
	// Remover is the name of whoever removed it.
	Remover string `db:"remover"`
}

// VersionsOf returns all versions of a document, newest first; not those that were removed
// for good.
func VersionsOf(ctx context.Context, q postgres.Q, item uuid.UUID) (all []NamedVersion, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT v.*, coalesce(p.name, '') AS by_name, coalesce(l.name, '') AS link_name, m.number AS moved_to_no, coalesce(r.name, '') AS remover FROM versions v
		LEFT JOIN people r ON r.id = v.removed_by
		LEFT JOIN people p ON p.id = v.actor_id LEFT JOIN links l ON l.id = v.actor_link LEFT JOIN items m ON m.id = v.moved_to WHERE v.item_id = $1 AND v.sha256 IS NOT NULL ORDER BY v.number DESC`, item)
}

// lastVersion is the highest number ever given in a document.
func lastVersion(ctx context.Context, q postgres.Q, item uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT max(number) FROM versions WHERE item_id = $1`, item)
}

// AddBlob adds content and reports whether it was new. Until the act ends nobody drops
// it.
func AddBlob(ctx context.Context, q postgres.Q, b items.Blob) (bool, error) {
	if err := LockBlobs(ctx, q, false); err != nil {
		return false, err
	}
	added, err := postgres.Touches(ctx, q, `INSERT INTO blobs (sha256, size, own, place, sealed_key, created_at) VALUES ($1, $2, $2, $3, $4, $5)
		ON CONFLICT (sha256) DO NOTHING`, b.SHA256, b.Size, b.Place, b.SealedKey, b.CreatedAt)
	if err != nil || !added {
		return false, err
	}
	return true, CountStored(ctx, q, b, b.Size)
}

// CountStored counts content that the practice keeps from now on, or no longer.
func CountStored(ctx context.Context, q postgres.Q, b items.Blob, bytes int64) error {
	return postgres.ExecOne(ctx, q, `UPDATE storage_used SET bytes = bytes + $2 WHERE slot = $1`, b.Place[15]%16, bytes)
}

// BlobByHash finds content.
func BlobByHash(ctx context.Context, q postgres.Q, sha256 []byte) (b items.Blob, err error) {
	return b, postgres.Found(q.GetContext(ctx, &b, `SELECT * FROM blobs WHERE sha256 = $1`, sha256))
}
