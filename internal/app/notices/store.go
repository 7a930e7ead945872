package notices

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// Notice tells one person of something that concerns them.
type Notice struct {
	ID       uuid.UUID  `db:"id"`
	PersonID uuid.UUID  `db:"person_id"`
	At       time.Time  `db:"at"`
	Kind     string     `db:"kind"`
	By       string     `db:"by_name"`
	What     string     `db:"what"`
	Path     string     `db:"path"`
	SeenAt   *time.Time `db:"seen_at"`
}

// AddNotice adds a notice, and tells the person's open pages when the
// transaction commits.
func AddNotice(ctx context.Context, q postgres.Q, n Notice) error {
	if err := postgres.Exec(ctx, q, `INSERT INTO notices (id, person_id, at, kind, by_name, what, path) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
		n.ID, n.PersonID, n.At, n.Kind, n.By, n.What, n.Path); err != nil {
		return err
	}
	return act.Tell(ctx, q, act.News{Person: &n.PersonID})
}

// NoticesOf lists somebody's notices, newest first.
func NoticesOf(ctx context.Context, q postgres.Q, person uuid.UUID, limit int) (all []Notice, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM notices WHERE person_id = $1 ORDER BY at DESC, id DESC LIMIT $2`, person, limit)
}

// CountUnseen counts the notices that somebody has not looked at.
func CountUnseen(ctx context.Context, q postgres.Q, person uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM notices WHERE person_id = $1 AND seen_at IS NULL`, person)
}

// MarkSeen notes that somebody has looked at all notices.
func MarkSeen(ctx context.Context, q postgres.Q, person uuid.UUID, now time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE notices SET seen_at = $2 WHERE person_id = $1 AND seen_at IS NULL`, person, now)
}

// ForgetNotices removes the notices from before a moment.
func ForgetNotices(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM notices WHERE at < $1`, before)
}

func forgetUnseen(ctx context.Context, q postgres.Q, person uuid.UUID, kind, path string) error {
	return postgres.Exec(ctx, q, `DELETE FROM notices WHERE person_id = $1 AND kind = $2 AND path = $3 AND seen_at IS NULL`, person, kind, path)
}

// unseenLike reports whether somebody has a notice that says the same from the same
// person, and has not looked at it.
func unseenLike(ctx context.Context, tx *act.Tx, to uuid.UUID, kind Kind, what, path string) (said bool, err error) {
	by := ""
	if tx.Actor.Person != nil {
		by = tx.Actor.Person.Name
	}
	return said, tx.GetContext(ctx, &said, `SELECT EXISTS (SELECT 1 FROM notices WHERE person_id = $1 AND kind = $2 AND what = $3 AND path = $4 AND by_name = $5 AND seen_at IS NULL)`,
		to, kind, what, path, by)
}
