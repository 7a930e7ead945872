package chunk

import (
	"bytes"
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
)

// contentOf lists what the versions of a document hold, each content once, in the order in
// which it first came.
func contentOf(ctx context.Context, q postgres.Q, document uuid.UUID) (all []items.Blob, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT b.* FROM (SELECT sha256, min(number) AS first FROM versions WHERE item_id = $1 AND sha256 IS NOT NULL GROUP BY 1) v
		JOIN blobs b ON b.sha256 = v.sha256 ORDER BY v.first`, document)
}

// lockAsSeen holds blobs until the act ends, and reports whether each lies still where it
// was seen, and nothing is made of parts of the first.
func lockAsSeen(ctx context.Context, q postgres.Q, b items.Blob, others []items.Blob) (same bool, err error) {
	seen := append([]items.Blob{b}, others...)
	slices.SortFunc(seen, func(a, b items.Blob) int { return bytes.Compare(a.SHA256, b.SHA256) })
	for _, s := range seen {
		var now items.Blob
		err := postgres.Found(q.GetContext(ctx, &now, `SELECT * FROM blobs WHERE sha256 = $1 FOR UPDATE`, s.SHA256))
		if fault.Is(err, fault.NotFound) || err == nil && (now.Place != s.Place || now.Own != s.Own) {
			return false, nil
		}
		if err != nil {
			return false, err
		}
	}
	return same, q.GetContext(ctx, &same, `SELECT NOT EXISTS (SELECT 1 FROM blob_sources WHERE source = $1)`, b.SHA256)
}

// leavePlace notes a place that nothing needs any more.
func leavePlace(ctx context.Context, q postgres.Q, place uuid.UUID, now time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO left_places (place, at) VALUES ($1, $2)`, place, now)
}

func leftPlaces(ctx context.Context, q postgres.Q, before time.Time, limit int) (all []uuid.UUID, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT place FROM left_places WHERE at <= $1 ORDER BY at LIMIT $2`, before, limit)
}

func forgetPlace(ctx context.Context, q postgres.Q, place uuid.UUID) error {
	return postgres.Exec(ctx, q, `DELETE FROM left_places WHERE place = $1`, place)
}

// leftOver lists blobs that only others need.
func leftOver(ctx context.Context, q postgres.Q, limit int) (all []items.Blob, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM blobs WHERE left_over ORDER BY sha256 LIMIT $1`, limit)
}

// needed reports whether a document holds content still.
func needed(ctx context.Context, q postgres.Q, sha256 []byte) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM versions WHERE sha256 = $1)`, sha256)
}

// dependent is content that is made of parts of a source, which has a position in it.
type dependent struct {
	items.Blob
	Position int `db:"position"`
	Sources  int `db:"sources"`
}

// dependents lists what is made of parts of a blob; with lock it holds their rows.
func dependents(ctx context.Context, q postgres.Q, source []byte, lock bool) (all []dependent, err error) {
	query := `SELECT b.*, s.position, (SELECT count(*) FROM blob_sources o WHERE o.sha256 = b.sha256) AS sources FROM blob_sources s JOIN blobs b ON b.sha256 = s.sha256 WHERE s.source = $1 ORDER BY b.sha256`
	if lock {
		query += ` FOR UPDATE OF b`
	}
	return all, q.SelectContext(ctx, &all, query, source)
}
