package writing

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/richtext"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/visits"
	"tabularis/internal/platform/postgres"
)

// pen is whoever writes: somebody with an account, or a visitor in their visit.
type pen struct {
	id   uuid.UUID
	name string
	// guest says that they are from outside, link by which one they came.
	guest bool
	link  *uuid.UUID
}

type visitorKey struct{}

// By returns a context in which a visitor writes what their working link gives. What is decided stands against them.
func By(ctx context.Context, v visits.Visitor) context.Context {
	return context.WithValue(tree.Upholding(ctx), visitorKey{}, v)
}

func visitorOf(ctx context.Context) (v visits.Visitor, is bool) {
	v, is = ctx.Value(visitorKey{}).(visits.Visitor)
	return v, is
}

// visiting says what a visitor may do with a document's text: write it, as far as its folder was given them for that.
func (s *Service) visiting(ctx context.Context, v visits.Visitor, document uuid.UUID) (at standing, err error) {
	_, visit, given, err := s.Visits.Writing(ctx, s.Acts.DB, v, document)
	if err != nil {
		return at, err
	}
	if _, err := craftOf(given.MediaType); err != nil {
		return at, err
	}
	at.Item, at.Mode, at.speaks = given.Item, richtext.Write, true
	at.pen = pen{id: visit.ID, name: visit.Called(), guest: true, link: &visit.LinkID}
	if at.Barred = s.Items.MayRevise(ctx, s.Acts.DB, at.Item); at.Barred == nil && given.InHand {
		at.Barred = fault.Refused("write in this")
	}
	err = at.bar()
	return at, err
}

// account says what the acting person may do with a document's text. Whoever may only look at its pages may not read it
// here.
func (s *Service) account(ctx context.Context, document uuid.UUID) (at standing, err error) {
	if at.Sight, err = s.Access.Kind(ctx, s.Acts.DB, document, items.Document, access.Download, s.Acts.Now()); err != nil {
		return at, err
	}
	who := act.Who(ctx).Person
	at.pen = pen{id: who.ID, name: who.Name, guest: !who.Inside()}
	kind, err := craftOf(at.Item.MediaType)
	if err != nil {
		return at, err
	}
	at.Mode, at.supersedes, at.speaks = modeOf(at.Caps), tree.Supersedes(ctx), at.Caps.Has(access.Remark)
	if _, isTable := kind.(tables); isTable && at.Mode != richtext.Write {
		at.Mode = richtext.Look // Nothing is proposed in a table, and it has no fields.
	}
	if at.Mode != richtext.Look {
		at.Barred = s.Items.MayRevise(ctx, s.Acts.DB, at.Item)
	}
	err = at.bar()
	return at, err
}

// bar lets nobody write where nobody may now; what went wrong while that was asked is an error.
func (at *standing) bar() error {
	if at.Barred == nil {
		return nil
	}
	if fault.Of(at.Barred).Kind == fault.Internal {
		return at.Barred
	}
	at.Mode = richtext.Look
	return nil
}

// author is whoever wrote last: in whose name a version is made.
type author struct {
	id     uuid.UUID
	person *accounts.Person
	visit  tree.Hand
}

// authorOf finds whoever wrote last, for a version that is made when everybody has left.
func (s *Service) authorOf(ctx context.Context, q postgres.Q, r row) (a author, err error) {
	if r.LastBy == nil {
		return a, fault.Missing()
	}
	p, err := accounts.PersonByID(ctx, q, *r.LastBy)
	if err == nil {
		return author{id: p.ID, person: &p}, nil
	}
	if !fault.Is(err, fault.NotFound) {
		return a, err
	}
	out, err := outsiderByID(ctx, q, r.DocumentID, *r.LastBy)
	if err != nil {
		return a, err
	}
	a.id = out.VisitID
	a.visit, err = s.Visits.HandOf(ctx, q, out.LinkID, out.VisitID)
	return a, err
}

// hand is the hand of whoever wrote last: when they did, they might.
func (a author) hand(g *guard.Guard, tx *act.Tx) tree.Hand {
	if a.visit != nil {
		return scribe{a.visit}
	}
	return scribe{tree.Person(g, func() time.Time { return tx.Now }, a.person.ID)}
}
