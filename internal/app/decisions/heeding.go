package decisions

import (
	"context"
	"errors"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/postgres"
)

// heeded are the kinds of events that can start a route or mean something for runs under way. What is
// about folders can mean it for many.
var heeded = map[string]bool{
	events.DocumentAdded.Name: true, events.DocumentApart.Name: true, events.DocumentMoved.Name: true, events.DocumentRenamed.Name: true, events.DocumentDeleted.Name: true,
	events.DocumentBroughtBack.Name: true, events.DocumentTagged.Name: true, events.DocumentParticulars.Name: true, events.VersionAdded.Name: true, events.VersionBroughtBack.Name: true,
	events.VersionRemoved.Name: true, events.VersionRestored.Name: true, events.VersionSeparated.Name: true, events.FolderMade.Name: true, events.FolderDeleted.Name: true,
	events.FolderBroughtBack.Name: true, events.FolderMoved.Name: true, events.DossierDeleted.Name: true, events.DossierBroughtBack.Name: true, events.AccessGiven.Name: true,
	events.AccessEnded.Name: true, events.AccessChanged.Name: true, events.RemarkResolved.Name: true, events.LinkReceived.Name: true, events.LinkRevised.Name: true,
	events.DecisionGiven.Name: true, events.RunDone.Name: true, events.SigningFinished.Name: true,
}

// Heed lets follow what an event starts, and what it means for runs under way; it is told of every event
// within its act. A dossier in which nothing is on its way and no route is placed costs one look.
func Heed(ctx context.Context, tx *act.Tx, e events.Event) error {
	if !heeded[e.Kind] || e.DossierID == nil {
		return nil
	}
	many := strings.HasPrefix(e.Kind, "folder.") || strings.HasPrefix(e.Kind, "dossier.")
	any, err := concerned(ctx, tx, *e.DossierID, *e.ItemID, many)
	if err != nil || !any {
		return err
	}
	return tx.Enqueue(ctx, jobs.Heed{Event: e.ID, What: e.Kind, Dossier: *e.DossierID, Item: *e.ItemID, By: e.PersonID})
}

// React does what an event means: runs of its document look at it anew, and routes are started.
func (s *Service) React(ctx context.Context, job jobs.Heed) error {
	runs, err := openRuns(ctx, s.Acts.DB, job.Item)
	if err != nil {
		return err
	}
	moved, err := misplaced(ctx, s.Acts.DB, job.Dossier)
	if err != nil {
		return err
	}
	var failed []error
	for _, id := range append(runs, moved...) {
		failed = append(failed, s.look(ctx, id, func(t *travel) { t.Look() }))
	}
	return errors.Join(append(failed, s.StartBy(ctx, job))...)
}

// look takes a run on with what has become of its document.
func (s *Service) look(ctx context.Context, run uuid.UUID, fn func(t *travel)) error {
	err := s.Acts.Do(ctx, func(tx *act.Tx) error {
		t, err := s.take(ctx, tx, run)
		if err != nil {
			return err
		}
		fn(t)
		return s.settle(ctx, tx, t)
	})
	if fault.Is(err, fault.NotFound) && !s.there(ctx, run) {
		return nil
	}
	return err
}

// Register registers the jobs of runs, and what is due by itself.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, s.RunStop)
	jobs.Handle(r, false, s.React)
	r.Every("do what is due of decisions", looking, s.Due)
	r.Every("set runs right", time.Hour, s.SetRight)
	r.Every("forget ways to decide", 24*time.Hour, func(ctx context.Context) error { return forgetWays(ctx, s.Acts.DB, s.Acts.Now()) })
}

const (
	// looking is how often it is looked what is due.
	looking = 15 * time.Second
	// atOnce is for how many runs it is looked at once.
	atOnce = 200
)

// Due does what is due: reminders, what is late, and waiting that is over; the longest due first. After
// a time in which nothing ran it goes on until nothing is left; one that fails keeps no other from its turn.
func (s *Service) Due(ctx context.Context) error {
	var failed []error
	for now, last := s.Acts.Now(), (waking{}); ; {
		all, err := dueRuns(ctx, s.Acts.DB, now, last, atOnce)
		if err != nil || len(all) == 0 {
			return errors.Join(append(failed, err)...)
		}
		for _, w := range all {
			failed = append(failed, s.look(ctx, w.ID, func(t *travel) {
				// Only what was due for it: in the order in which it was.
				for t.Tick(); ; t.Tick() {
					if next := t.Wake(); next == nil || next.After(now) {
						return
					}
				}
			}))
		}
		last = all[len(all)-1]
	}
}

// SetRight looks at runs whose documents were moved, deleted or brought back with a folder.
func (s *Service) SetRight(ctx context.Context) error {
	var ids []uuid.UUID
	if err := s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		ids, err = setRight(ctx, tx)
		return err
	}); err != nil {
		return err
	}
	var failed []error
	for _, id := range ids {
		failed = append(failed, s.look(ctx, id, func(t *travel) { t.Look() }))
	}
	return errors.Join(failed...)
}

// PersonLeft lets runs go on without somebody who has left: within the act with which they did.
func (s *Service) PersonLeft(ctx context.Context, tx *act.Tx, person uuid.UUID) error {
	runs, err := askedOf(ctx, tx, person)
	if err != nil {
		return err
	}
	for _, id := range runs {
		t, err := s.take(ctx, tx, id)
		if err != nil {
			return err
		}
		t.Left(person)
		if err := s.settle(ctx, tx, t); err != nil {
			return err
		}
	}
	return nil
}

// Bars keeps what is approved or issued from being superseded, taken apart or thinned out without it being
// said: only people who say so supersede it.
func Bars(ctx context.Context, q postgres.Q, i items.Item) ([]items.Bar, error) {
	if i.Kind != items.Document || tree.Supersedes(ctx) {
		return nil, nil
	}
	st, err := stateOf(ctx, q, i.ID)
	if fault.Is(err, fault.NotFound) {
		return nil, nil
	}
	if err != nil || st.State == InReview || string(st.SHA256) != string(i.SHA256) {
		return nil, err
	}
	return []items.Bar{{Only: []items.Operation{items.Revising, items.Separating, items.Pruning}, Refused: errApproved.New("%s is approved", i.Name)}}, nil
}
