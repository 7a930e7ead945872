package calendar

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

// Feed is somebody's calendar: since when it has its address, and when it was last read by it.
type Feed struct {
	Person uuid.UUID  `db:"person_id"`
	Made   time.Time  `db:"made_at"`
	Read   *time.Time `db:"read_at"`
}

func feedOf(ctx context.Context, q postgres.Q, person uuid.UUID) (f Feed, err error) {
	return f, postgres.Found(q.GetContext(ctx, &f, `SELECT person_id, made_at, read_at FROM calendars WHERE person_id = $1`, person))
}

// keepFeed gives somebody's calendar an address; one that it had leads nowhere from then on.
func keepFeed(ctx context.Context, q postgres.Q, person uuid.UUID, tokenSHA256 []byte, now time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO calendars (person_id, token_sha256, made_at) VALUES ($1, $2, $3) ON CONFLICT (person_id) DO UPDATE SET token_sha256 = excluded.token_sha256, made_at = excluded.made_at, read_at = NULL`, person, tokenSHA256, now)
}

func forgetFeed(ctx context.Context, q postgres.Q, person uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM calendars WHERE person_id = $1`, person)
}

// readFeed finds whose calendar an address leads to, and notes that it was read.
func readFeed(ctx context.Context, q postgres.Q, tokenSHA256 []byte, now time.Time) (person uuid.UUID, err error) {
	return person, postgres.Found(q.GetContext(ctx, &person, `UPDATE calendars SET read_at = $2 WHERE token_sha256 = $1 RETURNING person_id`, tokenSHA256, now))
}
