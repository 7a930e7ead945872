// Package tags lets documents bear words: the practice's, which everybody sees who sees the
// document, and each person's own, which nobody else does.
package tags

import (
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/tags"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// Service puts tags on documents.
type Service struct {
	Acts   *act.Runner
	Access *guard.Guard
}

// List lists the practice's tags and the acting person's own, with how many documents bear
// each that they may see. Guests learn only of tags on what they see.
func (s *Service) List(ctx context.Context) (all []Counted, err error) {
	person := act.Who(ctx).Person
	return all, s.Access.View(ctx, s.Acts.Now(), func(v *guard.View) (n int, err error) {
		all, err = list(ctx, s.Acts.DB, person.ID, v.Readable(), !person.Inside())
		return len(all), err
	})
}

// On lists the tags of a document that the acting person sees.
func (s *Service) On(ctx context.Context, document uuid.UUID) ([]Tag, error) {
	if _, err := s.Access.Kind(ctx, s.Acts.DB, document, items.Document, access.See, s.Acts.Now()); err != nil {
		return nil, err
	}
	return on(ctx, s.Acts.DB, act.Who(ctx).Person.ID, document)
}

// Wish is what tags documents are to bear, and what they are not.
type Wish struct {
	Documents []uuid.UUID
	// Put are names; Own says that they are the acting person's alone.
	Put []string
	Own bool
	// Take are tags to be taken off.
	Take []uuid.UUID
}

// mostDocuments is how many are tagged by one act.
const mostDocuments = 1000

// Set puts tags on documents and takes others off, all of it or nothing. The practice's need the
// right to change each of them; one's own need that one sees it. A name that there is not yet
// becomes a tag, of the practice only where a colleague writes it.
func (s *Service) Set(ctx context.Context, w Wish) error {
	wanted, err := tags.Wanted(w.Put)
	if err != nil {
		return err
	}
	if len(w.Documents) == 0 || len(w.Documents) > mostDocuments {
		return fault.ItemsCount.In("items", "choose between 1 and %d documents", mostDocuments)
	}
	if len(w.Take) > tags.MostAtOnce {
		return tags.ErrMany.In("take", "take at most %d tags off at once", tags.MostAtOnce)
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		taken, err := s.known(ctx, tx, w.Take)
		if err != nil {
			return err
		}
		shared := len(wanted) > 0 && !w.Own || slices.ContainsFunc(taken, func(t Tag) bool { return !t.Own() })
		sights, err := s.documents(ctx, tx, w.Documents, shared)
		if err != nil {
			return err
		}
		made, err := s.tagsNamed(ctx, tx, wanted, w.Own)
		if err != nil {
			return err
		}
		return s.change(ctx, tx, sights, made, taken)
	})
}

// known finds tags that are the practice's or one's own.
func (s *Service) known(ctx context.Context, tx *act.Tx, ids []uuid.UUID) (all []Tag, err error) {
	for _, id := range ids {
		t, err := byID(ctx, tx, tx.Actor.Person.ID, id)
		if err != nil {
			return nil, err
		}
		all = append(all, t)
	}
	return all, nil
}

// documents finds those that the acting person may tag.
func (s *Service) documents(ctx context.Context, tx *act.Tx, ids []uuid.UUID, shared bool) (all []guard.Sight, err error) {
	need := access.See
	if shared {
		need |= access.Change
	}
	for _, id := range ids {
		sight, err := s.Access.Kind(ctx, tx, id, items.Document, need, tx.Now)
		if err != nil {
			return nil, err
		}
		all = append(all, sight)
	}
	return all, nil
}

// tagsNamed finds or makes tags by their names.
func (s *Service) tagsNamed(ctx context.Context, tx *act.Tx, wanted []string, own bool) ([]Tag, error) {
	if len(wanted) == 0 {
		return nil, nil
	}
	me := tx.Actor.Person
	var owner *uuid.UUID
	if own {
		owner = &me.ID
	}
	keys := make([]string, len(wanted))
	for i, name := range wanted {
		keys[i] = names.Key(name)
	}
	found, err := named(ctx, tx, keys, owner)
	if err != nil {
		return nil, err
	}
	if len(found) < len(wanted) && !own && !me.Inside() {
		return nil, errNoSuch.In("put", "a guest puts tags that the practice has")
	}
	for i, name := range wanted {
		if slices.ContainsFunc(found, func(t Tag) bool { return names.Key(t.Name) == keys[i] }) {
			continue
		}
		if err := add(ctx, tx, Tag{uuid.Must(uuid.NewV7()), name, owner}, keys[i], me.ID, tx.Now); err != nil {
			return nil, err
		}
	}
	if own {
		if n, err := countOwn(ctx, tx, me.ID); err != nil || n > tags.MostOwn {
			return nil, orMany(err)
		}
	}
	return named(ctx, tx, keys, owner)
}

func orMany(err error) error {
	if err == nil {
		err = tags.ErrMany.In("put", "have at most %d tags of your own", tags.MostOwn)
	}
	return err
}

// change puts and takes, tells of what is the practice's, and lets the documents be found by it.
func (s *Service) change(ctx context.Context, tx *act.Tx, sights []guard.Sight, made, taken []Tag) error {
	documents := make([]uuid.UUID, len(sights))
	for i, d := range sights {
		documents[i] = d.ID
	}
	gone, err := take(ctx, tx, idsOf(taken), documents)
	if err != nil {
		return err
	}
	there, err := put(ctx, tx, idsOf(made), documents, tx.Actor.Person.ID, tx.Now)
	if err != nil {
		return err
	}
	if n, err := mostOn(ctx, tx, documents); err != nil || n > tags.MostOn {
		if err == nil {
			err = tags.ErrMany.In("put", "a document bears at most %d tags", tags.MostOn)
		}
		return err
	}
	for _, d := range sights {
		tagged := events.Tagging{Name: d.Name, Put: namesOn(d.ID, there, made), Taken: namesOn(d.ID, gone, taken)}
		if tagged.Put == "" && tagged.Taken == "" {
			continue
		}
		if err := tx.Record(ctx, act.Event{What: events.DocumentTagged.With(tagged), Dossier: d.DossierID, Item: &d.ID}); err != nil {
			return err
		}
		if err := tx.Enqueue(ctx, jobs.Index{Item: d.ID}); err != nil {
			return err
		}
	}
	return nil
}

// namesOn are the names of the practice's tags among those on a document; one's own are
// nobody else's to know.
func namesOn(document uuid.UUID, rows []placed, all []Tag) string {
	var out []string
	for _, t := range all {
		if !t.Own() && slices.Contains(rows, placed{t.ID, document}) {
			out = append(out, t.Name)
		}
	}
	return strings.Join(out, ", ")
}

func idsOf(all []Tag) []uuid.UUID {
	ids := make([]uuid.UUID, len(all))
	for i, t := range all {
		ids[i] = t.ID
	}
	return ids
}

// Rename calls a tag otherwise. Where there is one of that name both become one. The
// practice's are renamed by administrators.
func (s *Service) Rename(ctx context.Context, id uuid.UUID, name string) error {
	name, err := tags.Name(name)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := s.mayArrange(ctx, tx, id)
		if err != nil {
			return err
		}
		concerned, err := bearing(ctx, tx, t.ID)
		if err != nil {
			return err
		}
		others, err := named(ctx, tx, []string{names.Key(name)}, t.Person)
		if err != nil {
			return err
		}
		if len(others) > 0 && others[0].ID != t.ID {
			err = merge(ctx, tx, t.ID, others[0].ID)
		} else {
			err = rename(ctx, tx, t.ID, name, names.Key(name))
		}
		if postgres.Collides(err, practiceIndex) || postgres.Collides(err, ownIndex) {
			return errMeanwhile.New("somebody else has just given that name; try again")
		}
		if err != nil || t.Own() {
			return err
		}
		return reindex(ctx, tx, concerned)
	})
}

// Remove takes a tag off everything. The practice's are removed by administrators.
func (s *Service) Remove(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := s.mayArrange(ctx, tx, id)
		if err != nil {
			return err
		}
		concerned, err := bearing(ctx, tx, t.ID)
		if err != nil {
			return err
		}
		if err := remove(ctx, tx, t.ID); err != nil || t.Own() {
			return err
		}
		return reindex(ctx, tx, concerned)
	})
}

func (s *Service) mayArrange(ctx context.Context, tx *act.Tx, id uuid.UUID) (Tag, error) {
	t, err := byID(ctx, tx, tx.Actor.Person.ID, id)
	if err == nil && !t.Own() && !tx.Actor.Person.Administers() {
		err = fault.Refused("change a tag of the practice")
	}
	return t, err
}

func reindex(ctx context.Context, tx *act.Tx, documents []uuid.UUID) error {
	for _, d := range documents {
		if err := tx.Enqueue(ctx, jobs.Index{Item: d}); err != nil {
			return err
		}
	}
	return nil
}
