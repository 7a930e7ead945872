package signing

import (
	"bytes"
	"context"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/signing"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// short is a name as long as a link's may be.
func short(s string) string {
	if r := []rune(s); len(r) > 120 {
		return string(r[:119]) + "…"
	}
	return s
}

// travel is a request within an act, that nobody else takes on meanwhile.
type travel struct {
	row
	*signing.Machine
	at    guard.Located
	seats []seat
	// hash is that of the password which is told separately.
	hash string
	// was is the request before the act.
	was signing.Request
}

// take holds a request with its document's dossier.
func (s *Service) take(ctx context.Context, tx *act.Tx, id uuid.UUID) (*travel, error) {
	r, err := rowOf(ctx, tx, id, false)
	if err != nil {
		return nil, err
	}
	at, _, err := guard.SightAnywhere(ctx, tx, r.ItemID, tx.Now)
	if err != nil {
		return nil, err
	}
	if err := tree.LockDossier(ctx, tx, at.DossierID); err != nil {
		return nil, err
	}
	if r, err = rowOf(ctx, tx, id, true); err != nil {
		return nil, err
	}
	if at, _, err = guard.SightAnywhere(ctx, tx, r.ItemID, tx.Now); err != nil {
		return nil, err
	}
	t := &travel{row: r, at: at, Machine: &signing.Machine{Now: tx.Now}}
	if t.seats, err = seatsOf(ctx, tx, id); err != nil {
		return nil, err
	}
	had, err := eventsOf(ctx, tx, s.Keys, r)
	if err != nil {
		return nil, err
	}
	t.Request = signing.Replay(had)
	t.was = t.Request
	return t, nil
}

// settle keeps what has become of a request: its events, who waits, the document's state, and what follows; and tells
// those whom it concerns.
func (s *Service) settle(ctx context.Context, tx *act.Tx, t *travel) error {
	if len(t.Events) == 0 {
		return nil
	}
	from := t.Seq
	t.Seq += len(t.Events)
	r := t.Request
	t.Status, t.Since, t.Until, t.WakeAt = r.Status, r.Since, r.Until, r.Wake()
	if !r.Status.Alive() {
		t.EndedAt = &r.EndedAt
	}
	if err := keep(ctx, tx, s.Keys, t.row, from, t.Events); err != nil {
		return err
	}
	if err := s.seated(ctx, tx, t); err != nil {
		return err
	}
	for _, e := range t.Events {
		if e.Kind == signing.EvSigned && (r.Status == signing.Sealing || r.Plan.Each) {
			if err := tx.Enqueue(ctx, jobs.SealPaper{Signing: t.ID}); err != nil {
				return err
			}
			break
		}
	}
	return s.tell(ctx, tx, t)
}

// seated keeps who the parties are now; whoever came anew gets a way in, and ways that lead nowhere end.
func (s *Service) seated(ctx context.Context, tx *act.Tx, t *travel) error {
	for i, p := range t.Request.Plan.Parties {
		st := t.Request.Parties[i]
		one := &t.seats[i]
		one.SigningID, one.Party, one.Name, one.Waits, one.Done = t.ID, i, p.Name, st.Turn, st.Signed != nil
		changed := i >= len(t.was.Plan.Parties) || t.was.Plan.Parties[i].Email != p.Email || t.was.Plan.Parties[i].Known != p.Known
		over := !t.Request.Status.Alive()
		if one.LinkID != nil && (changed || over) {
			if err := s.Links.EndIn(ctx, tx, *one.LinkID); err != nil {
				return err
			}
			one.LinkID = nil
		}
		if changed || over && t.Request.Status != signing.Finished {
			// What somebody brought before them, or for nothing, is not kept.
			if err := dropPapers(ctx, tx, t.ID, i); err != nil {
				return err
			}
		}
		if changed {
			one.Kept = nil
		}
		if one.PersonID = p.Person; p.Person == nil && one.LinkID == nil && !over {
			if err := s.seatOutside(ctx, tx, t, one, p); err != nil {
				return err
			}
		}
		if one.Done || over {
			one.Kept = nil
		}
		if err := keepSeat(ctx, tx, *one); err != nil {
			return err
		}
	}
	return nil
}

// seatOutside makes a way in by the rights of whoever sent the paper.
func (s *Service) seatOutside(ctx context.Context, tx *act.Tx, t *travel, one *seat, p signing.Party) error {
	return s.asSender(ctx, tx, t, func(ctx context.Context) error {
		l, err := s.wayIn(ctx, tx, t, p)
		if err == nil {
			one.LinkID = &l.ID
		}
		return err
	})
}

// asSender does something by the rights of whoever sent the paper, as they are now.
func (s *Service) asSender(ctx context.Context, tx *act.Tx, t *travel, do func(ctx context.Context) error) error {
	was := tx.Actor
	defer func() { tx.Actor = was }()
	if was.Person == nil || was.Person.ID != t.SentBy {
		sender, err := accounts.PersonByID(ctx, tx, t.SentBy)
		if err != nil {
			return err
		}
		tx.Actor = act.Actor{Person: &sender, Language: sender.Language}
	}
	return do(act.Within(ctx, tx))
}

// sealingKey marks a context in which a paper gets what its parties have done.
type sealingKey struct{}

// Bars stop what would change a paper that is with its parties, whoever says that they supersede it; and, unless
// they say so, one that is signed.
func Bars(ctx context.Context, q postgres.Q, i items.Item) ([]items.Bar, error) {
	if i.Kind != items.Document || ctx.Value(sealingKey{}) != nil {
		return nil, nil
	}
	changing := []items.Operation{items.Revising, items.Separating, items.Pruning}
	last, err := lastOf(ctx, q, i.ID)
	switch {
	case fault.Is(err, fault.NotFound):
		return nil, nil
	case err != nil:
		return nil, err
	case last.Open:
		return []items.Bar{{Only: append(changing, items.Deleting), Refused: errWithThem.New("%s is with its parties", i.Name)}}, nil
	case tree.Supersedes(ctx) || !bytes.Equal(last.SHA256, i.SHA256):
		return nil, nil
	}
	return []items.Bar{{Only: changing, Refused: errSealed.New("%s is signed", i.Name)}}, nil
}
