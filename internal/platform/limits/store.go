// Package limits counts tries and makes who tries too often wait, across all
// server processes.
package limits

import (
	"context"
	"time"

	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// Tries is the count of wrong passwords in a row under a key.
type Tries struct {
	Failures int       `db:"failures"`
	LastAt   time.Time `db:"last_at"`
}

// TriesOf returns the count under a key; none is zero.
func TriesOf(ctx context.Context, q postgres.Q, key string) (Tries, error) {
	var all []Tries
	if err := q.SelectContext(ctx, &all, `SELECT failures, last_at FROM tries WHERE key = $1`, key); err != nil || len(all) == 0 {
		return Tries{}, err
	}
	return all[0], nil
}

// TakeTry takes a try in the row before it is looked at, so that many at once are
// tried one after the other; waits are how long the next has to wait after so many.
// It returns how long is left when the try was not taken. A pause of a day begins
// the count anew, and so does a clock that was set back.
func TakeTry(ctx context.Context, db *postgres.DB, key string, now time.Time, waits []time.Duration) (left time.Duration, err error) {
	seconds := make([]float64, len(waits))
	for i, w := range waits {
		seconds[i] = w.Seconds()
	}
	taken, err := db.ExecContext(ctx, `INSERT INTO tries AS t (key, failures, last_at) VALUES ($1, 1, $2)
		ON CONFLICT (key) DO UPDATE SET last_at = $2, failures = CASE WHEN t.last_at < $2 - interval '1 day' THEN 1 ELSE t.failures + 1 END
		WHERE t.last_at > $2 + interval '1 minute' OR t.last_at + make_interval(secs => ($3::float8[])[least(t.failures + 1, $4)]) <= $2`,
		key, now, seconds, len(waits))
	if err != nil {
		return 0, err
	}
	if n, err := taken.RowsAffected(); err != nil || n == 1 {
		return 0, err
	}
	t, err := TriesOf(ctx, db, key)
	return max(time.Millisecond, t.LastAt.Add(waits[min(t.Failures, len(waits)-1)]).Sub(now)), err
}

// ForgetTries clears the count after a right password.
func ForgetTries(ctx context.Context, q postgres.Q, key string) error {
	return postgres.Exec(ctx, q, `DELETE FROM tries WHERE key = $1`, key)
}

// Duty forgets tries that count no longer.
type Duty struct {
	DB    *postgres.DB
	Clock func() time.Time
}

// Register registers what is done again and again: a pause of a day begins a count
// anew, so that what is older says nothing.
func (d Duty) Register(r *jobs.Registry) {
	r.Every("forget tries", time.Hour, func(ctx context.Context) error {
		return postgres.Exec(ctx, d.DB, `DELETE FROM tries WHERE last_at < $1`, d.Clock().Add(-25*time.Hour))
	})
}
