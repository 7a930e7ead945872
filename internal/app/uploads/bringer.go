package uploads

import (
	"context"

	tree "tabularis/internal/app/items"

	"tabularis/core/items"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
)

// Bringer is whoever brings content in: a person by what they may do in a
// folder, or a visitor through a link that takes papers in. It is asked anew at
// every step, since what may be done can end in between.
type Bringer interface {
	tree.Hand
	// Takes refuses what may not be brought, within the act that announces it.
	Takes(ctx context.Context, q postgres.Q, w Wish) error
	// Sign writes down whose an upload is, and Owns tells it again.
	Sign(u *Upload)
	Owns(ctx context.Context, u Upload) bool
	// Apart says that nothing ever becomes a version of something by itself.
	Apart() bool
	// Placed notes a document that was added, within the same act.
	Placed(ctx context.Context, tx *act.Tx, u Upload, made items.Item) error
}

type bringerKey struct{}

// By returns a context in which a visitor brings content in.
func By(ctx context.Context, b Bringer) context.Context {
	return context.WithValue(ctx, bringerKey{}, b)
}

// Visiting reports whether a visitor brings something in.
func Visiting(ctx context.Context) bool { return ctx.Value(bringerKey{}) != nil }

func (s *Service) bringer(ctx context.Context) (Bringer, error) {
	if b, ok := ctx.Value(bringerKey{}).(Bringer); ok {
		return b, nil
	}
	p := act.Who(ctx).Person
	if p == nil {
		return nil, fault.SignedOut()
	}
	return person{tree.Person(s.Access, s.Acts.Now, p.ID), p.ID}, nil
}

// person brings content in by their access.
type person struct {
	tree.Hand
	id uuid.UUID
}

func (p person) Takes(context.Context, postgres.Q, Wish) error { return nil }
func (p person) Sign(u *Upload)                                { u.PersonID = &p.id }
func (p person) Owns(_ context.Context, u Upload) bool {
	return u.PersonID != nil && *u.PersonID == p.id
}
func (p person) Apart() bool { return false }

// Placed has nothing to note: the document itself says it all.
func (p person) Placed(context.Context, *act.Tx, Upload, items.Item) error { return nil }
