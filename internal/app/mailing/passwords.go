// Package mailing takes mails from the mail programs of colleagues: attachments become a transfer,
// documents whose numbers are written go along, and each recipient gets the mail with a link of their own.
package mailing

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/address"
	"tabularis/core/fault"
	rules "tabularis/core/mailing"
	"tabularis/core/names"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/sessions"
	"tabularis/internal/app/transfers"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/limits"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/reading"
	"tabularis/internal/platform/secret"
)

// Service takes mails and sends them on.
type Service struct {
	Acts      *act.Runner
	Access    *guard.Guard
	Keys      *secret.Keys
	Reader    *reading.Reader
	Transfers *transfers.Service
	Links     *links.Service
	Uploads   *uploads.Service
	Mail      *mail.Sender
	BaseURL   string
	// Host and Port are where mail programs hand mails over; no port is nowhere.
	Host string
	Port int
}

// mostPasswords is how many passwords for mail programs somebody has at most.
const mostPasswords = 20

// Passwords are those of the acting person.
func (s *Service) Passwords(ctx context.Context) ([]Password, error) {
	me := act.Who(ctx).Person
	if me == nil {
		return nil, fault.SignedOut()
	}
	return passwordsOf(ctx, s.Acts.DB, me.ID)
}

// MakePassword makes a password for a mail program, which is said once.
func (s *Service) MakePassword(ctx context.Context, name string, w rules.Settings) (Password, string, error) {
	me := act.Who(ctx).Person
	switch {
	case me == nil:
		return Password{}, "", fault.SignedOut()
	case !me.Inside():
		return Password{}, "", fault.Refused("send mails")
	case s.Port == 0:
		return Password{}, "", errNoSubmitter.New("no mail program can be connected here")
	}
	name, err := names.Check("name", name)
	if err == nil {
		err = sound(w)
	}
	if err != nil {
		return Password{}, "", err
	}
	spoken := secret.Token()
	p := Password{ID: uuid.Must(uuid.NewV7()), PersonID: me.ID, Name: name, SHA256: secret.Hash(spoken), Over: w.Over, Numbers: w.Numbers, Holds: w.Holds, CreatedAt: s.Acts.Now()}
	return p, spoken, s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := lockSender(ctx, tx, me.ID); err != nil {
			return err
		}
		all, err := passwordsOf(ctx, tx, me.ID)
		if err != nil {
			return err
		}
		if len(all) >= mostPasswords {
			return errPasswords.New("at most %d passwords for mail programs", mostPasswords)
		}
		return addPassword(ctx, tx, p)
	})
}

func sound(w rules.Settings) error {
	if w.Over < 0 || w.Over > rules.MostBytes {
		return errOverRange.In("over", "a size is between 0 and %d bytes", rules.MostBytes)
	}
	return nil
}

// SetPassword changes what becomes of the mails of a mail program.
func (s *Service) SetPassword(ctx context.Context, id uuid.UUID, w rules.Settings) error {
	if err := sound(w); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return setPassword(ctx, tx, id, tx.Actor.Person.ID, w) })
}

// DropPassword lets a mail program sign in no more.
func (s *Service) DropPassword(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return dropPassword(ctx, tx, id, tx.Actor.Person.ID) })
}

// SignIn finds out whose mail program it is, by their mail address and a password of theirs. Guessing
// has to wait, for each network.
func (s *Service) SignIn(ctx context.Context, user, password, network string) (context.Context, Password, error) {
	from := act.Actor{Network: network}
	tries, now := "mail-program "+from.From(), s.Acts.Now()
	if err := sessions.Try(ctx, s.Acts.DB, tries, now); err != nil {
		return ctx, Password{}, err
	}
	p, err := passwordBy(ctx, s.Acts.DB, secret.Hash(password), address.Key(user), now)
	if fault.Is(err, fault.NotFound) {
		err = fault.WrongPassword.New("the address or the password is wrong")
	}
	if err != nil {
		return ctx, p, err
	}
	person, err := accounts.PersonByID(ctx, s.Acts.DB, p.PersonID)
	if err != nil {
		return ctx, p, err
	}
	ctx = act.As(ctx, act.Actor{Person: &person, Network: network, Agent: "mail program " + p.Name, Language: person.Language})
	return ctx, p, limits.ForgetTries(ctx, s.Acts.DB, tries)
}

// Mine refuses an address that is not the acting person's own.
func Mine(ctx context.Context, from string) error {
	me := act.Who(ctx).Person
	if me == nil {
		return fault.SignedOut()
	}
	if address.Key(from) != me.EmailKey {
		return errNotYours.In("from", "mails are sent from one's own address: %s", me.Email)
	}
	return nil
}
