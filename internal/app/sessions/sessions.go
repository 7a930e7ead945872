// Package sessions signs people in and out: by password and second factor, by a
// one-time code, or by a one-time link.
package sessions

import (
	"bytes"
	"context"
	"encoding/base64"
	"time"

	"tabularis/internal/app/accounts"
	"tabularis/internal/platform/limits"
	"tabularis/internal/platform/postgres"

	"github.com/go-webauthn/webauthn/webauthn"
	"github.com/google/uuid"

	"tabularis/core/address"
	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/secret"
)

const (
	// Length is how long a session lasts.
	Length = 12 * time.Hour
	// halfLength is how long the second factor may take.
	halfLength = 10 * time.Minute
)

// Service signs people in and out.
type Service struct {
	Acts      *act.Runner
	Passwords *secret.Passwords
	Keys      *secret.Keys
	// WebAuthn checks passkeys.
	WebAuthn *webauthn.WebAuthn
	// BaseURL is the address under which the practice is reached.
	BaseURL string
}

// Key is the same for addresses that mean one mailbox to people.
func Key(email string) string { return address.Key(email) }

// SignedIn is a session that has begun. Factors are set where one of them has to
// follow before it is good.
type SignedIn struct {
	Person  accounts.Person
	Token   string
	Factors []string
}

// devicePurpose is what a device's sign is sealed for, and DeviceLength how long it
// is kept.
const (
	devicePurpose = "device"
	DeviceLength  = 180 * 24 * time.Hour
)

// Device is a sign for the device on which a person has signed in. It lets nobody
// in; by it they come before strangers when many want to sign in at once, and
// strangers' tries do not make them wait.
func (s *Service) Device(person uuid.UUID) string {
	return base64.RawURLEncoding.EncodeToString(s.Keys.Seal(person[:], devicePurpose))
}

// knows reports whether a device's sign is the person's.
func (s *Service) knows(device string, person uuid.UUID) bool {
	raw, err := base64.RawURLEncoding.DecodeString(device)
	if err != nil {
		return false
	}
	whose, err := s.Keys.Open(raw, devicePurpose)
	return err == nil && bytes.Equal(whose, person[:])
}

// SignIn checks the password. Wrong address and wrong password answer alike;
// after a few, the next try has to wait. device is the sign of one that was signed
// in before, or empty.
func (s *Service) SignIn(ctx context.Context, email, password, device string) (SignedIn, error) {
	now, from := s.Acts.Now(), act.Who(ctx).From()
	person, err := accounts.PersonByEmail(ctx, s.Acts.DB, Key(email))
	if err != nil && !fault.Is(err, fault.NotFound) {
		return SignedIn{}, err
	}
	known := err == nil && s.knows(device, person.ID)
	if known {
		from = "a device of " + person.ID.String()
	}
	tries := "sign-in " + Key(email) + " " + from
	if err := Try(ctx, s.Acts.DB, tries, now); err != nil {
		return SignedIn{}, err
	}
	right, err := s.Passwords.Check(secret.From(ctx, from, known), password, person.PasswordHash)
	if err != nil {
		return SignedIn{}, err
	}
	if !right {
		return SignedIn{}, errWrongSignIn.New("the address or the password is wrong")
	}
	factors, err := s.factors(ctx, person)
	if err != nil {
		return SignedIn{}, err
	}
	in := SignedIn{Person: person, Factors: factors}
	return in, s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := limits.ForgetTries(ctx, tx, tries); err != nil {
			return err
		}
		in.Token, err = Begin(ctx, tx, person, len(factors) > 0)
		return err
	})
}

// Begin opens a session for a person within an act that has made sure of them.
// Half of one waits for the second factor.
func Begin(ctx context.Context, tx *act.Tx, p accounts.Person, half bool) (string, error) {
	token, length := secret.Token(), Length
	if half {
		length = halfLength
	}
	err := AddSession(ctx, tx, Session{ID: uuid.Must(uuid.NewV7()), TokenSHA256: secret.Hash(token), PersonID: p.ID, CreatedAt: tx.Now, ExpiresAt: tx.Now.Add(length), Network: tx.Actor.Network, Agent: tx.Actor.Agent, Half: half})
	if err == nil && !half {
		err = NoteSignIn(ctx, tx, p.ID, tx.Now)
	}
	return token, err
}

// Try takes a try under the key, or refuses it while its turn has not come. It is
// counted before anything is compared, and forgotten when it was right.
func Try(ctx context.Context, db *postgres.DB, key string, now time.Time) error {
	left, err := limits.TakeTry(ctx, db, key, now, waits)
	if err == nil && left > 0 {
		err = fault.Slow(left)
	}
	return err
}

var waits = linkgate.Waits()

// Identify returns who is signed in with a token.
func (s *Service) Identify(ctx context.Context, token string) (Identified, error) {
	p, err := PersonBySession(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now())
	if fault.Is(err, fault.NotFound) {
		err = fault.SignedOut()
	}
	return p, err
}

// SignOut ends the session with that token.
func (s *Service) SignOut(ctx context.Context, token string) error {
	return EndSession(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now())
}

// Place is where somebody is signed in.
type Place struct {
	Session
	Here bool
}

// Places lists where the acting person is signed in; token is of the session
// that asks.
func (s *Service) Places(ctx context.Context, token string) ([]Place, error) {
	here, err := SessionByToken(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now())
	if err != nil {
		return nil, err
	}
	all, err := SessionsOf(ctx, s.Acts.DB, act.Who(ctx).Person.ID, s.Acts.Now())
	out := make([]Place, len(all))
	for i, x := range all {
		out[i] = Place{x, x.ID == here.ID}
	}
	return out, err
}

// EndPlace signs the acting person out in one place.
func (s *Service) EndPlace(ctx context.Context, id uuid.UUID) error {
	return EndSessionOf(ctx, s.Acts.DB, act.Who(ctx).Person.ID, id)
}

// EndOthers signs the acting person out everywhere but here.
func (s *Service) EndOthers(ctx context.Context, token string) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return endOthers(ctx, tx, token) })
}

func endOthers(ctx context.Context, tx *act.Tx, token string) error {
	here, err := SessionByToken(ctx, tx, secret.Hash(token), tx.Now)
	if err != nil {
		return err
	}
	_, err = EndOtherSessions(ctx, tx, here.PersonID, here.ID)
	return err
}
