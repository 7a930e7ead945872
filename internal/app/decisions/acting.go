package decisions

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/route"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/links"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/particulars"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/tags"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/letters"
	"tabularis/internal/platform/postgres"
)

// RunStop does what a stop of a run does by itself: once, in one act with the run's going on. What is
// refused holds the run up, and is repeated by hand.
func (s *Service) RunStop(ctx context.Context, job jobs.RunStop) error {
	err := s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := s.take(ctx, tx, job.Run)
		if err != nil {
			return err
		}
		if t.Run.Visit != job.Visit || !t.doesItself() {
			return s.settle(ctx, tx, t)
		}
		note, err := s.do(ctx, tx, t)
		if err != nil {
			return err
		}
		t.Did(note)
		return s.settle(ctx, tx, t)
	})
	switch {
	case err == nil || fault.Is(err, fault.NotFound) && !s.there(ctx, job.Run):
		return nil
	case postgres.Transient(err) || postgres.Away(err):
		return err
	}
	refused := fault.Of(err)
	return s.look(ctx, job.Run, func(t *travel) {
		if t.Run.Visit == job.Visit && t.doesItself() {
			reason := route.Failed
			if refused.Code == unplaced {
				reason = route.Unplaced
			}
			t.Fail(reason, refused.Code)
		}
	})
}

// there reports whether there still is a run.
func (s *Service) there(ctx context.Context, run uuid.UUID) bool {
	_, err := rowOf(ctx, s.Acts.DB, run, false)
	return err == nil
}

// do does what the stop says, by the rights of whoever placed the route, as they are now.
func (s *Service) do(ctx context.Context, tx *act.Tx, t *travel) (note string, err error) {
	placer, err := accounts.PersonByID(ctx, tx, t.ActsFor)
	if err != nil {
		return "", err
	}
	if placer.DeactivatedAt != nil {
		return "", ErrUnplaced.New("whoever placed the route has left")
	}
	tx.Actor = act.Actor{Person: &placer, Language: placer.Language}
	if t.edition.RouteID != nil {
		tx.Actor.Route = t.Definition.Name
		if err := s.Placed(ctx, tx, *t.edition.RouteID); err != nil {
			return "", err
		}
	}
	in := act.Within(ctx, tx)
	a := t.action()
	switch a.Do {
	case route.SetParticular:
		return "", s.Particulars.Set(in, []uuid.UUID{t.ItemID}, []particulars.Setting{{Particular: *a.Particular, Value: some(a.Value)}})
	case route.PutTag:
		name, err := tags.NameOf(ctx, tx, *a.Tag)
		if err != nil {
			return "", err
		}
		return "", s.Tags.Set(in, tags.Wish{Documents: []uuid.UUID{t.ItemID}, Put: []string{name}})
	case route.TakeTag:
		return "", s.Tags.Set(in, tags.Wish{Documents: []uuid.UUID{t.ItemID}, Take: []uuid.UUID{*a.Tag}})
	case route.Move:
		return "", s.move(in, tx, t, *a.Folder)
	case route.Copy:
		_, err := s.Sharing.CopyIn(in, tx, sharing.Move{Items: []uuid.UUID{t.ItemID}, To: *a.Folder})
		return "", err
	case route.Tell:
		return "", s.inform(in, tx, t, a)
	case route.GiveOut:
		return "", s.giveOut(in, tx, t, a)
	case route.StartRoute:
		if t.Depth >= deepest {
			return "", errDeep.New("%d routes have started each other up to here", deepest)
		}
		return "", s.StartOther(in, tx, *a.Route, t.at, t.Depth+1)
	}
	return "", fmt.Errorf("nothing is done at a stop of the kind %s", a.Do)
}

func some(value string) *string {
	if value == "" {
		return nil
	}
	return &value
}

// move moves the document; lying there already is no failure.
func (s *Service) move(ctx context.Context, tx *act.Tx, t *travel, to uuid.UUID) error {
	if t.at.ParentID != nil && *t.at.ParentID == to {
		return nil
	}
	return s.Sharing.MoveIn(ctx, tx, sharing.Move{Items: []uuid.UUID{t.ItemID}, To: to})
}

// inform tells people what the stop says; whoever cannot open the document is not told of it.
func (s *Service) inform(ctx context.Context, tx *act.Tx, t *travel, a route.Action) error {
	p, err := practice.ThePractice(ctx, tx)
	if err != nil {
		return err
	}
	w := &telling{Service: s, tx: tx, t: t, practice: p, zone: time.UTC, people: map[uuid.UUID]accounts.Person{}}
	for _, person := range t.Resolve(a.Who) {
		if !t.World.Here(person) {
			continue
		}
		to, err := w.person(ctx, person)
		if err != nil {
			return err
		}
		if err := notices.Add(ctx, tx, person, notices.RouteTold, t.at.Item.Name, "/d/"+t.at.Ref()); err != nil {
			return err
		}
		l := w.letter(t.Run)
		l.What, l.Address = letters.DecisionTold, s.BaseURL+"/d/"+t.at.Ref()
		if err := w.send(ctx, to, l); err != nil {
			return err
		}
	}
	return nil
}

// giveOut makes a link under the terms of the stop and sends it to its addresses.
func (s *Service) giveOut(ctx context.Context, tx *act.Tx, t *travel, a route.Action) error {
	return s.Links.GiveIn(ctx, tx, links.Typed{Items: []uuid.UUID{t.ItemID}, To: a.To, Terms: a.Terms, Message: a.Instructions})
}

// Sees reports whether somebody is there and may see an item.
func (s *Service) Sees(ctx context.Context, q postgres.Q, item, person uuid.UUID, need access.Caps, now time.Time) (bool, error) {
	p, err := accounts.PersonByID(ctx, q, person)
	if err != nil || p.DeactivatedAt != nil {
		return false, err
	}
	_, err = s.Access.Item(act.As(ctx, act.Actor{Person: &p}), q, item, need, now)
	if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
		return false, nil
	}
	return err == nil, err
}
