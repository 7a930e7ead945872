package reading

import (
	"context"
	"fmt"
	"time"

	"tabularis/internal/platform/postgres"
)

// Awkward remembers content that brought down what read it, by its hash.
type Awkward struct{ DB *postgres.DB }

// Killed reports whether content was noted for an operation.
func (a Awkward) Killed(ctx context.Context, sha256 []byte, op string) (noted bool, err error) {
	return noted, a.DB.Pool.QueryRow(ctx, `SELECT EXISTS (SELECT 1 FROM awkward WHERE sha256 = $1 AND op = $2)`, sha256, op).Scan(&noted)
}

// NoteKilled notes content for an operation.
func (a Awkward) NoteKilled(ctx context.Context, sha256 []byte, op string) error {
	return postgres.Exec(ctx, a.DB, `INSERT INTO awkward (sha256, op) VALUES ($1, $2) ON CONFLICT DO NOTHING`, sha256, op)
}

// ForgetAwkward lets content be tried again that was noted before a moment: what
// reads it may have become better since.
func ForgetAwkward(ctx context.Context, q postgres.Q, before time.Time) error {
	if err := postgres.Exec(ctx, q, `DELETE FROM awkward WHERE at < $1`, before); err != nil {
		return fmt.Errorf("forgetting awkward content: %w", err)
	}
	return nil
}
