package documents

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
)

// sketched is the sketch of a version's content.
type sketched struct {
	ItemID uuid.UUID `db:"item_id"`
	Number int       `db:"number"`
	SHA256 []byte    `db:"sha256"`
	OfText bool      `db:"of_text"`
	Sketch []byte    `db:"sketch"`
}

func sketchOf(ctx context.Context, q postgres.Q, sha256 []byte) (s sketched, ok bool, err error) {
	err = postgres.Found(q.GetContext(ctx, &s, `SELECT sha256, of_text, sketch FROM sketches WHERE sha256 = $1`, sha256))
	if fault.Is(err, fault.NotFound) {
		return s, false, nil
	}
	return s, err == nil, err
}

func addSketch(ctx context.Context, q postgres.Q, s sketched) error {
	return postgres.Exec(ctx, q, `INSERT INTO sketches (sha256, of_text, sketch) SELECT sha256, $2, $3 FROM blobs WHERE sha256 = $1 ON CONFLICT DO NOTHING`, s.SHA256, s.OfText, s.Sketch)
}

// sketchesIn lists the sketches of the versions of other documents in a dossier, the newest
// first.
func sketchesIn(ctx context.Context, q postgres.Q, dossier, but uuid.UUID, ofText bool, limit int) (all []sketched, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT v.item_id, v.number, s.sha256, s.of_text, s.sketch FROM items i JOIN versions v ON v.item_id = i.id AND v.removed_at IS NULL
		JOIN sketches s ON s.sha256 = v.sha256 WHERE i.dossier_id = $1 AND i.kind = 'document' AND i.id <> $2 AND s.of_text = $3 AND length(s.sketch) > 0
		ORDER BY v.created_at DESC, v.number DESC LIMIT $4`, dossier, but, ofText, limit)
}

// unsketched lists the counting versions of other documents beside one, of its type, of
// which there is no sketch yet, the newest first.
func unsketched(ctx context.Context, q postgres.Q, beside items.Item, limit int) (all []items.Version, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT v.* FROM items i JOIN versions v ON v.item_id = i.id AND v.number = i.version
		WHERE i.parent_id = $1 AND i.id <> $2 AND i.media_type = $3 AND NOT EXISTS (SELECT 1 FROM sketches s WHERE s.sha256 = v.sha256) ORDER BY v.created_at DESC LIMIT $4`,
		beside.ParentID, beside.ID, beside.MediaType, limit)
}
