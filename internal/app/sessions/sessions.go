// Package sessions signs people in and out.
package sessions

import (
	"context"
	"time"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/internal/app/act"
	"tabularis/internal/secret"
	"tabularis/internal/store"
)

// Length is how long a session lasts.
const Length = 12 * time.Hour

// Service signs people in and out.
type Service struct {
	Acts      *act.Runner
	Passwords *secret.Passwords
}

// Key is the same for addresses that mean one mailbox to people.
func Key(email string) string { return names.Key(email) }

// SignIn checks the password and returns the person and the new session's
// token. Wrong address and wrong password answer alike; after a few, the next
// try has to wait.
func (s *Service) SignIn(ctx context.Context, email, password string) (store.Person, string, error) {
	now, who := s.Acts.Now(), act.Who(ctx)
	tries := "sign-in " + Key(email) + " " + who.Network
	if err := Patience(ctx, s.Acts.DB, tries, now); err != nil {
		return store.Person{}, "", err
	}
	person, err := store.PersonByEmail(ctx, s.Acts.DB, Key(email))
	if err != nil && !fault.Is(err, fault.NotFound) {
		return store.Person{}, "", err
	}
	right, err := s.Passwords.Check(ctx, password, person.PasswordHash)
	if err != nil {
		return store.Person{}, "", err
	}
	if !right {
		if err := store.CountTry(ctx, s.Acts.DB, tries, now); err != nil {
			return store.Person{}, "", err
		}
		return store.Person{}, "", fault.New(fault.Unauthenticated, "wrong-sign-in", "the address or the password is wrong")
	}
	token := secret.Token()
	return person, token, s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := store.ForgetTries(ctx, tx, tries); err != nil {
			return err
		}
		return store.AddSession(ctx, tx, store.Session{TokenSHA256: secret.Hash(token), PersonID: person.ID, CreatedAt: now, ExpiresAt: now.Add(Length), Network: who.Network, Agent: who.Agent})
	})
}

// Patience refuses a try while its turn has not come. Wrong tries are counted
// under the key.
func Patience(ctx context.Context, q store.Q, key string, now time.Time) error {
	t, err := store.TriesOf(ctx, q, key)
	if err != nil {
		return err
	}
	if left := t.LastAt.Add(linkgate.Wait(t.Failures)).Sub(now); left > 0 {
		return fault.Slow(left)
	}
	return nil
}

// Identify returns who is signed in with a token.
func (s *Service) Identify(ctx context.Context, token string) (store.Person, error) {
	p, err := store.PersonBySession(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now())
	if fault.Is(err, fault.NotFound) {
		err = fault.SignedOut()
	}
	return p, err
}

// SignOut ends the session with that token.
func (s *Service) SignOut(ctx context.Context, token string) error {
	return store.EndSession(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now())
}
