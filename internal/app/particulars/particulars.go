// Package particulars keeps what a practice wants to know about its documents beside their
// content. Whoever sees a document sees its values; whoever may change it sets them.
package particulars

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
	"tabularis/core/particulars"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/platform/postgres"
)

// Service keeps particulars.
type Service struct {
	Acts   *act.Runner
	Access *guard.Guard
	// Known are the people whom somebody may name.
	Known func(ctx context.Context) ([]accounts.Person, error)
}

// List lists what is defined. Guests learn of particulars by the values that they see.
func (s *Service) List(ctx context.Context) ([]particulars.Definition, error) {
	if !act.Who(ctx).Person.Inside() {
		return nil, nil
	}
	return Definitions(ctx, s.Acts.DB)
}

// Define adds a particular; administrators do.
func (s *Service) Define(ctx context.Context, d particulars.Definition) (particulars.Definition, error) {
	d, err := particulars.Checked(d)
	if err != nil {
		return d, err
	}
	d.ID = uuid.Must(uuid.NewV7())
	return d, s.arrange(ctx, func(tx *act.Tx) error {
		n, err := add(ctx, tx, d, tx.Actor.Person.ID, tx.Now)
		if err == nil && n > particulars.Most {
			err = particulars.ErrMany.In("name", "define at most %d particulars", particulars.Most)
		}
		return err
	})
}

// Change defines a particular otherwise. Its kind stays where values stand in it.
func (s *Service) Change(ctx context.Context, d particulars.Definition) error {
	d, err := particulars.Checked(d)
	if err != nil {
		return err
	}
	return s.arrange(ctx, func(tx *act.Tx) error {
		was, err := locked(ctx, tx, d.ID)
		if err != nil {
			return err
		}
		stays, err := used(ctx, tx, d.ID)
		if err != nil {
			return err
		}
		if stays && (was.Kind != string(d.Kind) || d.Kind == particulars.Money && was.Unit != d.Unit) {
			return errInUse.In("kind", "values stand in %s; its kind and currency stay", was.Name)
		}
		return change(ctx, tx, d)
	})
}

// Remove takes a particular and all its values away.
func (s *Service) Remove(ctx context.Context, id uuid.UUID) error {
	return s.arrange(ctx, func(tx *act.Tx) error { return remove(ctx, tx, id) })
}

func (s *Service) arrange(ctx context.Context, fn func(tx *act.Tx) error) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if !tx.Actor.Person.Administers() {
			return fault.Refused("define what is kept about documents")
		}
		err := fn(tx)
		if postgres.Collides(err, nameIndex) {
			return errTaken.In("name", "there is a particular of that name")
		}
		if err != nil {
			return err
		}
		return tx.Record(ctx, act.Event{What: events.PracticeParticulars.With(events.Nothing{})})
	})
}

// Field is a particular of a document, with its value where there is one.
type Field struct {
	particulars.Definition
	Value string
	// Person is the name of whoever is named.
	Person string
}

// On lists the particulars of a document: for colleagues all that apply to it, for guests those in which something stands.
func (s *Service) On(ctx context.Context, document uuid.UUID) ([]Field, error) {
	if _, err := s.Access.Kind(ctx, s.Acts.DB, document, items.Document, access.See, s.Acts.Now()); err != nil {
		return nil, err
	}
	kind, err := kindOf(ctx, s.Acts.DB, document)
	if err != nil {
		return nil, err
	}
	defined, err := Definitions(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	values, err := valuesOf(ctx, s.Acts.DB, []uuid.UUID{document})
	if err != nil {
		return nil, err
	}
	var all []Field
	for _, d := range defined {
		f := Field{Definition: d}
		at := slices.IndexFunc(values, func(v stands) bool { return v.Particular == d.ID })
		if at >= 0 {
			f.Value, f.Person = values[at].Value, values[at].Person
		}
		if at >= 0 || d.Applies(kind) && act.Who(ctx).Person.Inside() {
			all = append(all, f)
		}
	}
	return all, nil
}

// Shown are the values of documents that somebody was found to see, by document.
func Shown(ctx context.Context, q postgres.Q, documents []uuid.UUID) (map[uuid.UUID][]Field, error) {
	if len(documents) == 0 {
		return nil, nil
	}
	values, err := valuesOf(ctx, q, documents)
	if err != nil || len(values) == 0 {
		return nil, err
	}
	defined, err := Definitions(ctx, q)
	if err != nil {
		return nil, err
	}
	all := map[uuid.UUID][]Field{}
	for _, d := range defined {
		for _, v := range values {
			if v.Particular == d.ID {
				all[v.Item] = append(all[v.Item], Field{d, v.Value, v.Person})
			}
		}
	}
	return all, nil
}

// Together is what stands in a particular of several documents.
type Together struct {
	particulars.Definition
	// Filled is in how many of them something stands.
	Filled int
	// Same is the one value of all of them, if it is one.
	Same, Person string
	// Sum is that of numbers.
	Sum string
}

// Of says what stands in documents together, of each particular that one of them has or may have.
func (s *Service) Of(ctx context.Context, documents []uuid.UUID) ([]Together, error) {
	if err := counted(documents); err != nil {
		return nil, err
	}
	for _, id := range documents {
		if _, err := s.Access.Kind(ctx, s.Acts.DB, id, items.Document, access.See, s.Acts.Now()); err != nil {
			return nil, err
		}
	}
	by, err := Shown(ctx, s.Acts.DB, documents)
	if err != nil {
		return nil, err
	}
	defined, err := s.List(ctx)
	if err != nil {
		return nil, err
	}
	var all []Together
	for _, d := range defined {
		all = append(all, together(d, documents, by))
	}
	return all, nil
}

func together(d particulars.Definition, documents []uuid.UUID, by map[uuid.UUID][]Field) Together {
	t := Together{Definition: d}
	var numbers []string
	for _, id := range documents {
		for _, f := range by[id] {
			if f.ID != d.ID {
				continue
			}
			numbers = append(numbers, f.Value)
			if t.Filled++; t.Filled == 1 {
				t.Same, t.Person = f.Value, f.Person
			} else if t.Same != f.Value {
				t.Same, t.Person = "", ""
			}
		}
	}
	if t.Filled < len(documents) {
		t.Same, t.Person = "", ""
	}
	if d.Summed() && t.Filled > 0 {
		t.Sum = particulars.Sum(numbers)
	}
	return t
}

func counted(documents []uuid.UUID) error {
	if len(documents) == 0 || len(documents) > particulars.MostDocuments {
		return fault.ItemsCount.In("documents", "choose between 1 and %d documents", particulars.MostDocuments)
	}
	return nil
}

// Setting is what is to stand in a particular; no value clears it.
type Setting struct {
	Particular uuid.UUID
	Value      *string
}

// Set writes values into documents, all of it or nothing.
func (s *Service) Set(ctx context.Context, documents []uuid.UUID, settings []Setting) error {
	if err := counted(documents); err != nil {
		return err
	}
	documents = slices.Clone(documents)
	slices.SortFunc(documents, func(a, b uuid.UUID) int { return strings.Compare(a.String(), b.String()) })
	documents = slices.Compact(documents)
	known, err := s.Known(ctx)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		defined, err := held(ctx, tx)
		if err != nil {
			return err
		}
		sights, err := s.mayChange(ctx, tx, documents)
		if err != nil {
			return err
		}
		said := map[uuid.UUID][]string{}
		for _, one := range settings {
			at := slices.IndexFunc(defined, func(d particulars.Definition) bool { return d.ID == one.Particular })
			if at < 0 {
				return errNotThere.In("values", "there is no such particular")
			}
			if err := s.setOne(ctx, tx, defined[at], one.Value, sights, known, said); err != nil {
				return err
			}
		}
		return tell(ctx, tx, sights, said)
	})
}

// Named is a value by the name of its particular.
type Named struct{ Name, Value string }

// SetNamed writes what was answered elsewhere into the particulars of a document that are named like it and can hold it; the others
// are left alone. Whoever answers need not be able to change the document.
func SetNamed(ctx context.Context, tx *act.Tx, document items.Item, values []Named, by uuid.UUID) error {
	defined, err := held(ctx, tx)
	if err != nil {
		return err
	}
	kind, err := kindOf(ctx, tx, document.ID)
	if err != nil {
		return err
	}
	for _, d := range defined {
		at := slices.IndexFunc(values, func(n Named) bool { return names.Key(n.Name) == names.Key(d.Name) && n.Value != "" })
		if at < 0 || d.Kind == particulars.Person || !d.Applies(kind) {
			continue
		}
		v, err := d.Read(values[at].Value)
		if err != nil {
			continue // It does not fit there, and stands in the document itself.
		}
		if _, err := put(ctx, tx, d.ID, []uuid.UUID{document.ID}, v, nil, by, tx.Now); err != nil {
			return err
		}
	}
	return nil
}

// mayChange finds documents that the acting person may change.
func (s *Service) mayChange(ctx context.Context, tx *act.Tx, documents []uuid.UUID) (sights []guard.Sight, err error) {
	for _, id := range documents {
		sight, err := s.Access.Kind(ctx, tx, id, items.Document, access.See|access.Change, tx.Now)
		if err != nil {
			return nil, err
		}
		sights = append(sights, sight)
	}
	return sights, nil
}

func (s *Service) setOne(ctx context.Context, tx *act.Tx, d particulars.Definition, value *string, sights []guard.Sight, known []accounts.Person, said map[uuid.UUID][]string) error {
	ids := make([]uuid.UUID, len(sights))
	for i, sight := range sights {
		ids[i] = sight.ID
	}
	if value == nil {
		if err := d.Cleared(); err != nil {
			return err
		}
		changed, err := clear(ctx, tx, d.ID, ids)
		note(said, changed, d.Name+": –")
		return err
	}
	if err := applies(ctx, tx, d, sights); err != nil {
		return err
	}
	w, err := meant(d, *value, known)
	if err != nil {
		return err
	}
	changed, err := put(ctx, tx, d.ID, ids, w.Value, w.person, tx.Actor.Person.ID, tx.Now)
	note(said, changed, d.Name+": "+w.words)
	return err
}

// written is a value as it was meant: of a person, who it is, and how people read it.
type written struct {
	particulars.Value
	person *uuid.UUID
	words  string
}

// meant reads what was written into a particular; somebody of the practice is named by their id.
func meant(d particulars.Definition, value string, known []accounts.Person) (w written, err error) {
	if w.Value, err = d.Read(value); err != nil {
		return w, err
	}
	w.words = w.Text
	if d.Kind == particulars.Person {
		at := slices.IndexFunc(known, func(p accounts.Person) bool { return p.ID.String() == w.Text && p.Inside() })
		if at < 0 {
			return w, errNobody.In(d.Name, "%s: name somebody of the practice", d.Name)
		}
		w.person, w.words = &known[at].ID, known[at].Name
	}
	if d.Unit != "" {
		w.words += " " + d.Unit
	}
	return w, nil
}

// applies refuses a particular that does not stand in the documents of a dossier, and names the first of them.
func applies(ctx context.Context, tx *act.Tx, d particulars.Definition, sights []guard.Sight) error {
	kinds := map[uuid.UUID]string{}
	for _, sight := range sights {
		kind, known := kinds[sight.DossierID]
		if !known {
			var err error
			if kind, err = kindOf(ctx, tx, sight.ID); err != nil {
				return err
			}
			kinds[sight.DossierID] = kind
		}
		if !d.Applies(kind) {
			return errNotThere.In(d.Name, "%s does not stand in %s %s", d.Name, sight.Ref(), sight.Name)
		}
	}
	return nil
}

func note(said map[uuid.UUID][]string, documents []uuid.UUID, words string) {
	for _, id := range documents {
		said[id] = append(said[id], words)
	}
}

// tell records what has changed in each document.
func tell(ctx context.Context, tx *act.Tx, sights []guard.Sight, said map[uuid.UUID][]string) error {
	for _, d := range sights {
		if len(said[d.ID]) == 0 {
			continue
		}
		e := events.Particulars{Name: d.Name, Values: strings.Join(said[d.ID], "; ")}
		if err := tx.Record(ctx, act.Event{What: events.DocumentParticulars.With(e), Dossier: d.DossierID, Item: &d.ID}); err != nil {
			return err
		}
	}
	return nil
}
