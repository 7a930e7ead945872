package people

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/sessions"
	"tabularis/internal/platform/postgres"
)

// PendingInvitation is an invitation that was not accepted yet.
type PendingInvitation struct {
	sessions.Entry
	Name  string `db:"name"`
	Email string `db:"email"`
	By    string `db:"by_name"`
}

// PendingInvitations lists the newest invitation of everybody who has not come
// in yet.
func PendingInvitations(ctx context.Context, q postgres.Q) (all []PendingInvitation, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT DISTINCT ON (e.person_id) e.*, p.name, p.email, coalesce(b.name, '') AS by_name FROM entries e
		JOIN people p ON p.id = e.person_id LEFT JOIN people b ON b.id = e.created_by
		WHERE e.kind = 'invitation' AND e.used_at IS NULL AND p.seen_at IS NULL AND p.deactivated_at IS NULL ORDER BY e.person_id, e.created_at DESC`)
}

// InvitedBy reports whether somebody was invited by a person.
func InvitedBy(ctx context.Context, q postgres.Q, invited, by uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM entries WHERE person_id = $1 AND kind = 'invitation' AND created_by = $2)`, invited, by)
}

// WithdrawInvitations ends all invitations of a person.
func WithdrawInvitations(ctx context.Context, q postgres.Q, person uuid.UUID, now time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE entries SET expires_at = least(expires_at, $2) WHERE person_id = $1 AND kind = 'invitation' AND used_at IS NULL`, person, now)
}

// InvitationLink lets whoever has it, and an address that fits, join.
type InvitationLink struct {
	ID          uuid.UUID  `db:"id"`
	TokenSHA256 []byte     `db:"token_sha256"`
	TokenSealed []byte     `db:"token_sealed"`
	Standing    string     `db:"standing"`
	DossierID   *uuid.UUID `db:"dossier_id"`
	Level       string     `db:"level"`
	Domain      string     `db:"domain"`
	UsesLimit   int        `db:"uses_limit"`
	Uses        int        `db:"uses"`
	CreatedBy   uuid.UUID  `db:"created_by"`
	CreatedAt   time.Time  `db:"created_at"`
	ExpiresAt   time.Time  `db:"expires_at"`
	EndedAt     *time.Time `db:"ended_at"`
}

// AddInvitationLink adds an invitation link.
func AddInvitationLink(ctx context.Context, q postgres.Q, l InvitationLink) error {
	return postgres.Exec(ctx, q, `INSERT INTO invitation_links (id, token_sha256, token_sealed, standing, dossier_id, level, domain, uses_limit, created_by, created_at, expires_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
		l.ID, l.TokenSHA256, l.TokenSealed, l.Standing, l.DossierID, l.Level, l.Domain, l.UsesLimit, l.CreatedBy, l.CreatedAt, l.ExpiresAt)
}

// ListedInvitationLink is an invitation link with names, and who joined by it.
type ListedInvitationLink struct {
	InvitationLink
	Code   string `db:"code"`
	By     string `db:"by_name"`
	Joined string `db:"joined"`
}

// InvitationLinks lists the invitation links that are open.
func InvitationLinks(ctx context.Context, q postgres.Q, now time.Time) (all []ListedInvitationLink, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT l.*, coalesce(d.code, '') AS code, p.name AS by_name,
			coalesce((SELECT string_agg(u.name, chr(10) ORDER BY x.at) FROM invitation_uses x JOIN people u ON u.id = x.person_id
			WHERE x.link_id = l.id), '') AS joined
		FROM invitation_links l JOIN people p ON p.id = l.created_by LEFT JOIN dossiers d ON d.id = l.dossier_id
		WHERE l.ended_at IS NULL AND l.expires_at > $1 ORDER BY l.created_at DESC`, now)
}

// InvitationLinkByToken finds an invitation link that is open. With lock it
// holds the row, so that its uses are counted one after another.
func InvitationLinkByToken(ctx context.Context, q postgres.Q, tokenSHA256 []byte, now time.Time, lock bool) (l InvitationLink, err error) {
	query := `SELECT * FROM invitation_links WHERE token_sha256 = $1 AND ended_at IS NULL AND expires_at > $2 AND uses < uses_limit`
	if lock {
		query += ` FOR UPDATE`
	}
	return l, postgres.Found(q.GetContext(ctx, &l, query, tokenSHA256, now))
}

// UseInvitationLink notes who joins by a link.
func UseInvitationLink(ctx context.Context, q postgres.Q, link, person uuid.UUID, now time.Time) error {
	if err := postgres.ExecOne(ctx, q, `UPDATE invitation_links SET uses = uses + 1 WHERE id = $1 AND uses < uses_limit`, link); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `INSERT INTO invitation_uses (link_id, person_id, at) VALUES ($1, $2, $3)`, link, person, now)
}

// EndInvitationLink ends an invitation link.
func EndInvitationLink(ctx context.Context, q postgres.Q, id uuid.UUID, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE invitation_links SET ended_at = $2 WHERE id = $1 AND ended_at IS NULL`, id, now)
}
