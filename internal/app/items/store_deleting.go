package items

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// Deletion is what was deleted by one act: an item, and what lay in it.
type Deletion struct {
	ID         uuid.UUID `db:"id"`
	ItemID     uuid.UUID `db:"item_id"`
	FolderID   uuid.UUID `db:"folder_id"`
	FolderName string    `db:"folder_name"`
	Documents  int       `db:"documents"`
	Folders    int       `db:"folders"`
	Bytes      int64     `db:"bytes"`
	Reason     string    `db:"reason"`
	By         uuid.UUID `db:"deleted_by"`
	At         time.Time `db:"at"`
}

// DeletionByID finds a deletion, and holds its row.
func DeletionByID(ctx context.Context, q postgres.Q, id uuid.UUID) (d Deletion, err error) {
	return d, postgres.Found(q.GetContext(ctx, &d, `SELECT * FROM deletions WHERE id = $1 FOR UPDATE`, id))
}

// DeletedWith lists what was deleted by one act, and is deleted still.
func DeletedWith(ctx context.Context, q postgres.Q, deletion uuid.UUID) (all []items.Item, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM deleted_items d JOIN all_items i ON i.id = d.item_id WHERE d.deletion_id = $1`, deletion)
}

// DeletedDocuments counts the documents that were deleted with an item.
func DeletedDocuments(ctx context.Context, q postgres.Q, item uuid.UUID) (n int, err error) {
	return n, postgres.Found(q.GetContext(ctx, &n, `SELECT documents FROM deletions WHERE item_id = $1`, item))
}

// addDeletion takes an item and what lies in it out of sight, and counts it no longer.
func addDeletion(ctx context.Context, q postgres.Q, d Deletion) (Deletion, error) {
	if err := postgres.Exec(ctx, q, `INSERT INTO deletions (id, item_id, folder_id, folder_name, reason, deleted_by, at) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
		d.ID, d.ItemID, d.FolderID, d.FolderName, d.Reason, d.By, d.At); err != nil {
		return d, err
	}
	if err := postgres.Exec(ctx, q, `WITH RECURSIVE down AS (
			SELECT id FROM items WHERE id = $1
			UNION ALL SELECT c.id FROM down CROSS JOIN LATERAL (SELECT id FROM items WHERE parent_id = down.id OFFSET 0) c),
		gone AS (UPDATE all_items i SET deleted_at = $3, n_documents = 0, n_bytes = 0 FROM down WHERE i.id = down.id RETURNING i.id)
		INSERT INTO deleted_items (item_id, deletion_id) SELECT id, $2 FROM gone`, d.ItemID, d.ID, d.At); err != nil {
		return d, err
	}
	if err := q.GetContext(ctx, &d, `WITH c AS (SELECT count(*) FILTER (WHERE i.kind = 'document') AS documents, count(*) FILTER (WHERE i.kind = 'folder') AS folders, coalesce(sum(i.size), 0)::bigint AS bytes
			FROM deleted_items g JOIN all_items i ON i.id = g.item_id WHERE g.deletion_id = $1)
		UPDATE deletions SET documents = c.documents, folders = c.folders, bytes = c.bytes FROM c WHERE id = $1 RETURNING deletions.*`, d.ID); err != nil {
		return d, err
	}
	return d, postgres.Exec(ctx, q, `UPDATE scopes s SET n_documents = 0, n_bytes = 0 FROM deleted_items g WHERE g.deletion_id = $1 AND s.id = g.item_id`, d.ID)
}

// deleteDossier takes a dossier out of sight, or lets it be there again.
func deleteDossier(ctx context.Context, q postgres.Q, dossier uuid.UUID, at *time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE all_dossiers SET deleted_at = $2 WHERE id = $1`, dossier, at)
}

// dossierThere reports whether a dossier is not deleted.
func dossierThere(ctx context.Context, q postgres.Q, dossier uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM dossiers WHERE id = $1)`, dossier)
}

// foldersAbove lists the folders around an item from the nearest on, up to the first
// one that is there, which comes last.
func foldersAbove(ctx context.Context, q postgres.Q, item uuid.UUID) (all []items.Item, err error) {
	return all, q.SelectContext(ctx, &all, `WITH RECURSIVE up AS (
			SELECT f.id, f.parent_id, f.deleted_at, 1 AS n FROM all_items i JOIN all_items f ON f.id = i.parent_id WHERE i.id = $1
			UNION ALL SELECT f.id, f.parent_id, f.deleted_at, up.n + 1 FROM up JOIN all_items f ON f.id = up.parent_id WHERE up.deleted_at IS NOT NULL)
		SELECT i.* FROM up JOIN all_items i ON i.id = up.id ORDER BY up.n`, item)
}

// revive lets a single item be there again.
func revive(ctx context.Context, q postgres.Q, i items.Item) error {
	if err := postgres.ExecOne(ctx, q, `UPDATE all_items SET deleted_at = NULL, parent_id = $2, name = $3, name_key = $4, twin = $5 WHERE id = $1`,
		i.ID, i.ParentID, i.Name, i.NameKey, i.Twin); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `DELETE FROM deleted_items WHERE item_id = $1`, i.ID)
}

// reviveRest lets the rest of a deletion be there again, as it was.
func reviveRest(ctx context.Context, q postgres.Q, deletion uuid.UUID) error {
	return postgres.Exec(ctx, q, `WITH back AS (DELETE FROM deleted_items WHERE deletion_id = $1 RETURNING item_id)
		UPDATE all_items i SET deleted_at = NULL FROM back WHERE i.id = back.item_id`, deletion)
}

// recountFolders counts anew what lies in folders, and what scopes decide.
func recountFolders(ctx context.Context, q postgres.Q, folders, scopes []uuid.UUID) error {
	if err := postgres.Exec(ctx, q, `UPDATE all_items f SET n_documents = c.n, n_bytes = c.bytes FROM (SELECT f.id, count(i.id)::int AS n, coalesce(sum(i.size), 0)::bigint AS bytes
			FROM unnest($1::uuid[]) f (id) LEFT JOIN items i ON i.parent_id = f.id AND i.kind = 'document' GROUP BY 1) c WHERE f.id = c.id AND f.deleted_at IS NULL`, postgres.IDs(folders)); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `UPDATE scopes s SET n_documents = c.n, n_bytes = c.bytes FROM (SELECT s.id, count(i.id)::int AS n, coalesce(sum(i.size), 0)::bigint AS bytes
		FROM unnest($1::uuid[]) s (id) LEFT JOIN items i ON i.scope_id = s.id AND i.kind = 'document' GROUP BY 1) c WHERE s.id = c.id`, postgres.IDs(scopes))
}

// leaveFolder counts a document no longer that was taken out of sight. What lies in a folder
// was counted there alone, and a document with a scope of its own in that.
func leaveFolder(ctx context.Context, q postgres.Q, item items.Item) error {
	if item.Kind != items.Document {
		return nil
	}
	if item.ScopeID != item.ID {
		return countDocument(ctx, q, item, -1)
	}
	return countInFolder(ctx, q, item, -1)
}

// countDocument counts a document in its folder and in the scope that decides on it, or
// no longer. However many lie there, none of the others is looked at.
func countDocument(ctx context.Context, q postgres.Q, item items.Item, n int) error {
	if err := countInFolder(ctx, q, item, n); err != nil {
		return err
	}
	return guard.Weigh(ctx, q, item.ScopeID, n, int64(n)*item.Size)
}

func countInFolder(ctx context.Context, q postgres.Q, item items.Item, n int) error {
	return postgres.Exec(ctx, q, `UPDATE items SET n_documents = n_documents + $2, n_bytes = n_bytes + $3 WHERE id = $1`, item.ParentID, n, int64(n)*item.Size)
}

// dropDeletion forgets a deletion of which everything is there again, or nothing at all.
func dropDeletion(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM deletions WHERE id = $1`, id)
}

// destroy forgets what a deletion's documents hold, and what people keep of its items.
// Names stay, for what has happened. It returns the hashes of the content.
func destroy(ctx context.Context, q postgres.Q, deletion uuid.UUID) (sums [][]byte, err error) {
	for _, table := range []string{"pins", "access_requests", "grants", "remarks", "remark_looks"} {
		if err := postgres.Exec(ctx, q, `DELETE FROM `+table+` t USING deleted_items g WHERE g.deletion_id = $1 AND t.item_id = g.item_id`, deletion); err != nil {
			return nil, err
		}
	}
	if err := postgres.Exec(ctx, q, `UPDATE all_items i SET sha256 = NULL, size = 0 FROM deleted_items g WHERE g.deletion_id = $1 AND i.id = g.item_id`, deletion); err != nil {
		return nil, err
	}
	return sums, q.SelectContext(ctx, &sums, `WITH gone AS (DELETE FROM versions v USING deleted_items g WHERE g.deletion_id = $1 AND v.item_id = g.item_id RETURNING v.sha256)
		SELECT DISTINCT sha256 FROM gone`, deletion)
}

// dropBlobs forgets stored content that nothing needs any more, and returns where it
// lies. While it looks, nothing new can come to need it. What only other content needs, of
// which it holds a part, is noted as left.
func dropBlobs(ctx context.Context, q postgres.Q, sums [][]byte) (places []uuid.UUID, err error) {
	if len(sums) == 0 {
		return nil, nil
	}
	if err := LockBlobs(ctx, q, true); err != nil {
		return nil, err
	}
	for _, told := range []string{"scans", "sketches"} {
		if err := postgres.Exec(ctx, q, `DELETE FROM `+told+` s WHERE s.`+needless("s"), sums); err != nil {
			return nil, err
		}
	}
	for len(sums) > 0 {
		if err := postgres.Exec(ctx, q, `UPDATE blobs b SET left_over = true WHERE b.`+needless("b")+` AND `+aSource("b"), sums); err != nil {
			return nil, err
		}
		var next [][]byte
		if err := q.SelectContext(ctx, &next, `SELECT DISTINCT s.source FROM blobs b JOIN blob_sources s ON s.sha256 = b.sha256 WHERE b.`+needless("b")+` AND NOT `+aSource("b"), sums); err != nil {
			return nil, err
		}
		var gone []items.Blob
		if err := q.SelectContext(ctx, &gone, `DELETE FROM blobs b WHERE b.`+needless("b")+` AND NOT `+aSource("b")+` RETURNING b.*`, sums); err != nil {
			return nil, err
		}
		for _, b := range gone {
			if err := CountStored(ctx, q, b, -b.Own); err != nil {
				return nil, err
			}
			places = append(places, b.Place)
		}
		// What they were made of may now be needed by nothing.
		sums = next
	}
	return places, nil
}

// needless is the condition under which nothing needs the content of a row.
func needless(row string) string {
	return `sha256 = ANY($1::bytea[]) AND NOT EXISTS (SELECT 1 FROM versions v WHERE v.sha256 = ` + row + `.sha256) AND NOT EXISTS (SELECT 1 FROM all_items i WHERE i.sha256 = ` + row + `.sha256)`
}

// aSource is the condition that other content is made of parts of a blob.
func aSource(row string) string {
	return `EXISTS (SELECT 1 FROM blob_sources d WHERE d.source = ` + row + `.sha256)`
}

// LockBlobs keeps everybody from dropping content until the act ends; alone it keeps
// everybody from coming to need some, too.
func LockBlobs(ctx context.Context, q postgres.Q, alone bool) error {
	if alone {
		return postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock(`+blobsLock+`)`)
	}
	return postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock_shared(`+blobsLock+`)`)
}

// blobsLock is held by whoever comes to need content together with others, and alone by
// whoever drops what is no longer needed.
const blobsLock = `hashtext('tabularis blobs')`

// BroughtBy is who brought a version of a document, also of a deleted one, or, where it was nobody of the practice, who added
// the document.
func BroughtBy(ctx context.Context, q postgres.Q, document uuid.UUID, number int) (person uuid.UUID, err error) {
	return person, postgres.Found(q.GetContext(ctx, &person, `SELECT coalesce(v.actor_id, i.created_by) FROM all_items i LEFT JOIN versions v ON v.item_id = i.id AND v.number = $2 WHERE i.id = $1`, document, number))
}
