// Package remarks lets people talk about folders and documents, at a place of them, in
// threads. Its rules are in core/remarks.
package remarks

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/remarks"
	"tabularis/core/richtext"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/sharing"
	"tabularis/internal/platform/jobs"
)

// Service lets people talk.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Contents *tree.Contents
	BaseURL  string
	// Known lists the people whom the acting person may know.
	Known func(ctx context.Context) ([]accounts.Person, error)
	// Held are the words that threads hold on to in a document that is written; none where it is not.
	Held func(ctx context.Context, document uuid.UUID) (map[string]richtext.Held, error)
}

const (
	// mostNamed is how many people a remark names, also by groups.
	mostNamed = 50
	// Somebody says at most so much in a time.
	mostSaid = 60
	saidIn   = 10 * time.Minute
)

// Wish is a remark to be made: an answer where Thread is set, else the first of a thread,
// perhaps at a place of a version.
type Wish struct {
	Text    string
	Thread  *uuid.UUID
	Place   *remarks.Place
	Version int
	// Named are people and groups.
	Named []uuid.UUID
}

// Write says something about an item.
func (s *Service) Write(ctx context.Context, item uuid.UUID, w Wish) (id uuid.UUID, err error) {
	if w.Text, err = remarks.Text(w.Text); err != nil {
		return id, err
	}
	return id, s.Acts.Do(ctx, func(tx *act.Tx) error {
		sight, err := s.Access.Item(ctx, tx, item, access.Remark, tx.Now)
		if err != nil {
			return err
		}
		me := tx.Actor.Person
		n, err := countSince(ctx, tx, me.ID, tx.Now.Add(-saidIn))
		if err != nil {
			return err
		}
		if n >= mostSaid {
			return errFlood.New("so many remarks in a short time; wait a little")
		}
		r := Remark{ID: uuid.Must(uuid.NewV7()), ItemID: item, PersonID: me.ID, Said: w.Text, At: tx.Now}
		if err := s.place(ctx, tx, &r, sight, w); err != nil {
			return err
		}
		id = r.ID
		if err := add(ctx, tx, r); err != nil {
			return err
		}
		see, err := s.Access.Seers(ctx, tx, sight.Located, tx.Now)
		if err != nil {
			return err
		}
		if err := s.name(ctx, tx, sight, r, w.Named, see); err != nil {
			return err
		}
		if w.Thread != nil {
			if err := tellThread(ctx, tx, sight, r, see); err != nil {
				return err
			}
		}
		return s.record(ctx, tx, sight, events.RemarkWritten, r)
	})
}

// place puts a remark into its thread, or at its place.
func (s *Service) place(ctx context.Context, tx *act.Tx, r *Remark, sight guard.Sight, w Wish) error {
	if w.Thread != nil {
		first, err := firstOf(ctx, tx, *w.Thread, r.ItemID)
		r.ThreadID = first.ID
		return err
	}
	r.ThreadID = r.ID
	if sight.Item.Kind != items.Document {
		if w.Place != nil {
			_, err := remarks.Check(remarks.Place{})
			return err
		}
		return nil
	}
	version := w.Version
	if version == 0 {
		version = sight.Version
	}
	all, err := tree.VersionsOf(ctx, tx, r.ItemID)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(all, func(v tree.NamedVersion) bool { return v.Number == version && v.RemovedAt == nil }) {
		return errVersion.In("version", "there is no such version")
	}
	r.Version = &version
	if w.Place == nil {
		return nil
	}
	p, err := remarks.Check(*w.Place)
	if err != nil {
		return err
	}
	r.Place, err = json.Marshal(p)
	return err
}

// firstOf finds the first remark of a thread about an item.
func firstOf(ctx context.Context, tx *act.Tx, thread, item uuid.UUID) (Remark, error) {
	first, err := byID(ctx, tx, thread)
	if err == nil && (first.ItemID != item || first.ThreadID != first.ID) {
		err = fault.Missing()
	}
	return first, err
}

// Seers are the people who can see an item, with their names, as far as the acting person
// may know them.
func (s *Service) Seers(ctx context.Context, item uuid.UUID) ([]accounts.Person, error) {
	q, now := s.Acts.DB, s.Acts.Now()
	sight, err := s.Access.Item(ctx, q, item, access.Remark, now)
	if err != nil {
		return nil, err
	}
	see, err := s.Access.Seers(ctx, q, sight.Located, now)
	if err != nil {
		return nil, err
	}
	known, err := s.Known(ctx)
	return slices.DeleteFunc(known, func(p accounts.Person) bool { return !slices.Contains(see, p.ID) }), err
}

// name notes whom a remark names, and tells them. Whoever is not among those who see the
// thing is not named; groups stand for those of them who are.
func (s *Service) name(ctx context.Context, tx *act.Tx, sight guard.Sight, r Remark, named, see []uuid.UUID) error {
	if len(named) > mostNamed {
		return errMentions.In("mentions", "name at most %d people", mostNamed)
	}
	circles, err := s.Access.Circles(ctx, tx)
	if err != nil {
		return err
	}
	var people []uuid.UUID
	for _, id := range guard.Sorted(named) {
		if slices.Contains(see, id) {
			people = append(people, id)
			continue
		}
		members := circles.People(access.Subject{Kind: access.Group, ID: access.ID(id)})
		if len(members) == 0 {
			return errUnseen.In("mentions", "somebody who is named cannot see it")
		}
		for _, m := range members {
			if slices.Contains(see, uuid.UUID(m)) {
				people = append(people, uuid.UUID(m))
			}
		}
	}
	people = guard.Sorted(people)
	if len(people) > mostNamed {
		return errMentions.In("mentions", "name at most %d people", mostNamed)
	}
	added, err := setNamed(ctx, tx, r.ID, people)
	if err != nil {
		return err
	}
	for _, id := range added {
		if id != r.PersonID {
			if err := notices.Add(ctx, tx, id, notices.Mentioned, sight.Name, pathOf(sight, r)); err != nil {
				return err
			}
		}
	}
	return nil
}

// pathOf leads to a remark.
func pathOf(sight guard.Sight, r Remark) string {
	return fmt.Sprintf("%s?remark=%s", sharing.PathOf(sight), r.ThreadID)
}

// tellThread tells who took part in a thread, and still sees it, that somebody answered.
func tellThread(ctx context.Context, tx *act.Tx, sight guard.Sight, r Remark, see []uuid.UUID) error {
	all, err := authors(ctx, tx, r.ThreadID)
	if err != nil {
		return err
	}
	names, err := namedIn(ctx, tx, []uuid.UUID{r.ID})
	if err != nil {
		return err
	}
	for _, id := range all {
		told := slices.ContainsFunc(names, func(n Named) bool { return n.Person == id })
		if id == r.PersonID || told || !slices.Contains(see, id) {
			continue
		}
		if err := notices.Once(ctx, tx, id, notices.Answered, sight.Name, pathOf(sight, r)); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) record(ctx context.Context, tx *act.Tx, sight guard.Sight, what events.Of[events.Remarking], r Remark) error {
	data := events.Remarking{Name: sight.Name, Remark: r.ID.String()}
	e := act.Event{What: what.With(data), Dossier: sight.DossierID, Item: &r.ItemID}
	if r.Version != nil {
		e.Version = *r.Version
	}
	if err := tx.Record(ctx, e); err != nil || sight.Item.Kind != items.Document {
		return err
	}
	// It is found by what was said of it, too.
	return tx.Enqueue(ctx, jobs.Index{Item: r.ItemID})
}

// find finds a remark on an item that the acting person sees.
func (s *Service) find(ctx context.Context, tx *act.Tx, id uuid.UUID, need access.Caps) (Remark, guard.Sight, error) {
	r, err := byID(ctx, tx, id)
	if err != nil {
		return r, guard.Sight{}, err
	}
	sight, err := s.Access.Item(ctx, tx, r.ItemID, need, tx.Now)
	if err == nil && r.RemovedAt != nil {
		err = fault.Missing()
	}
	return r, sight, err
}

// Edit says it otherwise: only who said it does.
func (s *Service) Edit(ctx context.Context, id uuid.UUID, text string, named []uuid.UUID) error {
	text, err := remarks.Text(text)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, sight, err := s.find(ctx, tx, id, access.Remark)
		if err != nil {
			return err
		}
		if r.PersonID != tx.Actor.Person.ID {
			return fault.Refused("change what others said")
		}
		if err := edit(ctx, tx, id, text, tx.Now); err != nil {
			return err
		}
		see, err := s.Access.Seers(ctx, tx, sight.Located, tx.Now)
		if err != nil {
			return err
		}
		if err := s.name(ctx, tx, sight, r, named, see); err != nil {
			return err
		}
		return s.record(ctx, tx, sight, events.RemarkChanged, r)
	})
}

// removes reports whether somebody may take a remark away: who said it, and who manages.
func removes(r Remark, sight guard.Sight, person uuid.UUID) bool {
	return r.PersonID == person && sight.Caps.Has(access.Remark) || sight.Caps.Has(access.Delete|access.Manage)
}

// Remove takes a remark away. Where others have answered it, it stays as an empty one.
func (s *Service) Remove(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, sight, err := s.find(ctx, tx, id, access.See)
		if err != nil {
			return err
		}
		if !removes(r, sight, tx.Actor.Person.ID) {
			return fault.Refused("remove this remark")
		}
		follows, err := answered(ctx, tx, id)
		if err != nil {
			return err
		}
		if follows {
			err = withdraw(ctx, tx, id, tx.Now)
		} else {
			err = remove(ctx, tx, id)
		}
		if err != nil {
			return err
		}
		return s.record(ctx, tx, sight, events.RemarkRemoved, r)
	})
}

// Resolve says that a thread is settled, or that it is not.
func (s *Service) Resolve(ctx context.Context, thread uuid.UUID, done bool) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, sight, err := s.thread(ctx, tx, thread)
		if err != nil || (r.ResolvedAt != nil) == done {
			return err
		}
		what := events.RemarkResolved
		if done {
			err = resolve(ctx, tx, thread, &tx.Actor.Person.ID, &tx.Now)
		} else {
			what, err = events.RemarkReopened, resolve(ctx, tx, thread, nil, nil)
		}
		if err != nil {
			return err
		}
		return s.record(ctx, tx, sight, what, r)
	})
}

// thread finds the first remark of a thread, also of one that was taken away.
func (s *Service) thread(ctx context.Context, tx *act.Tx, id uuid.UUID) (Remark, guard.Sight, error) {
	r, err := byID(ctx, tx, id)
	if err != nil {
		return r, guard.Sight{}, err
	}
	if r.ThreadID != r.ID {
		return r, guard.Sight{}, fault.Missing()
	}
	sight, err := s.Access.Item(ctx, tx, r.ItemID, access.Remark, tx.Now)
	return r, sight, err
}

// Tick puts the acting person's tick at a remark, or takes it away: read and agreed,
// without a word.
func (s *Service) Tick(ctx context.Context, id uuid.UUID, on bool) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, _, err := s.find(ctx, tx, id, access.Remark)
		if err != nil {
			return err
		}
		if on {
			err = tick(ctx, tx, id, tx.Actor.Person.ID)
		} else {
			err = untick(ctx, tx, id, tx.Actor.Person.ID)
		}
		if err != nil {
			return err
		}
		return tellPages(ctx, tx, r)
	})
}

// tellPages tells open pages of something that is no event.
func tellPages(ctx context.Context, tx *act.Tx, r Remark) error {
	scope, err := guard.ScopeOf(ctx, tx, r.ItemID)
	if err != nil {
		return err
	}
	return act.Tell(ctx, tx, act.News{Kind: events.RemarkChanged.Name, Dossier: scope.Dossier, Item: &r.ItemID, Root: scope.Root, Zone: scope.Zone})
}

// Seen notes that the acting person has read what was said about an item until now.
func (s *Service) Seen(ctx context.Context, item uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if _, err := s.Access.Item(ctx, tx, item, access.See, tx.Now); err != nil {
			return err
		}
		return putLook(ctx, tx, item, tx.Actor.Person.ID, tx.Now)
	})
}
