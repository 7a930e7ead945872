package sessions

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/postgres"
)

// HalfSession finds a session whose second factor is still to come.
func HalfSession(ctx context.Context, q postgres.Q, tokenSHA256 []byte, now time.Time) (s Session, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT s.* FROM sessions s JOIN people p ON p.id = s.person_id AND p.deactivated_at IS NULL
		WHERE s.token_sha256 = $1 AND s.half AND s.expires_at > $2`, tokenSHA256, now))
}

// SessionByToken finds a session that is signed in.
func SessionByToken(ctx context.Context, q postgres.Q, tokenSHA256 []byte, now time.Time) (s Session, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT * FROM sessions WHERE token_sha256 = $1 AND NOT half AND expires_at > $2`, tokenSHA256, now))
}

// Challenge keeps what a passkey has to answer in this session.
func Challenge(ctx context.Context, q postgres.Q, session uuid.UUID, challenge any) error {
	raw, err := json.Marshal(challenge)
	if err != nil {
		return err
	}
	return postgres.ExecOne(ctx, q, `UPDATE sessions SET challenge = $2 WHERE id = $1`, session, raw)
}

// SessionsOf lists where somebody is signed in, last seen first.
func SessionsOf(ctx context.Context, q postgres.Q, person uuid.UUID, now time.Time) (all []Session, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM sessions WHERE person_id = $1 AND NOT half AND expires_at > $2
		ORDER BY seen_at DESC NULLS LAST, created_at DESC`, person, now)
}

// EndSessionOf ends one session of a person.
func EndSessionOf(ctx context.Context, q postgres.Q, person, id uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM sessions WHERE person_id = $1 AND id = $2`, person, id)
}

// EndOtherSessions ends all sessions of a person but one; a nil id keeps none.
func EndOtherSessions(ctx context.Context, q postgres.Q, person, keep uuid.UUID) (n int64, err error) {
	r, err := q.ExecContext(ctx, `DELETE FROM sessions WHERE person_id = $1 AND id <> $2`, person, keep)
	if err != nil {
		return 0, err
	}
	return r.RowsAffected()
}

// SetPassword changes a password.
func SetPassword(ctx context.Context, q postgres.Q, person uuid.UUID, hash string) error {
	return postgres.ExecOne(ctx, q, `UPDATE people SET password_hash = $2 WHERE id = $1`, person, hash)
}

// SetTOTP sets or, with nil, removes the authenticator's key.
func SetTOTP(ctx context.Context, q postgres.Q, person uuid.UUID, sealed []byte) error {
	return postgres.ExecOne(ctx, q, `UPDATE people SET totp_sealed = $2, totp_step = 0 WHERE id = $1`, person, sealed)
}

// TakeTOTPStep notes the time step of a code, and reports whether it is later
// than the last one: a code counts once.
func TakeTOTPStep(ctx context.Context, q postgres.Q, person uuid.UUID, step int64) (bool, error) {
	return postgres.Touches(ctx, q, `UPDATE people SET totp_step = $2 WHERE id = $1 AND totp_step < $2`, person, step)
}

// SetRecoveryCodes replaces a person's recovery codes.
func SetRecoveryCodes(ctx context.Context, q postgres.Q, person uuid.UUID, hashes [][]byte) error {
	if err := postgres.Exec(ctx, q, `DELETE FROM recovery_codes WHERE person_id = $1`, person); err != nil {
		return err
	}
	for _, h := range hashes {
		if err := postgres.Exec(ctx, q, `INSERT INTO recovery_codes (person_id, code_sha256) VALUES ($1, $2)`, person, h); err != nil {
			return err
		}
	}
	return nil
}

// UseRecoveryCode uses a recovery code up, and reports whether it was good.
func UseRecoveryCode(ctx context.Context, q postgres.Q, person uuid.UUID, hash []byte, now time.Time) (bool, error) {
	return postgres.Touches(ctx, q, `UPDATE recovery_codes SET used_at = $3 WHERE person_id = $1 AND code_sha256 = $2 AND used_at IS NULL`, person, hash, now)
}

// CountRecoveryCodes counts the recovery codes that are left.
func CountRecoveryCodes(ctx context.Context, q postgres.Q, person uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM recovery_codes WHERE person_id = $1 AND used_at IS NULL`, person)
}

// Passkey is a WebAuthn credential.
type Passkey struct {
	ID         []byte          `db:"id"`
	PersonID   uuid.UUID       `db:"person_id"`
	Name       string          `db:"name"`
	Credential json.RawMessage `db:"credential"`
	CreatedAt  time.Time       `db:"created_at"`
	UsedAt     *time.Time      `db:"used_at"`
}

// PasskeysOf lists a person's passkeys.
func PasskeysOf(ctx context.Context, q postgres.Q, person uuid.UUID) (all []Passkey, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM passkeys WHERE person_id = $1 ORDER BY created_at`, person)
}

// PutPasskey adds a passkey, or notes that it was used.
func PutPasskey(ctx context.Context, q postgres.Q, p Passkey) error {
	return postgres.Exec(ctx, q, `INSERT INTO passkeys (id, person_id, name, credential, created_at) VALUES ($1, $2, $3, $4, $5) ON CONFLICT (id) DO UPDATE
		SET credential = $4, used_at = $6`, p.ID, p.PersonID, p.Name, p.Credential, p.CreatedAt, p.UsedAt)
}

// RemovePasskey removes a person's passkey.
func RemovePasskey(ctx context.Context, q postgres.Q, person uuid.UUID, id []byte) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM passkeys WHERE person_id = $1 AND id = $2`, person, id)
}

// HasFactor reports whether a person has a second factor.
func HasFactor(ctx context.Context, q postgres.Q, person uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT totp_sealed IS NOT NULL OR EXISTS (SELECT 1 FROM passkeys WHERE person_id = p.id) FROM people p
		WHERE id = $1`, person)
}

// WithPasskeys lists who has set up a passkey.
func WithPasskeys(ctx context.Context, q postgres.Q) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT DISTINCT person_id FROM passkeys`)
}

// SetPreferences keeps what somebody chose.
func SetPreferences(ctx context.Context, q postgres.Q, person uuid.UUID, p accounts.Preferences) error {
	return postgres.ExecOne(ctx, q, `UPDATE people SET language = $2, look = $3 WHERE id = $1`, person, p.Language, p.Look)
}
