package writing

import (
	"context"
	"encoding/json"
	"slices"
	"sync"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/richtext"
	"tabularis/core/table"
)

// Message is what an open page is told: what was written, who is there, where they are, that the text
// is to be read anew, that a version was made, or that it may not be here any more.
type Message struct {
	Batches []Batch
	People  []Present
	Caret   *Caret
	Anew    bool
	Mode    richtext.Mode
	Kept    *Kept
	// Signal is what another page of the call has to say to this one.
	Signal *Signal
	// Sums are what formulas came to, with the version of the table that they are of.
	Sums  []table.Reckoned
	Ended error
}

// Kept is a version that was made of the text.
type Kept struct {
	Number int
	At     time.Time
	By     uuid.UUID
	// Apart is a version that came in meanwhile and could not be merged; it stays before this one. 0 where there is none.
	Apart int
}

// Present is somebody who is there with an open page.
type Present struct {
	Client string
	Person uuid.UUID
	Name   string
	Guest  bool
	Mode   richtext.Mode
	Since  time.Time
	Caret  *Caret
	// Call is how they take part in the call; nil for those who do not.
	Call *Calling `json:",omitempty"`
}

// Caret is where somebody is in a version of the text; in a table, in which cells of which sheet: the place of a cell
// is its row times table.MostColumns and its column.
type Caret struct {
	Client       string
	Version      int
	Sheet        int
	Anchor, Head int
}

// distant is somebody who is there by another process, as long as that says so.
type distant struct {
	Present
	process string
	until   time.Time
}

// Seat is an open page.
type Seat struct {
	Client string
	room   *room
	pen    pen
	since  time.Time
	out    chan Message
	// supersedes says that whoever sits there has said that what is decided on the document is superseded.
	supersedes bool

	mu    sync.Mutex
	mode  richtext.Mode
	caret *Caret
	ended bool
	// speaks says that they may take part in the call, call that they do.
	speaks  bool
	call    *Calling
	signals Budget
	// told is of which reckoning a page that asks has heard.
	told int
	// until is when a page that asks again and again is taken to have gone; zero with a socket.
	until time.Time
}

// waitingMost is how much may wait for a page before it is taken to be too slow.
const waitingMost = 256

var errSlow = fault.Declare(fault.Conflict, "text-page-slow", "the page did not keep up, and has to connect again")

// Told is what the page is told; it is closed when there is nothing more.
func (s *Seat) Told() <-chan Message { return s.out }

// Mode is what may be done here now.
func (s *Seat) Mode() richtext.Mode {
	s.mu.Lock()
	defer s.mu.Unlock()
	return s.mode
}

func (s *Seat) present() Present {
	s.mu.Lock()
	defer s.mu.Unlock()
	return Present{s.Client, s.pen.id, s.pen.name, s.pen.guest, s.mode, s.since, s.caret, s.call}
}

// asks tells a page that asks again and again from one with a socket.
func (s *Seat) asks() bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return !s.until.IsZero() && !s.ended
}

// gone tells whether it has not asked for too long.
func (s *Seat) gone(now time.Time) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	return !s.until.IsZero() && s.until.Before(now)
}

// say tells the page something. One that does not keep up is told to connect again.
func (s *Seat) say(m Message) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.ended {
		return
	}
	if len(s.out) >= waitingMost-1 {
		m = Message{Ended: errSlow.New("too much is waiting")}
	}
	s.out <- m
	if m.Ended != nil {
		s.ended = true
		close(s.out)
	}
}

// Leave gives the seat up.
func (s *Seat) Leave() {
	s.room.mu.Lock()
	defer s.room.mu.Unlock()
	s.room.drop(s)
}

// drop takes a seat away, and tells the others. The lock is held.
func (r *room) drop(s *Seat) {
	if _, there := r.seats[s]; !there {
		return
	}
	delete(r.seats, s)
	s.mu.Lock()
	if !s.ended {
		s.ended = true
		close(s.out)
	}
	s.mu.Unlock()
	r.renewed = time.Time{}
	if len(r.seats) == 0 {
		r.emptied = r.Acts.Now()
	}
	r.tellPeople()
}

// tellPeople tells everybody here who is there. The lock is held.
func (r *room) tellPeople() {
	all := r.here()
	for s := range r.seats {
		s.say(Message{People: all})
	}
}

// Send takes steps that were made on a version, and says what became of them.
func (s *Seat) Send(ctx context.Context, version int, raw []json.RawMessage) (Taken, error) {
	if len(raw) > MostSteps {
		return Taken{}, errTooMany.New("at most %d steps come at once", MostSteps)
	}
	if s.Mode() == richtext.Look {
		return Taken{}, richtext.Look.Allow(nil, nil, "")
	}
	s.room.mu.Lock()
	doc := s.room.doc
	s.room.mu.Unlock()
	script, err := doc.read(raw)
	if err != nil {
		return Taken{}, err
	}
	type outcome struct {
		Taken
		err error
	}
	done := make(chan outcome, 1)
	t := turn{seat: s, version: version, script: script, answer: func(taken Taken, err error) { done <- outcome{taken, err} }}
	select {
	case s.room.inbox <- t:
	case <-s.room.done:
		return Taken{}, errSlow.New("the text is being opened anew")
	case <-ctx.Done():
		return Taken{}, ctx.Err()
	}
	select {
	case o := <-done:
		return o.Taken, o.err
	case <-ctx.Done():
		return Taken{}, ctx.Err()
	}
}

// Move says where the person is; a place that no text can have is none.
func (s *Seat) Move(c Caret) {
	if min(c.Anchor, c.Head, c.Version, c.Sheet) < 0 || max(c.Anchor, c.Head) > max(richtext.MaxSize, table.MostRows*table.MostColumns) || c.Sheet > table.MostSheets {
		return
	}
	c.Client = s.Client
	s.mu.Lock()
	s.caret = &c
	s.mu.Unlock()
	r := s.room
	r.mu.Lock()
	defer r.mu.Unlock()
	r.moved = true
	for other := range r.seats {
		if other != s {
			other.say(Message{Caret: &c})
		}
	}
}

// Check asks anew what the person may do here, and lets the page know; refused, they may be here no longer.
func (s *Seat) Check(ctx context.Context) error {
	at, err := s.room.allowed(ctx, s.room.document)
	if err != nil {
		return err
	}
	s.mu.Lock()
	changed := s.mode != at.Mode
	s.mode, s.speaks = at.Mode, at.speaks
	s.mu.Unlock()
	if !at.speaks {
		s.HangUp()
	}
	if changed {
		s.say(Message{Mode: at.Mode})
		s.room.mu.Lock()
		s.room.tellPeople()
		s.room.mu.Unlock()
	}
	return nil
}

// Limits of a document that is open, and of what comes at once.
const (
	MostSteps = 1000
	MostHere  = 200
	mostOwn   = 20
	// mostOutside is how many visitors' pages there are, so that they keep nobody else out.
	mostOutside = 60
)

var (
	errTooMany = fault.Declare(fault.TooLarge, "text-too-many-steps", "more steps come at once than are taken")
	errFull    = fault.Declare(fault.RateLimited, "text-full", "as many pages have the text open as can have it open at once")
)

// sit adds a seat, or finds that of a page that asks again. The lock is held.
func (r *room) sit(client string, at standing, until time.Time) (*Seat, error) {
	own, outside := 0, 0
	for s := range r.seats {
		if s.pen.link != nil {
			outside++
		}
		if s.pen.id != at.pen.id {
			continue
		}
		own++
		if s.Client == client {
			if !until.IsZero() && s.asks() {
				// What was told before is in what it is told now; what comes from here on wakes it.
				s.drain()
				s.mu.Lock()
				s.until, s.mode = until, at.Mode
				s.mu.Unlock()
				return s, nil
			}
			r.drop(s)
			own--
		}
	}
	if own >= mostOwn || len(r.seats) >= MostHere || at.pen.link != nil && outside >= mostOutside {
		return nil, errFull.New("%d pages have it open", len(r.seats)).Later(time.Minute)
	}
	s := &Seat{Client: client, room: r, pen: at.pen, since: r.Acts.Now(), out: make(chan Message, waitingMost), mode: at.Mode, speaks: at.speaks, until: until, signals: Budget{AtOnce: signalsAtOnce, PerSecond: signalsPerSecond}}
	if kept := slices.IndexFunc(r.here(), func(o Present) bool { return o.Client == client && o.Person != at.pen.id }); kept >= 0 {
		return nil, fault.Parameter.New("that page is somebody else's")
	}
	r.seats[s] = struct{}{}
	r.renewed, r.settled = time.Time{}, false
	r.tellPeople()
	return s, nil
}
