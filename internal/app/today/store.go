package today

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

// look is up to which event somebody has looked at what is new: in the look before, and now.
type look struct {
	BeforeEvent int64     `db:"before_event"`
	BeforeAt    time.Time `db:"before_at"`
	LastEvent   int64     `db:"last_event"`
	LastAt      time.Time `db:"last_at"`
}

func lookOf(ctx context.Context, q postgres.Q, person uuid.UUID) (l look, err error) {
	return l, postgres.Found(q.GetContext(ctx, &l, `SELECT before_event, before_at, last_event, last_at FROM today_looks WHERE person_id = $1`, person))
}

// keepLook notes that somebody has seen what is new up to an event. What comes soon after
// another look is part of that one.
func keepLook(ctx context.Context, q postgres.Q, person uuid.UUID, event int64, now, apart time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO today_looks AS l (person_id, before_event, before_at, last_event, last_at) VALUES ($1, $2, $3, $2, $3)
		ON CONFLICT (person_id) DO UPDATE SET last_event = greatest(l.last_event, excluded.last_event), last_at = excluded.last_at,
			before_event = CASE WHEN l.last_at < $4 THEN l.last_event ELSE l.before_event END, before_at = CASE WHEN l.last_at < $4 THEN l.last_at ELSE l.before_at END`, person, event, now, apart)
}
