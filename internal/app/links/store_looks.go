package links

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/platform/postgres"
)

// VisitLook is how long a visit had which pages of a version before its eyes.
type VisitLook struct {
	VisitID uuid.UUID `db:"visit_id"`
	ItemID  uuid.UUID `db:"item_id"`
	Version int       `db:"version"`
	// Pages are runs of pages: 1-4, 7.
	Pages   string    `db:"pages"`
	Seconds int       `db:"seconds"`
	SaidAt  time.Time `db:"said_at"`
}

// LookOf finds how long a visit looked at a version, and holds it.
func LookOf(ctx context.Context, q postgres.Q, visit, item uuid.UUID, version int) (l VisitLook, err error) {
	return l, postgres.Found(q.GetContext(ctx, &l, `SELECT * FROM visit_looks WHERE visit_id = $1 AND item_id = $2 AND version = $3 FOR UPDATE`, visit, item, version))
}

// PutLook keeps how long a visit looked at a version.
func PutLook(ctx context.Context, q postgres.Q, l VisitLook) error {
	return postgres.Exec(ctx, q, `INSERT INTO visit_looks (visit_id, item_id, version, pages, seconds, said_at) VALUES ($1, $2, $3, $4, $5, $6)
		ON CONFLICT (visit_id, item_id, version) DO UPDATE SET pages = $4, seconds = $5, said_at = $6`,
		l.VisitID, l.ItemID, l.Version, l.Pages, l.Seconds, l.SaidAt)
}

// LooksOf lists how long the visits of a link looked at what.
func LooksOf(ctx context.Context, q postgres.Q, link uuid.UUID) (all []VisitLook, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT l.* FROM visit_looks l JOIN visits v ON v.id = l.visit_id WHERE v.link_id = $1`, link)
}
