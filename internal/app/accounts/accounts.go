// Package accounts knows who is who.
package accounts

import (
	"time"

	"github.com/google/uuid"
)

// Person is an account.
type Person struct {
	ID            uuid.UUID  `db:"id"`
	Email         string     `db:"email"`
	EmailKey      string     `db:"email_key"`
	Name          string     `db:"name"`
	Role          string     `db:"role"`
	Phone         string     `db:"phone"`
	Organisation  string     `db:"organisation"`
	Standing      string     `db:"standing"`
	PasswordHash  string     `db:"password_hash"`
	CreatedAt     time.Time  `db:"created_at"`
	SeenAt        *time.Time `db:"seen_at"`
	DeactivatedAt *time.Time `db:"deactivated_at"`
	// TOTPSealed is the authenticator's key, and TOTPStep the last time step for
	// which a code was taken.
	TOTPSealed []byte `db:"totp_sealed"`
	TOTPStep   int64  `db:"totp_step"`
	// GivenSeenAt is when the person last looked at what they were given.
	GivenSeenAt *time.Time `db:"given_seen_at"`
	Preferences
	// Timezone and the digest are the following's (internal/app/following).
	Timezone       string     `db:"timezone"`
	Digest         string     `db:"digest"`
	DigestFollowed bool       `db:"digest_followed"`
	DigestAt       *time.Time `db:"digest_at"`
}

// Preferences are the language and the look that somebody chose; empty ones are left
// to the device.
type Preferences struct {
	Language string `db:"language"`
	Look     string `db:"look"`
}

const (
	// Proprietor, Administrator, Colleague and Guest are the standings in the
	// practice; there is one proprietor.
	Proprietor    = "proprietor"
	Administrator = "administrator"
	Colleague     = "colleague"
	Guest         = "guest"
)

// Inside reports whether the person belongs to the practice.
func (p Person) Inside() bool { return p.Standing != Guest }

// Administers reports whether the person looks after accounts and rules.
func (p Person) Administers() bool { return p.Standing == Proprietor || p.Standing == Administrator }
