package sessions

import (
	"context"
	"crypto/subtle"
	"time"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/limits"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/secret"
)

const (
	// InvitationLength is how long an invitation is good.
	InvitationLength = 7 * 24 * time.Hour
	passwordLength   = 2 * time.Hour
	// CodeLength is how long a code is good, CodeTries how often it may be guessed.
	CodeLength = 10 * time.Minute
	CodeTries  = 5
	// MinPassword is how long a password is at least, MaxPassword at most.
	MinPassword = 10
	MaxPassword = 500
)

// NewEntry makes a one-time link for a person and returns its address. goesTo is
// the page that it leads to.
func NewEntry(ctx context.Context, tx *act.Tx, baseURL, kind string, person uuid.UUID, goesTo string, good time.Duration) (string, error) {
	token := secret.Token()
	e := Entry{ID: uuid.Must(uuid.NewV7()), Kind: kind, PersonID: person, SecretSHA256: secret.Hash(token), GoesTo: goesTo, CreatedAt: tx.Now, ExpiresAt: tx.Now.Add(good)}
	if tx.Actor.Person != nil {
		e.CreatedBy = &tx.Actor.Person.ID
	}
	return baseURL + "/enter/" + token, AddEntry(ctx, tx, e)
}

// Entrance is what stands behind a one-time link.
type Entrance struct {
	Entry
	Person accounts.Person
	// NeedsPassword says that a password has to be set; otherwise it may be.
	NeedsPassword bool
}

func entryOver() error {
	return errEntryOver.New("this link was used or has run out; ask for a new one")
}

// Arrive shows what a one-time link is for, and uses nothing up.
func (s *Service) Arrive(ctx context.Context, token string) (Front, error) {
	e, err := s.entrance(ctx, s.Acts.DB, token, false)
	if err != nil {
		return Front{}, err
	}
	practice, err := practice.ThePractice(ctx, s.Acts.DB)
	f := Front{Entrance: e, Practice: practice.Name}
	if err == nil && e.CreatedBy != nil {
		f.By, err = accounts.PersonByID(ctx, s.Acts.DB, *e.CreatedBy)
	}
	return f, err
}

// Front is what stands in front of an entrance: whose it is, and who invited, if
// somebody did.
type Front struct {
	Entrance
	Practice string
	By       accounts.Person
}

func (s *Service) entrance(ctx context.Context, q postgres.Q, token string, lock bool) (Entrance, error) {
	e, err := EntryBySecret(ctx, q, secret.Hash(token), s.Acts.Now(), lock)
	if fault.Is(err, fault.NotFound) {
		return Entrance{}, entryOver()
	}
	if err != nil {
		return Entrance{}, err
	}
	p, err := accounts.PersonByID(ctx, q, e.PersonID)
	if err != nil {
		return Entrance{}, err
	}
	if p.DeactivatedAt != nil {
		return Entrance{}, entryOver()
	}
	practice, err := practice.ThePractice(ctx, q)
	return Entrance{e, p, e.Kind == "password" || p.PasswordHash == "" && (p.Inside() || !practice.GuestsByCode)}, err
}

// Enter uses a one-time link up: the person sets a password, or comes in without
// one where guests may, and is signed in. A new password ends all other sessions.
func (s *Service) Enter(ctx context.Context, token, name, password string) (SignedIn, string, error) {
	e, err := s.Arrive(ctx, token)
	if err != nil {
		return SignedIn{}, "", err
	}
	if name, err = names.Person("name", name); err != nil {
		return SignedIn{}, "", err
	}
	hash := ""
	if password != "" || e.NeedsPassword {
		if hash, err = s.hash(ctx, "password", password); err != nil {
			return SignedIn{}, "", err
		}
	}
	factors, err := s.factors(ctx, e.Person)
	if err != nil {
		return SignedIn{}, "", err
	}
	in := SignedIn{Person: e.Person, Factors: factors}
	return in, e.GoesTo, s.Acts.Do(ctx, func(tx *act.Tx) error {
		e, err := s.entrance(ctx, tx, token, true)
		if err != nil {
			return err
		}
		if err := UseEntry(ctx, tx, e.ID, tx.Now); err != nil {
			return err
		}
		if hash != "" {
			if err := SetPassword(ctx, tx, e.PersonID, hash); err != nil {
				return err
			}
			if _, err := EndOtherSessions(ctx, tx, e.PersonID, uuid.Nil); err != nil {
				return err
			}
		}
		if name != "" && e.Kind == "invitation" {
			if err := SetName(ctx, tx, e.PersonID, name); err != nil {
				return err
			}
			in.Person.Name = name
		}
		tx.Actor.Person = &in.Person
		what := map[string]events.Of[events.PersonNamed]{"invitation": events.AccountEntered, "password": events.AccountPasswordSet}[e.Kind]
		if err := tx.Record(ctx, act.Event{What: what.With(events.PersonNamed{Person: in.Person.Name})}); err != nil {
			return err
		}
		if in.Token, err = Begin(ctx, tx, e.Person, len(factors) > 0); err != nil {
			return err
		}
		// Lists that say "invited" say the name from now on.
		return guard.Bump(ctx, tx, guard.PeopleStamp)
	})
}

// hash checks a new password and hashes it.
func (s *Service) hash(ctx context.Context, field, password string) (string, error) {
	switch n := len([]rune(password)); {
	case n < MinPassword:
		return "", fault.PasswordShort.In(field, "a password has at least %d characters", MinPassword)
	case n > MaxPassword:
		return "", fault.PasswordLong.In(field, "a password has at most %d characters", MaxPassword)
	}
	return s.Passwords.Hash(ctx, password)
}

// Forgot sends a link for a new password to an address, if it has an account.
// The answer is the same if not.
func (s *Service) Forgot(ctx context.Context, email string) error {
	return s.quietly(ctx, "forgot", email, func(tx *act.Tx, p accounts.Person) error {
		if p.PasswordHash == "" && p.SeenAt == nil {
			return nil
		}
		address, err := NewEntry(ctx, tx, s.BaseURL, "password", p.ID, "/today", passwordLength)
		if err != nil {
			return err
		}
		return s.send(ctx, tx, p, letters.NewPassword{Address: address})
	})
}

// SendCode sends a code to a guest's address, if the practice lets guests in by
// code. The answer is the same if not.
func (s *Service) SendCode(ctx context.Context, email string) error {
	return s.quietly(ctx, "code", email, func(tx *act.Tx, p accounts.Person) error {
		practice, err := practice.ThePractice(ctx, tx)
		if err != nil || p.Inside() || !practice.GuestsByCode {
			return err
		}
		code, id := secret.Digits(), uuid.Must(uuid.NewV7())
		e := Entry{ID: id, Kind: "code", PersonID: p.ID, SecretSHA256: s.codeHash(id, code), CreatedAt: tx.Now, ExpiresAt: tx.Now.Add(CodeLength)}
		if err := AddEntry(ctx, tx, e); err != nil {
			return err
		}
		return s.send(ctx, tx, p, letters.SignInCode{Code: code})
	})
}

func (s *Service) codeHash(id uuid.UUID, code string) []byte {
	return s.Keys.MAC(id.String()+" "+code, "code")
}

// quietly does something for whoever has the address, without telling whether
// anybody has. Asking again and again has to wait, for all addresses alike.
func (s *Service) quietly(ctx context.Context, what, email string, fn func(tx *act.Tx, p accounts.Person) error) error {
	now := s.Acts.Now()
	for _, key := range []string{what + " " + Key(email), what + " from " + act.Who(ctx).From()} {
		if err := Try(ctx, s.Acts.DB, key, now); err != nil {
			return err
		}
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		p, err := accounts.PersonByEmail(ctx, tx, Key(email))
		if fault.Is(err, fault.NotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		return fn(tx, p)
	})
}

// ByCode signs a guest in by the code that was sent last. It is good for ten
// minutes, five tries and one use.
func (s *Service) ByCode(ctx context.Context, email, code string) (SignedIn, error) {
	now := s.Acts.Now()
	tries := "code-try " + Key(email) + " " + act.Who(ctx).From()
	if err := Try(ctx, s.Acts.DB, tries, now); err != nil {
		return SignedIn{}, err
	}
	code = secret.OnlyDigits(code)
	var in SignedIn
	err := s.Acts.Do(ctx, func(tx *act.Tx) error {
		in = SignedIn{}
		p, err := accounts.PersonByEmail(ctx, tx, Key(email))
		if err != nil && !fault.Is(err, fault.NotFound) {
			return err
		}
		e, err := CodeEntry(ctx, tx, p.ID, tx.Now)
		if fault.Is(err, fault.NotFound) {
			return nil
		}
		if err != nil {
			return err
		}
		if e.Tries >= CodeTries || subtle.ConstantTimeCompare(e.SecretSHA256, s.codeHash(e.ID, code)) != 1 {
			return NoteEntryTry(ctx, tx, e.ID)
		}
		if err := UseEntry(ctx, tx, e.ID, tx.Now); err != nil {
			return err
		}
		in.Person = p
		if in.Factors, err = s.factors(ctx, p); err != nil {
			return err
		}
		in.Token, err = Begin(ctx, tx, p, len(in.Factors) > 0)
		return err
	})
	if err == nil && in.Token == "" {
		err = fault.WrongCode.As(fault.Unauthenticated).New("the code is wrong or has run out")
	}
	if err != nil {
		return SignedIn{}, err
	}
	return in, limits.ForgetTries(ctx, s.Acts.DB, tries)
}

// ChangePassword sets another password for the acting person and ends their
// other sessions. Whoever has none yet sets the first.
func (s *Service) ChangePassword(ctx context.Context, token, old, password string) error {
	me := act.Who(ctx).Person
	if me.PasswordHash != "" {
		if err := s.Confirm(ctx, me, old); err != nil {
			return err
		}
	}
	hash, err := s.hash(ctx, "password", password)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := SetPassword(ctx, tx, me.ID, hash); err != nil {
			return err
		}
		if err := tx.Record(ctx, act.Event{What: events.AccountPasswordSet.With(events.PersonNamed{Person: me.Name})}); err != nil {
			return err
		}
		return endOthers(ctx, tx, token)
	})
}

// Confirm makes sure of the acting person by their password.
func (s *Service) Confirm(ctx context.Context, me *accounts.Person, password string) error {
	now, tries := s.Acts.Now(), "confirm "+me.ID.String()
	if err := Try(ctx, s.Acts.DB, tries, now); err != nil {
		return err
	}
	right, err := s.Passwords.Check(ctx, password, me.PasswordHash)
	if err != nil {
		return err
	}
	if !right {
		return fault.WrongPassword.As(fault.Invalid).In("old", "the present password is wrong")
	}
	return limits.ForgetTries(ctx, s.Acts.DB, tries)
}

func (s *Service) send(ctx context.Context, tx *act.Tx, to accounts.Person, l letters.Letter) error {
	practice, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	return tx.Send(ctx, letters.Mail{To: to.Email, ToName: to.Name, Language: tx.Actor.Language, Practice: practice.Name, Letter: l})
}
