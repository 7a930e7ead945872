// Package links makes, lists, mails and ends secure links, for their senders.
package links

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/secret"
	"tabularis/internal/store"
)

const (
	tokenPurpose = "link"
	usualDays    = 14
	maxOpenings  = 100_000
	minPassword  = 6
)

// Service makes and ends links.
type Service struct {
	Acts      *act.Runner
	Keys      *secret.Keys
	Passwords *secret.Passwords
	// BaseURL is the address under which the practice is reached.
	BaseURL string
}

// Make makes the link. It is good at once.
func (s *Service) Make(ctx context.Context, w Wish) (Shown, error) {
	id := uuid.Must(uuid.NewV7())
	hash := ""
	if w.Password != "" {
		var err error
		if hash, err = s.Passwords.Hash(ctx, w.Password); err != nil {
			return Shown{}, err
		}
	}
	err := s.Acts.Do(ctx, func(tx *act.Tx) error {
		p, err := s.check(ctx, tx, w, tx.Now)
		if err != nil {
			return err
		}
		token := secret.Token()
		l := store.Link{ID: id, Kind: "hand-out", Name: p.name, TokenSHA256: secret.Hash(token), TokenSealed: s.Keys.Seal([]byte(token), tokenPurpose), DossierID: p.items[0].DossierID,
			CreatedBy: tx.Actor.Person.ID, CreatedAt: tx.Now, Until: p.until, OpeningsLimit: w.Openings, PasswordHash: hash, MayDownload: true, Newest: w.Newest, Language: language(w.Language)}
		if err := store.AddLink(ctx, tx, l, itemIDs(p.items)); err != nil {
			return err
		}
		if !w.Newest {
			docs := make([]uuid.UUID, len(p.documents))
			for i, d := range p.documents {
				docs[i] = d.ID
			}
			if err := store.PinVersions(ctx, tx, id, docs); err != nil {
				return err
			}
		}
		return s.tell(ctx, tx, l, p.items, "link.made", map[string]string{"terms": p.sentence(p.voice(tx.Now)).String()})
	})
	if err != nil {
		return Shown{}, err
	}
	return s.One(ctx, id)
}

// tell records an event of a link: on the document, when it is about a single
// one.
func (s *Service) tell(ctx context.Context, tx *act.Tx, l store.Link, items []store.Item, kind string, data map[string]string) error {
	e := act.Event{Kind: kind, Dossier: l.DossierID, Link: &l.ID, Data: data}
	data["link"] = l.Name
	if len(items) == 1 {
		e.Item = &items[0].ID
	}
	return tx.Record(ctx, e)
}

func language(l string) string {
	if l == "de" {
		return "de"
	}
	return "en"
}

func itemIDs(items []store.Item) []uuid.UUID {
	ids := make([]uuid.UUID, len(items))
	for i, it := range items {
		ids[i] = it.ID
	}
	return ids
}

// find returns a link whose dossier the acting person needs the capabilities in.
func (s *Service) find(ctx context.Context, q store.Q, id uuid.UUID, need access.Caps, now time.Time) (store.Link, error) {
	l, err := store.LinkByID(ctx, q, id)
	if err != nil {
		return l, err
	}
	_, err = guard.Item(ctx, q, l.DossierID, need, now)
	return l, err
}

// change runs an act on a link whose dossier the person may share from.
func (s *Service) change(ctx context.Context, id uuid.UUID, fn func(tx *act.Tx, l store.Link, items []store.Item) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		l, err := s.find(ctx, tx, id, access.Share, tx.Now)
		if err != nil {
			return err
		}
		chosen, err := store.LinkItems(ctx, tx, []uuid.UUID{id})
		if err != nil {
			return err
		}
		items := make([]store.Item, len(chosen))
		for i, c := range chosen {
			items[i] = c.Item
		}
		return fn(tx, l, items)
	})
}

// End makes a link dead at once. Ending it again changes nothing.
func (s *Service) End(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l store.Link, items []store.Item) error {
		ended, err := store.EndLink(ctx, tx, id, tx.Actor.Person.ID, tx.Now)
		if err != nil || !ended {
			return err
		}
		return s.tell(ctx, tx, l, items, "link.ended", map[string]string{})
	})
}

// GrantOpening lets one more visit in than the limit said.
func (s *Service) GrantOpening(ctx context.Context, id uuid.UUID) error {
	return s.change(ctx, id, func(tx *act.Tx, l store.Link, items []store.Item) error {
		if l.OpeningsLimit == nil || l.EndedAt != nil {
			return fault.New(fault.Conflict, "no-limit", "the link has ended or has no limit of openings")
		}
		if err := store.AllowOpening(ctx, tx, id); err != nil {
			return err
		}
		return s.tell(ctx, tx, l, items, "link.opening-granted", map[string]string{"limit": fmt.Sprint(*l.OpeningsLimit + 1)})
	})
}
