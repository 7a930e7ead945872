package items

import (
	"context"
	"encoding/hex"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// Service changes items. Every change goes the same way, within one act: who may
// (a Hand) → whether it may be at all (the gate of core/items) → the change → its
// event → what follows.
type Service struct {
	Access *guard.Guard
	// Bars tell what stands on an item and stops changes. A capability that can stop
	// them adds to it when the server is put together.
	Bars []func(ctx context.Context, q postgres.Q, i items.Item) ([]items.Bar, error)
	// Within tell what stands on the documents in a folder and stops that they are deleted
	// with it.
	Within []func(ctx context.Context, q postgres.Q, folder items.Item) ([]items.Bar, error)
	// Follow is what follows a change within its act: content is looked through,
	// links go along. A capability adds to it when the server is put together.
	Follow []func(ctx context.Context, tx *act.Tx, c Change) error
}

// Change is what has become of an item.
type Change struct {
	Operation items.Operation
	// Item is as it is now. Of a document that was added or revised, Version is the
	// version that counts now.
	Item    items.Item
	Version items.Version
	// Apart says that a document was kept apart from the one of its name.
	Apart bool
	// From is the dossier that a moved item came from.
	From uuid.UUID
	// Deletion is with which an item was deleted or came back; Links says that links give
	// it again.
	Deletion uuid.UUID
	Links    bool
}

// Hand is by whom items are changed: a person by their access, a visitor through a
// link. It is asked anew at every step, since what may be done can end in between.
type Hand interface {
	// Into returns a folder into which something may be added.
	Into(ctx context.Context, q postgres.Q, folder uuid.UUID) (items.Item, error)
	// MayChange refuses an item that may not be changed.
	MayChange(ctx context.Context, q postgres.Q, there items.Item) error
	// Sees is what is seen: a name that is not seen is as good as a free one.
	Sees() guard.Seer
	// Owner is the person on whose behalf something is added.
	Owner() uuid.UUID
	// Actor is who or what made a version.
	Actor() events.Actor
	// Record tells of a change.
	Record(ctx context.Context, tx *act.Tx, c Change) error
}

// person changes items by their access.
type person struct {
	access *guard.Guard
	now    func() time.Time
	id     uuid.UUID
}

// Person is the hand of a person.
func Person(a *guard.Guard, now func() time.Time, id uuid.UUID) Hand { return person{a, now, id} }

func (p person) Into(ctx context.Context, q postgres.Q, folder uuid.UUID) (items.Item, error) {
	sight, err := p.access.Kind(ctx, q, folder, items.Folder, access.Add, p.now())
	return sight.Item, err
}

func (p person) MayChange(ctx context.Context, q postgres.Q, there items.Item) error {
	_, err := p.access.Item(ctx, q, there.ID, access.Change, p.now())
	return err
}

func (p person) Sees() guard.Seer    { return p.access.Sees(p.now()) }
func (p person) Owner() uuid.UUID    { return p.id }
func (p person) Actor() events.Actor { return events.Person(p.id) }

func (p person) Record(ctx context.Context, tx *act.Tx, c Change) error {
	arriving := events.Arriving{Name: c.Item.Name, SHA256: hex.EncodeToString(c.Version.SHA256)}
	what := events.DocumentAdded.With(arriving)
	switch {
	case c.Operation == items.Revising:
		return p.recordRevised(ctx, tx, c)
	case c.Item.Kind == items.Folder:
		what = events.FolderMade.With(events.Name{Name: c.Item.Name})
	case c.Apart:
		what = events.DocumentApart.With(arriving)
	}
	return tx.Record(ctx, act.Event{What: what, Dossier: c.Item.DossierID, Item: &c.Item.ID, Version: c.Version.Number})
}

func (p person) recordRevised(ctx context.Context, tx *act.Tx, c Change) error {
	what, data := events.VersionAdded, events.Versioning{Name: c.Item.Name, Note: c.Version.Note, SHA256: hex.EncodeToString(c.Version.SHA256)}
	if c.Version.BackFrom != nil {
		what, data.From = events.VersionBroughtBack, *c.Version.BackFrom
	}
	return tx.Record(ctx, act.Event{What: what.With(data), Dossier: c.Item.DossierID, Item: &c.Item.ID, Version: c.Version.Number})
}

// allow asks the gate, with what stands on the item.
func (s *Service) allow(ctx context.Context, q postgres.Q, op items.Operation, i items.Item) error {
	var bars []items.Bar
	for _, standing := range s.Bars {
		found, err := standing(ctx, q, i)
		if err != nil {
			return err
		}
		bars = append(bars, found...)
	}
	return items.Allow(op, items.StateOf(i, bars))
}

// done tells of a change by whoever made it, and lets follow what follows.
func (s *Service) done(ctx context.Context, tx *act.Tx, by Hand, c Change) error {
	if err := by.Record(ctx, tx, c); err != nil {
		return err
	}
	return s.follow(ctx, tx, c)
}

func (s *Service) follow(ctx context.Context, tx *act.Tx, c Change) error {
	for _, next := range s.Follow {
		if err := next(ctx, tx, c); err != nil {
			return err
		}
	}
	return nil
}

// signedIn is the hand of the acting person.
func (s *Service) signedIn(tx *act.Tx) (Hand, error) {
	if tx.Actor.Person == nil {
		return nil, fault.SignedOut()
	}
	return Person(s.Access, func() time.Time { return tx.Now }, tx.Actor.Person.ID), nil
}
