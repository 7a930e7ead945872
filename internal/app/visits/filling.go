package visits

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/linkgate"
	"tabularis/core/terms"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/platform/postgres"
)

// Filling finds a link by which a form is filled in, the visit of whoever was let in, and the form as far as it is given.
func (s *Service) Filling(ctx context.Context, q postgres.Q, v Visitor) (l links.Link, visit Visit, form items.Item, err error) {
	if l, visit, err = s.visiting(ctx, q, v); err != nil {
		return l, visit, form, err
	}
	chosen, err := guard.LinkItems(ctx, q, []uuid.UUID{l.ID})
	if err == nil && (l.Kind != linkgate.Fill || len(chosen) != 1) {
		err = fault.Missing()
	}
	if err != nil {
		return l, visit, form, err
	}
	f, err := s.one(ctx, q, l, chosen[0].ID)
	return l, visit, f.Item, err
}

// Hand is a visitor who files something by a link.
func (s *Service) Hand(l links.Link, visit Visit) tree.Hand {
	return &bringer{s: s, link: l, visit: visit}
}

// Sure reports whether the visitor's address is known for certain.
func (v Visit) Sure() bool {
	return v.Known == linkgate.Confirmed.String() || v.Known == linkgate.SignedIn.String()
}

// Terms are who made a link, and under which terms, as its visitors read them.
func (s *Service) Terms(ctx context.Context, q postgres.Q, l links.Link) (sender accounts.Person, sentence terms.Sentence, err error) {
	if sender, err = accounts.PersonByID(ctx, q, l.CreatedBy); err != nil {
		return sender, nil, err
	}
	sentence, err = s.sentence(ctx, q, l, gift{}, s.Acts.Now())
	return sender, sentence, err
}
