// Package activity shows the stream of events.
package activity

import (
	"context"
	"slices"
	"strings"
	"time"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/following"
	"tabularis/core/items"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/live"
	"tabularis/internal/platform/postgres"

	"github.com/google/uuid"

	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
)

// Service shows what happened.
type Service struct {
	Acts   *act.Runner
	Access *guard.Guard
	Hub    *live.Hub
	// Known lists the people whom the acting person may know.
	Known func(ctx context.Context) ([]accounts.Person, error)
	// Heeded is what somebody follows and has muted.
	Heeded func(ctx context.Context, q postgres.Q, person uuid.UUID) (following.Heeding, error)
}

// Filter narrows the stream; zero values do not.
type Filter struct {
	Dossier string
	Folder  uuid.UUID
	Person  uuid.UUID
	About   string
	Kind    string
	// Heed is Unmuted where it is empty.
	Heed   string
	Since  time.Time
	Before int64
	Limit  int
}

// Unmuted, Followed and All say what of what somebody follows and has muted is shown.
const (
	Unmuted  = "unmuted"
	Followed = "followed"
	All      = "all"
)

// Stream is a page of events, newest first.
type Stream struct {
	Events []events.Named
	People []accounts.Person
	More   bool
}

// abouts are what a filter can be about, with the events it lets through.
var abouts = map[string]EventFilter{
	"": {}, "everything": {},
	"outside":   {Outside: true},
	"documents": {Kinds: of("document", "version", "folder", "remark")},
	"links":     {Group: "link"},
}

// of lists the kinds of events that happen to some things.
func of(things ...string) (all []string) {
	for _, k := range events.All() {
		if thing, _, _ := strings.Cut(k.Name, "."); slices.Contains(things, thing) {
			all = append(all, k.Name)
		}
	}
	return all
}

// wanted is what is asked for, once the acting person may ask for it.
func (s *Service) wanted(ctx context.Context, f Filter, now time.Time) (EventFilter, error) {
	want, known := abouts[f.About]
	if !known {
		return want, fault.Parameter.In("about", "nothing is about %.30q", f.About)
	}
	if !slices.Contains([]string{"", Unmuted, Followed, All}, f.Heed) {
		return want, fault.Parameter.In("heed", "what is shown is %s, %s or %s", Unmuted, Followed, All)
	}
	want.Person, want.Kind, want.Since, want.Before, want.Limit = f.Person, f.Kind, f.Since, f.Before, f.Limit+1
	if _, known := events.KindNamed(f.Kind); f.Kind != "" && !known {
		return want, fault.KindUnknown.In("kind", "there are no events of the kind %q", f.Kind)
	}
	if f.Dossier != "" {
		d, err := s.Access.ByCode(ctx, s.Acts.DB, f.Dossier, now)
		if err != nil {
			return want, err
		}
		want.Dossier = d.ID
	}
	if f.Folder != uuid.Nil {
		folder, err := s.Access.Item(ctx, s.Acts.DB, f.Folder, 0, now)
		if err == nil && folder.Kind != items.Folder {
			err = fault.Missing()
		}
		if err != nil {
			return want, err
		}
		want.Folder, want.Dossier = f.Folder, uuid.Nil
	}
	// Whoever asks for a dossier or folder wants to see it, muted or not.
	if f.Heed == All || f.Heed != Followed && (f.Dossier != "" || f.Folder != uuid.Nil) {
		return want, nil
	}
	var err error
	want.Heeding, err = s.Heeded(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
	want.Heeding.Only = f.Heed == Followed
	return want, err
}

// mostExported is how many events are written out, pageSize how many are read at once.
const (
	mostExported = 50000
	pageSize     = 1000
)

// Export hands the newest events that the acting person may see to write, page by page, up
// to fifty thousand.
func (s *Service) Export(ctx context.Context, f Filter, write func([]events.Named) error) error {
	f.Limit = pageSize - 1
	want, err := s.wanted(ctx, f, s.Acts.Now())
	for n := 0; err == nil && n < mostExported; n += pageSize {
		var all []events.Named
		if all, err = s.events(ctx, want, s.Acts.Now()); err != nil || len(all) == 0 {
			return err
		}
		more := len(all) == pageSize
		want.Before = all[len(all)-1].ID
		if all, err = s.Access.Events(ctx, s.Acts.DB, all, s.Acts.Now()); err == nil {
			err = write(all)
		}
		if !more {
			return err
		}
	}
	return err
}

// Stream reads the events that the acting person may see.
func (s *Service) Stream(ctx context.Context, f Filter) (Stream, error) {
	now := s.Acts.Now()
	want, err := s.wanted(ctx, f, now)
	if err != nil {
		return Stream{}, err
	}
	var out Stream
	if out.Events, err = s.events(ctx, want, now); err != nil {
		return Stream{}, err
	}
	if len(out.Events) > f.Limit {
		out.Events, out.More = out.Events[:f.Limit], true
	}
	if out.Events, err = s.Access.Events(ctx, s.Acts.DB, out.Events, now); err != nil {
		return Stream{}, err
	}
	out.People, err = s.Known(ctx)
	return out, err
}

// Shown are the newest events, as narrowed, of which the acting person may know, with what
// they may know of each.
func (s *Service) Shown(ctx context.Context, want EventFilter) ([]events.Named, error) {
	now := s.Acts.Now()
	all, err := s.events(ctx, want, now)
	if err != nil {
		return nil, err
	}
	return s.Access.Events(ctx, s.Acts.DB, all, now)
}

func (s *Service) events(ctx context.Context, want EventFilter, now time.Time) (all []events.Named, err error) {
	return all, s.Access.View(ctx, now, func(v *guard.View) (n int, err error) {
		bits, err := s.Access.Bits(ctx, v)
		if err != nil {
			return 0, err
		}
		all, err = Newest(ctx, s.Acts.DB, want, v.Readable(), bits)
		return len(all), err
	})
}
