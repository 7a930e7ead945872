package uploads

import (
	"context"

	"tabularis/core/items"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Bringer is whoever brings content in: a person by what they may do in a
// folder, or a visitor through a link that takes papers in. It is asked anew at
// every step, since what may be done can end in between.
type Bringer interface {
	// Into returns the folder that content is brought into, as long as it may be.
	Into(ctx context.Context, q postgres.Q, folder uuid.UUID) (items.Item, error)
	// Takes refuses what may not be brought, within the act that announces it.
	Takes(ctx context.Context, q postgres.Q, w Wish) error
	// Sign writes down whose an upload is, and Owns tells it again.
	Sign(u *Upload)
	Owns(ctx context.Context, u Upload) bool
	// For is the person on whose behalf a document is added.
	For() uuid.UUID
	// Apart says that nothing ever becomes a version of something by itself.
	Apart() bool
	// Sees is what the bringer sees, and MayChange refuses a document that they may
	// not change.
	Sees() guard.Seer
	MayChange(ctx context.Context, q postgres.Q, there items.Item) error
	// Revised tells of a version that was added, within the same act.
	Revised(ctx context.Context, tx *act.Tx, u Upload, to items.Item) error
	// Placed tells of a document that was added, within the same act.
	Placed(ctx context.Context, tx *act.Tx, u Upload, made items.Item, kind string) error
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
	return person{s.Access, s.Acts, p.ID}, nil
}

// person brings content in by their access.
type person struct {
	access *guard.Guard
	acts   *act.Runner
	id     uuid.UUID
}

func (p person) Into(ctx context.Context, q postgres.Q, folder uuid.UUID) (items.Item, error) {
	sight, err := p.access.Kind(ctx, q, folder, items.Folder, access.Add, p.acts.Now())
	return sight.Item, err
}

func (p person) Takes(context.Context, postgres.Q, Wish) error { return nil }
func (p person) Sign(u *Upload)                                { u.PersonID = &p.id }
func (p person) Owns(_ context.Context, u Upload) bool {
	return u.PersonID != nil && *u.PersonID == p.id
}
func (p person) For() uuid.UUID { return p.id }
func (p person) Apart() bool    { return false }

func (p person) Sees() guard.Seer { return p.access.Sees(p.acts.Now()) }

func (p person) MayChange(ctx context.Context, q postgres.Q, there items.Item) error {
	_, err := p.access.Item(ctx, q, there.ID, access.Change, p.acts.Now())
	return err
}

func (p person) Revised(ctx context.Context, tx *act.Tx, u Upload, to items.Item) error {
	return tx.Record(ctx, act.Event{Kind: "version.added", Dossier: to.DossierID, Item: &to.ID, Version: u.Version, Data: map[string]string{"name": to.Name}})
}

func (p person) Placed(ctx context.Context, tx *act.Tx, _ Upload, made items.Item, kind string) error {
	return tx.Record(ctx, act.Event{Kind: kind, Dossier: made.DossierID, Item: &made.ID, Version: 1, Data: map[string]string{"name": made.Name}})
}
