package items

import (
	"context"

	"tabularis/core/chunk"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
)

// RecipeOf says of which runs of which blobs content is made, all as they are at one
// moment: source 0 is the blob itself.
func RecipeOf(ctx context.Context, q postgres.Q, sha256 []byte) (chunk.Recipe, []items.Blob, error) {
	var all []items.Blob
	if err := q.SelectContext(ctx, &all, `SELECT b.* FROM (SELECT 0 AS position, $1::bytea AS sha256 UNION ALL SELECT position, source FROM blob_sources WHERE sha256 = $1) s
		JOIN blobs b ON b.sha256 = s.sha256 ORDER BY s.position`, sha256); err != nil {
		return nil, nil, err
	}
	if len(all) == 0 {
		return nil, nil, fault.Missing()
	}
	b := all[0]
	if b.Whole() {
		return chunk.Recipe{{Length: b.Size}}, all, nil
	}
	r, err := chunk.Decode(b.Recipe, len(all)-1, b.Size)
	return r, all, err
}

// NoteWeighed notes that content is kept whole.
func NoteWeighed(ctx context.Context, q postgres.Q, sha256 []byte) error {
	return postgres.Exec(ctx, q, `UPDATE blobs SET weighed = true WHERE sha256 = $1`, sha256)
}

// TakeApart notes that of content only its own part lies in its place now.
func TakeApart(ctx context.Context, q postgres.Q, b items.Blob, sources []items.Blob) error {
	if err := postgres.ExecOne(ctx, q, `UPDATE blobs SET place = $2, sealed_key = $3, own = $4, recipe = $5, weighed = true WHERE sha256 = $1`,
		b.SHA256, b.Place, b.SealedKey, b.Own, b.Recipe); err != nil {
		return err
	}
	for i, s := range sources {
		if err := postgres.Exec(ctx, q, `INSERT INTO blob_sources (sha256, position, source) VALUES ($1, $2, $3)`, b.SHA256, i+1, s.SHA256); err != nil {
			return err
		}
	}
	return nil
}

// NoteShrunk notes that of a blob nothing more can be spared.
func NoteShrunk(ctx context.Context, q postgres.Q, sha256 []byte) error {
	return postgres.Exec(ctx, q, `UPDATE blobs SET left_over = false WHERE sha256 = $1`, sha256)
}

// DropBlob forgets content that nothing needs any more.
func DropBlob(ctx context.Context, q postgres.Q, sha256 []byte) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM blobs WHERE sha256 = $1`, sha256)
}

// ExchangeSource lets content be made of parts of another blob instead of the one at a
// position, by another recipe.
func ExchangeSource(ctx context.Context, q postgres.Q, b items.Blob, position int, source []byte) error {
	if err := postgres.ExecOne(ctx, q, `UPDATE blobs SET recipe = $2 WHERE sha256 = $1`, b.SHA256, b.Recipe); err != nil {
		return err
	}
	return postgres.ExecOne(ctx, q, `UPDATE blob_sources SET source = $3 WHERE sha256 = $1 AND position = $2`, b.SHA256, position, source)
}
