package sessions

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

// Entry is a one-time way in: an invitation, a forgotten password, a code.
type Entry struct {
	ID           uuid.UUID  `db:"id"`
	Kind         string     `db:"kind"`
	PersonID     uuid.UUID  `db:"person_id"`
	SecretSHA256 []byte     `db:"secret_sha256"`
	GoesTo       string     `db:"goes_to"`
	Tries        int        `db:"tries"`
	CreatedBy    *uuid.UUID `db:"created_by"`
	CreatedAt    time.Time  `db:"created_at"`
	ExpiresAt    time.Time  `db:"expires_at"`
	UsedAt       *time.Time `db:"used_at"`
}

// AddEntry adds an entry. Earlier ones of its kind for the person are over.
func AddEntry(ctx context.Context, q postgres.Q, e Entry) error {
	if e.Kind != "invitation" {
		if err := postgres.Exec(ctx, q, `UPDATE entries SET expires_at = least(expires_at, $3) WHERE person_id = $1 AND kind = $2 AND used_at IS NULL`,
			e.PersonID, e.Kind, e.CreatedAt); err != nil {
			return err
		}
	}
	return postgres.Exec(ctx, q, `INSERT INTO entries (id, kind, person_id, secret_sha256, goes_to, created_by, created_at, expires_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		e.ID, e.Kind, e.PersonID, e.SecretSHA256, e.GoesTo, e.CreatedBy, e.CreatedAt, e.ExpiresAt)
}

// EntryBySecret finds an entry that is good at the moment. With lock it holds
// the row, so that it is used once.
func EntryBySecret(ctx context.Context, q postgres.Q, secretSHA256 []byte, now time.Time, lock bool) (e Entry, err error) {
	query := `SELECT * FROM entries WHERE secret_sha256 = $1 AND kind <> 'code' AND used_at IS NULL AND expires_at > $2`
	if lock {
		query += ` FOR UPDATE`
	}
	return e, postgres.Found(q.GetContext(ctx, &e, query, secretSHA256, now))
}

// CodeEntry finds the code that a person was sent last, if it is good, and holds
// its row.
func CodeEntry(ctx context.Context, q postgres.Q, person uuid.UUID, now time.Time) (e Entry, err error) {
	return e, postgres.Found(q.GetContext(ctx, &e, `SELECT * FROM entries WHERE person_id = $1 AND kind = 'code' AND used_at IS NULL AND expires_at > $2
		ORDER BY created_at DESC LIMIT 1 FOR UPDATE`, person, now))
}

// NoteEntryTry counts a wrong try.
func NoteEntryTry(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.Exec(ctx, q, `UPDATE entries SET tries = tries + 1 WHERE id = $1`, id)
}

// UseEntry notes that an entry was used.
func UseEntry(ctx context.Context, q postgres.Q, id uuid.UUID, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE entries SET used_at = $2 WHERE id = $1 AND used_at IS NULL`, id, now)
}
