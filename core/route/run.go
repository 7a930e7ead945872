package route

import (
	"slices"
	"time"

	"github.com/google/uuid"
)

// Run is one document on its way along a route, as it stands after its events.
type Run struct {
	Status Status
	// At is where it stands, Visit the how manieth stop it came to, and Since when it did.
	At    Place
	Visit int
	Since time.Time
	// Content is what is decided on.
	Content Content
	Author  uuid.UUID
	Starter uuid.UUID
	// Asked are those who are asked, or are to be, where it stands.
	Asked []Asked
	// Back is where a returned run goes on from once its content was seen to, and who returned it.
	Back *Back
	// Held says why it is held up.
	Held Reason
	// Until is until when it waits at a stop that does.
	Until *time.Time
	// Passed are the stops that it went through, with what was decided there.
	Passed []Passed
	// Issued says that a stop issued the document.
	Issued bool
}

// Status is what has become of a run.
type Status string

// A run goes on, is held up, or has come to its end in one of four ways.
const (
	Going     Status = "going"
	HeldUp    Status = "held"
	Done      Status = "done"
	Ended     Status = "ended"
	Lapsed    Status = "lapsed"
	CalledOff Status = "off"
)

// Open reports whether something can still become of it.
func (s Status) Open() bool { return s == Going || s == HeldUp }

// Reason is why a run is held up.
type Reason string

// What holds a run up.
const (
	Nobody    Reason = "nobody"     // nobody is there who could be asked
	NoCase    Reason = "no-case"    // no case of a stop fits the document
	NoDate    Reason = "no-date"    // the date that is waited for is not set
	Failed    Reason = "failed"     // what was to be done by itself could not be
	Unplaced  Reason = "unplaced"   // whoever placed the route may no longer do that
	Absent    Reason = "gone"       // the document is deleted
	ClosedOff Reason = "not-to-see" // somebody who is asked can no longer open it
)

// Place is a case of a stop.
type Place struct {
	Stop int `json:"stop"`
	Case int `json:"case"`
}

// Content is what a decision counts for.
type Content struct {
	Version int    `json:"version"`
	SHA256  string `json:"sha256"`
}

// Asked is somebody who is asked.
type Asked struct {
	Person uuid.UUID `json:"person"`
	// For is whom they stand in for, and Seat who was meant to be asked at first: whoever sits on one
	// seat decides for it.
	For  *uuid.UUID `json:"for,omitempty"`
	Seat uuid.UUID  `json:"seat"`
	// Turn says that it is theirs; else they come later.
	Turn  bool      `json:"-"`
	Since time.Time `json:"-"`
	Due   time.Time `json:"-"`
	// Reminded and Late say that they were told so.
	Reminded bool `json:"-"`
	Late     bool `json:"-"`
	// Said is what they decided, if they did.
	Said *Said `json:"-"`
}

// waits reports whether somebody has still to decide.
func (a Asked) waits() bool { return a.Turn && a.Said == nil }

// Said is a decision: whose, on which content, and what they had seen of it.
type Said struct {
	Person  uuid.UUID  `json:"person"`
	For     *uuid.UUID `json:"for,omitempty"`
	At      time.Time  `json:"at"`
	Verdict Verdict    `json:"verdict"`
	Note    string     `json:"note,omitempty"`
	Content Content    `json:"content"`
	// Pages are those that they had looked at, Of how many there are.
	Pages []int `json:"pages,omitempty"`
	Of    int   `json:"of,omitempty"`
}

// Verdict is what somebody decides.
type Verdict string

// To agree, or to return it.
const (
	Agrees  Verdict = "agrees"
	Returns Verdict = "returns"
)

// Back is a return that was not dealt with yet.
type Back struct {
	// To is who has it now, and From the place where it was returned.
	To    uuid.UUID
	From  Place
	By    uuid.UUID
	Again Again
}

// Passed is a stop that a run went through.
type Passed struct {
	Place
	Visit   int
	Since   time.Time
	Till    time.Time
	Content Content
	Said    []Said
	// Asked are all who were asked there.
	Asked []Asked
	// How says whether it was passed, passed by, skipped, or returned.
	How How
	// Result is what was done by itself.
	Result string
}

// How is in which way a stop was left.
type How string

// A stop is passed, passed by since it does not apply, skipped by hand, returned, left since the content
// is another one, or the run was called off at it.
const (
	Through  How = "through"
	PassedBy How = "by"
	Skipped  How = "skipped"
	SentBack How = "back"
	Anew     How = "anew"
)

// Event is what happened to a run. A run is what its events make of it.
type Event struct {
	Kind EventKind `json:"kind"`
	At   time.Time `json:"at"`
	// By is whoever did it; nobody is the route itself.
	By *uuid.UUID `json:"by,omitempty"`

	Place   *Place     `json:"place,omitempty"`
	Content *Content   `json:"content,omitempty"`
	Author  *uuid.UUID `json:"author,omitempty"`
	Asks    []Asking   `json:"asks,omitempty"`
	Said    *Said      `json:"said,omitempty"`
	From    *uuid.UUID `json:"from,omitempty"`
	To      *uuid.UUID `json:"to,omitempty"`
	Until   *time.Time `json:"until,omitempty"`
	Due     *time.Time `json:"due,omitempty"`
	Reason  Reason     `json:"reason,omitempty"`
	Note    string     `json:"note,omitempty"`
	How     How        `json:"how,omitempty"`
	Again   Again      `json:"again,omitempty"`
	Status  Status     `json:"status,omitempty"`
	Issued  bool       `json:"issued,omitempty"`
}

// Asking is somebody who is asked from a moment on, or later in turn.
type Asking struct {
	Asked
	Due *time.Time `json:"due,omitempty"`
}

// EventKind is what happened.
type EventKind string

// What can happen to a run.
const (
	// EvStarted begins it.
	EvStarted EventKind = "started"
	// EvCame is that it came to a stop, EvLeft that it left one.
	EvCame EventKind = "came"
	EvLeft EventKind = "left"
	// EvTurn is that somebody's turn has come, EvAsked that one more is asked.
	EvTurn  EventKind = "turn"
	EvAsked EventKind = "asked"
	// EvSaid is a decision, EvTook that it was taken back, EvQuestion that somebody asked something
	// without deciding.
	EvSaid     EventKind = "said"
	EvTook     EventKind = "took-back"
	EvQuestion EventKind = "question"
	// EvHanded is that somebody else is asked in somebody's place.
	EvHanded EventKind = "handed"
	// EvBack is that it was returned, EvResumed that this was dealt with or what held it up is over.
	EvBack    EventKind = "back"
	EvResumed EventKind = "resumed"
	// EvContent is that its document has other content.
	EvContent  EventKind = "content"
	EvReminded EventKind = "reminded"
	EvLate     EventKind = "late"
	EvWaits    EventKind = "waits"
	// EvDid is that something was done by itself, EvHeld that the run is held up.
	EvDid  EventKind = "did"
	EvHeld EventKind = "held"
	EvEnd  EventKind = "end"
)

// Apply is a run after one more event.
func (r Run) Apply(e Event) Run {
	r.Asked, r.Passed = slices.Clone(r.Asked), slices.Clip(r.Passed)
	switch e.Kind {
	case EvStarted:
		r = Run{Status: Going, Content: *e.Content, Author: *e.Author, Since: e.At}
		if e.By != nil {
			r.Starter = *e.By
		}
	case EvCame:
		r.came(e)
	case EvLeft:
		r.left(e)
	case EvTurn:
		if i := r.asked(*e.To); i >= 0 {
			r.Asked[i].Turn, r.Asked[i].Since, r.Asked[i].Due = true, e.At, *e.Due
		}
	case EvAsked:
		r.Asked = append(r.Asked, r.asks(e)...)
	case EvSaid:
		if i := r.asked(e.Said.Person); i >= 0 {
			r.Asked[i].Said = e.Said
		}
	case EvTook:
		r.took(e)
	case EvHanded:
		if i := r.asked(*e.From); i >= 0 {
			r.Asked[i].Person, r.Asked[i].For, r.Asked[i].Said = *e.To, e.From, nil
			r.Asked[i].Reminded, r.Asked[i].Late = false, false
			if e.Due != nil {
				r.Asked[i].Due = *e.Due
			}
		}
	case EvBack:
		r.Back = &Back{To: *e.To, From: r.At, By: *e.By, Again: e.Again}
		r.Since = e.At
	case EvResumed:
		r.Status, r.Held, r.Back = Going, "", nil
	case EvContent:
		r.Content = *e.Content
		if e.Author != nil {
			r.Author = *e.Author
		}
	case EvReminded, EvLate:
		if i := r.asked(*e.To); i >= 0 {
			r.Asked[i].Reminded = true
			r.Asked[i].Late = r.Asked[i].Late || e.Kind == EvLate
		}
	case EvWaits:
		r.Until = e.Until
	case EvDid:
		r.Status, r.Held, r.Issued = Going, "", r.Issued || e.Issued
	case EvHeld:
		r.Status, r.Held = HeldUp, e.Reason
	case EvEnd:
		r.Status, r.Asked, r.Back, r.Until, r.Held = e.Status, nil, nil, nil, ""
	}
	return r
}

func (r *Run) asks(e Event) (all []Asked) {
	for _, a := range e.Asks {
		one := a.Asked
		if a.Due != nil {
			one.Turn, one.Since, one.Due = true, e.At, *a.Due
		}
		all = append(all, one)
	}
	return all
}

func (r *Run) came(e Event) {
	r.At, r.Since, r.Until, r.Back = *e.Place, e.At, nil, nil
	r.Visit++
	r.Status, r.Held = Going, ""
	r.Asked = r.asks(e)
}

func (r *Run) left(e Event) {
	p := Passed{Place: r.At, Visit: r.Visit, Since: r.Since, Till: e.At, Content: r.Content, How: e.How, Result: e.Note}
	if e.How == PassedBy {
		p.Place, p.Since = *e.Place, e.At
	}
	if e.How == PassedBy {
		r.Passed = append(r.Passed, p)
		return
	}
	p.Asked = r.Asked
	for _, a := range r.Asked {
		if a.Said != nil {
			p.Said = append(p.Said, *a.Said)
		}
	}
	r.Passed = append(r.Passed, p)
	r.Asked, r.Until, r.Back = nil, nil, nil
}

// took takes a decision back: where the run stands, or at the stop before, to which it goes back.
func (r *Run) took(e Event) {
	was := r.Asked
	if e.Place != nil {
		last := r.lastPassed()
		r.At, was, r.Passed = *e.Place, r.Passed[last].Asked, r.Passed[:last]
	}
	r.Since, r.Until, r.Back, r.Status, r.Held = e.At, nil, nil, Going, ""
	r.Asked = r.asks(e)
	for i, a := range r.Asked {
		for _, before := range was {
			if before.Person == a.Person && before.Person != *e.By {
				r.Asked[i].Said = before.Said
			}
		}
	}
}

// lastPassed is the last stop that the run did not pass by, or -1.
func (r Run) lastPassed() int {
	last := len(r.Passed) - 1
	for last >= 0 && r.Passed[last].How == PassedBy {
		last--
	}
	return last
}

// asked is where somebody stands among those who are asked, or -1.
func (r Run) asked(person uuid.UUID) int {
	return slices.IndexFunc(r.Asked, func(a Asked) bool { return a.Person == person })
}

// Waiting are those who have to decide now.
func (r Run) Waiting() (all []Asked) {
	if r.Status != Going || r.Back != nil {
		return nil
	}
	for _, a := range r.Asked {
		if a.waits() {
			all = append(all, a)
		}
	}
	return all
}

// Replay is the run that events make.
func Replay(events []Event) (r Run) {
	for _, e := range events {
		r = r.Apply(e)
	}
	return r
}
