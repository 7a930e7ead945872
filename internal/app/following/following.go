// Package following keeps what people follow and mute, the filters of the activity that
// they keep under a name, and tells them what happened: by notice of what they follow, and
// in a digest by mail. Its rules are in core/following.
package following

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/following"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/register"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
)

// Service follows for the acting person.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Activity *activity.Service
	BaseURL  string
}

// mostThings is how many things somebody follows or mutes.
const mostThings = 500

// Thing is a document or dossier that somebody follows or has muted.
type Thing struct {
	ID     uuid.UUID `db:"id"`
	Code   string    `db:"code"`
	Number *int      `db:"number"`
	Name   string    `db:"name"`
	Muted  bool      `db:"muted"`
}

// Dossier reports whether it is a dossier.
func (t Thing) Dossier() bool { return t.Number == nil }

// Ref is a document's register number, and a dossier's code.
func (t Thing) Ref() string {
	if t.Dossier() {
		return t.Code
	}
	return register.Ref{Code: t.Code, Number: *t.Number}.String()
}

// Path is the page on which it stands.
func (t Thing) Path() string {
	if t.Dossier() {
		return "/dossiers/" + t.Code
	}
	return "/d/" + t.Ref()
}

// Stance is what it was said of it.
func (t Thing) Stance() following.Stance {
	if t.Muted {
		return following.Mute
	}
	return following.Follow
}

// Mine lists what the acting person follows or has muted, as far as they still see it.
func (s *Service) Mine(ctx context.Context) (all []Thing, err error) {
	return all, s.Access.View(ctx, s.Acts.Now(), func(v *guard.View) (n int, err error) {
		all, err = things(ctx, s.Acts.DB, act.Who(ctx).Person.ID, v.Readable())
		return len(all), err
	})
}

// Set lets the acting person follow or mute a document or dossier, or neither.
func (s *Service) Set(ctx context.Context, item uuid.UUID, stance following.Stance) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		me := tx.Actor.Person.ID
		if stance == following.None {
			// Also of what one does not see any more.
			return leave(ctx, tx, me, item)
		}
		if stance != following.Follow && stance != following.Mute {
			return errStance.In("stance", "something is followed, muted, or neither")
		}
		sight, err := s.Access.Item(ctx, tx, item, 0, tx.Now)
		if err != nil {
			return err
		}
		if sight.Kind == items.Folder && sight.ParentID != nil {
			return errThing.New("documents and dossiers are followed, folders are not")
		}
		if err := follow(ctx, tx, me, item, stance == following.Mute, tx.Now); err != nil {
			return err
		}
		n, err := countThings(ctx, tx, me)
		if err == nil && n > mostThings {
			err = errMany.New("follow or mute at most %d things", mostThings)
		}
		return err
	})
}

// Digest is how often somebody is sent a digest, of what, and by which clock.
type Digest struct {
	Every    following.Every `db:"digest"`
	Followed bool            `db:"digest_followed"`
	// Zone is the name of a time zone; empty is the practice's.
	Zone string `db:"timezone"`
}

// MyDigest returns the acting person's.
func (s *Service) MyDigest(ctx context.Context) (Digest, error) {
	return digestOf(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
}

// SetDigest chooses the acting person's. What happened before is in no digest.
func (s *Service) SetDigest(ctx context.Context, d Digest) error {
	if !d.Every.Known() {
		return errEvery.In("every", "a digest comes daily, weekly or never")
	}
	if _, err := zoneOf(d.Zone); err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error { return setDigest(ctx, tx, tx.Actor.Person.ID, d, tx.Now) })
}

// zoneOf finds a time zone of the IANA database by its name; nil where none is named.
func zoneOf(name string) (*time.Location, error) {
	if name == "" {
		return nil, nil
	}
	zone, err := time.LoadLocation(name)
	if err != nil || name == "Local" {
		return nil, errZone.In("zone", "there is no time zone %.60q", name)
	}
	return zone, nil
}

const (
	mostFilters = 50
	longestName = 60
)

// Filter is a filter of the activity under a name.
type Filter struct {
	ID     uuid.UUID `db:"id"`
	Name   string    `db:"name"`
	Filter []byte    `db:"filter"`
}

// Filters lists the acting person's, by name.
func (s *Service) Filters(ctx context.Context) ([]Filter, error) {
	return filters(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
}

// Keep keeps a filter under a name, in place of one that had it.
func (s *Service) Keep(ctx context.Context, name string, filter []byte) (f Filter, err error) {
	if name, err = names.Named("name", name, longestName); err != nil {
		return f, err
	}
	f = Filter{ID: uuid.Must(uuid.NewV7()), Name: name, Filter: filter}
	return f, s.Acts.Do(ctx, func(tx *act.Tx) error {
		me := tx.Actor.Person.ID
		var n int
		if f.ID, n, err = keep(ctx, tx, me, f, names.Key(name)); err == nil && n > mostFilters {
			err = errFiltersMany.New("keep at most %d filters", mostFilters)
		}
		return err
	})
}

// Forget forgets one of the acting person's filters.
func (s *Service) Forget(ctx context.Context, id uuid.UUID) error {
	return forget(ctx, s.Acts.DB, act.Who(ctx).Person.ID, id)
}
