package writing

import (
	"context"
	"encoding/json"
	"errors"
	"maps"
	"time"

	"github.com/google/uuid"
)

// Channel is on which processes tell each other of open documents.
const Channel = "writing"

// note is what processes tell each other: up to which version a text has got, who is there, or what was kept.
type note struct {
	Document uuid.UUID
	From     string
	Version  int       `json:",omitempty"`
	People   []Present `json:",omitempty"`
	Gone     bool      `json:",omitempty"`
	Kept     *Kept     `json:",omitempty"`
	// Came says that a version came in by another way.
	Came bool `json:",omitempty"`
	// Anew says that the text was begun anew from another version.
	Anew bool `json:",omitempty"`
	// Signal is what a page of the call has to say to one of another process.
	Signal *Signal `json:",omitempty"`
}

// How often a room looks at what is due; how long others are believed to be there; how long a room
// stays open when everybody has left, and when what they wrote is kept.
const (
	pulseEvery = 250 * time.Millisecond
	renewEvery = 15 * time.Second
	believed   = 40 * time.Second
	stays      = time.Minute
	keepsAfter = 2 * time.Second
)

// noteMost is how many people fit into what one process tells the others (8,000 bytes).
const noteMost = 10

// Tell takes over what another process says.
func (s *Service) Tell(payload string) {
	var n note
	if json.Unmarshal([]byte(payload), &n) != nil || n.From == s.process {
		return
	}
	r := s.roomOf(n.Document)
	if r == nil {
		return
	}
	if n.Came {
		// It becomes one with what is written, and that a version, or the text itself where nothing is: by
		// the process that is first.
		go func() { _ = errors.Join(s.Keep(s.life, n.Document), s.beginAnew(s.life, n.Document)) }()
	}
	r.mu.Lock()
	defer r.mu.Unlock()
	r.stale = r.stale || n.Anew
	if n.Version > r.version || n.Anew {
		r.hurry()
	}
	if n.Kept != nil {
		r.tellKept(*n.Kept)
	}
	if n.Signal != nil {
		r.hear(*n.Signal)
	}
	if n.People != nil || n.Gone {
		r.believe(n)
	}
}

// hurry lets the room look for what others have added.
func (r *room) hurry() {
	select {
	case r.behind <- struct{}{}:
	default:
	}
}

// believe takes over who is there by another process. The lock is held.
func (r *room) believe(n note) {
	maps.DeleteFunc(r.elsewhere, func(_ string, d distant) bool { return d.process == n.From })
	for _, p := range n.People {
		r.elsewhere[p.Client] = distant{p, n.From, r.Acts.Now().Add(believed)}
	}
	r.tellPeople()
}

func (r *room) tellKept(k Kept) {
	for s := range r.seats {
		s.say(Message{Kept: &k})
	}
}

// leave does what is due, and reports whether the room is closed.
func (r *room) leave(ctx context.Context) bool {
	now := r.Acts.Now()
	r.mu.Lock()
	for s := range r.seats {
		if s.gone(now) {
			r.drop(s)
		}
	}
	believedIn := len(r.elsewhere)
	maps.DeleteFunc(r.elsewhere, func(_ string, d distant) bool { return d.until.Before(now) })
	if len(r.elsewhere) < believedIn {
		r.tellPeople()
	}
	renew := now.Sub(r.renewed) >= renewEvery || r.moved && len(r.elsewhere) > 0
	r.moved = false
	var own []Present
	if renew {
		r.renewed = now
		for s := range r.seats {
			if len(own) < noteMost {
				own = append(own, s.present())
			}
		}
	}
	alone, emptied := len(r.elsewhere) == 0, r.emptied
	if len(r.seats) > 0 {
		emptied = time.Time{}
	}
	r.mu.Unlock()
	if renew {
		r.renew(ctx, own, now)
	}
	if emptied.IsZero() {
		return false
	}
	if alone && !r.settled && now.Sub(emptied) > keepsAfter {
		// What cannot be kept now is tried again by a duty.
		r.settled = true
		_ = r.Keep(ctx, r.document)
	}
	return now.Sub(emptied) > stays && r.close()
}

// renew tells the other processes, and the database, who is there.
func (r *room) renew(ctx context.Context, own []Present, now time.Time) {
	until := now
	if len(own) > 0 {
		until = now.Add(believed)
	}
	// What fails here is done again a moment later.
	_ = noteHere(ctx, r.Acts.DB, r.document, until)
	_ = tellOthers(ctx, r.Acts.DB, note{Document: r.document, From: r.process, People: own, Gone: len(own) == 0})
}

// close takes the room away, if nobody came meanwhile.
func (r *room) close() bool {
	r.Service.mu.Lock()
	defer r.Service.mu.Unlock()
	r.mu.Lock()
	defer r.mu.Unlock()
	if len(r.seats) > 0 {
		return false
	}
	r.closed = true
	delete(r.rooms, r.document)
	return true
}
