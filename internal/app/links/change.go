package links

import (
	"context"
	"time"

	"tabularis/core/events"
	"tabularis/core/items"
	"tabularis/core/linkgate"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
)

// Change is a link's terms anew. What was chosen, and in which version, stays.
type Change struct {
	Name string
	linkgate.Terms
	// Password is set anew where it is not nil; an empty one is taken away.
	Password *string
}

// Change sets the terms of a link anew, under the same rules as for a new one.
// Refused are links that have been ended, and limits below what was used.
// Whoever is in already stays in, unless the new terms end the link.
func (s *Service) Change(ctx context.Context, id uuid.UUID, c Change) (Shown, error) {
	return s.rewrite(ctx, id, c.Password, func(l Link) (string, linkgate.Terms) { return c.Name, c.Terms })
}

// Adjust sets single terms of a link anew, like Change; the others stay as they are
// then: until when it is good, and its password.
func (s *Service) Adjust(ctx context.Context, id uuid.UUID, until *time.Time, password *string) (Shown, error) {
	return s.rewrite(ctx, id, password, func(l Link) (string, linkgate.Terms) {
		if until != nil {
			l.Until = until
		}
		return l.Name, l.Terms
	})
}

func (s *Service) rewrite(ctx context.Context, id uuid.UUID, password *string, anew func(Link) (name string, t linkgate.Terms)) (Shown, error) {
	hash := ""
	if password != nil && *password != "" {
		if err := checkPassword(*password); err != nil {
			return Shown{}, err
		}
		var err error
		if hash, err = s.Passwords.Hash(ctx, *password); err != nil {
			return Shown{}, err
		}
	}
	err := s.change(ctx, id, func(tx *act.Tx, l Link, items []items.Item) error {
		l, err := LockLink(ctx, tx, l.ID)
		if err != nil {
			return err
		}
		if password == nil {
			hash = l.PasswordHash
		}
		name, t := anew(l)
		t.Sealed = l.Sealed // What is sealed stays so.
		switch {
		case l.EndedAt != nil:
			return fault.LinkOver.New("the link is no longer open")
		case t.Openings != nil && *t.Openings < l.Openings:
			return errOpeningsUsed.In("openings", "%d openings are used already", l.Openings)
		}
		p, err := s.permitted(ctx, tx, l, items, name, t, hash != "")
		if err != nil {
			return err
		}
		l.Name, l.Terms, l.PasswordHash = p.name, p.wish.Terms, hash
		if err := taken(ChangeLink(ctx, tx, l)); err != nil {
			return err
		}
		return s.tell(ctx, tx, l, items, events.LinkChanged.With(events.LinkTerms{LinkNamed: named(l), Terms: p.sentence(p.voice(tx.Now)).String()}))
	})
	if err != nil {
		return Shown{}, err
	}
	return s.One(ctx, id)
}

// permitted refuses terms that a link of the acting person's could not have now. What
// was chosen, in which version, and for what, stays.
func (s *Service) permitted(ctx context.Context, tx *act.Tx, l Link, items []items.Item, name string, t linkgate.Terms, password bool) (plan, error) {
	w := Wish{Items: itemIDs(items), Name: name, Terms: t, UntilSet: true, Language: l.Language}
	w.Kind, w.Newest, w.transfer = l.Kind, l.Newest, l.Kind == linkgate.Transfer
	p, err := s.check(ctx, tx, w, tx.Now)
	if err != nil {
		return p, err
	}
	p.wish.Terms.Password = password
	p.refused = p.checkRules(s.Pages.Can)
	return p, p.refused
}

// TakenBack is how long whoever ended a link can take that back.
const TakenBack = 10 * time.Minute

// Reopen takes back that the acting person ended a link, as if it had not been; where
// the link could be made now. Later, and for others, an end stays.
func (s *Service) Reopen(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l Link, items []items.Item) error {
		l, err := LockLink(ctx, tx, l.ID)
		if err != nil || l.EndedAt == nil {
			return err
		}
		if l.EndedBy == nil || *l.EndedBy != tx.Actor.Person.ID || tx.Now.Sub(*l.EndedAt) > TakenBack {
			return errEndStays.New("the link stays ended; make a new one")
		}
		if _, err := s.permitted(ctx, tx, l, items, l.Name, l.Terms, l.PasswordHash != ""); err != nil {
			return err
		}
		if err := ReopenLink(ctx, tx, id); err != nil {
			return err
		}
		return s.tell(ctx, tx, l, items, events.LinkReopened.With(named(l)))
	})
}
