package visits

import (
	"cmp"
	"context"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/core/names"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/platform/postgres"
)

var errNameWanted = fault.Declare(fault.Invalid, "name-wanted", "whoever writes with others says who they are")

// longestName is how many letters a name has at most that a visitor goes by among others.
const longestName = 80

// Writing finds a document that a working link lets its visitors write, and the visit of whoever was let in. Whoever is
// known by nothing says a name first.
func (s *Service) Writing(ctx context.Context, q postgres.Q, v Visitor, document uuid.UUID) (l links.Link, visit Visit, f Given, err error) {
	if l, visit, err = s.in(ctx, q, v); err != nil {
		return l, visit, f, err
	}
	if l.Kind != linkgate.Working {
		return l, visit, f, fault.Missing()
	}
	if f, err = s.one(ctx, q, l, document); err == nil && visit.Called() == "" {
		err = errNameWanted.New("say who you are")
	}
	return l, visit, f, err
}

// Begin records that a visitor reads a document that they write, as when they look at it.
func (s *Service) Begin(ctx context.Context, v Visitor, document uuid.UUID) error {
	_, err := s.leaves(ctx, v, document, false)
	return err
}

// Called is what a visitor goes by among others: the name that they said, which is no address, or their address.
func (v Visit) Called() string { return cmp.Or(v.Name, v.Email) }

// Call lets a visitor say by what name they go.
func (s *Service) Call(ctx context.Context, v Visitor, name string) error {
	name, err := names.Check("name", strings.TrimSpace(name))
	if err != nil {
		return err
	}
	if len([]rune(name)) > longestName || strings.Contains(name, "@") {
		return errNameWanted.In("name", "a name has at most %d letters, and is no address", longestName)
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, visit, err := s.in(ctx, tx, v)
		if err == nil && l.Kind != linkgate.Working {
			err = fault.Missing()
		}
		if err != nil {
			return err
		}
		return CallVisit(ctx, tx, visit.ID, name)
	})
}

// HandOf is the hand of whoever came by a link in a visit, also when that is over.
func (s *Service) HandOf(ctx context.Context, q postgres.Q, link, visit uuid.UUID) (tree.Hand, error) {
	l, err := links.LinkByID(ctx, q, link)
	if err != nil {
		return nil, err
	}
	v, err := VisitByID(ctx, q, visit)
	return s.Hand(l, v), err
}
