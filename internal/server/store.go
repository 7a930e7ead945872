package server

import (
	"context"

	"tabularis/core/fault"
	"tabularis/internal/platform/postgres"
)

// KeyCheck returns the value by which the key file is checked; nil where there is
// none yet.
func KeyCheck(ctx context.Context, q postgres.Q) (sealed []byte, err error) {
	err = postgres.Found(q.GetContext(ctx, &sealed, `SELECT sealed FROM key_check`))
	if fault.Is(err, fault.NotFound) {
		return nil, nil
	}
	return sealed, err
}

// PutKeyCheck keeps the value by which the key file is checked, unless there is one.
func PutKeyCheck(ctx context.Context, q postgres.Q, sealed []byte) error {
	return postgres.Exec(ctx, q, `INSERT INTO key_check (sealed) VALUES ($1) ON CONFLICT DO NOTHING`, sealed)
}

// AnySealedKey returns the sealed key of some content, by which a key file can be
// checked in a database from before it had a value for that; nil where there is none.
func AnySealedKey(ctx context.Context, q postgres.Q) (sealed []byte, err error) {
	err = postgres.Found(q.GetContext(ctx, &sealed, `SELECT sealed_key FROM blobs LIMIT 1`))
	if fault.Is(err, fault.NotFound) {
		return nil, nil
	}
	return sealed, err
}

// NothingSealed reports whether nothing in the database was sealed under a key file.
func NothingSealed(ctx context.Context, q postgres.Q) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT NOT EXISTS (SELECT 1 FROM blobs) AND NOT EXISTS (SELECT 1 FROM uploads) AND NOT EXISTS (SELECT 1 FROM links)
		AND NOT EXISTS (SELECT 1 FROM invitation_links) AND NOT EXISTS (SELECT 1 FROM people WHERE totp_sealed IS NOT NULL)`)
}
