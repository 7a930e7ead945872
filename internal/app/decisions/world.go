package decisions

import (
	"bytes"
	"context"
	"encoding/hex"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/route"
	"tabularis/core/working"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/links"
	"tabularis/internal/app/particulars"
	"tabularis/internal/app/practice"
	"tabularis/internal/app/tags"
	"tabularis/internal/platform/postgres"
)

// World is what a run of a document is decided in, as it is now.
func (s *Service) World(ctx context.Context, tx *act.Tx, at guard.Located) (w route.World, err error) {
	w.Now = tx.Now
	if w.Calendar, err = s.Calendar(ctx, tx); err != nil {
		return w, err
	}
	forest, circles, err := s.Access.Dossier(ctx, tx, at.DossierID)
	if err != nil {
		return w, err
	}
	w.Here = func(person uuid.UUID) bool {
		if _, active := circles.Account(access.ID(person)); !active {
			return false
		}
		caps := forest.Decide(access.ID(at.Root), circles.Subjects(access.ID(person)), w.Now).Caps
		if at.CreatedBy == person {
			caps = guard.Own(caps)
		}
		return caps.Has(access.See)
	}
	w.People = func(who route.Who) []uuid.UUID {
		switch {
		case who.Person != nil:
			return []uuid.UUID{*who.Person}
		case who.Group != nil:
			return members(circles, *who.Group)
		}
		var managers []access.Subject
		for _, g := range forest.Managers(w.Now) {
			managers = append(managers, g.Subject)
		}
		return sorted(circles.Everybody(managers))
	}
	if err := s.away(ctx, tx, &w); err != nil {
		return w, err
	}
	w.Facts, err = s.facts(ctx, tx, at, circles, w.Now)
	return w, err
}

// members are the active people of a group, in a steady order.
func members(c *access.Circles, group uuid.UUID) []uuid.UUID {
	return sorted(c.People(access.Subject{Kind: access.Group, ID: access.ID(group)}))
}

func sorted(all []access.ID) (ids []uuid.UUID) {
	for _, id := range all {
		ids = append(ids, uuid.UUID(id))
	}
	slices.SortFunc(ids, func(a, b uuid.UUID) int { return bytes.Compare(a[:], b[:]) })
	return ids
}

// Calendar is the practice's.
func (s *Service) Calendar(ctx context.Context, q postgres.Q) (working.Calendar, error) {
	p, zone, err := practice.PracticeZone(ctx, q)
	if err != nil {
		return working.Calendar{}, err
	}
	c, err := p.WorkingCalendar()
	return c.In(zone), err
}

func (s *Service) away(ctx context.Context, q postgres.Q, w *route.World) error {
	today := w.Calendar.Date(w.Now)
	all, err := absencesFrom(ctx, q, today)
	if err != nil {
		return err
	}
	w.Away = func(person uuid.UUID) (days []working.Absence) {
		for _, a := range all {
			if a.PersonID == person {
				days = append(days, a.days())
			}
		}
		return days
	}
	w.Substitute = func(person uuid.UUID) *uuid.UUID {
		for _, a := range all {
			if a.PersonID == person && a.days().Covers(today) {
				return a.Substitute
			}
		}
		return nil
	}
	return nil
}

func (a Absence) days() working.Absence {
	return working.Absence{From: a.From.Format(time.DateOnly), To: a.To.Format(time.DateOnly)}
}

// facts are what conditions look at.
func (s *Service) facts(ctx context.Context, q postgres.Q, at guard.Located, circles *access.Circles, now time.Time) (f route.Facts, err error) {
	f = route.Facts{Particulars: map[uuid.UUID]string{}, Size: at.Size, Name: at.Item.Name}
	by, err := particulars.Shown(ctx, q, []uuid.UUID{at.ID})
	if err != nil {
		return f, err
	}
	for _, field := range by[at.ID] {
		f.Particulars[field.ID] = field.Value
	}
	if f.Tags, err = tags.PracticesOn(ctx, q, at.ID); err != nil {
		return f, err
	}
	if f.Author, err = tree.BroughtBy(ctx, q, at.ID, at.Version); err != nil {
		return f, err
	}
	for _, subject := range circles.Subjects(access.ID(f.Author)) {
		if subject.Kind == access.Group {
			f.Circles = append(f.Circles, uuid.UUID(subject.ID))
		}
	}
	if f.Sealed, f.Signed, err = bearing(ctx, q, at.ID, at.Version); err != nil {
		return f, err
	}
	d, err := tree.DossierByID(ctx, q, at.DossierID)
	if err != nil {
		return f, err
	}
	f.Dossier = d.Kind
	door, err := s.Access.Door(ctx, q, at, at.Root, now)
	f.Reach = "closed"
	if door.Outside > 0 {
		f.Reach = "named"
	}
	if err != nil || !at.Linked {
		return f, err
	}
	path, err := tree.ZonePathOf(ctx, q, at.ID)
	if err != nil {
		return f, err
	}
	open, err := links.LivingOn(ctx, q, path, now)
	if len(open) > 0 {
		f.Reach = "open"
	}
	return f, err
}

// content is what a decision on a document counts for now.
func content(at guard.Located) route.Content {
	return route.Content{Version: at.Version, SHA256: hex.EncodeToString(at.SHA256)}
}
