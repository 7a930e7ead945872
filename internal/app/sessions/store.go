package sessions

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/postgres"
)

// Session is one signed-in browser.
type Session struct {
	ID          uuid.UUID  `db:"id"`
	TokenSHA256 []byte     `db:"token_sha256"`
	PersonID    uuid.UUID  `db:"person_id"`
	CreatedAt   time.Time  `db:"created_at"`
	ExpiresAt   time.Time  `db:"expires_at"`
	SeenAt      *time.Time `db:"seen_at"`
	Network     string     `db:"network"`
	Agent       string     `db:"agent"`
	// Half says that the password was right and the second factor is to come.
	Half bool `db:"half"`
	// Challenge is what a passkey has to answer.
	Challenge []byte `db:"challenge"`
}

// AddSession adds a session.
func AddSession(ctx context.Context, q postgres.Q, s Session) error {
	return postgres.Exec(ctx, q, `INSERT INTO sessions (id, token_sha256, person_id, created_at, expires_at, seen_at, network, agent, half)
		VALUES ($1, $2, $3, $4, $5, $4, $6, $7, $8)`,
		s.ID, s.TokenSHA256, s.PersonID, s.CreatedAt, s.ExpiresAt, s.Network, s.Agent, s.Half)
}

// Identified is who is signed in.
type Identified struct {
	accounts.Person
	// NeedsFactor says that the practice asks for a second factor, and none is
	// set up.
	NeedsFactor bool `db:"needs_factor"`
	// Expires is when the session does.
	Expires time.Time `db:"session_expires"`
}

const needsFactor = `(p.standing <> 'guest' AND p.totp_sealed IS NULL AND (SELECT second_factor_required FROM practice) AND NOT EXISTS (SELECT 1
	FROM passkeys k WHERE k.person_id = p.id))`

// PersonBySession finds who is signed in with the token at the moment.
func PersonBySession(ctx context.Context, q postgres.Q, tokenSHA256 []byte, now time.Time) (p Identified, err error) {
	return p, postgres.Found(q.GetContext(ctx, &p, `SELECT p.*, coalesce(`+needsFactor+`, false) AS needs_factor, s.expires_at AS session_expires FROM sessions s
		JOIN people p ON p.id = s.person_id
		WHERE s.token_sha256 = $1 AND s.expires_at > $2 AND NOT s.half AND p.deactivated_at IS NULL`, tokenSHA256, now))
}

// NeedsFactor reports whether somebody has to set up a second factor first.
func NeedsFactor(ctx context.Context, q postgres.Q, person uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT coalesce(`+needsFactor+`, false) FROM people p WHERE id = $1`, person)
}

// EndSession forgets a session, and with it all that have run out.
func EndSession(ctx context.Context, q postgres.Q, tokenSHA256 []byte, now time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM sessions WHERE token_sha256 = $1 OR expires_at <= $2`, tokenSHA256, now)
}

// NoteSignIn notes that somebody has signed in.
func NoteSignIn(ctx context.Context, q postgres.Q, person uuid.UUID, now time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE people SET seen_at = $2 WHERE id = $1`, person, now)
}

// SetName changes a person's name.
func SetName(ctx context.Context, q postgres.Q, person uuid.UUID, name string) error {
	return postgres.Exec(ctx, q, `UPDATE people SET name = $2 WHERE id = $1`, person, name)
}

// forgetSessions removes sessions that have run out.
func forgetSessions(ctx context.Context, q postgres.Q, now time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM sessions WHERE expires_at <= $1`, now)
}

// forgetEntries removes codes and links for passwords that ended before a moment.
// Invitations stay: they say who invited whom.
func forgetEntries(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM entries WHERE kind <> 'invitation' AND expires_at < $1`, before)
}
