// Package activity shows the stream of events and the landing page.
package activity

import (
	"context"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/links"
	"tabularis/internal/store"
)

// Service shows what happened.
type Service struct {
	Acts     *act.Runner
	Dossiers *dossiers.Service
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

// Stream reads events of the acting person's dossiers.
func (s *Service) Stream(ctx context.Context, f Filter) (Stream, error) {
	now := s.Acts.Now()
	mine, err := guard.Dossiers(ctx, s.Acts.DB, now)
	if err != nil {
		return Stream{}, err
	}
	from := mine
	if f.Dossier != "" {
		d, err := store.DossierByCode(ctx, s.Acts.DB, strings.ToUpper(f.Dossier))
		if err != nil {
			return Stream{}, err
		}
		if _, err := guard.Item(ctx, s.Acts.DB, d.ID, access.See, now); err != nil {
			return Stream{}, err
		}
		from = []uuid.UUID{d.ID}
	}
	var out Stream
	out.Events, err = store.Events(ctx, s.Acts.DB, store.EventFilter{Dossiers: from, Person: f.Person, Outside: f.About == "outside", Prefixes: kinds[f.About], Since: f.Since, Before: f.Before, Limit: f.Limit + 1})
	if err != nil {
		return Stream{}, err
	}
	if len(out.Events) > f.Limit {
		out.Events, out.More = out.Events[:f.Limit], true
	}
	out.People, err = store.Colleagues(ctx, s.Acts.DB, mine)
	return out, err
}

// Today is the landing page.
type Today struct {
	Dossiers []dossiers.Summary
	News     []store.NamedEvent
	EndsSoon []links.Shown
	Bytes    int64
}

// soon is how far ahead ends are shown: to the end of the fourteenth day.
const soon = 15 * 24 * time.Hour

// Today gathers the acting person's dossiers, what others did lately, and the
// links that end within two weeks.
func (s *Service) Today(ctx context.Context) (Today, error) {
	var t Today
	var err error
	if t.Dossiers, err = s.Dossiers.Mine(ctx); err != nil {
		return t, err
	}
	ids := make([]uuid.UUID, len(t.Dossiers))
	for i, d := range t.Dossiers {
		ids[i] = d.ID
		t.Bytes += d.Bytes
	}
	events, err := store.Events(ctx, s.Acts.DB, store.EventFilter{Dossiers: ids, Limit: 60})
	if err != nil {
		return t, err
	}
	me := act.Who(ctx).Person.ID
	for _, e := range events {
		if (e.PersonID == nil || *e.PersonID != me) && len(t.News) < 14 {
			t.News = append(t.News, e)
		}
	}
	open, err := s.Links.List(ctx, false, "")
	if err != nil {
		return t, err
	}
	for _, l := range open {
		if l.Until != nil && l.Until.Sub(s.Acts.Now()) <= soon {
			t.EndsSoon = append(t.EndsSoon, l)
		}
	}
	return t, nil
}
