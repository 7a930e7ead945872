// Package checkout lets people take documents in hand: one at a time works on one, and
// everybody sees who.
package checkout

import (
	"context"
	"errors"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/checkout"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/register"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/notices"
	"tabularis/internal/platform/lease"
	"tabularis/internal/platform/postgres"
)

// Service lets documents be taken in hand.
type Service struct {
	Acts   *act.Runner
	Access *guard.Guard
}

const (
	maxItems  = 1000
	maxReason = 300
)

// Bars stops changes of a document that somebody has in hand; see core/checkout.
func Bars(ctx context.Context, q postgres.Q, i items.Item) ([]items.Bar, error) {
	if i.Kind != items.Document {
		return nil, nil
	}
	by, err := Of(ctx, q, []uuid.UUID{i.ID})
	h, ok := by[i.ID]
	if err != nil || !ok {
		return nil, err
	}
	me := act.Who(ctx).Person
	return checkout.Bars(h.Holder, me != nil && me.ID == h.PersonID), nil
}

// Within stops that a folder is deleted in which somebody has something in hand.
func Within(ctx context.Context, q postgres.Q, folder items.Item) ([]items.Bar, error) {
	any, err := anyWithin(ctx, q, folder.ID)
	if err != nil || !any {
		return nil, err
	}
	return []items.Bar{{Refused: checkout.HeldWithin()}}, nil
}

// Take takes documents in hand, all of them or none; of those that the acting person has
// already it changes the terms. Refused is what somebody else has, and what the person
// may not change.
func (s *Service) Take(ctx context.Context, documents []uuid.UUID, t checkout.Terms) error {
	if len(documents) == 0 || len(documents) > maxItems {
		return fault.ItemsCount.In("items", "choose between 1 and %d items", maxItems)
	}
	t, err := checkout.Check(t, s.Acts.Now())
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		for _, id := range guard.Sorted(documents) {
			if err := s.take(ctx, tx, id, t); err != nil {
				return err
			}
		}
		return nil
	})
}

func (s *Service) take(ctx context.Context, tx *act.Tx, document uuid.UUID, t checkout.Terms) error {
	sight, h, err := s.find(ctx, tx, document, access.Change)
	if err != nil {
		return err
	}
	me := tx.Actor.Person
	switch {
	case h == nil:
	case h.PersonID != me.ID:
		return checkout.Held(h.Holder)
	default:
		h.Note, h.Back, h.Keeps = t.Note, t.Back, t.Keeps
		if err := change(ctx, tx, *h); err != nil {
			return err
		}
		return s.tell(ctx, tx, sight, events.DocumentCheckedOut, holding(sight, t))
	}
	l, err := lease.TakeIn(ctx, tx, tx.Now, lease.Wish{Name: "/items/" + document.String(), Holder: me.ID.String(), Note: t.Note, For: -1})
	var other *lease.HeldError
	if errors.As(err, &other) {
		return checkout.Held(other.By.Holder)
	}
	if err != nil {
		return err
	}
	taken := Held{ItemID: document, Lease: l.Token, PersonID: me.ID, Since: tx.Now, Note: t.Note, Back: t.Back, Keeps: t.Keeps, Version: sight.Item.Version}
	if err := put(ctx, tx, taken); err != nil {
		return err
	}
	if err := dropBroken(ctx, tx, document, me.ID); err != nil {
		return err
	}
	return s.tell(ctx, tx, sight, events.DocumentCheckedOut, holding(sight, t))
}

func holding(sight guard.Sight, t checkout.Terms) events.Holding {
	h := events.Holding{Name: sight.Item.Name, Note: t.Note}
	if t.Back != nil {
		h.Until = t.Back.Format(time.RFC3339)
	}
	return h
}

// find finds a document with who has it in hand, and holds its dossier's row.
func (s *Service) find(ctx context.Context, tx *act.Tx, document uuid.UUID, need access.Caps) (guard.Sight, *Held, error) {
	sight, err := tree.HoldDocument(ctx, tx, s.Access, document, need)
	if err != nil {
		return sight, nil, err
	}
	by, err := Of(ctx, tx, []uuid.UUID{document})
	if h, ok := by[document]; ok {
		return sight, &h, err
	}
	return sight, nil, err
}

func (s *Service) tell(ctx context.Context, tx *act.Tx, sight guard.Sight, what events.Of[events.Holding], data events.Holding) error {
	return tx.Record(ctx, act.Event{What: what.With(data), Dossier: sight.DossierID, Item: &sight.ID, Version: sight.Item.Version})
}

// way is the page on which a document stands.
func way(sight guard.Sight) string {
	return "/d/" + sight.Ref()
}

// GiveBack lets go of a document that the acting person has in hand. Those who wait for
// it are told.
func (s *Service) GiveBack(ctx context.Context, document uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		sight, h, err := s.find(ctx, tx, document, access.See)
		if err != nil {
			return err
		}
		if h == nil || h.PersonID != tx.Actor.Person.ID {
			return errNotHeld.New("you do not have it in hand")
		}
		if err := s.free(ctx, tx, sight, *h); err != nil {
			return err
		}
		return s.tell(ctx, tx, sight, events.DocumentCheckedIn, events.Holding{Name: sight.Item.Name})
	})
}

// free lets go of a document, and tells those who wait for it and can still see it.
func (s *Service) free(ctx context.Context, tx *act.Tx, sight guard.Sight, h Held) error {
	waiting, err := waiting(ctx, tx, sight.ID)
	if err != nil {
		return err
	}
	if err := lease.DropIn(ctx, tx, tx.Now, h.Lease); err != nil {
		return err
	}
	if len(waiting) == 0 {
		return nil
	}
	f, c, err := s.Access.Dossier(ctx, tx, sight.DossierID)
	if err != nil {
		return err
	}
	for _, person := range waiting {
		if !f.Decide(access.ID(sight.Root), c.Subjects(access.ID(person)), tx.Now).Caps.Has(access.See) {
			continue
		}
		if err := notices.Add(ctx, tx, person, notices.Free, sight.Item.Name, way(sight)); err != nil {
			return err
		}
	}
	return nil
}

// TakeBack takes a document out of its holder's hand, for whoever manages it, with a
// reason that the holder is told.
func (s *Service) TakeBack(ctx context.Context, document uuid.UUID, reason string) error {
	reason, err := names.Line("reason", reason, maxReason)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		sight, h, err := s.find(ctx, tx, document, access.Manage)
		if err != nil {
			return err
		}
		if reason == "" {
			return errReason.In("reason", "say why, the holder is told")
		}
		if h == nil {
			return errNotHeld.New("nobody has it in hand")
		}
		if err := s.free(ctx, tx, sight, *h); err != nil {
			return err
		}
		if err := putBroken(ctx, tx, document, h.PersonID, sight.Item.Version, tx.Now); err != nil {
			return err
		}
		if err := notices.Add(ctx, tx, h.PersonID, notices.TakenBack, fmt.Sprintf("%s: %s", sight.Item.Name, reason), way(sight)); err != nil {
			return err
		}
		return s.tell(ctx, tx, sight, events.DocumentTakenBack, events.Holding{Name: sight.Item.Name, Person: h.Holder, Note: reason})
	})
}

// Wait lets the acting person be told when a document is free.
func (s *Service) Wait(ctx context.Context, document uuid.UUID) error {
	return s.withHeld(ctx, document, func(tx *act.Tx, _ guard.Sight, h Held) error {
		return addWait(ctx, tx, h.ItemID, tx.Actor.Person.ID)
	})
}

// Ask asks the holder for a document.
func (s *Service) Ask(ctx context.Context, document uuid.UUID) error {
	return s.withHeld(ctx, document, func(tx *act.Tx, sight guard.Sight, h Held) error {
		return notices.Once(ctx, tx, h.PersonID, notices.Wanted, sight.Item.Name, way(sight))
	})
}

func (s *Service) withHeld(ctx context.Context, document uuid.UUID, fn func(tx *act.Tx, sight guard.Sight, h Held) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		sight, h, err := s.find(ctx, tx, document, access.See)
		if err != nil {
			return err
		}
		if h == nil || h.PersonID == tx.Actor.Person.ID {
			return errNotHeld.New("nobody else has it in hand")
		}
		return fn(tx, sight, *h)
	})
}

// Mine is a document that the acting person has in hand.
type Mine struct {
	Held
	items.Item
	Code string
}

// Ref is its register number.
func (m Mine) Ref() string { return register.Ref{Code: m.Code, Number: *m.Number}.String() }

// Mine lists what the acting person has in hand and can still see, the longest first.
func (s *Service) Mine(ctx context.Context) (out []Mine, err error) {
	all, err := heldBy(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
	for _, h := range all {
		sight, err := s.Access.Item(ctx, s.Acts.DB, h.ItemID, access.See, s.Acts.Now())
		if fault.Is(err, fault.NotFound) {
			continue
		}
		if err != nil {
			return nil, err
		}
		out = append(out, Mine{h, sight.Item, sight.Code})
	}
	return out, err
}
