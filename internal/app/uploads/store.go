package uploads

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/core/versions"
	"tabularis/internal/platform/postgres"
)

// Upload is content on its way in. Received is what is durably stored.
type Upload struct {
	ID uuid.UUID `db:"id"`
	// It is a person's or a visit's.
	PersonID  *uuid.UUID `db:"person_id"`
	VisitID   *uuid.UUID `db:"visit_id"`
	FolderID  uuid.UUID  `db:"folder_id"`
	Path      string     `db:"path"`
	Name      string     `db:"name"`
	Size      int64      `db:"size"`
	Received  int64      `db:"received"`
	Apart     bool       `db:"apart"`
	SealedKey []byte     `db:"sealed_key"`
	Nonce     []byte     `db:"nonce"`
	HashState []byte     `db:"hash_state"`
	Expected  []byte     `db:"expected_sha256"`
	MediaType string     `db:"media_type"`
	CreatedAt time.Time  `db:"created_at"`
	TouchedAt time.Time  `db:"touched_at"`
	Outcome   string     `db:"outcome"`
	ItemID    *uuid.UUID `db:"item_id"`
	Version   int        `db:"version"`
	// Paper is which of the expected papers it is.
	Paper *int `db:"paper"`
	// DocumentID is of which document it is to be a version, Note what is said of it.
	DocumentID *uuid.UUID `db:"document_id"`
	Note       string     `db:"note"`
	// InTurn says that it waits until it is asked for, see Wish.
	InTurn bool `db:"in_turn"`
	Saved  bool `db:"saved"`
	// Readable says that it is read by others while it arrives: it goes into a transfer.
	Readable bool `db:"readable"`
	// Announced is which of a transfer's files it is.
	Announced *uuid.UUID `db:"announced_id"`
}

// origin is how the version came about that it becomes.
func (u Upload) origin() versions.Origin {
	if u.Saved {
		return versions.Saved
	}
	return versions.Uploaded
}

// AddUpload adds an upload.
func AddUpload(ctx context.Context, q postgres.Q, u Upload) error {
	return postgres.Exec(ctx, q, `INSERT INTO uploads (id, person_id, folder_id, path, name, size, apart, sealed_key, nonce, expected_sha256, created_at, touched_at, visit_id, paper, document_id, note, in_turn, saved, readable, announced_id)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $11, $12, $13, $14, $15, $16, $17, $18, $19)`,
		u.ID, u.PersonID, u.FolderID, u.Path, u.Name, u.Size, u.Apart, u.SealedKey, u.Nonce, u.Expected, u.CreatedAt, u.VisitID, u.Paper, u.DocumentID, u.Note, u.InTurn, u.Saved, u.Readable, u.Announced)
}

// UploadByID finds an upload. With lock it holds the row.
func UploadByID(ctx context.Context, q postgres.Q, id uuid.UUID, lock bool) (u Upload, err error) {
	query := `SELECT * FROM uploads WHERE id = $1`
	if lock {
		query += ` FOR UPDATE`
	}
	return u, postgres.Found(q.GetContext(ctx, &u, query, id))
}

// uploadsAs lists what is on its way as a file of a transfer.
func uploadsAs(ctx context.Context, q postgres.Q, announced uuid.UUID) (all []Upload, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM uploads WHERE announced_id = $1 AND outcome = ''`, announced)
}

// ReceiveUpload notes how much is durably stored, where before was until now.
func ReceiveUpload(ctx context.Context, q postgres.Q, u Upload, before int64) error {
	return postgres.ExecOne(ctx, q, `WITH u AS (UPDATE uploads SET received = $2, hash_state = $3, media_type = $4, touched_at = $5 WHERE id = $1 AND received = $6 RETURNING id, readable)
		SELECT CASE WHEN readable THEN pg_notify('`+ArrivingChannel+`', id::text) END FROM u`,
		u.ID, u.Received, u.HashState, u.MediaType, u.TouchedAt, before)
}

// FinishUpload notes what became of an upload.
func FinishUpload(ctx context.Context, q postgres.Q, u Upload) error {
	return postgres.ExecOne(ctx, q, `UPDATE uploads SET outcome = $2, item_id = $3, version = $4, touched_at = $5, hash_state = NULL WHERE id = $1`,
		u.ID, u.Outcome, u.ItemID, u.Version, u.TouchedAt)
}

// DropUpload forgets an upload.
func DropUpload(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.Exec(ctx, q, `WITH u AS (DELETE FROM uploads WHERE id = $1 RETURNING id, readable)
		SELECT CASE WHEN readable THEN pg_notify('`+ArrivingChannel+`', id::text) END FROM u`, id)
}

// outgoing reports whether what is brought into a dossier goes into a transfer.
func outgoing(ctx context.Context, q postgres.Q, dossier uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM dossiers WHERE id = $1 AND kind = '`+items.Outgoing+`')`, dossier)
}

// StaleUploads returns uploads not touched since, and visitors' that no longer
// count at the moment now.
func StaleUploads(ctx context.Context, q postgres.Q, since, now time.Time, limit int) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM uploads u WHERE touched_at < $1 OR visit_id IS NOT NULL AND outcome = '' AND received < size
		AND NOT `+UnderWay("u", "$2")+` ORDER BY touched_at LIMIT $3`, since, now, limit)
}

// waitingUploads returns people's uploads that are complete and whose turn did not come
// since, the oldest first.
func waitingUploads(ctx context.Context, q postgres.Q, since time.Time, limit int) (all []Upload, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM uploads WHERE in_turn AND outcome = '' AND received = size AND touched_at < $1 AND person_id IS NOT NULL ORDER BY touched_at, id LIMIT $2`, since, limit)
}

// waitNoMore leaves an upload to whoever comes back to it.
func waitNoMore(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.Exec(ctx, q, `UPDATE uploads SET in_turn = false WHERE id = $1`, id)
}

// OpenUploadsOf counts the uploads of a visit that are still on their way.
func OpenUploadsOf(ctx context.Context, q postgres.Q, visit uuid.UUID, now time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM uploads u WHERE visit_id = $1 AND outcome = '' AND `+UnderWay("u", "$2"), visit, now)
}

// UnderWay is the condition under which a visitor's upload u counts at a moment: it
// has begun to arrive, or was announced just now.
func UnderWay(u, now string) string {
	return "(" + u + ".received > 0 AND " + u + ".touched_at > " + now + "::timestamptz - interval '2 hours' OR " + u + ".created_at > " + now + "::timestamptz - interval '10 minutes')"
}
