package routes

import (
	"context"
	"errors"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	rules "tabularis/core/particulars"
	"tabularis/core/route"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/decisions"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/particulars"
	"tabularis/internal/app/tags"
	"tabularis/internal/platform/jobs"
)

// triggers are what kinds of events can start.
var triggers = map[string][]route.Trigger{
	events.DocumentAdded.Name: {route.Arrives}, events.DocumentApart.Name: {route.Arrives}, events.LinkReceived.Name: {route.Arrives},
	events.DocumentMoved.Name: {route.Arrives, route.MovedIn}, events.VersionAdded.Name: {route.NewVersion}, events.VersionBroughtBack.Name: {route.NewVersion},
	events.LinkRevised.Name: {route.NewVersion}, events.DocumentRenamed.Name: {route.Renamed}, events.DocumentDeleted.Name: {route.Deleted}, events.FolderMade.Name: {route.FolderMade},
	events.AccessGiven.Name: {route.Shared}, events.RemarkResolved.Name: {route.Resolved}, events.DocumentTagged.Name: {route.Tagged}, events.DocumentParticulars.Name: {route.Set},
	events.RunDone.Name: {route.Decided}, events.SigningFinished.Name: {route.SigningEnd},
}

// StartBy starts the routes that an event starts, each in an act of its own.
func (s *Service) StartBy(ctx context.Context, job jobs.Heed) error {
	by, any := triggers[job.What]
	if !any {
		return nil
	}
	path, err := pathOf(ctx, s.Acts.DB, job.Item)
	if fault.Is(err, fault.NotFound) || err == nil && len(path) == 0 {
		return nil
	}
	if err != nil {
		return err
	}
	found, err := startedBy(ctx, s.Acts.DB, path, by)
	if err != nil || len(found) == 0 {
		return err
	}
	named, err := activity.EventsByID(ctx, s.Acts.DB, []int64{job.Event})
	if err != nil {
		return err
	}
	e, there := named[job.Event]
	if !there {
		return nil
	}
	var failed []error
	for _, r := range found {
		failed = append(failed, s.startBy(ctx, r, e.Event, job.Item))
	}
	return errors.Join(failed...)
}

// startBy starts a route by an event, if it is what the route says.
func (s *Service) startBy(ctx context.Context, r started, e events.Event, item uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := lockAround(ctx, tx, r.Route); err != nil {
			return err
		}
		now, err := byID(ctx, tx, r.ID, true)
		if fault.Is(err, fault.NotFound) || err == nil && !now.On {
			return nil
		}
		if err != nil {
			return err
		}
		d, err := s.counting(ctx, tx, now)
		if err != nil || r.Position >= len(d.Starts) {
			return err
		}
		at, there, err := locate(ctx, tx, item)
		if err != nil || !there && !d.Paperless() || at.Item.Kind == items.Folder && !d.Paperless() {
			return err
		}
		cause := fmt.Sprintf("event:%d", e.ID)
		is, err := s.meant(ctx, tx, now, d.Starts[r.Position], e, at, &cause)
		if err != nil || !is {
			return err
		}
		return s.start(ctx, tx, now, d, at, beginning{cause: cause})
	})
}

// locate finds an item, also where it is deleted; one that was destroyed is nowhere.
func locate(ctx context.Context, tx *act.Tx, item uuid.UUID) (at guard.Located, there bool, err error) {
	if at, there, err = guard.SightAnywhere(ctx, tx, item, tx.Now); fault.Is(err, fault.NotFound) {
		return at, false, nil
	}
	return at, there, err
}

// meant reports whether an event is what a start speaks of: this tag, this particular, its value coming
// to hold, the decision of this route.
func (s *Service) meant(ctx context.Context, tx *act.Tx, r Route, st route.Start, e events.Event, at guard.Located, cause *string) (bool, error) {
	said := events.MapOf(e.Data)
	switch st.On {
	case route.Tagged:
		name, err := tags.NameOf(ctx, tx, *st.Tag)
		return err == nil && slices.Contains(strings.Split(said["put"], ", "), name), err
	case route.Set:
		return s.set(ctx, tx, r, st, said["values"], at, cause)
	case route.Decided:
		last, err := decisions.LastDone(ctx, tx, at.ID)
		return err == nil && (last == nil || *last != r.ID) && (st.Route == nil || last != nil && *last == *st.Route), err
	}
	return true, nil
}

// set reports whether a particular was set, and, where it has to cross a value, has come to hold: it can
// start the route again only after it has ceased to.
func (s *Service) set(ctx context.Context, tx *act.Tx, r Route, st route.Start, values string, at guard.Located, cause *string) (bool, error) {
	defined, err := particulars.Definitions(ctx, tx)
	if err != nil {
		return false, err
	}
	i := slices.IndexFunc(defined, func(d rules.Definition) bool { return d.ID == *st.Particular })
	if i < 0 || !slices.ContainsFunc(strings.Split(values, "; "), func(v string) bool { return strings.HasPrefix(v, defined[i].Name+": ") }) {
		return false, nil
	}
	if st.Crosses == nil {
		return true, nil
	}
	w, err := s.Decisions.World(ctx, tx, at)
	if err != nil {
		return false, err
	}
	*cause = "crossed:" + st.Particular.String()
	if c := (&route.Condition{Test: st.Crosses}); !c.Holds(w.Facts) {
		return false, ceased(ctx, tx, r.ID, at.ID, *cause)
	}
	return true, nil
}

// beginning is how a run begins: by whom, and what must not begin it twice.
type beginning struct {
	by    *uuid.UUID
	cause string
	note  string
	depth int
}

const (
	// spinning is how often a document may start the same route within an hour by itself.
	spinning = 5
	// spell is how long that is looked at.
	spell = time.Hour
)

// start begins a run, unless one is under way, its conditions do not hold, or the same thing has begun
// one already. A route that its placer may no longer let act, or that goes round, is stopped.
func (s *Service) start(ctx context.Context, tx *act.Tx, r Route, d route.Definition, at guard.Located, b beginning) error {
	placer, err := accounts.PersonByID(ctx, tx, r.PlacedBy)
	if err != nil {
		return err
	}
	may, err := s.Decisions.Sees(ctx, tx, *r.FolderID, placer.ID, access.Manage, tx.Now)
	if err != nil {
		return err
	}
	if !may {
		return s.stop(ctx, tx, r, "unplaced")
	}
	if open, err := decisions.UnderWay(ctx, tx, r.ID, at.ID); err != nil || open {
		if open && b.by != nil {
			return errUnder.New("the document is on its way along the route already")
		}
		return err
	}
	w, err := s.Decisions.World(ctx, tx, at)
	if err != nil {
		return err
	}
	if !d.If.Holds(w.Facts) {
		if b.by != nil {
			return errFits.New("the conditions of the route do not hold for it")
		}
		return nil
	}
	if b.cause != "" {
		first, err := begun(ctx, tx, r.ID, at.ID, b.cause)
		if err != nil || !first {
			return err
		}
		n, err := decisions.BegunSince(ctx, tx, r.ID, at.ID, tx.Now.Add(-spell))
		if err != nil {
			return err
		}
		if n >= spinning {
			return s.stop(ctx, tx, r, "loops")
		}
	}
	e, err := decisions.EditionOf(ctx, tx, r.ID, r.Edition)
	if err != nil {
		return err
	}
	return s.Decisions.Begin(ctx, tx, at, e, decisions.Beginning{By: b.by, ActsFor: r.PlacedBy, Note: b.note, Depth: b.depth})
}

// stop switches a route off by itself, and tells whoever placed it and those who manage its folder.
func (s *Service) stop(ctx context.Context, tx *act.Tx, r Route, reason string) error {
	if err := s.off(ctx, tx, r, reason); err != nil {
		return err
	}
	at, err := guard.SightOf(ctx, tx, *r.FolderID, tx.Now)
	if err != nil {
		return err
	}
	managers, err := s.Access.Managers(ctx, tx, at.DossierID, tx.Now)
	if err != nil {
		return err
	}
	for _, person := range guard.Sorted(append(managers, r.PlacedBy)) {
		if err := notices.Once(ctx, tx, person, notices.RouteStopped, r.Name, "/routes/"+r.ID.String()); err != nil {
			return err
		}
	}
	return nil
}

// StartHere starts a route on documents by hand, all of them or none: for whoever may change them.
func (s *Service) StartHere(ctx context.Context, id uuid.UUID, documents []uuid.UUID, note string) error {
	if len(documents) == 0 || len(documents) > 100 {
		return fault.ItemsCount.In("documents", "choose between 1 and %d documents", 100)
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		me := tx.Actor.Person
		if me == nil {
			return fault.SignedOut()
		}
		r, d, err := s.byHand(ctx, tx, id)
		if err != nil {
			return err
		}
		if !slices.ContainsFunc(d.Starts, func(st route.Start) bool { return st.On == route.ByHand }) {
			return errByHand.New("the route is not started by hand")
		}
		for _, document := range guard.Sorted(documents) {
			sight, err := tree.HoldDocument(ctx, tx, s.Access, document, access.See|access.Change)
			if err != nil {
				return err
			}
			path, err := pathOf(ctx, tx, document)
			if err != nil {
				return err
			}
			if !slices.ContainsFunc(d.Starts, func(st route.Start) bool { return st.On == route.ByHand && slices.Contains(path, from(r, st)) }) {
				return errFits.New("%s lies elsewhere", sight.Ref())
			}
			if err := s.start(ctx, tx, r, d, sight.Located, beginning{by: &me.ID, note: note}); err != nil {
				return err
			}
		}
		return nil
	})
}

// byHand finds a route that is on and whose folder the acting person sees, and holds it.
func (s *Service) byHand(ctx context.Context, tx *act.Tx, id uuid.UUID) (r Route, d route.Definition, err error) {
	if r, err = byID(ctx, tx, id, false); err != nil {
		return r, d, err
	}
	if r.FolderID == nil || !tx.Actor.Person.Inside() {
		return r, d, fault.Missing()
	}
	if _, err := s.Access.Item(ctx, tx, *r.FolderID, access.See, tx.Now); err != nil {
		return r, d, err
	}
	if err := lockAround(ctx, tx, r); err != nil {
		return r, d, err
	}
	if r, err = byID(ctx, tx, id, true); err != nil {
		return r, d, err
	}
	if !r.On {
		return r, d, errOff.New("the route is not switched on")
	}
	d, err = s.counting(ctx, tx, r)
	return r, d, err
}

// from is the folder in which a start holds.
func from(r Route, st route.Start) uuid.UUID {
	if st.Folder != nil {
		return *st.Folder
	}
	return *r.FolderID
}

// StartOther starts a route on a document, for another one that says so.
func (s *Service) StartOther(ctx context.Context, tx *act.Tx, id uuid.UUID, at guard.Located, depth int) error {
	r, err := byID(ctx, tx, id, true)
	if err != nil {
		return err
	}
	if !r.On {
		return errOff.New("the route is not switched on")
	}
	d, err := s.counting(ctx, tx, r)
	if err != nil {
		return err
	}
	return s.start(ctx, tx, r, d, at, beginning{depth: depth, cause: fmt.Sprintf("other:%d:%d", tx.Now.UnixMicro(), depth)})
}

// Placed refuses to act for a route whose folder the acting person no longer manages.
func (s *Service) Placed(ctx context.Context, tx *act.Tx, id uuid.UUID) error {
	r, err := anyByID(ctx, tx, id)
	if err != nil {
		return err
	}
	if r.FolderID == nil {
		return nil
	}
	may, err := s.Decisions.Sees(ctx, tx, *r.FolderID, tx.Actor.Person.ID, access.Manage, tx.Now)
	if err == nil && !may {
		err = decisions.ErrUnplaced.New("whoever placed the route no longer manages its folder")
	}
	return err
}

// Register registers what is done again and again.
func (s *Service) Register(r *jobs.Registry) {
	r.Every("start routes whose day has come", 15*time.Minute, s.StartDue)
}

// mostByDate is how many documents one look starts routes on.
const mostByDate = 1000

// StartDue starts the routes whose day has come for documents, once for each day that is set.
func (s *Service) StartDue(ctx context.Context) error {
	list, err := byDate(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	calendar, err := s.Decisions.Calendar(ctx, s.Acts.DB)
	if err != nil {
		return err
	}
	var failed []error
	for _, r := range list {
		d, err := s.counting(ctx, s.Acts.DB, r.Route)
		if err != nil || r.Position >= len(d.Starts) {
			failed = append(failed, err)
			continue
		}
		st := d.Starts[r.Position]
		until, err := time.Parse(time.DateOnly, calendar.Date(s.Acts.Now()))
		if err != nil {
			return err
		}
		day := until.AddDate(0, 0, -st.Days).Format(time.DateOnly)
		due, err := reached(ctx, s.Acts.DB, r.ID, from(r.Route, st), *st.Particular, day, mostByDate)
		failed = append(failed, err)
		for _, one := range due {
			failed = append(failed, s.startOn(ctx, r.Route, d, one))
		}
	}
	return errors.Join(failed...)
}

func (s *Service) startOn(ctx context.Context, r Route, d route.Definition, one dated) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := lockAround(ctx, tx, r); err != nil {
			return err
		}
		now, err := byID(ctx, tx, r.ID, true)
		if err != nil || !now.On {
			return err
		}
		at, there, err := locate(ctx, tx, one.ItemID)
		if err != nil || !there {
			return err
		}
		return s.start(ctx, tx, now, d, at, beginning{cause: "date:" + one.Day})
	})
}
