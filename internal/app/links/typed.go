package links

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/terms"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
)

// Typed is a link under terms as people type them, to be made and sent by what acts for somebody.
type Typed struct {
	Items   []uuid.UUID
	To      []string
	Terms   string
	Message string
}

var errTyped = fault.Declare(fault.Invalid, "terms-unread", "the terms are not understood")

// GiveIn makes a link and sends it, within an act of whoever may give it out.
func (s *Service) GiveIn(ctx context.Context, tx *act.Tx, t Typed) error {
	p, zone, err := practice.PracticeZone(ctx, tx)
	if err != nil {
		return err
	}
	own, err := p.OwnTerms()
	if err != nil {
		return err
	}
	read := terms.ReadOwn(t.Terms, terms.Voice{Language: tx.Actor.Language, Zone: zone, Now: tx.Now}, own)
	if !read.Understood() {
		return errTyped.In("terms", "the terms are not understood: %.80q", t.Terms)
	}
	given := read.Terms()
	w := Wish{Items: t.Items, UntilSet: given.Until != nil, Terms: given, Language: tx.Actor.Language}
	looked, err := s.forbidden(ctx, w)
	if err != nil {
		return err
	}
	addresses, err := parse(t.To)
	if err != nil {
		return err
	}
	l, err := s.make(ctx, tx, w, "", looked)
	if err != nil {
		return err
	}
	_, items, err := s.find(ctx, tx, l.ID, 0, tx.Now)
	if err != nil {
		return err
	}
	return s.send(ctx, tx, l, items, addresses, t.Message, len(items), false)
}
