package writing

import (
	"context"
	"encoding/json"
	"errors"
	"slices"
	"strings"
	"sync"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/richtext"
	"tabularis/internal/app/act"
)

// Batch are steps that came together, as they stand: each is one further than the one before.
type Batch struct {
	Version int
	Client  string
	By      uuid.UUID
	At      time.Time
	Steps   []json.RawMessage
}

// end is the version after it.
func (b Batch) end() int { return b.Version + len(b.Steps) }

// group is a batch in memory: its steps, by which later ones are carried, and what is written after it, as far as that
// takes it.
type group struct {
	Batch
	script script
	after  body
	pen    pen
	mode   richtext.Mode
	// supersedes says that whoever sent it has said that what is decided on the document is superseded.
	supersedes bool
}

// A room can carry steps over so many groups, and over fewer of a very long text, since each may hold
// as much anew; who is further behind is told what they missed first, and carries their steps themselves.
const mostRemembered, mostHeld = 300, 64 << 20

func (r *room) remembered() int { return min(mostRemembered, mostHeld/max(1, r.doc.Size())) }

// snapshotAfter is after how many steps the text is kept whole again.
const snapshotAfter = 400

// room is a document that is open in this process. One goroutine takes what is written; everything else
// reads what it left.
type room struct {
	*Service
	document uuid.UUID
	inbox    chan turn
	behind   chan struct{}
	done     chan struct{}

	mu      sync.Mutex
	version int
	doc     body
	began   int // the version before the first of groups
	groups  []group
	snapped int
	sums    sums
	seats   map[*Seat]struct{}
	// elsewhere are those who are there by other processes, and until when that is believed.
	elsewhere map[string]distant
	renewed   time.Time
	emptied   time.Time
	moved     bool
	// closed says that nobody comes in any more, stale that the text was begun anew.
	closed, stale bool
	// settled says that what was written has been kept since everybody left.
	settled bool
}

// turn is a batch that somebody sent.
type turn struct {
	seat    *Seat
	version int
	script  script
	answer  func(Taken, error)
}

// Taken is what became of a batch: how many of its steps stand, and up to which version.
type Taken struct{ Count, Version int }

var errBehind = fault.Declare(fault.Conflict, "text-went-on", "the text has gone on too far; what came in between is told first")

// load reads the text anew.
func (r *room) load(ctx context.Context) error {
	kept, err := rowOf(ctx, r.Acts.DB, r.document, false)
	if err != nil {
		return err
	}
	doc, err := decoded(r.Keys, kept)
	if err != nil {
		return err
	}
	r.mu.Lock()
	r.version, r.doc, r.began, r.groups, r.snapped = kept.StateVersion, doc, kept.StateVersion, nil, kept.StateVersion
	r.sumAnew()
	r.mu.Unlock()
	return r.follow(ctx)
}

// follow takes over what other processes have added.
func (r *room) follow(ctx context.Context) error {
	all, err := batchesFrom(ctx, r.Acts.DB, r.Keys, r.document, r.version)
	if err != nil {
		return err
	}
	for _, b := range all {
		if b.Version != r.version {
			return errors.New("steps are missing in a written text")
		}
		g, err := r.grouped(b)
		if err != nil {
			return err
		}
		r.mu.Lock()
		r.add(g)
		r.mu.Unlock()
	}
	return nil
}

// grouped applies a batch that stands.
func (r *room) grouped(b Batch) (g group, err error) {
	g.Batch = b
	g.script, g.after, err = r.doc.follow(b)
	return g, err
}

// add lets a group stand, and tells everybody here. The lock is held.
func (r *room) add(g group) {
	r.doc, r.version = g.after, g.end()
	r.sum(g)
	g.after = g.after.past()
	r.groups = append(r.groups, g)
	if most := r.remembered(); len(r.groups) > most+most/2 {
		over := len(r.groups) - most
		r.began = r.groups[over].Version
		r.groups = slices.Clone(r.groups[over:])
	}
	for s := range r.seats {
		s.say(Message{Batches: []Batch{g.Batch}})
	}
}

// run takes what is written until the room is left.
func (r *room) run(ctx context.Context) {
	defer close(r.done)
	pulse := time.NewTicker(pulseEvery)
	defer pulse.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case first := <-r.inbox:
			r.take(ctx, r.waiting(first))
		case <-r.behind:
			if r.begunAnew() || r.follow(ctx) != nil {
				_ = r.anew(ctx)
			}
		case <-pulse.C:
			if r.leave(ctx) {
				return
			}
		}
	}
}

func (r *room) begunAnew() (yes bool) {
	r.mu.Lock()
	defer r.mu.Unlock()
	yes, r.stale = r.stale, false
	return yes
}

// waiting are a turn and those that came meanwhile: they become durable together.
func (r *room) waiting(first turn) []turn {
	all := []turn{first}
	for len(all) < 64 {
		select {
		case t := <-r.inbox:
			all = append(all, t)
		default:
			return all
		}
	}
	return all
}

// anew reads the text again, and tells everybody to do so as well.
func (r *room) anew(ctx context.Context) error {
	err := r.load(ctx)
	r.mu.Lock()
	defer r.mu.Unlock()
	for s := range r.seats {
		s.say(Message{Anew: true})
	}
	return err
}

// take lets batches stand, one after the other, in one act. Who is refused is told why; where the
// database is away, nobody's stands and everybody may try again.
func (r *room) take(ctx context.Context, turns []turn) {
	for try := 0; ; try++ {
		groups, results := r.place(turns)
		fresh, err := true, error(nil)
		if len(groups) > 0 {
			fresh, err = r.keep(ctx, groups)
		}
		if err == nil && !fresh && try < 20 {
			if err = r.follow(ctx); err == nil {
				continue
			}
		}
		if err == nil && !fresh {
			err = errBehind.New("others were quicker again and again")
		}
		r.mu.Lock()
		if err == nil {
			for _, g := range groups {
				r.add(g)
			}
		}
		r.mu.Unlock()
		for i, t := range turns {
			if err != nil && results[i].err == nil {
				results[i].err = err
			}
			t.answer(results[i].Taken, results[i].err)
		}
		return
	}
}

type result struct {
	Taken
	err error
}

// place carries each turn over what came in between, in the portions in which its page is told of it, and
// applies it to what is written as the ones before it leave it.
func (r *room) place(turns []turn) (groups []group, results []result) {
	r.mu.Lock()
	before := slices.Clone(r.groups)
	began, doc, version := r.began, r.doc, r.version
	r.mu.Unlock()
	for _, t := range turns {
		g, err := placed(t, slices.Concat(before, groups), began, doc, version)
		if err != nil {
			results = append(results, result{err: err})
			continue
		}
		if len(g.Steps) > 0 {
			g.At = r.Acts.Now()
			groups = append(groups, g)
			doc, version = g.after, g.end()
		}
		results = append(results, result{Taken: Taken{len(g.Steps), version}})
	}
	return groups, results
}

func placed(t turn, groups []group, began int, doc body, version int) (g group, err error) {
	if t.version > version || t.version < 1 {
		return g, errBehind.New("there is no such version of the text")
	}
	if t.version < began {
		return g, errBehind.New("the text is %d steps further", version-t.version)
	}
	at := 0
	for upto := began; upto < t.version; at++ {
		if upto += len(groups[at].Steps); upto > t.version {
			return g, errBehind.New("a version within a batch is nobody's")
		}
	}
	for _, over := range groups[at:] {
		if over.Client == t.seat.Client {
			// It did not know of its own: what it sends may be the same again, over a line that broke.
			return g, errBehind.New("what the page sent before stands already")
		}
	}
	g = group{Batch: Batch{Version: version, Client: t.seat.Client, By: t.seat.pen.id}, pen: t.seat.pen, mode: t.seat.Mode(), supersedes: t.seat.supersedes}
	if g.script, g.after, err = doc.stand(t.script, groups, at, hand{t.seat.pen.id.String(), g.mode}); err != nil {
		return g, err
	}
	g.Steps, err = g.script.raw()
	return g, err
}

// keep makes groups durable, and tells the other processes.
func (r *room) keep(ctx context.Context, groups []group) (fresh bool, err error) {
	var all []Batch
	supersedes, wrote := false, uuid.Nil
	for _, g := range groups {
		if g.mode != richtext.Remark {
			wrote = g.By // Who only says something about the text has written nothing.
		}
		all, supersedes = append(all, g.Batch), supersedes || g.supersedes
	}
	last := groups[len(groups)-1]
	end := last.end()
	var state []byte
	if end-r.snapped >= snapshotAfter {
		if state, err = json.Marshal(last.after); err != nil {
			return false, err
		}
	}
	err = r.Acts.Do(ctx, func(tx *act.Tx) error {
		fresh, err = addBatches(ctx, tx, r.Keys, r.document, groups[0].Version, all, state, supersedes, wrote)
		if err == nil && fresh {
			err = noteOutsiders(ctx, tx, r.document, groups, tx.Now)
		}
		if err != nil || !fresh {
			return err
		}
		return tellOthers(ctx, tx, note{Document: r.document, From: r.process, Version: end})
	})
	if err == nil && fresh && state != nil {
		r.snapped = end
	}
	return fresh, err
}

// since is what somebody who has a version misses; anew says that they have to read the whole text.
func (r *room) since(version int) (batches []Batch, anew bool) {
	if version < r.began || version > r.version {
		return nil, true
	}
	for _, g := range r.groups {
		if g.Version >= version {
			batches = append(batches, g.Batch)
		}
	}
	return batches, version < r.version && (len(batches) == 0 || batches[0].Version != version)
}

// here are those who are there, by this process or another.
func (r *room) here() (all []Present) {
	for s := range r.seats {
		all = append(all, s.present())
	}
	for _, a := range r.elsewhere {
		all = append(all, a.Present)
	}
	slices.SortFunc(all, func(a, b Present) int {
		if c := a.Since.Compare(b.Since); c != 0 {
			return c
		}
		return strings.Compare(a.Client, b.Client)
	})
	return all
}
