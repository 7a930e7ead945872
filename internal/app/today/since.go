package today

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
)

const (
	// oneLook is how long a look at what is new lasts: whoever comes again within that sees the
	// same as new.
	oneLook = 30 * time.Minute
	// mostNew is how many events are looked through for what is new, mostOwn for what somebody
	// works on, of which so many are shown.
	mostNew, mostOwn, shownOwn = 200, 120, 6
	ownSince                   = 30 * 24 * time.Hour
)

// Since is what is new since somebody looked before.
type Since struct {
	At time.Time
	// Dossiers are how many events there are, by their codes; More says that there are more.
	Dossiers map[string]int
	More     bool
}

// since counts what is new among the newest events. Nothing is, for whoever looks for the first time.
func (s *Service) since(ctx context.Context, me uuid.UUID, latest []events.Named) (*Since, error) {
	l, err := lookOf(ctx, s.Acts.DB, me)
	if fault.Is(err, fault.NotFound) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	from, at := l.BeforeEvent, l.BeforeAt
	if s.Acts.Now().Sub(l.LastAt) >= oneLook {
		from, at = l.LastEvent, l.LastAt
	}
	out := &Since{At: at, Dossiers: map[string]int{}, More: len(latest) == mostNew && latest[len(latest)-1].ID > from}
	for _, e := range latest {
		if e.ID > from && !by(e, me) && e.DossierCode != "" {
			out.Dossiers[e.DossierCode]++
		}
	}
	return out, nil
}

func by(e events.Named, person uuid.UUID) bool { return e.PersonID != nil && *e.PersonID == person }

// Looked notes that the acting person has seen what is new up to an event.
func (s *Service) Looked(ctx context.Context, event int64) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		return keepLook(ctx, tx, tx.Actor.Person.ID, event, tx.Now, tx.Now.Add(-oneLook))
	})
}

// Work is a document that somebody works on, with what they did last.
type Work struct {
	guard.Sight
	Last events.Named
}

// worked are acts by which somebody works on a document.
var worked = []events.Kind{events.DocumentAdded.Kind, events.VersionAdded.Kind, events.RemarkWritten.Kind, events.DocumentCheckedOut.Kind, events.DocumentCheckedIn.Kind, events.DocumentParticulars.Kind,
	events.VersionNoted.Kind, events.VersionNamed.Kind, events.DocumentRenamed.Kind}

// work are the documents on which the acting person worked lately, the last one first.
func (s *Service) work(ctx context.Context, me uuid.UUID) (all []Work, err error) {
	names := make([]string, len(worked))
	for i, k := range worked {
		names[i] = k.Name
	}
	now := s.Acts.Now()
	mine, err := s.Activity.Shown(ctx, activity.EventFilter{Person: me, Kinds: names, Since: now.Add(-ownSince), Limit: mostOwn})
	if err != nil {
		return nil, err
	}
	seen := map[uuid.UUID]bool{}
	for _, e := range mine {
		if len(all) == shownOwn {
			break
		}
		if e.ItemID == nil || seen[*e.ItemID] {
			continue
		}
		seen[*e.ItemID] = true
		sight, err := s.Access.Item(ctx, s.Acts.DB, *e.ItemID, access.See, now)
		switch {
		case fault.Is(err, fault.NotFound), fault.Is(err, fault.Forbidden), err == nil && sight.Number == nil:
			continue // It is gone, or a folder.
		case err != nil:
			return nil, err
		}
		all = append(all, Work{sight, e})
	}
	return slices.Clip(all), nil
}
