package sharing

import (
	"context"
	"strings"

	"tabularis/core/items"
	tree "tabularis/internal/app/items"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/notices"
)

// Ask asks to be let in where an address leads. The answer is always the same:
// it does not tell whether there is anything. Only colleagues ask.
func (s *Service) Ask(ctx context.Context, item uuid.UUID, message string) error {
	if len(message) > maxMessage {
		return fault.MessageLong.In("message", "a message has at most %d characters", maxMessage)
	}
	if !act.Who(ctx).Person.Inside() {
		return fault.Missing()
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		_, err := s.Access.Item(ctx, tx, item, access.See, tx.Now)
		if !fault.Is(err, fault.NotFound) {
			return err
		}
		wanted, err := tree.ItemByID(ctx, tx, item)
		if err != nil {
			if fault.Is(err, fault.NotFound) {
				return nil
			}
			return err
		}
		isNew, err := AddRequest(ctx, tx, Request{ID: uuid.Must(uuid.NewV7()), PersonID: tx.Actor.Person.ID, ItemID: item, Message: strings.TrimSpace(message), At: tx.Now})
		if err != nil || !isNew {
			return err
		}
		return s.tellManagers(ctx, tx, wanted)
	})
}

// tellManagers tells those who can answer that somebody asks.
func (s *Service) tellManagers(ctx context.Context, tx *act.Tx, wanted items.Item) error {
	managers, err := s.Access.Managers(ctx, tx, wanted.DossierID, tx.Now)
	if err != nil {
		return err
	}
	for _, m := range managers {
		if err := notices.Add(ctx, tx, m, notices.Asked, wanted.Name, "/today"); err != nil {
			return err
		}
	}
	return nil
}

// Requests lists who asks to be let in where the acting person may decide.
func (s *Service) Requests(ctx context.Context) ([]Request, error) {
	now := s.Acts.Now()
	v, err := s.Access.Mine(ctx, now)
	if err != nil {
		return nil, err
	}
	all, err := OpenRequests(ctx, s.Acts.DB, v.Readable().Dossiers)
	if err != nil {
		return nil, err
	}
	var out []Request
	for _, r := range all {
		if v.May(r.Root, r.Dossier, now).Caps.Has(access.Manage) {
			out = append(out, r)
		}
	}
	return out, nil
}

// Answer lets somebody in who asked, or not.
func (s *Service) Answer(ctx context.Context, id uuid.UUID, t *Terms) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, err := RequestByID(ctx, tx, id)
		if err != nil {
			return err
		}
		if _, err := s.Access.Item(ctx, tx, r.ItemID, access.Manage, tx.Now); err != nil {
			return err
		}
		if err := AnswerRequest(ctx, tx, id, tx.Actor.Person.ID, t != nil, tx.Now); err != nil {
			return err
		}
		if t == nil {
			// Whoever asked learns nothing of what they asked for.
			return notices.Add(ctx, tx, r.PersonID, notices.NotLetIn, "", "")
		}
		return s.GiveIn(ctx, tx, Wish{Items: []uuid.UUID{r.ItemID}, To: []Recipient{{Kind: access.Person, ID: r.PersonID}}, Terms: *t})
	})
}
