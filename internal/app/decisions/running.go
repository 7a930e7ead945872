package decisions

import (
	"context"
	"encoding/hex"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/route"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/jobs"
)

// travel is a run within an act, that nobody else takes on meanwhile.
type travel struct {
	row
	*route.Machine
	at      guard.Located
	edition Edition
	// had is what had happened to it.
	had []route.Event
}

// take holds a run, with its document's dossier, and brings it up to what its document is now: what is
// decided is decided on the content that counts at this moment.
func (s *Service) take(ctx context.Context, tx *act.Tx, id uuid.UUID) (*travel, error) {
	r, err := rowOf(ctx, tx, id, false)
	if err != nil {
		return nil, err
	}
	at, there, err := guard.SightAnywhere(ctx, tx, r.ItemID, tx.Now)
	if err != nil {
		return nil, err
	}
	if err := tree.LockDossier(ctx, tx, at.DossierID); err != nil {
		return nil, err
	}
	if r, err = rowOf(ctx, tx, id, true); err != nil {
		return nil, err
	}
	if at, there, err = guard.SightAnywhere(ctx, tx, r.ItemID, tx.Now); err != nil {
		return nil, err
	}
	t := &travel{row: r, at: at}
	if t.edition, err = editionByID(ctx, tx, r.EditionID); err != nil {
		return nil, err
	}
	if t.Machine, err = s.machine(ctx, tx, at, t.edition); err != nil {
		return nil, err
	}
	if t.had, err = eventsOf(ctx, tx, id); err != nil {
		return nil, err
	}
	t.Run = route.Replay(t.had)
	t.Gone(!there && !t.Definition.Paperless())
	if there {
		t.NewContent(content(at), t.World.Facts.Author)
	}
	return t, nil
}

func (s *Service) machine(ctx context.Context, tx *act.Tx, at guard.Located, e Edition) (*route.Machine, error) {
	d, err := e.Definition()
	if err != nil {
		return nil, err
	}
	w, err := s.World(ctx, tx, at)
	return &route.Machine{Definition: d, World: w}, err
}

// begin begins a run of a document along an edition; by is whoever asks for it, actsFor whose rights
// count for what it does by itself.
func (s *Service) begin(ctx context.Context, tx *act.Tx, at guard.Located, e Edition, b Beginning) (*travel, error) {
	t := &travel{at: at, edition: e, row: row{ID: uuid.Must(uuid.NewV7()), EditionID: e.ID, ItemID: at.ID, ActsFor: b.ActsFor, StarterID: b.By, StartedAt: tx.Now, Depth: b.Depth}}
	var err error
	if t.Machine, err = s.machine(ctx, tx, at, e); err != nil {
		return nil, err
	}
	t.Start(content(at), t.World.Facts.Author, b.By, b.Note)
	return t, s.settle(ctx, tx, t)
}

// Beginning is how a run begins: by whom, nobody where it begins by itself; with whose rights it acts; and
// how many routes have started each other up to it.
type Beginning struct {
	By      *uuid.UUID
	ActsFor uuid.UUID
	Note    string
	Depth   int
}

// Begin begins a run along an edition of a route, within an act.
func (s *Service) Begin(ctx context.Context, tx *act.Tx, at guard.Located, e Edition, b Beginning) error {
	if err := tree.LockDossier(ctx, tx, at.DossierID); err != nil {
		return err
	}
	_, err := s.begin(ctx, tx, at, e, b)
	return err
}

// settle keeps what has become of a run, tells whom it concerns, and lets follow what is done by itself.
func (s *Service) settle(ctx context.Context, tx *act.Tx, t *travel) error {
	if len(t.Events) == 0 {
		return nil
	}
	t.Status, t.Stop, t.row.Held, t.Since, t.WakeAt = t.Run.Status, t.Run.At.Stop, string(t.Run.Held), t.Run.Since, t.Wake()
	t.row.DossierID = t.at.DossierID
	t.Version, t.Seq, t.BackTo, t.EndedAt = t.Run.Content.Version, len(t.had)+len(t.Events), nil, nil
	var err error
	if t.SHA256, err = hex.DecodeString(t.Run.Content.SHA256); err != nil {
		return err
	}
	if t.Run.Back != nil {
		t.BackTo = &t.Run.Back.To
	}
	if !t.Run.Status.Open() {
		t.EndedAt = &tx.Now
	}
	if err := keep(ctx, tx, t.row, len(t.had)+1, t.Events); err != nil {
		return err
	}
	if err := s.project(ctx, tx, t); err != nil {
		return err
	}
	if err := s.tell(ctx, tx, t); err != nil {
		return err
	}
	if t.doesItself() {
		return tx.Enqueue(ctx, jobs.RunStop{Run: t.ID, Visit: t.Run.Visit})
	}
	return nil
}

// doesItself reports whether the run stands where something is done without a person.
func (t *travel) doesItself() bool {
	return t.Run.Status == route.Going && t.Run.Back == nil && t.action().Automatic()
}

// action is what happens where the run stands.
func (t *travel) action() route.Action {
	return t.Definition.Stops[t.Run.At.Stop].Cases[t.Run.At.Case].Action
}

// project writes what lists are made of.
func (s *Service) project(ctx context.Context, tx *act.Tx, t *travel) error {
	waiting := t.Run.Waiting()
	waits := func(a route.Asked) bool {
		return slices.ContainsFunc(waiting, func(w route.Asked) bool { return w.Person == a.Person })
	}
	if err := keepAsked(ctx, tx, t.ID, t.Run.Asked, waits); err != nil {
		return err
	}
	for i, e := range t.Events {
		if e.Kind == route.EvSaid {
			if err := addSaid(ctx, tx, t.ID, len(t.had)+1+i, e.Said.Person, e.At); err != nil {
				return err
			}
		}
	}
	for _, p := range t.fresh() {
		var person *uuid.UUID
		if len(p.Said) > 0 {
			person = &p.Said[len(p.Said)-1].Person
		}
		if err := addPassed(ctx, tx, t.ID, p, person); err != nil {
			return err
		}
	}
	return s.state(ctx, tx, t)
}

// fresh are the stops that were left by what has just happened.
func (t *travel) fresh() (all []route.Passed) {
	var since time.Time
	if len(t.Events) > 0 {
		since = t.Events[0].At
	}
	for _, p := range t.Run.Passed {
		if !p.Till.Before(since) {
			all = append(all, p)
		}
	}
	return all
}

// The states that a document has by decisions; without one it is a draft.
const (
	InReview = "review"
	Approved = "approved"
	Issued   = "issued"
	// WithTheParties and Signed come of a document's signing.
	WithTheParties = "parties"
	Signed         = "signed"
)

// States are those that a document stands in beyond a draft.
var States = []string{InReview, Approved, WithTheParties, Signed, Issued}

// state says what has become of the document: it is in review while somebody has still to decide on it,
// and approved or issued once the run has come through to its end.
func (s *Service) state(ctx context.Context, tx *act.Tx, t *travel) error {
	is := ""
	switch {
	case t.Run.Issued:
		is = Issued
	case t.Run.Status == route.Done && t.approved():
		is = Approved
	case t.Run.Status.Open() && t.decides():
		is = InReview
		if !t.undecided() {
			is = Approved
		}
	}
	if is == "" {
		return dropState(ctx, tx, t.ItemID, t.ID)
	}
	return keepState(ctx, tx, State{ItemID: t.ItemID, RunID: t.ID, State: is, SHA256: t.SHA256, At: tx.Now})
}

// approved reports whether somebody approved it on the way that counts.
func (t *travel) approved() bool {
	return slices.ContainsFunc(t.Latest(), func(p route.Passed) bool { return t.Definition.Stops[p.Stop].Cases[p.Case].Do == route.Approve })
}

// decides reports whether the route has a stop at which something is decided.
func (t *travel) decides() bool {
	return slices.ContainsFunc(t.Definition.Stops, deciding)
}

func deciding(s route.Stop) bool {
	return slices.ContainsFunc(s.Cases, func(c route.Case) bool { return c.Decides() })
}

// undecided reports whether a decision is still to come.
func (t *travel) undecided() bool {
	return t.Run.Back != nil || !t.approved() || slices.ContainsFunc(t.Definition.Stops[t.Run.At.Stop:], deciding)
}
