package decisions

import (
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/route"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/practice"
	"tabularis/internal/platform/secret"
)

// Decision is what somebody decides, on which content, after having seen which pages of how many.
type Decision struct {
	Verdict route.Verdict
	Content route.Content
	Note    string
	Again   route.Again
	Pages   []int
	Of      int
}

// mostPages is how many page numbers are noted.
const mostPages = 5000

func (d Decision) said(person uuid.UUID) route.Said {
	d.Pages = slices.Clone(d.Pages)
	slices.Sort(d.Pages)
	d.Pages = slices.DeleteFunc(slices.Compact(d.Pages), func(n int) bool { return n < 1 || d.Of > 0 && n > d.Of })
	return route.Said{Person: person, Verdict: d.Verdict, Content: route.Content{Version: d.Content.Version, SHA256: strings.ToLower(d.Content.SHA256)}, Note: d.Note, Pages: d.Pages, Of: d.Of}
}

// Decide takes the acting person's decision in a run.
func (s *Service) Decide(ctx context.Context, run uuid.UUID, d Decision) error {
	if len(d.Pages) > mostPages || d.Of < 0 || d.Of > mostPages {
		return errWord.In("pages", "name at most %d pages", mostPages)
	}
	return s.change(ctx, run, func(tx *act.Tx, t *travel) error { return t.Decide(d.said(tx.Actor.Person.ID), d.Again) })
}

// change changes a run that the acting person may know of. Whoever cannot open the document any more
// finds nothing.
func (s *Service) change(ctx context.Context, run uuid.UUID, fn func(tx *act.Tx, t *travel) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if tx.Actor.Person == nil {
			return fault.SignedOut()
		}
		t, err := s.take(ctx, tx, run)
		if err != nil {
			return err
		}
		if _, err := s.knows(ctx, tx, t.row, t.Run); err != nil {
			return err
		}
		if err := fn(tx, t); err != nil {
			return err
		}
		return s.settle(ctx, tx, t)
	})
}

// TakeBack takes the acting person's decision back while what comes next has not begun.
func (s *Service) TakeBack(ctx context.Context, run uuid.UUID) error {
	return s.change(ctx, run, func(tx *act.Tx, t *travel) error { return t.TakeBack(tx.Actor.Person.ID) })
}

// Question asks something without deciding, for whoever knows of the run.
func (s *Service) Question(ctx context.Context, run uuid.UUID, note string) error {
	return s.change(ctx, run, func(tx *act.Tx, t *travel) error { return t.Question(tx.Actor.Person.ID, note) })
}

// HandIn hands a returned document in again, for whoever has it back, and those who look after the run.
func (s *Service) HandIn(ctx context.Context, run uuid.UUID, note string) error {
	return s.change(ctx, run, func(tx *act.Tx, t *travel) error {
		me := tx.Actor.Person.ID
		if t.Run.Back == nil || t.Run.Back.To != me {
			if err := s.looksAfter(ctx, tx, t); err != nil {
				return err
			}
		}
		return t.HandIn(&me, note)
	})
}

// HandOn lets somebody else decide: in the acting person's place, or, by those who look after the run, in
// anybody's, or where nobody was there to be asked.
func (s *Service) HandOn(ctx context.Context, run uuid.UUID, from *uuid.UUID, to uuid.UUID, note string) error {
	known, err := s.Known(ctx)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(known, func(p accounts.Person) bool { return p.ID == to }) {
		return route.ErrHandTo.In("to", "there is nobody like that")
	}
	return s.change(ctx, run, func(tx *act.Tx, t *travel) error {
		me := tx.Actor.Person.ID
		if from == nil || *from != me {
			if err := s.looksAfter(ctx, tx, t); err != nil {
				return err
			}
		}
		return t.HandOn(from, to, me, note)
	})
}

// Repeat tries again what holds a run up, for those who look after it.
func (s *Service) Repeat(ctx context.Context, run uuid.UUID) error {
	return s.lookedAfter(ctx, run, func(t *travel, me uuid.UUID) error { return t.Repeat(me) })
}

// Skip passes a stop over, with a reason, for those who look after the run.
func (s *Service) Skip(ctx context.Context, run uuid.UUID, note string) error {
	return s.lookedAfter(ctx, run, func(t *travel, me uuid.UUID) error { return t.Skip(me, note) })
}

func (s *Service) lookedAfter(ctx context.Context, run uuid.UUID, fn func(t *travel, me uuid.UUID) error) error {
	return s.change(ctx, run, func(tx *act.Tx, t *travel) error {
		if err := s.looksAfter(ctx, tx, t); err != nil {
			return err
		}
		return fn(t, tx.Actor.Person.ID)
	})
}

// CallOff ends a run, with a reason: for whoever asked for it, those who look after it, and those whom
// its route names.
func (s *Service) CallOff(ctx context.Context, run uuid.UUID, note string) error {
	return s.change(ctx, run, func(tx *act.Tx, t *travel) error {
		me := tx.Actor.Person.ID
		if t.Run.Starter != me && !slices.Contains(t.Resolve(t.Definition.CallOff), me) {
			if err := s.looksAfter(ctx, tx, t); err != nil {
				return err
			}
		}
		return t.CallOff(me, note)
	})
}

// looksAfter refuses whoever does not manage the document. What was asked by hand, whoever asked looks
// after, too.
func (s *Service) looksAfter(ctx context.Context, tx *act.Tx, t *travel) error {
	if t.edition.RouteID == nil && t.Run.Starter == tx.Actor.Person.ID {
		return nil
	}
	sight, err := s.Access.Item(ctx, tx, t.ItemID, 0, tx.Now)
	if err != nil {
		return err
	}
	if !sight.Caps.Has(access.Manage) {
		return fault.Refused("change how the run goes on")
	}
	return nil
}

// Way is what whoever holds a way from a mail may know: what is to be decided, and what was said before.
type Way struct {
	Shown
	Person accounts.Person
}

// ByWay shows what a way from a mail leads to. Looking decides nothing, and uses nothing up.
func (s *Service) ByWay(ctx context.Context, token string) (w Way, err error) {
	return w, s.byWay(ctx, token, false, func(ctx context.Context, tx *act.Tx, held way, person accounts.Person) error {
		w.Person = person
		w.Shown, err = s.one(ctx, tx, held.RunID)
		return err
	})
}

// DecideByWay decides by a way from a mail, which then leads nowhere.
func (s *Service) DecideByWay(ctx context.Context, token string, d Decision) error {
	return s.byWay(ctx, token, true, func(ctx context.Context, tx *act.Tx, held way, _ accounts.Person) error {
		d.Pages, d.Of = nil, 0
		if err := s.Decide(act.Within(ctx, tx), held.RunID, d); err != nil {
			return err
		}
		return useWay(ctx, tx, secret.Hash(token), tx.Now)
	})
}

// byWay acts for the person to whom a way was sent, while they are still asked there.
func (s *Service) byWay(ctx context.Context, token string, hold bool, fn func(ctx context.Context, tx *act.Tx, held way, person accounts.Person) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		held, err := wayOf(ctx, tx, secret.Hash(token), hold)
		if err != nil {
			return err
		}
		person, err := accounts.PersonByID(ctx, tx, held.PersonID)
		if err != nil {
			return err
		}
		p, err := practice.ThePractice(ctx, tx)
		if err != nil {
			return err
		}
		if held.UsedAt != nil || !held.EndsAt.After(tx.Now) || person.DeactivatedAt != nil || !p.DecidesByMail {
			return errWay.New("the way was used, or is over")
		}
		who := act.Who(ctx)
		who.Person, who.Language = &person, person.Language
		tx.Actor = who
		ctx = act.As(ctx, who)
		t, err := s.take(ctx, tx, held.RunID)
		if err != nil {
			return err
		}
		if t.Run.Visit != held.Visit || !slices.ContainsFunc(t.Run.Waiting(), func(a route.Asked) bool { return a.Person == person.ID }) {
			return errWay.New("what is decided there is decided, or has changed")
		}
		return fn(ctx, tx, held, person)
	})
}
