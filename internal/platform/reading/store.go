package reading

import (
	"context"
	"fmt"
	"time"

	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// Noted remembers content that brought down what read it, by its hash.
type Noted struct {
	DB    *postgres.DB
	Clock func() time.Time
}

// Killed reports whether content was noted for an operation.
func (n Noted) Killed(ctx context.Context, sha256 []byte, op string) (noted bool, err error) {
	return noted, n.DB.Pool.QueryRow(ctx, `SELECT EXISTS (SELECT 1 FROM awkward WHERE sha256 = $1 AND op = $2)`, sha256, op).Scan(&noted)
}

// NoteKilled notes content for an operation.
func (n Noted) NoteKilled(ctx context.Context, sha256 []byte, op string) error {
	return postgres.Exec(ctx, n.DB, `INSERT INTO awkward (sha256, op) VALUES ($1, $2) ON CONFLICT DO NOTHING`, sha256, op)
}

// keptFor is how long content that brought down what read it is left alone: what
// reads it may have become better since.
const keptFor = 90 * 24 * time.Hour

// Register registers what is done again and again.
func (n Noted) Register(r *jobs.Registry) {
	r.Every("let awkward content be tried again", 24*time.Hour, func(ctx context.Context) error {
		if err := postgres.Exec(ctx, n.DB, `DELETE FROM awkward WHERE at < $1`, n.Clock().Add(-keptFor)); err != nil {
			return fmt.Errorf("forgetting awkward content: %w", err)
		}
		return nil
	})
}
