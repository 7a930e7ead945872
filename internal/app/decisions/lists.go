package decisions

import (
	"bytes"
	"context"
	"encoding/json"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/route"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
	"tabularis/internal/app/people"
	"tabularis/internal/platform/postgres"
)

// Line is a run as it is listed.
type Line struct {
	ID         uuid.UUID
	Sight      guard.Sight
	Definition route.Definition
	// RouteID is by which route it goes; nil was asked by hand.
	RouteID *uuid.UUID
	Edition int
	Run     route.Run
	Started time.Time
	Ended   *time.Time
	// Names are those of the people and groups of whom it speaks.
	Names map[uuid.UUID]string
	// Days counts working days.
	Days func(from, till time.Time) float64

	events  []route.Event
	edition Edition
}

// Mine are the runs that concern the acting person.
type Mine struct {
	OnMe, WaitFor, Finished []Line
}

const (
	mostListed = 200
	// recently is for how long what is finished is listed.
	recently = 30 * 24 * time.Hour
)

// List lists the runs that concern the acting person.
func (s *Service) List(ctx context.Context) (m Mine, err error) {
	me := act.Who(ctx).Person
	if me == nil {
		return m, fault.SignedOut()
	}
	q := s.Acts.DB
	on, err := onMe(ctx, q, me.ID, mostListed)
	if err != nil {
		return m, err
	}
	wait, err := waitedFor(ctx, q, me.ID, mostListed)
	if err != nil {
		return m, err
	}
	over, err := finished(ctx, q, me.ID, s.Acts.Now().Add(-recently), mostListed)
	if err != nil {
		return m, err
	}
	for _, part := range []struct {
		rows []row
		to   *[]Line
	}{{on, &m.OnMe}, {wait, &m.WaitFor}, {over, &m.Finished}} {
		if *part.to, err = s.lines(ctx, q, part.rows); err != nil {
			return m, err
		}
	}
	return m, nil
}

// CountOnMe counts what waits for the acting person.
func (s *Service) CountOnMe(ctx context.Context) (int, error) {
	return countOnMe(ctx, s.Acts.DB, act.Who(ctx).Person.ID)
}

// OnMe lists what waits for the acting person.
func (s *Service) OnMe(ctx context.Context) ([]Line, error) {
	rows, err := onMe(ctx, s.Acts.DB, act.Who(ctx).Person.ID, mostListed)
	if err != nil {
		return nil, err
	}
	return s.lines(ctx, s.Acts.DB, rows)
}

// Of lists the runs of a document that the acting person may know of, the last first.
func (s *Service) Of(ctx context.Context, document uuid.UUID) ([]Line, error) {
	if _, err := s.Access.Item(ctx, s.Acts.DB, document, access.See, s.Acts.Now()); err != nil {
		return nil, err
	}
	rows, err := runsOf(ctx, s.Acts.DB, document, 20)
	if err != nil {
		return nil, err
	}
	return s.lines(ctx, s.Acts.DB, rows)
}

// Along lists the runs of a route since a moment, those that do not go on first. Who may know of the
// route is for the caller to decide.
func (s *Service) Along(ctx context.Context, of uuid.UUID, since time.Time) ([]Line, error) {
	rows, err := runsAlong(ctx, s.Acts.DB, of, since, 500)
	if err != nil {
		return nil, err
	}
	return s.lines(ctx, s.Acts.DB, rows)
}

// CountAlong counts the runs of a route whose documents the acting person sees.
func (s *Service) CountAlong(ctx context.Context, of uuid.UUID) (Counts, error) {
	v, err := s.Access.Mine(ctx, s.Acts.Now())
	if err != nil {
		return Counts{}, err
	}
	return countAlong(ctx, s.Acts.DB, of, s.Acts.Now().Add(-recently), v.Readable())
}

// lines are runs with all that is shown of them; those of which the acting person may not know are left
// out.
func (s *Service) lines(ctx context.Context, q postgres.Q, rows []row) (all []Line, err error) {
	if len(rows) == 0 {
		return nil, nil
	}
	var ids, editions []uuid.UUID
	for _, r := range rows {
		ids, editions = append(ids, r.ID), append(editions, r.EditionID)
	}
	events, err := allEvents(ctx, q, ids)
	if err != nil {
		return nil, err
	}
	along, err := editionsByID(ctx, q, editions)
	if err != nil {
		return nil, err
	}
	count, err := s.counter(ctx)
	if err != nil {
		return nil, err
	}
	for _, r := range rows {
		e := along[r.EditionID]
		l := Line{Days: count, ID: r.ID, Run: route.Replay(events[r.ID]), RouteID: e.RouteID, Edition: e.Number, Started: r.StartedAt, Ended: r.EndedAt, events: events[r.ID], edition: e}
		if l.Definition, err = e.Definition(); err != nil {
			return nil, err
		}
		l.Sight, err = s.knows(ctx, q, r, l.Run)
		if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
			continue
		}
		if err != nil {
			return nil, err
		}
		all = append(all, l)
	}
	return all, s.named(ctx, q, all)
}

// knows finds a run's document, if the acting person may know of the run: colleagues who can open it, and
// whoever is or was asked, brought it or began it.
func (s *Service) knows(ctx context.Context, q postgres.Q, r row, run route.Run) (guard.Sight, error) {
	sight, err := s.Access.Item(ctx, q, r.ItemID, access.See, s.Acts.Now())
	if fault.Is(err, fault.NotFound) {
		sight, err = s.Access.Deleted(ctx, q, r.ItemID, access.See, s.Acts.Now())
	}
	if err != nil {
		return sight, err
	}
	me := act.Who(ctx).Person
	if me.Inside() || run.Concerns(me.ID) {
		return sight, nil
	}
	return sight, fault.Missing()
}

// named finds the names of everybody of whom runs speak.
func (s *Service) named(ctx context.Context, q postgres.Q, all []Line) error {
	var ids []uuid.UUID
	for _, l := range all {
		ids = append(ids, l.Definition.Names()...)
		ids = append(ids, l.Run.People()...)
	}
	names, err := s.Names(ctx, q, ids)
	for i := range all {
		all[i].Names = names
	}
	return err
}

// Names are the names of people and groups.
func (s *Service) Names(ctx context.Context, q postgres.Q, ids []uuid.UUID) (map[uuid.UUID]string, error) {
	names := map[uuid.UUID]string{}
	groups, err := people.GroupNamesOf(ctx, q, ids)
	if err != nil {
		return nil, err
	}
	found, err := accounts.PeopleByID(ctx, q, ids)
	for id, name := range groups {
		names[id] = name
	}
	for _, p := range found {
		names[p.ID] = p.Name
	}
	return names, err
}

// May is what the acting person may do with a run.
type May struct {
	Decide, TakeBack, HandIn, LookAfter, CallOff, Ask bool
}

// Shown is a run with all that has happened to it.
type Shown struct {
	Line
	Events []route.Event
	May    May
	// Since is the version that the acting person decided on last, or that was decided on before.
	Since int
	// Signing is the request for signatures of the document that is under way; uuid.Nil where none is.
	Signing uuid.UUID
}

// One shows a run.
func (s *Service) One(ctx context.Context, id uuid.UUID) (out Shown, err error) {
	return out, s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		if tx.Actor.Person == nil {
			return fault.SignedOut()
		}
		out, err = s.one(ctx, tx, id)
		return err
	})
}

func (s *Service) one(ctx context.Context, tx *act.Tx, id uuid.UUID) (out Shown, err error) {
	r, err := rowOf(ctx, tx, id, false)
	if err != nil {
		return out, err
	}
	lines, err := s.lines(ctx, tx, []row{r})
	if err != nil {
		return out, err
	}
	if len(lines) == 0 {
		return out, fault.Missing()
	}
	out.Line = lines[0]
	out.Events = out.events
	m, err := s.machine(ctx, tx, out.Sight.Located, out.edition)
	if err != nil {
		return out, err
	}
	m.Run = out.Run
	out.May, out.Since = s.may(tx, out, m), out.seenBefore(tx.Actor.Person.ID)
	with, err := signings(ctx, tx, []uuid.UUID{r.ItemID})
	for _, one := range with {
		if one.Open && tx.Actor.Person.Inside() {
			out.Signing = one.Signing
		}
	}
	if err != nil {
		return out, err
	}
	return out, nil
}

func (s *Service) may(tx *act.Tx, of Shown, m *route.Machine) (may May) {
	me, open := tx.Actor.Person.ID, of.Run.Status.Open()
	may.LookAfter = open && (of.Sight.Caps.Has(access.Manage) || of.RouteID == nil && of.Run.Starter == me)
	may.Decide = slices.ContainsFunc(of.Run.Waiting(), func(a route.Asked) bool { return a.Person == me })
	may.HandIn = open && of.Run.Back != nil && (of.Run.Back.To == me || may.LookAfter)
	may.CallOff = open && (may.LookAfter || of.Run.Starter == me || slices.Contains(m.Resolve(of.Definition.CallOff), me))
	may.Ask = open
	// Whether a decision can be taken back is found out by doing it to a copy.
	try := route.Machine{Definition: m.Definition, World: m.World, Run: of.Run}
	may.TakeBack = try.TakeBack(me) == nil
	return may
}

// seenBefore is the version on which somebody decided last in this run, or else the one that the run was
// about before, if another one counts now.
func (s Shown) seenBefore(person uuid.UUID) int {
	seen, before := 0, 0
	for _, e := range s.Events {
		switch {
		case e.Kind == route.EvSaid && e.Said.Person == person:
			seen = e.Said.Content.Version
		case e.Content != nil && e.Content.Version != s.Run.Content.Version:
			before = e.Content.Version
		}
	}
	if seen == 0 {
		seen = before
	}
	if seen == s.Run.Content.Version {
		return 0
	}
	return seen
}

// Standing is what has become of a document by decisions.
type Standing struct {
	State string
	Run   uuid.UUID
	// Signing is the request by which it is with its parties, or was signed.
	Signing uuid.UUID
	// With are the names of those for whom it waits, Back that it was returned to them, and Held that it
	// does not go on.
	With       []string
	Back, Held bool
	Due        *time.Time
}

// Standings are what has become of documents that somebody was found to see, by document; without one it
// is a draft. A state counts for the content on which it was decided. Guests learn the state alone.
func Standings(ctx context.Context, q postgres.Q, documents []items.Item) (map[uuid.UUID]Standing, error) {
	if len(documents) == 0 {
		return nil, nil
	}
	var ids []uuid.UUID
	counting := map[uuid.UUID][]byte{}
	for _, d := range documents {
		ids = append(ids, d.ID)
		counting[d.ID] = d.SHA256
	}
	all, err := standings(ctx, q, ids)
	if err != nil {
		return nil, err
	}
	inside := act.Who(ctx).Person.Inside()
	by := map[uuid.UUID]Standing{}
	for _, one := range all {
		if one.State != InReview && !bytes.Equal(one.SHA256, counting[one.ItemID]) {
			continue
		}
		st := Standing{State: one.State}
		if inside && one.State != Issued {
			st.Run, st.Back, st.Held, st.Due = one.RunID, one.Doing == "back", one.Status == string(route.HeldUp), one.Due
			if err := json.Unmarshal(one.Names, &st.With); err != nil {
				return nil, err
			}
		}
		by[one.ItemID] = st
	}
	with, err := signings(ctx, q, ids)
	if err != nil {
		return nil, err
	}
	for _, one := range with {
		st, err := one.standing(counting[one.ItemID], inside)
		if err != nil {
			return nil, err
		}
		if st.State == WithTheParties || st.State == Signed && by[one.ItemID].State != Issued {
			by[one.ItemID] = st
		}
	}
	return by, nil
}

// standing is what a request for signatures makes of a document, as long as its content is the one that was signed.
func (one signed) standing(counting []byte, inside bool) (st Standing, err error) {
	switch {
	case one.Open:
		st.State = WithTheParties
	case bytes.Equal(one.SHA256, counting):
		st.State = Signed
	default:
		return st, nil
	}
	if !inside {
		return st, nil
	}
	if st.Signing = one.Signing; one.Open {
		st.Held, st.Due = one.Held, &one.Until
		err = json.Unmarshal(one.Names, &st.With)
	}
	return st, err
}

// Folders are those of whom a definition speaks, as far as the acting person sees them.
func (s *Service) Folders(ctx context.Context, d route.Definition) (map[uuid.UUID]guard.Sight, error) {
	out := map[uuid.UUID]guard.Sight{}
	for _, id := range d.Folders() {
		sight, err := s.Access.Kind(ctx, s.Acts.DB, id, items.Folder, access.See, s.Acts.Now())
		if fault.Is(err, fault.NotFound) || fault.Is(err, fault.Forbidden) {
			continue
		}
		if err != nil {
			return nil, err
		}
		out[id] = sight
	}
	return out, nil
}
