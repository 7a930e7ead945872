package links

import (
	"context"
	"time"

	"github.com/google/uuid"

	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// SlugIndex is violated by a second link with a readable address.
const SlugIndex = "links_slug_key"

// ExpectPapers notes the papers that an intake waits for.
func ExpectPapers(ctx context.Context, q postgres.Q, link uuid.UUID, papers []string) error {
	return postgres.Exec(ctx, q, `INSERT INTO link_expected (link_id, position, name) SELECT $1, n - 1, name
		FROM unnest($2::text[]) WITH ORDINALITY AS p(name, n)`, link, papers)
}

// ExpectedPaper is a paper that an intake waits for, and whether it is here.
type ExpectedPaper struct {
	LinkID   uuid.UUID `db:"link_id"`
	Position int       `db:"position"`
	Name     string    `db:"name"`
	Here     bool      `db:"here"`
}

// ExpectedPapers lists the papers that links wait for.
func ExpectedPapers(ctx context.Context, q postgres.Q, links []uuid.UUID) (all []ExpectedPaper, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT e.*, EXISTS (SELECT 1 FROM link_received r WHERE r.link_id = e.link_id
		AND r.paper = e.position) AS here
		FROM link_expected e WHERE e.link_id = ANY($1::uuid[]) ORDER BY e.link_id, e.position`, postgres.IDs(links))
}

// WaitingLinks lists the open links that wait for papers.
func WaitingLinks(ctx context.Context, q postgres.Q, now time.Time) (all []Link, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT l.* FROM links l WHERE `+guard.Living("l", "$1")+` AND EXISTS (SELECT 1 FROM link_expected e
		WHERE e.link_id = l.id
		AND NOT EXISTS (SELECT 1 FROM link_received r WHERE r.link_id = l.id AND r.paper = e.position)) ORDER BY l.id`, now)
}

// NoteReminder notes when the last reminder went out.
func NoteReminder(ctx context.Context, q postgres.Q, link uuid.UUID, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE links SET reminded_at = $2 WHERE id = $1`, link, now)
}
