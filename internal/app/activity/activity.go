// Package activity shows the stream of events and the landing page.
package activity

import (
	"context"
	"time"

	"github.com/google/uuid"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/links"
	"tabularis/internal/app/people"
	"tabularis/internal/app/sharing"
	"tabularis/internal/store"
)

// Service shows what happened.
type Service struct {
	Acts     *act.Runner
	Access   *guard.Guard
	Dossiers *dossiers.Service
	People   *people.Service
	Sharing  *sharing.Service
	Links    *links.Service
}

// Filter narrows the stream; zero values do not.
type Filter struct {
	Dossier string
	Person  uuid.UUID
	About   string
	Since   time.Time
	Before  int64
	Limit   int
}

// Stream is a page of events, newest first.
type Stream struct {
	Events []store.NamedEvent
	People []store.Person
	More   bool
}

// kinds are the beginnings of the kinds of events that a filter lets through.
var kinds = map[string][]string{
	"documents": {"document", "version", "folder"},
	"links":     {"link"},
}

// Stream reads the events that the acting person may see.
func (s *Service) Stream(ctx context.Context, f Filter) (Stream, error) {
	now := s.Acts.Now()
	want := store.EventFilter{Person: f.Person, Outside: f.About == "outside", Prefixes: kinds[f.About], Since: f.Since, Before: f.Before, Limit: f.Limit + 1}
	if f.Dossier != "" {
		d, err := s.Access.ByCode(ctx, s.Acts.DB, f.Dossier, now)
		if err != nil {
			return Stream{}, err
		}
		want.Dossier = d.ID
	}
	var out Stream
	var err error
	if out.Events, err = s.events(ctx, want, now); err != nil {
		return Stream{}, err
	}
	if len(out.Events) > f.Limit {
		out.Events, out.More = out.Events[:f.Limit], true
	}
	if out.Events, err = s.Access.Events(ctx, s.Acts.DB, out.Events, now); err != nil {
		return Stream{}, err
	}
	out.People, err = s.People.Known(ctx)
	return out, err
}

func (s *Service) events(ctx context.Context, want store.EventFilter, now time.Time) (all []store.NamedEvent, err error) {
	return all, s.Access.View(ctx, now, func(v *guard.View) (n int, err error) {
		all, err = store.Stream(ctx, s.Acts.DB, want, v.Readable())
		return len(all), err
	})
}

// Today is the landing page.
type Today struct {
	Dossiers []dossiers.Summary
	News     []store.NamedEvent
	EndsSoon []links.Shown
	// AccessEnds is access that ends within three days, Requests who asks to be
	// let in.
	AccessEnds []store.ShownGrant
	Requests   []store.Request
	Bytes      int64
	// RoomLeft is how much more the practice may keep, for its own people; nil
	// without a limit.
	RoomLeft *int64
}

// soon is how far ahead ends are shown: to the end of the fourteenth day.
const soon = 15 * 24 * time.Hour

// accessSoon is how long before its end access is shown.
const accessSoon = 3 * 24 * time.Hour

// Today gathers the acting person's dossiers, what others did lately, and the
// links that end within two weeks.
func (s *Service) Today(ctx context.Context) (Today, error) {
	var t Today
	var err error
	if t.Dossiers, err = s.Dossiers.Mine(ctx); err != nil {
		return t, err
	}
	for _, d := range t.Dossiers {
		t.Bytes += d.Bytes
	}
	if act.Who(ctx).Person.Inside() {
		room, err := store.RoomOf(ctx, s.Acts.DB)
		if err != nil {
			return t, err
		}
		t.RoomLeft = room.Left()
	}
	events, err := s.events(ctx, store.EventFilter{Limit: 60}, s.Acts.Now())
	if err == nil {
		events, err = s.Access.Events(ctx, s.Acts.DB, events, s.Acts.Now())
	}
	if err != nil {
		return t, err
	}
	me := act.Who(ctx).Person.ID
	for _, e := range events {
		if (e.PersonID == nil || *e.PersonID != me) && len(t.News) < 14 {
			t.News = append(t.News, e)
		}
	}
	open, err := s.Links.List(ctx, false, false, "")
	if err != nil {
		return t, err
	}
	for _, l := range open {
		if l.Until != nil && l.Until.Sub(s.Acts.Now()) <= soon {
			t.EndsSoon = append(t.EndsSoon, l)
		}
	}
	if t.AccessEnds, err = s.Sharing.EndsSoon(ctx, accessSoon); err != nil {
		return t, err
	}
	t.Requests, err = s.Sharing.Requests(ctx)
	return t, err
}
