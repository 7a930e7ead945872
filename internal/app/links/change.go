package links

import (
	"context"

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
	hash := ""
	if c.Password != nil && *c.Password != "" {
		if err := checkPassword(*c.Password); err != nil {
			return Shown{}, err
		}
		var err error
		if hash, err = s.Passwords.Hash(ctx, *c.Password); err != nil {
			return Shown{}, err
		}
	}
	err := s.change(ctx, id, func(tx *act.Tx, l Link, items []items.Item) error {
		l, err := LockLink(ctx, tx, l.ID)
		if err != nil {
			return err
		}
		switch {
		case l.EndedAt != nil:
			return fault.LinkOver.New("the link is no longer open")
		case c.Openings != nil && *c.Openings < l.Openings:
			return errOpeningsUsed.In("openings", "%d openings are used already", l.Openings)
		}
		w := Wish{Items: itemIDs(items), Name: c.Name, UntilSet: true, Terms: c.Terms, Language: l.Language}
		// What was chosen, in which version, and for what, stays.
		w.Kind, w.Newest = l.Kind, l.Newest
		p, err := s.check(ctx, tx, w, tx.Now)
		if err != nil {
			return err
		}
		if c.Password == nil {
			hash = l.PasswordHash
		}
		p.wish.Terms.Password = hash != ""
		if p.refused = p.checkRules(s.Pages.Can); p.refused != nil {
			return p.refused
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
