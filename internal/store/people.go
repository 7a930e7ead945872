package store

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"
)

// Practice is the one practice that the installation serves.
type Practice struct {
	Name            string `db:"name"`
	Tagline         string `db:"tagline"`
	Timezone        string `db:"timezone"`
	Helper          string `db:"helper"`
	LongestLinkDays int    `db:"longest_link_days"`
}

// Person is an account.
type Person struct {
	ID            uuid.UUID  `db:"id"`
	Email         string     `db:"email"`
	EmailKey      string     `db:"email_key"`
	Name          string     `db:"name"`
	Role          string     `db:"role"`
	Phone         string     `db:"phone"`
	Standing      string     `db:"standing"`
	PasswordHash  string     `db:"password_hash"`
	CreatedAt     time.Time  `db:"created_at"`
	DeactivatedAt *time.Time `db:"deactivated_at"`
}

// Session is one signed-in browser.
type Session struct {
	TokenSHA256 []byte    `db:"token_sha256"`
	PersonID    uuid.UUID `db:"person_id"`
	CreatedAt   time.Time `db:"created_at"`
	ExpiresAt   time.Time `db:"expires_at"`
	Network     string    `db:"network"`
	Agent       string    `db:"agent"`
}

// ThePractice returns the practice.
func ThePractice(ctx context.Context, q Q) (p Practice, err error) {
	return p, found(q.GetContext(ctx, &p, `SELECT name, tagline, timezone, helper, longest_link_days FROM practice`))
}

// PracticeZone returns the practice and its time zone.
func PracticeZone(ctx context.Context, q Q) (Practice, *time.Location, error) {
	p, err := ThePractice(ctx, q)
	if err != nil {
		return p, nil, err
	}
	zone, err := time.LoadLocation(p.Timezone)
	if err != nil {
		err = fmt.Errorf("reading the practice's time zone: %w", err)
	}
	return p, zone, err
}

// PutPractice makes or changes the practice.
func PutPractice(ctx context.Context, q Q, p Practice) error {
	return exec(ctx, q, `INSERT INTO practice (name, tagline, timezone, helper, longest_link_days) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (only_one) DO UPDATE SET name = $1, tagline = $2, timezone = $3, helper = $4, longest_link_days = $5`,
		p.Name, p.Tagline, p.Timezone, p.Helper, p.LongestLinkDays)
}

// AddPerson adds an account.
func AddPerson(ctx context.Context, q Q, p Person) error {
	return exec(ctx, q, `INSERT INTO people (id, email, email_key, name, role, phone, standing, password_hash, created_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		p.ID, p.Email, p.EmailKey, p.Name, p.Role, p.Phone, p.Standing, p.PasswordHash, p.CreatedAt)
}

// PersonByEmail finds the active account with that address.
func PersonByEmail(ctx context.Context, q Q, key string) (p Person, err error) {
	return p, found(q.GetContext(ctx, &p, `SELECT * FROM people WHERE email_key = $1 AND deactivated_at IS NULL`, key))
}

// PersonByID finds an account, deactivated ones included.
func PersonByID(ctx context.Context, q Q, id uuid.UUID) (p Person, err error) {
	return p, found(q.GetContext(ctx, &p, `SELECT * FROM people WHERE id = $1`, id))
}

// AddSession adds a session.
func AddSession(ctx context.Context, q Q, s Session) error {
	return exec(ctx, q, `INSERT INTO sessions (token_sha256, person_id, created_at, expires_at, network, agent) VALUES ($1, $2, $3, $4, $5, $6)`,
		s.TokenSHA256, s.PersonID, s.CreatedAt, s.ExpiresAt, s.Network, s.Agent)
}

// PersonBySession finds who is signed in with the token at the moment.
func PersonBySession(ctx context.Context, q Q, tokenSHA256 []byte, now time.Time) (p Person, err error) {
	return p, found(q.GetContext(ctx, &p, `SELECT p.* FROM sessions s JOIN people p ON p.id = s.person_id
		WHERE s.token_sha256 = $1 AND s.expires_at > $2 AND p.deactivated_at IS NULL`, tokenSHA256, now))
}

// EndSession forgets a session, and with it all that have run out.
func EndSession(ctx context.Context, q Q, tokenSHA256 []byte, now time.Time) error {
	return exec(ctx, q, `DELETE FROM sessions WHERE token_sha256 = $1 OR expires_at <= $2`, tokenSHA256, now)
}

// Tries is the count of wrong passwords in a row under a key.
type Tries struct {
	Failures int       `db:"failures"`
	LastAt   time.Time `db:"last_at"`
}

// TriesOf returns the count under a key; none is zero.
func TriesOf(ctx context.Context, q Q, key string) (Tries, error) {
	var all []Tries
	if err := q.SelectContext(ctx, &all, `SELECT failures, last_at FROM tries WHERE key = $1`, key); err != nil || len(all) == 0 {
		return Tries{}, err
	}
	return all[0], nil
}

// CountTry adds a wrong password. A pause of a day begins the count anew.
func CountTry(ctx context.Context, q Q, key string, now time.Time) error {
	return exec(ctx, q, `INSERT INTO tries (key, failures, last_at) VALUES ($1, 1, $2)
		ON CONFLICT (key) DO UPDATE SET last_at = $2,
		failures = CASE WHEN tries.last_at < $2 - interval '1 day' THEN 1 ELSE tries.failures + 1 END`, key, now)
}

// ForgetTries clears the count after a right password.
func ForgetTries(ctx context.Context, q Q, key string) error {
	return exec(ctx, q, `DELETE FROM tries WHERE key = $1`, key)
}
