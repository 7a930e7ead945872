// Package sharing gives access to people and groups, changes and ends it, says
// who can open what and why, and what a change would mean before it is made.
package sharing

import (
	"context"
	"fmt"
	"slices"
	"strings"
	"time"

	"tabularis/internal/app/links"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/address"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/people"
	"tabularis/internal/platform/mail"
)

// Service gives access.
type Service struct {
	Acts   *act.Runner
	Access *guard.Guard
	People *people.Service
	// BaseURL is the address under which the practice is reached.
	BaseURL string
	Items   *tree.Service
	Links   *links.Service
}

// Recipient is whom access is given to: a person, a group or everyone, or an
// address that may not have an account yet.
type Recipient struct {
	Kind  access.SubjectKind
	ID    uuid.UUID
	Email string
}

// Terms are what is given.
type Terms struct {
	Level  access.Level
	OwnSet access.Caps
	Until  *time.Time
	Onward bool
}

// Wish is what somebody wants to give to whom.
type Wish struct {
	Items   []uuid.UUID
	To      []Recipient
	Terms   Terms
	Message string
}

const (
	maxItems      = 1000
	maxRecipients = 50
	maxMessage    = 5000
)

// check refuses terms that make no sense: unknown levels, sets that contradict
// themselves, ends in the past.
func (t Terms) check(now time.Time) error {
	switch {
	case !t.Level.Known():
		return fault.LevelUnknown.In("level", "there is no level %q", t.Level)
	case t.Level == access.LevelOwnSet && !t.OwnSet.Sound():
		return errSetUnsound.In("may", "these capabilities do not go together")
	case t.Until != nil && !t.Until.After(now):
		return fault.UntilPast.In("until", "the end lies in the past")
	}
	return nil
}

func (t Terms) grant() access.Grant {
	return access.Grant{Level: t.Level, OwnSet: t.OwnSet, Onward: t.Onward, Ends: t.Until}
}

// within refuses to give more than one has, and ends what is given at the latest
// when one's own right to give it does. Only managers make managers.
//
// It returns that end.
func (t *Terms) within(have access.Held) (own *time.Time, err error) {
	own, ok := have.Gives(t.grant().Caps())
	switch {
	case ok:
		t.Until = access.Earlier(t.Until, own)
		return own, nil
	case !have.Caps().Has(access.Share):
		return nil, fault.Refused("give access")
	}
	return nil, fault.MoreThanOwn.New("nobody gives more than they may themselves")
}

// plan is a checked wish: the items with what the giver may do there, and the
// recipients.
type plan struct {
	wish  Wish
	items []guard.Sight
	to    []recipient
	// own is when the giver's own right to give this ends.
	own *time.Time
}

// recipient is a recipient that was found, or an address to be invited.
type recipient struct {
	subject access.Subject
	name    string
	email   string
	outside bool
	invite  bool
	// unknown says that there is an account, of which the giver does not know: to them
	// it is an address like one without.
	unknown bool
}

func (s *Service) check(ctx context.Context, q postgres.Q, w Wish, now time.Time) (plan, error) {
	p := plan{wish: w}
	if len(w.Items) == 0 || len(w.Items) > maxItems {
		return p, fault.ItemsCount.In("items", "choose between 1 and %d items", maxItems)
	}
	if len(w.To) > maxRecipients {
		return p, errRecipientsCount.In("to", "name at most %d people and groups at once", maxRecipients)
	}
	if len(w.Message) > maxMessage {
		return p, fault.MessageLong.In("message", "a message has at most %d characters", maxMessage)
	}
	if err := w.Terms.check(now); err != nil {
		return p, err
	}
	for _, id := range dedupe(w.Items) {
		sight, err := s.Access.Item(ctx, q, id, access.Share, now)
		if err != nil {
			return p, err
		}
		have, err := s.Access.Held(ctx, q, sight, act.Who(ctx).Person.ID, now)
		if err != nil {
			return p, err
		}
		own, err := p.wish.Terms.within(have)
		if err != nil {
			return p, err
		}
		p.own = access.Earlier(p.own, own)
		if w.Terms.Level == access.LevelDeposit && sight.Item.Kind != items.Folder {
			return p, errDepositFolder.In("level", "papers are put into folders")
		}
		p.items = append(p.items, sight)
	}
	return p, s.recipients(ctx, q, &p)
}

func dedupe(ids []uuid.UUID) (out []uuid.UUID) {
	for _, id := range ids {
		if !slices.Contains(out, id) {
			out = append(out, id)
		}
	}
	return out
}

// recipients finds who is meant. An address that has an account means its
// person; one that has none will be invited.
func (s *Service) recipients(ctx context.Context, q postgres.Q, p *plan) error {
	known, err := s.People.Known(ctx)
	if err != nil {
		return err
	}
	practice, err := practice.ThePractice(ctx, q)
	if err != nil {
		return err
	}
	seen := map[string]bool{}
	for _, to := range p.wish.To {
		r, err := s.recipient(ctx, q, to, known, practice)
		if err != nil {
			return err
		}
		if key := fmt.Sprint(r.subject, r.email); !seen[key] {
			seen[key] = true
			p.to = append(p.to, r)
		}
	}
	if who := act.Who(ctx).Person; !who.Inside() && slices.ContainsFunc(p.to, func(r recipient) bool { return r.subject.Kind != access.Person }) {
		return fault.Missing()
	}
	return nil
}

func (s *Service) recipient(ctx context.Context, q postgres.Q, to Recipient, known []accounts.Person, practice practice.Practice) (recipient, error) {
	if to.Email != "" {
		return s.byAddress(ctx, q, to.Email, known)
	}
	switch to.Kind {
	case access.Everyone:
		return recipient{subject: access.Subject{Kind: access.Everyone}, name: practice.Name}, nil
	case access.Group:
		g, err := people.GroupByID(ctx, q, to.ID)
		return recipient{subject: access.Subject{Kind: access.Group, ID: access.ID(to.ID)}, name: g.Name}, err
	case access.Person:
		at := slices.IndexFunc(known, func(k accounts.Person) bool { return k.ID == to.ID })
		if at < 0 {
			return recipient{}, fault.Missing()
		}
		if k := known[at]; k.DeactivatedAt != nil {
			return recipient{}, fault.Deactivated.In("to", "%s has no account any more", k.Name)
		}
		return toPerson(known[at]), nil
	}
	return recipient{}, fault.RecipientUnknown.In("to", "name a person, a group or everyone")
}

func toPerson(p accounts.Person) recipient {
	return recipient{subject: access.Subject{Kind: access.Person, ID: access.ID(p.ID)}, name: p.Name, email: p.Email, outside: !p.Inside()}
}

func (s *Service) byAddress(ctx context.Context, q postgres.Q, raw string, known []accounts.Person) (recipient, error) {
	a, err := mail.Address("to", raw)
	if err != nil {
		return recipient{}, err
	}
	email := a.Address
	p, err := accounts.PersonByEmail(ctx, q, address.Key(email))
	if err != nil && !fault.Is(err, fault.NotFound) {
		return recipient{}, err
	}
	there := err == nil
	switch {
	case there && slices.ContainsFunc(known, func(k accounts.Person) bool { return k.ID == p.ID }):
		return toPerson(p), nil
	case !act.Who(ctx).Person.Inside():
		// Whether there is an account is not a guest's to know.
		return recipient{}, fault.Refused("invite people")
	case there:
		return recipient{subject: access.Subject{Kind: access.Person, ID: access.ID(p.ID)}, name: email, email: email, outside: true, unknown: true}, nil
	}
	return recipient{name: email, email: email, outside: true, invite: true}, nil
}

// Give gives access, invites whoever has no account yet, and tells everybody by
// mail. It never takes anything away: where somebody has more already, that
// stays.
func (s *Service) Give(ctx context.Context, w Wish) error {
	if len(w.To) == 0 {
		return errRecipientsCount.In("to", "name at least one person or group")
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return s.GiveIn(ctx, tx, w) })
}

// GiveIn is Give within an act.
func (s *Service) GiveIn(ctx context.Context, tx *act.Tx, w Wish) error {
	p, err := s.check(ctx, tx, w, tx.Now)
	if err != nil {
		return err
	}
	for i, r := range p.to {
		if !r.invite {
			continue
		}
		person, err := s.People.Invite(ctx, tx, people.Invitation{Email: r.email, Standing: accounts.Guest})
		if err != nil {
			return err
		}
		p.to[i].subject = access.Subject{Kind: access.Person, ID: access.ID(person.ID)}
	}
	dossiers, err := s.lock(ctx, tx, p.items)
	if err != nil {
		return err
	}
	for _, item := range p.items {
		if err := guard.MakeRoot(ctx, tx, item.Item); err != nil {
			return fmt.Errorf("making %s a root: %w", item.ID, err)
		}
		for _, r := range p.to {
			if err := s.put(ctx, tx, item, r, p.wish); err != nil {
				return err
			}
		}
	}
	if err := s.tell(ctx, tx, p); err != nil {
		return err
	}
	for _, d := range dossiers {
		if err := guard.Bump(ctx, tx, d); err != nil {
			return err
		}
	}
	return nil
}

// lock holds the dossiers of items, always in one order, and returns them.
func (s *Service) lock(ctx context.Context, tx *act.Tx, items []guard.Sight) ([]uuid.UUID, error) {
	var dossiers []uuid.UUID
	for _, i := range items {
		dossiers = append(dossiers, i.DossierID)
	}
	dossiers = guard.Sorted(dossiers)
	return dossiers, tree.LockDossiers(ctx, tx, dossiers)
}

// put adds or widens one grant.
func (s *Service) put(ctx context.Context, tx *act.Tx, item guard.Sight, r recipient, w Wish) error {
	t := w.Terms
	g := guard.Grant{ID: uuid.Must(uuid.NewV7()), ItemID: item.ID, SubjectKind: r.subject.Kind, SubjectID: uuid.UUID(r.subject.ID), Level: string(t.Level), OwnSet: ownSet(t), Onward: t.Onward, EndsAt: t.Until,
		Message: strings.TrimSpace(w.Message), CreatedBy: &tx.Actor.Person.ID, CreatedAt: tx.Now}
	old, err := guard.GrantFor(ctx, tx, item.ID, g.SubjectKind, g.SubjectID)
	switch {
	case fault.Is(err, fault.NotFound):
		err = guard.AddGrant(ctx, tx, g)
	case err != nil:
	case old.Core().Active(tx.Now) && covers(old, g):
		return nil
	case !old.Core().Active(tx.Now) || covers(g, old):
		if _, err = guard.EndGrant(ctx, tx, old.ID); err == nil {
			err = guard.AddGrant(ctx, tx, g)
		}
	default:
		err = errHasAccess.In("to", "%s has access to %s on other terms; change those", r.name, item.Name)
	}
	if err != nil {
		return err
	}
	return tx.Record(ctx, act.Event{What: events.AccessGiven.With(giving(g, r)), Dossier: item.DossierID, Item: itemOf(item)})
}

func ownSet(t Terms) access.Caps {
	if t.Level == access.LevelOwnSet {
		return t.OwnSet
	}
	return 0
}

// covers reports whether a gives all that b gives, and as long.
func covers(a, b guard.Grant) bool {
	long := a.EndsAt == nil || b.EndsAt != nil && !a.EndsAt.Before(*b.EndsAt)
	return long && a.Core().Caps().Has(b.Core().Caps())
}

// itemOf is the item that an event stands on; for a dossier's top none, since
// that is the dossier.
func itemOf(s guard.Sight) *uuid.UUID {
	if s.ParentID == nil {
		return nil
	}
	return &s.ID
}

func giving(g guard.Grant, r recipient) events.Giving {
	d := events.Giving{To: r.name, Level: g.Level}
	if r.subject.Kind == access.Everyone {
		d.To = ""
	}
	if g.Level == string(access.LevelOwnSet) {
		d.May = strings.Join(g.OwnSet.Names(), " ")
	}
	if g.EndsAt != nil {
		d.Until = g.EndsAt.UTC().Format(time.RFC3339)
	}
	return d
}
