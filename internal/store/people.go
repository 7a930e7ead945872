package store

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/linkgate"
)

// Practice is the one practice that the installation serves.
type Practice struct {
	Name            string `db:"name"`
	Tagline         string `db:"tagline"`
	Timezone        string `db:"timezone"`
	Helper          string `db:"helper"`
	LongestLinkDays int    `db:"longest_link_days"`
	// ColleaguesMakeDossiers allows everybody in the practice to make dossiers;
	// otherwise administrators do.
	ColleaguesMakeDossiers bool `db:"colleagues_make_dossiers"`
	// GuestsByCode allows guests to come in by a one-time code, without a password.
	GuestsByCode bool `db:"guests_by_code"`
	// SecondFactorRequired asks everybody in the practice for a second factor.
	SecondFactorRequired bool `db:"second_factor_required"`
	// RoomBytes is how much content the practice may keep; nil means no limit.
	RoomBytes *int64 `db:"room_bytes"`
	// RemovalAt is when the practice is removed, if it is to be.
	RemovalAt *time.Time `db:"removal_at"`
	// Sensitive is what is done about sensitive content that is given out: "off",
	// "warn" or "forbid". Patterns are the practice's own, and PatternsNumber tells
	// one set from the next.
	Sensitive      string          `db:"sensitive"`
	Patterns       json.RawMessage `db:"patterns"`
	PatternsNumber int             `db:"patterns_number"`
	// What is demanded of links, which kinds there may be, and the domains to which
	// nothing goes, or nothing else; lists are separated by blanks.
	OutwardRequired string `db:"outward_required"`
	OutwardKinds    string `db:"outward_kinds"`
	OutwardShut     string `db:"outward_shut"`
	OutwardOnly     string `db:"outward_only"`
}

// Outward is what the practice lets out, and to whom.
func (p Practice) Outward() linkgate.Rules {
	return linkgate.Rules{Required: linkgate.Required(p.OutwardRequired), Kinds: strings.Fields(p.OutwardKinds), Shut: strings.Fields(p.OutwardShut), Only: strings.Fields(p.OutwardOnly)}
}

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

// ThePractice returns the practice.
func ThePractice(ctx context.Context, q Q) (p Practice, err error) {
	return p, found(q.GetContext(ctx, &p, `SELECT name, tagline, timezone, helper, longest_link_days, colleagues_make_dossiers, guests_by_code, second_factor_required, room_bytes, removal_at, sensitive, patterns, patterns_number, outward_required, outward_kinds, outward_shut, outward_only
		FROM practice`))
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
	if err := addPerson(ctx, q, p); err != nil {
		return err
	}
	return Bump(ctx, q, PeopleStamp)
}

func addPerson(ctx context.Context, q Q, p Person) error {
	return exec(ctx, q, `INSERT INTO people (id, email, email_key, name, role, phone, organisation, standing, password_hash, created_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10)`,
		p.ID, p.Email, p.EmailKey, p.Name, p.Role, p.Phone, p.Organisation, p.Standing, p.PasswordHash, p.CreatedAt)
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
	return exec(ctx, q, `INSERT INTO sessions (id, token_sha256, person_id, created_at, expires_at, seen_at, network, agent, half)
		VALUES ($1, $2, $3, $4, $5, $4, $6, $7, $8)`,
		s.ID, s.TokenSHA256, s.PersonID, s.CreatedAt, s.ExpiresAt, s.Network, s.Agent, s.Half)
}

// Identified is who is signed in.
type Identified struct {
	Person
	// NeedsFactor says that the practice asks for a second factor, and none is
	// set up.
	NeedsFactor bool `db:"needs_factor"`
	// Expires is when the session does.
	Expires time.Time `db:"session_expires"`
}

const needsFactor = `(p.standing <> 'guest' AND p.totp_sealed IS NULL AND (SELECT second_factor_required FROM practice) AND NOT EXISTS (SELECT 1
	FROM passkeys k WHERE k.person_id = p.id))`

// PersonBySession finds who is signed in with the token at the moment.
func PersonBySession(ctx context.Context, q Q, tokenSHA256 []byte, now time.Time) (p Identified, err error) {
	return p, found(q.GetContext(ctx, &p, `SELECT p.*, coalesce(`+needsFactor+`, false) AS needs_factor, s.expires_at AS session_expires FROM sessions s
		JOIN people p ON p.id = s.person_id
		WHERE s.token_sha256 = $1 AND s.expires_at > $2 AND NOT s.half AND p.deactivated_at IS NULL`, tokenSHA256, now))
}

// NeedsFactor reports whether somebody has to set up a second factor first.
func NeedsFactor(ctx context.Context, q Q, person uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT coalesce(`+needsFactor+`, false) FROM people p WHERE id = $1`, person)
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

// TakeTry takes a try in the row before it is looked at, so that many at once are
// tried one after the other; waits are how long the next has to wait after so many.
// It returns how long is left when the try was not taken. A pause of a day begins
// the count anew, and so does a clock that was set back.
func TakeTry(ctx context.Context, db *DB, key string, now time.Time, waits []time.Duration) (left time.Duration, err error) {
	seconds := make([]float64, len(waits))
	for i, w := range waits {
		seconds[i] = w.Seconds()
	}
	taken, err := db.ExecContext(ctx, `INSERT INTO tries AS t (key, failures, last_at) VALUES ($1, 1, $2)
		ON CONFLICT (key) DO UPDATE SET last_at = $2, failures = CASE WHEN t.last_at < $2 - interval '1 day' THEN 1 ELSE t.failures + 1 END
		WHERE t.last_at > $2 + interval '1 minute' OR t.last_at + make_interval(secs => ($3::float8[])[least(t.failures + 1, $4)]) <= $2`,
		key, now, seconds, len(waits))
	if err != nil {
		return 0, err
	}
	if n, err := taken.RowsAffected(); err != nil || n == 1 {
		return 0, err
	}
	t, err := TriesOf(ctx, db, key)
	return max(time.Millisecond, t.LastAt.Add(waits[min(t.Failures, len(waits)-1)]).Sub(now)), err
}

// ForgetTries clears the count after a right password.
func ForgetTries(ctx context.Context, q Q, key string) error {
	return exec(ctx, q, `DELETE FROM tries WHERE key = $1`, key)
}

// PeopleByID returns accounts, in no order.
func PeopleByID(ctx context.Context, q Q, ids []uuid.UUID) (all []Person, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM people WHERE id = ANY($1::uuid[])`, IDs(ids))
}

// KnownInside lists the active accounts of the practice itself, those that a
// person of it invited, and the guests named; all accounts for somebody who
// administers. They come by name.
func KnownInside(ctx context.Context, q Q, person uuid.UUID, all bool, guests []uuid.UUID) (known []Person, err error) {
	return known, q.SelectContext(ctx, &known, `SELECT * FROM people p WHERE $2 OR p.deactivated_at IS NULL AND (p.standing <> 'guest'
		OR p.id = ANY($3::uuid[])
		OR EXISTS (SELECT 1 FROM entries e WHERE e.person_id = p.id AND e.kind = 'invitation' AND e.created_by = $1)) ORDER BY name`, person, all, IDs(guests))
}

// CameIn notes that somebody has signed in.
func CameIn(ctx context.Context, q Q, person uuid.UUID, now time.Time) error {
	return exec(ctx, q, `UPDATE people SET seen_at = $2 WHERE id = $1`, person, now)
}

// SetName changes a person's name.
func SetName(ctx context.Context, q Q, person uuid.UUID, name string) error {
	return exec(ctx, q, `UPDATE people SET name = $2 WHERE id = $1`, person, name)
}

// SetStanding changes a person's standing.
func SetStanding(ctx context.Context, q Q, person uuid.UUID, standing string) error {
	return exec(ctx, q, `UPDATE people SET standing = $2 WHERE id = $1`, person, standing)
}

// SetDeactivated ends an account, or with nil brings it back.
func SetDeactivated(ctx context.Context, q Q, person uuid.UUID, at *time.Time) error {
	return exec(ctx, q, `UPDATE people SET deactivated_at = $2 WHERE id = $1`, person, at)
}

// SetRules changes what the practice asks of accounts; nothing else of p counts.
func SetRules(ctx context.Context, q Q, p Practice) error {
	return exec(ctx, q, `UPDATE practice SET colleagues_make_dossiers = $1, guests_by_code = $2, second_factor_required = $3, room_bytes = $4,
		sensitive = $5, patterns_number = patterns_number + CASE WHEN patterns = $6::jsonb THEN 0 ELSE 1 END, patterns = $6::jsonb, longest_link_days = $7,
		outward_required = $8, outward_kinds = $9, outward_shut = $10, outward_only = $11`,
		p.ColleaguesMakeDossiers, p.GuestsByCode, p.SecondFactorRequired, p.RoomBytes, p.Sensitive, string(p.Patterns), p.LongestLinkDays, p.OutwardRequired, p.OutwardKinds, p.OutwardShut, p.OutwardOnly)
}

// SetRemoval says when the practice is removed, or with nil that it stays.
func SetRemoval(ctx context.Context, q Q, at *time.Time) error {
	return exec(ctx, q, `UPDATE practice SET removal_at = $1`, at)
}

// RemoveAll empties the database of everything but the practice's name and
// terms.
func RemoveAll(ctx context.Context, q Q) error {
	var tables []string
	if err := q.SelectContext(ctx, &tables, `SELECT quote_ident(tablename) FROM pg_tables WHERE schemaname = current_schema()
		AND tablename NOT LIKE 'river%' AND tablename NOT IN ('goose_db_version', 'practice', 'room_used', 'access_stamps')`); err != nil {
		return err
	}
	for _, statement := range []string{
		`TRUNCATE ` + strings.Join(tables, ", "),
		`UPDATE room_used SET bytes = 0`, `UPDATE practice SET removal_at = NULL`,
		`DELETE FROM access_stamps WHERE scope <> '` + PeopleStamp.String() + `'`,
	} {
		if err := exec(ctx, q, statement); err != nil {
			return err
		}
	}
	return Bump(ctx, q, PeopleStamp)
}
