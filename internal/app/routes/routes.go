// Package routes keeps the routes of folders: written as sentences, tried on what was, and switched on
// with the rights of whoever places them.
package routes

import (
	"context"
	"encoding/json"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/route"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/decisions"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/postgres"
)

// Service keeps routes.
type Service struct {
	Acts      *act.Runner
	Access    *guard.Guard
	Decisions *decisions.Service
	// Known are the people whom somebody may name.
	Known func(ctx context.Context) ([]accounts.Person, error)
}

// mostRoutes is how many a folder has, or the practice has models.
const mostRoutes = 50

// Listed is a route with how many of its runs go on and are held up.
type Listed struct {
	Route
	Folder  *guard.Sight
	Placer  string
	Counts  decisions.Counts
	Manages bool
	// Purpose says when to use it, ByHand that it can be started by hand, as it counts now.
	Purpose string
	ByHand  bool
}

// In lists the routes that start in a folder, and those of the folders around it, which take in what lies
// below: for colleagues who see it.
func (s *Service) In(ctx context.Context, folder uuid.UUID) ([]Listed, error) {
	if _, err := s.Access.Kind(ctx, s.Acts.DB, folder, items.Folder, access.See, s.Acts.Now()); err != nil {
		return nil, err
	}
	if !act.Who(ctx).Person.Inside() {
		return nil, fault.Missing()
	}
	path, err := pathOf(ctx, s.Acts.DB, folder)
	if err != nil {
		return nil, err
	}
	list, err := on(ctx, s.Acts.DB, path)
	if err != nil {
		return nil, err
	}
	return s.listed(ctx, list)
}

// All lists the routes of all folders that the acting person sees, and the practice's models.
func (s *Service) All(ctx context.Context) ([]Listed, error) {
	if me := act.Who(ctx).Person; me == nil || !me.Inside() {
		return nil, fault.Missing()
	}
	list, err := all(ctx, s.Acts.DB)
	if err != nil {
		return nil, err
	}
	return s.listed(ctx, list)
}

// listed completes routes; those of folders that the acting person does not see are left out.
func (s *Service) listed(ctx context.Context, list []Route) (out []Listed, err error) {
	var placers []uuid.UUID
	for _, r := range list {
		l := Listed{Route: r, Manages: act.Who(ctx).Person.Administers()}
		if r.FolderID != nil {
			sight, err := s.Access.Item(ctx, s.Acts.DB, *r.FolderID, access.See, s.Acts.Now())
			if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
				continue
			}
			if err != nil {
				return nil, err
			}
			l.Folder, l.Manages = &sight, sight.Caps.Has(access.Manage)
			if !r.On && r.Edition == 0 && !l.Manages {
				continue // What others are writing is theirs.
			}
			if l.Counts, err = s.Decisions.CountAlong(ctx, r.ID); err != nil {
				return nil, err
			}
		}
		if err := s.describe(ctx, &l); err != nil {
			return nil, err
		}
		placers, out = append(placers, r.PlacedBy), append(out, l)
	}
	names, err := s.Decisions.Names(ctx, s.Acts.DB, placers)
	for i := range out {
		out[i].Placer = names[out[i].PlacedBy]
	}
	return out, err
}

// describe says of a route what its words say about when to use it.
func (s *Service) describe(ctx context.Context, l *Listed) (err error) {
	var d route.Definition
	switch {
	case l.Edition > 0:
		d, err = s.counting(ctx, s.Acts.DB, l.Route)
	case l.Draft != nil:
		d, err = read(*l.Draft)
	}
	l.Purpose = d.Purpose
	l.ByHand = l.On && slices.ContainsFunc(d.Starts, func(st route.Start) bool { return st.On == route.ByHand })
	return err
}

// Shown is a route with its words.
type Shown struct {
	Listed
	// Definition is what is being written, or else what counts; Counting is the latter.
	Definition route.Definition
	Counting   *route.Definition
	Problems   []route.Problem
	Names      map[uuid.UUID]string
	// Folders are the names of those of whom it speaks and that the acting person sees.
	Folders map[uuid.UUID]guard.Sight
	// Gains are whom it would let see more than see the folder of the route.
	Gains []Gain
}

// One shows a route.
func (s *Service) One(ctx context.Context, id uuid.UUID) (out Shown, err error) {
	r, err := byID(ctx, s.Acts.DB, id, false)
	if err != nil {
		return out, err
	}
	list, err := s.listed(ctx, []Route{r})
	if err != nil {
		return out, err
	}
	if me := act.Who(ctx).Person; len(list) == 0 || !me.Inside() {
		return out, fault.Missing()
	}
	out.Listed = list[0]
	if r.Edition > 0 {
		counting, err := s.counting(ctx, s.Acts.DB, r)
		if err != nil {
			return out, err
		}
		out.Counting, out.Definition = &counting, counting
	}
	if r.Draft != nil && out.Manages {
		if out.Definition, err = read(*r.Draft); err != nil {
			return out, err
		}
	}
	return out, s.explain(ctx, &out)
}

func (s *Service) counting(ctx context.Context, q postgres.Q, r Route) (route.Definition, error) {
	e, err := decisions.EditionOf(ctx, q, r.ID, r.Edition)
	if err != nil {
		return route.Definition{}, err
	}
	return e.Definition()
}

func read(raw json.RawMessage) (d route.Definition, err error) {
	if err := json.Unmarshal(raw, &d); err != nil {
		return d, errFormat.In("definition", "that is no route: %v", err)
	}
	return d, nil
}

// explain says what of a route does not hold, and what its words are called.
func (s *Service) explain(ctx context.Context, out *Shown) error {
	if out.Manages {
		var err error
		if out.Problems, err = s.problems(ctx, s.Acts.DB, out.Route, out.Definition); err != nil {
			return err
		}
	}
	var err error
	if out.Names, err = s.Decisions.Names(ctx, s.Acts.DB, append(out.Definition.Names(), out.PlacedBy)); err != nil {
		return err
	}
	if out.Folders, err = s.Decisions.Folders(ctx, out.Definition); err != nil || out.FolderID == nil || !out.Manages {
		return err
	}
	out.Gains, err = s.gains(ctx, *out.FolderID, out.Definition)
	return err
}

// Make begins to write a route on a folder, or without one a model of the practice.
func (s *Service) Make(ctx context.Context, folder *uuid.UUID, d route.Definition) (id uuid.UUID, err error) {
	if d, err = sound(d); err != nil {
		return id, err
	}
	raw, err := json.Marshal(d)
	if err != nil {
		return id, err
	}
	id = uuid.Must(uuid.NewV7())
	draft := json.RawMessage(raw)
	return id, s.Acts.Do(ctx, func(tx *act.Tx) error {
		r := Route{ID: id, FolderID: folder, Name: d.Name, PlacedBy: tx.Actor.Person.ID, Draft: &draft, CreatedAt: tx.Now}
		if err := s.mayWrite(ctx, tx, r); err != nil {
			return err
		}
		n, err := countOn(ctx, tx, folder)
		if err != nil {
			return err
		}
		if n >= mostRoutes {
			return errMany.In("folder", "there are %d routes already", n)
		}
		return add(ctx, tx, r)
	})
}

// sound refuses what cannot even be kept as a draft.
func sound(d route.Definition) (route.Definition, error) {
	var err error
	if d.Name, err = names.Named("name", d.Name, 100); err != nil {
		return d, err
	}
	raw, err := json.Marshal(d)
	if err == nil && len(raw) > 256<<10 {
		err = errFormat.In("definition", "a route has at most 256 kB")
	}
	return d, err
}

// mayWrite refuses whoever does not manage the folder of a route, or does not administer the practice,
// where it is a model.
func (s *Service) mayWrite(ctx context.Context, tx *act.Tx, r Route) error {
	me := tx.Actor.Person
	switch {
	case me == nil:
		return fault.SignedOut()
	case !me.Inside():
		return fault.Missing()
	case r.FolderID == nil && !me.Administers():
		return fault.Refused("write the practice's routes")
	case r.FolderID == nil:
		return nil
	}
	sight, err := s.Access.Kind(ctx, tx, *r.FolderID, items.Folder, access.See, tx.Now)
	if err == nil && !sight.Caps.Has(access.Manage) {
		err = fault.Refused("write routes")
	}
	return err
}

// hold finds a route that the acting person may write, and holds it.
func (s *Service) hold(ctx context.Context, tx *act.Tx, id uuid.UUID) (Route, error) {
	r, err := byID(ctx, tx, id, false)
	if err != nil {
		return r, err
	}
	if err := s.mayWrite(ctx, tx, r); err != nil {
		return r, err
	}
	if err := lockAround(ctx, tx, r); err != nil {
		return r, err
	}
	if r, err = byID(ctx, tx, id, true); err != nil {
		return r, err
	}
	return r, s.mayWrite(ctx, tx, r)
}

// lockAround holds the dossier of a route's folder, which is always held before the route is.
func lockAround(ctx context.Context, tx *act.Tx, r Route) error {
	if r.FolderID == nil {
		return nil
	}
	at, err := guard.SightOf(ctx, tx, *r.FolderID, tx.Now)
	if err != nil {
		return err
	}
	return tree.LockDossier(ctx, tx, at.DossierID)
}

// Write keeps what is being written; runs and the edition that counts stay as they are. Since is when the
// writer read it, so that nobody's words are lost unseen.
func (s *Service) Write(ctx context.Context, id uuid.UUID, d route.Definition, since time.Time) error {
	d, err := sound(d)
	if err != nil {
		return err
	}
	raw, err := json.Marshal(d)
	if err != nil {
		return err
	}
	draft := json.RawMessage(raw)
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, err := s.hold(ctx, tx, id)
		if err != nil {
			return err
		}
		if r.ChangedAt.Sub(since).Abs() > time.Millisecond {
			return errChanged.New("the route was changed at %s", r.ChangedAt.Format(time.RFC3339))
		}
		r.Draft, r.ChangedAt = &draft, tx.Now
		if r.Edition == 0 {
			r.Name = d.Name
		}
		return change(ctx, tx, r)
	})
}

// Discard forgets what is being written.
func (s *Service) Discard(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, err := s.hold(ctx, tx, id)
		if err != nil {
			return err
		}
		if r.Edition == 0 {
			_, err := remove(ctx, tx, id)
			return err
		}
		r.Draft, r.ChangedAt = nil, tx.Now
		return change(ctx, tx, r)
	})
}

// Switch switches a route on, with what was written of it as its next edition, or off. Switching on
// places it: from then on it acts with the rights of whoever did. Runs under way keep their edition.
func (s *Service) Switch(ctx context.Context, id uuid.UUID, on bool) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, err := s.hold(ctx, tx, id)
		if err != nil {
			return err
		}
		if !on {
			return s.off(ctx, tx, r, "")
		}
		if r.FolderID == nil {
			return errNothing.New("a model is not switched on; place it on a folder")
		}
		return s.on(ctx, tx, r)
	})
}

func (s *Service) on(ctx context.Context, tx *act.Tx, r Route) error {
	raw := r.Draft
	if raw == nil && r.Edition > 0 {
		e, err := decisions.EditionOf(ctx, tx, r.ID, r.Edition)
		if err != nil {
			return err
		}
		raw = &e.Raw
	}
	if raw == nil || r.On && r.Draft == nil {
		return errNothing.New("there is nothing new to be switched on")
	}
	d, err := read(*raw)
	if err != nil {
		return err
	}
	flaws, err := s.problems(ctx, tx, r, d)
	if err != nil {
		return err
	}
	if len(flaws) > 0 {
		return errFlawed.In(flaws[0].At, "%d words do not hold: %s", len(flaws), flaws[0].Code)
	}
	if r.Draft != nil {
		r.Edition++
		e := decisions.Edition{ID: uuid.Must(uuid.NewV7()), RouteID: &r.ID, Number: r.Edition, Raw: *raw, MadeBy: tx.Actor.Person.ID, MadeAt: tx.Now}
		if err := decisions.AddEdition(ctx, tx, e); err != nil {
			return err
		}
	}
	r.Name, r.PlacedBy, r.On, r.Stopped, r.Draft, r.ChangedAt = d.Name, tx.Actor.Person.ID, true, "", nil, tx.Now
	if err := change(ctx, tx, r); err != nil {
		return err
	}
	if err := keepStarts(ctx, tx, r, d.Starts); err != nil {
		return err
	}
	return s.record(ctx, tx, r, events.RouteSwitchedOn, "")
}

// off switches a route off; the reason is given where nobody did it by hand.
func (s *Service) off(ctx context.Context, tx *act.Tx, r Route, reason string) error {
	if !r.On {
		return errOff.New("the route is not switched on")
	}
	r.On, r.Stopped, r.ChangedAt = false, reason, tx.Now
	if err := change(ctx, tx, r); err != nil {
		return err
	}
	if err := keepStarts(ctx, tx, r, nil); err != nil {
		return err
	}
	return s.record(ctx, tx, r, events.RouteSwitchedOff, reason)
}

func (s *Service) record(ctx context.Context, tx *act.Tx, r Route, what events.Of[events.Routing], reason string) error {
	f, err := guard.SightOf(ctx, tx, *r.FolderID, tx.Now)
	if err != nil {
		return err
	}
	return tx.Record(ctx, act.Event{What: what.With(events.Routing{Route: r.Name, Edition: r.Edition, Reason: reason}), Dossier: f.DossierID, Item: r.FolderID})
}

// Remove takes a route away. What is on its way along it goes on.
func (s *Service) Remove(ctx context.Context, id uuid.UUID) error {
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		r, err := s.hold(ctx, tx, id)
		if err != nil {
			return err
		}
		if r.FolderID != nil && r.Edition > 0 {
			if err := s.record(ctx, tx, r, events.RouteRemoved, ""); err != nil {
				return err
			}
		}
		gone, err := remove(ctx, tx, id)
		if err != nil || gone {
			return err
		}
		r.On, r.RemovedAt = false, &tx.Now
		if err := change(ctx, tx, r); err != nil {
			return err
		}
		return keepStarts(ctx, tx, r, nil)
	})
}

// Runs lists the runs of a route since a moment, for colleagues who see its folder.
func (s *Service) Runs(ctx context.Context, id uuid.UUID, since time.Time) (Shown, []decisions.Line, error) {
	shown, err := s.One(ctx, id)
	if err != nil {
		return shown, nil, err
	}
	lines, err := s.Decisions.Along(ctx, id, since)
	return shown, lines, err
}
