package people

import (
	"context"
	"strings"
	"time"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/address"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/internal/app/act"
	"tabularis/internal/app/sessions"
	"tabularis/internal/platform/mail"
	"tabularis/internal/platform/secret"
)

// EmailsIndex is violated by a second account with an address.
const EmailsIndex = "people_email_key_key"

// Invitation is who is invited, with which standing.
type Invitation struct {
	Name, Email, Role, Organisation string
	Standing                        string
	Message                         string
}

// Invite makes an account that has not come in yet, within an act. Guests may be
// invited by everybody in the practice, colleagues by administrators, who alone
// make administrators with the proprietor.
func (s *Service) Invite(ctx context.Context, tx *act.Tx, i Invitation) (accounts.Person, error) {
	if err := mayInvite(tx.Actor.Person, i.Standing); err != nil {
		return accounts.Person{}, err
	}
	p, err := newPerson(i, tx.Now)
	if err != nil {
		return p, err
	}
	if err := AddPerson(ctx, tx, p); err != nil {
		if postgres.Collides(err, EmailsIndex) {
			err = errAddressTaken.In("email", "%s", p.Email+" has an account already")
		}
		return p, err
	}
	return p, tx.Record(ctx, act.Event{What: events.AccountInvited.With(events.Standing{Person: p.Name, Standing: p.Standing})})
}

func mayInvite(who *accounts.Person, standing string) error {
	allowed := false
	switch standing {
	case accounts.Guest:
		allowed = who.Inside()
	case accounts.Colleague:
		allowed = who.Administers()
	case accounts.Administrator:
		allowed = who.Standing == accounts.Proprietor
	default:
		return errStandingUnknown.In("standing", "a standing is administrator, colleague or guest")
	}
	if !allowed {
		return fault.Refused("invite with this standing")
	}
	return nil
}

func newPerson(i Invitation, now time.Time) (accounts.Person, error) {
	a, err := mail.Address("email", i.Email)
	if err != nil {
		return accounts.Person{}, err
	}
	name, err := names.Person("name", i.Name)
	if err != nil {
		return accounts.Person{}, err
	}
	role, err := names.Person("role", i.Role)
	if err != nil {
		return accounts.Person{}, err
	}
	organisation, err := names.Person("organisation", i.Organisation)
	if err != nil {
		return accounts.Person{}, err
	}
	if name == "" {
		name = a.Address
	}
	return accounts.Person{ID: uuid.Must(uuid.NewV7()), Email: a.Address, EmailKey: address.Key(a.Address), Name: name, Role: role, Organisation: organisation, Standing: i.Standing, CreatedAt: now}, nil
}

// InviteByMail invites somebody and sends the mail.
func (s *Service) InviteByMail(ctx context.Context, i Invitation) (accounts.Person, error) {
	var p accounts.Person
	return p, s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		if p, err = s.Invite(ctx, tx, i); err != nil {
			return err
		}
		return s.Welcome(ctx, tx, p, "/today", "", i.Message)
	})
}

// Welcome sends somebody who has not come in yet their one-time link. terms says
// what they are given, if it was something.
func (s *Service) Welcome(ctx context.Context, tx *act.Tx, p accounts.Person, goesTo, terms, message string) error {
	address, err := sessions.NewEntry(ctx, tx, s.BaseURL, "invitation", p.ID, goesTo, sessions.InvitationLength)
	if err != nil {
		return err
	}
	practice, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	me := tx.Actor.Person
	letter := letters.Invitation{Sender: letters.Sender{Name: me.Name, Role: me.Role, Email: me.Email}, Message: message, Address: address, Terms: terms}
	return tx.Send(ctx, letters.Mail{To: p.Email, ToName: p.Name, Language: tx.Actor.Language, Practice: practice.Name, ReplyTo: me.Email, Letter: letter})
}

// InviteAgain sends a new one-time link to somebody who has not come in yet.
func (s *Service) InviteAgain(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		p, err := s.withdraw(ctx, tx, id)
		if err != nil {
			return err
		}
		return s.Welcome(ctx, tx, p, "/today", "", "")
	})
}

// TakeBack takes an invitation back: the account ends before it began.
func (s *Service) TakeBack(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		p, err := s.withdraw(ctx, tx, id)
		if err != nil {
			return err
		}
		return s.deactivate(ctx, tx, p)
	})
}

// withdraw ends the invitations of somebody who has not come in yet.
func (s *Service) withdraw(ctx context.Context, tx *act.Tx, id uuid.UUID) (accounts.Person, error) {
	p, err := s.pending(ctx, tx, id)
	if err != nil {
		return p, err
	}
	return p, WithdrawInvitations(ctx, tx, id, tx.Now)
}

// pending finds somebody who was invited by the acting person, or by anybody if
// that person administers, and has not come in yet.
func (s *Service) pending(ctx context.Context, tx *act.Tx, id uuid.UUID) (accounts.Person, error) {
	p, err := accounts.PersonByID(ctx, tx, id)
	if err != nil {
		return p, err
	}
	me := tx.Actor.Person
	if !me.Administers() {
		own, err := InvitedBy(ctx, tx, id, me.ID)
		if err != nil {
			return p, err
		}
		if !own {
			return p, fault.Missing()
		}
	}
	if p.SeenAt != nil || p.DeactivatedAt != nil {
		return p, errInvitationOver.New("%s has come in already, or was taken back", p.Name)
	}
	return p, nil
}

// LinkTerms are the terms of an invitation link.
type LinkTerms struct {
	Standing string
	Dossier  string
	Level    access.Level
	Domain   string
	Uses     int
	Until    time.Time
}

const (
	maxUses     = 500
	maxLinkDays = 60
	linkPurpose = "invitation link"
)

// MakeLink makes an invitation link. Administrators make them; for a dossier,
// they must manage it.
func (s *Service) MakeLink(ctx context.Context, t LinkTerms) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		me := tx.Actor.Person
		if !me.Administers() {
			return fault.Refused("make invitation links")
		}
		if t.Standing != accounts.Colleague && t.Standing != accounts.Guest {
			return errStandingUnknown.In("standing", "whoever joins by a link becomes colleague or guest")
		}
		if t.Uses < 1 || t.Uses > maxUses {
			return errUsesRange.In("uses", "between 1 and %d people may join by a link", maxUses)
		}
		if !t.Until.After(tx.Now) {
			return fault.UntilPast.In("until", "the end lies in the past")
		}
		if t.Until.After(tx.Now.AddDate(0, 0, maxLinkDays)) {
			return fault.UntilTooLate.In("until", "an invitation link ends at the latest after %d days", maxLinkDays)
		}
		domain, sound := address.Domain(strings.TrimPrefix(strings.TrimSpace(t.Domain), "@"))
		if !sound && strings.TrimSpace(t.Domain) != "" {
			return fault.DomainForm.In("domain", "%q is not a domain", t.Domain)
		}
		token := secret.Token()
		l := InvitationLink{ID: uuid.Must(uuid.NewV7()), TokenSHA256: secret.Hash(token), TokenSealed: s.Keys.Seal([]byte(token), linkPurpose), Standing: t.Standing, Domain: domain, UsesLimit: t.Uses, CreatedBy: me.ID, CreatedAt: tx.Now, ExpiresAt: t.Until}
		if t.Dossier != "" {
			d, err := s.Access.ByCode(ctx, tx, t.Dossier, tx.Now)
			if err != nil {
				return err
			}
			if _, err := s.Access.Item(ctx, tx, d.ID, access.Manage, tx.Now); err != nil {
				return err
			}
			if t.Level.Caps() == 0 || t.Level == access.LevelManage {
				return fault.LevelUnknown.In("level", "a link gives no level %q", t.Level)
			}
			l.DossierID, l.Level = &d.ID, string(t.Level)
		}
		if err := AddInvitationLink(ctx, tx, l); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.AccountLinkMade.With(events.Standing{Standing: t.Standing})})
	})
}

// EndLink ends an invitation link.
func (s *Service) EndLink(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if !tx.Actor.Person.Administers() {
			return fault.Refused("end invitation links")
		}
		if err := EndInvitationLink(ctx, tx, id, tx.Now); err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.AccountLinkEnded.With(events.Nothing{})})
	})
}

// Joining is what stands in front of an invitation link.
type Joining struct {
	InvitationLink
	Practice practice.Practice
	By       string
}

func linkOver() error {
	return fault.LinkOver.As(fault.Gone).New("this link is no longer available")
}

// Front shows an invitation link to somebody who has it.
func (s *Service) Front(ctx context.Context, token string) (Joining, error) {
	l, err := InvitationLinkByToken(ctx, s.Acts.DB, secret.Hash(token), s.Acts.Now(), false)
	if fault.Is(err, fault.NotFound) {
		return Joining{}, linkOver()
	}
	if err != nil {
		return Joining{}, err
	}
	j := Joining{InvitationLink: l}
	if j.Practice, err = practice.ThePractice(ctx, s.Acts.DB); err != nil {
		return j, err
	}
	p, err := accounts.PersonByID(ctx, s.Acts.DB, l.CreatedBy)
	j.By = p.Name
	return j, err
}

// Join makes an account by an invitation link. The address is confirmed by the
// one-time link that is mailed to it. Somebody who has an account is told so by
// that mail only.
func (s *Service) Join(ctx context.Context, token, name, email string) error {
	now, tries := s.Acts.Now(), "join from "+act.Who(ctx).From()
	if err := sessions.Try(ctx, s.Acts.DB, tries, now); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, err := InvitationLinkByToken(ctx, tx, secret.Hash(token), tx.Now, true)
		if fault.Is(err, fault.NotFound) {
			return linkOver()
		}
		if err != nil {
			return err
		}
		p, err := newPerson(Invitation{Name: name, Email: email, Standing: l.Standing}, tx.Now)
		if err != nil {
			return err
		}
		if _, domain, _ := address.Split(p.Email); l.Domain != "" && domain != l.Domain {
			return errDomainOther.In("email", "this link is for addresses at %s", l.Domain)
		}
		by, err := accounts.PersonByID(ctx, tx, l.CreatedBy)
		if err != nil {
			return err
		}
		tx.Actor.Person = &by
		if there, err := accounts.PersonByEmail(ctx, tx, p.EmailKey); err == nil {
			return s.tellAgain(ctx, tx, there)
		} else if !fault.Is(err, fault.NotFound) {
			return err
		}
		return s.join(ctx, tx, l, p)
	})
}

func (s *Service) join(ctx context.Context, tx *act.Tx, l InvitationLink, p accounts.Person) error {
	if err := AddPerson(ctx, tx, p); err != nil {
		if postgres.Collides(err, EmailsIndex) {
			return errAddressTaken.New("this address cannot join")
		}
		return err
	}
	if err := UseInvitationLink(ctx, tx, l.ID, p.ID, tx.Now); err != nil {
		return err
	}
	goesTo := "/today"
	if l.DossierID != nil {
		d, err := tree.DossierByID(ctx, tx, *l.DossierID)
		if err != nil {
			return err
		}
		if err := tree.LockDossier(ctx, tx, d.ID); err != nil {
			return err
		}
		until, err := s.gives(ctx, tx, l, d.ID)
		if err != nil {
			return err
		}
		g := guard.Grant{ID: uuid.Must(uuid.NewV7()), ItemID: d.ID, SubjectID: p.ID, Level: l.Level, EndsAt: until, CreatedBy: &l.CreatedBy, CreatedAt: tx.Now}
		if err := guard.AddGrant(ctx, tx, g); err != nil {
			return err
		}
		if err := tx.Record(ctx, act.Event{What: events.AccessGiven.With(events.Giving{To: p.Name, Level: l.Level}), Dossier: d.ID}); err != nil {
			return err
		}
		if err := guard.Bump(ctx, tx, d.ID); err != nil {
			return err
		}
		goesTo = "/dossiers/" + d.Code
	}
	if err := tx.Record(ctx, act.Event{What: events.AccountJoined.With(events.Standing{Person: p.Name, Standing: p.Standing})}); err != nil {
		return err
	}
	return s.Welcome(ctx, tx, p, goesTo, "", "")
}

// gives is until when a link gives access to its dossier: no longer than whoever
// made it may give that at the moment. Where they no longer may, the link is over.
func (s *Service) gives(ctx context.Context, tx *act.Tx, l InvitationLink, dossier uuid.UUID) (*time.Time, error) {
	f, c, err := s.Access.Dossier(ctx, tx, dossier)
	if err != nil {
		return nil, err
	}
	top := access.ID(dossier)
	until, ok := f.Held(top, c.Subjects(access.ID(l.CreatedBy)), tx.Now).Gives(access.Level(l.Level).Caps())
	if !ok {
		return nil, linkOver()
	}
	return until, nil
}

// tellAgain tells somebody by mail that they have an account.
func (s *Service) tellAgain(ctx context.Context, tx *act.Tx, p accounts.Person) error {
	practice, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	return tx.Send(ctx, letters.Mail{To: p.Email, ToName: p.Name, Language: tx.Actor.Language, Practice: practice.Name, Letter: letters.AccountThere{Address: s.BaseURL + "/sign-in"}})
}
