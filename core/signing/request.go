package signing

import (
	"slices"
	"time"

	"github.com/google/uuid"
)

// Request is a paper on its way to its parties: what its events make of it.
type Request struct {
	Plan    Plan
	Status  Status
	SentAt  time.Time
	Until   time.Time
	Parties []State
	// Since is when what it waits for began, EndedAt when it came to its end.
	Since   time.Time
	EndedAt time.Time
	// Reason is why it was declined or called off.
	Reason string
}

// Status is how far a request has come.
type Status string

// How far it can have come. When all have signed the paper is being sealed, and then finished.
const (
	Going     Status = "going"
	Sealing   Status = "sealing"
	Finished  Status = "finished"
	Declined  Status = "declined"
	CalledOff Status = "called-off"
	Expired   Status = "expired"
)

// Open says that somebody can still act.
func (s Status) Open() bool { return s == Going }

// Alive says that it has not ended: the paper is with the parties, or being sealed.
func (s Status) Alive() bool { return s == Going || s == Sealing }

// State is how far a party has come.
type State struct {
	// Turn says that it is their turn, since when.
	Turn  bool
	Since time.Time
	// Opened is when they first opened it, Openings how often.
	Opened   *time.Time
	Openings int
	Reminded *time.Time
	Signed   *Signing
}

// Signing is a party's act, and what is known of how it came about.
type Signing struct {
	At     time.Time
	Known  Known
	Email  string
	Before string
	Values []Value
	// Pages are those that were before their eyes.
	Pages   []int
	Network string
	Agent   string
	// Consent is to what they agreed, in the practice's own words, where it has some.
	Consent string `json:",omitempty"`
}

// EventKind is what happened.
type EventKind string

// What can happen.
const (
	EvSent      EventKind = "sent"
	EvTurn      EventKind = "turn"
	EvOpened    EventKind = "opened"
	EvSigned    EventKind = "signed"
	EvDeclined  EventKind = "declined"
	EvHanded    EventKind = "handed"
	EvChanged   EventKind = "changed"
	EvCorrected EventKind = "corrected"
	EvProlonged EventKind = "prolonged"
	EvReminded  EventKind = "reminded"
	EvCalledOff EventKind = "called-off"
	EvExpired   EventKind = "expired"
	EvFinished  EventKind = "finished"
)

// Event is one step; a request is what its events make of it.
type Event struct {
	Kind    EventKind  `json:"kind"`
	At      time.Time  `json:"at"`
	Party   int        `json:"party"`
	By      *uuid.UUID `json:"by,omitempty"`
	Reason  string     `json:"reason,omitempty"`
	Plan    *Plan      `json:"plan,omitempty"`
	Until   *time.Time `json:"until,omitempty"`
	Signing *Signing   `json:"signing,omitempty"`
	// Is is who takes a party's part from now on.
	Is *Party `json:"is,omitempty"`
}

// Replay is the request that events make.
func Replay(events []Event) (r Request) {
	for _, e := range events {
		r = r.Apply(e)
	}
	return r
}

// Apply is the request after an event. The request it is called on stays as it is.
func (r Request) Apply(e Event) Request {
	r.Parties = slices.Clone(r.Parties)
	switch e.Kind {
	case EvSent:
		r.Plan, r.Status, r.SentAt, r.Until, r.Since = *e.Plan, Going, e.At, *e.Until, e.At
		r.Parties = make([]State, len(e.Plan.Parties))
	case EvCorrected:
		r.Plan = *e.Plan
	case EvProlonged:
		r.Until = *e.Until
	case EvCalledOff, EvExpired, EvFinished, EvDeclined:
		r.Status, r.EndedAt, r.Reason = ends[e.Kind], e.At, e.Reason
		for i := range r.Parties {
			r.Parties[i].Turn = false
		}
	default:
		r.party(e)
	}
	return r
}

var ends = map[EventKind]Status{EvCalledOff: CalledOff, EvExpired: Expired, EvFinished: Finished, EvDeclined: Declined}

// party takes over what happened to one of the parties.
func (r *Request) party(e Event) {
	p := &r.Parties[e.Party]
	switch e.Kind {
	case EvTurn:
		p.Turn, p.Since, r.Since = true, e.At, e.At
	case EvOpened:
		if p.Openings++; p.Opened == nil {
			p.Opened = &e.At
		}
	case EvReminded:
		p.Reminded = &e.At
	case EvSigned:
		p.Turn, p.Signed = false, e.Signing
		if !slices.ContainsFunc(r.Parties, func(s State) bool { return s.Signed == nil }) {
			r.Status, r.Since = Sealing, e.At
		}
	case EvHanded, EvChanged:
		r.Plan.Parties = slices.Clone(r.Plan.Parties)
		r.Plan.Parties[e.Party] = *e.Is
		*p = State{Turn: p.Turn, Since: e.At}
	}
}

// Waiting are the parties whose turn it is.
func (r Request) Waiting() (all []int) {
	for i, s := range r.Parties {
		if s.Turn {
			all = append(all, i)
		}
	}
	return all
}

// anySigned says that somebody has done their part.
func (r Request) anySigned() bool {
	return slices.ContainsFunc(r.Parties, func(s State) bool { return s.Signed != nil })
}
