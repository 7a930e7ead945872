// Package route knows how documents travel: which stops a route has, whom it asks, what it does by
// itself, and what has become of a run at any moment. It decides; whoever uses it carries out.
package route

import (
	"slices"

	"github.com/google/uuid"

	"tabularis/core/working"
)

// Definition is a route as it is written. Its JSON is an open format (docs/formats.md).
type Definition struct {
	Name string `json:"name"`
	// Purpose says when to use it.
	Purpose string  `json:"purpose,omitempty"`
	Starts  []Start `json:"starts"`
	// If holds for every start.
	If    *Condition `json:"if,omitempty"`
	Stops []Stop     `json:"stops"`
	// Content says what becomes of a run whose document has new content.
	Content OnContent `json:"content,omitempty"`
	// CallOff are who may call a run off beside those who manage its folder.
	CallOff []Who `json:"callOff,omitempty"`
}

// OnContent is what new content does to a run.
type OnContent string

const (
	// AskAgain begins anew at the first stop that asks somebody; it is what holds where nothing is said.
	AskAgain OnContent = "again"
	// Lapse ends the run.
	Lapse OnContent = "lapse"
)

// Trigger is what starts a run.
type Trigger string

// What can start a run.
const (
	Arrives    Trigger = "arrives"
	MovedIn    Trigger = "moved"
	NewVersion Trigger = "version"
	Renamed    Trigger = "renamed"
	Deleted    Trigger = "deleted"
	FolderMade Trigger = "folder"
	Shared     Trigger = "shared"
	Resolved   Trigger = "resolved"
	Tagged     Trigger = "tag"
	Set        Trigger = "particular"
	Decided    Trigger = "decided"
	SigningEnd Trigger = "signed"
	OnDate     Trigger = "date"
	ByHand     Trigger = "hand"
)

var triggers = []Trigger{Arrives, MovedIn, NewVersion, Renamed, Deleted, FolderMade, Shared, Resolved, Tagged, Set, Decided, SigningEnd, OnDate, ByHand}

// Start is one of the events that start a run, in a folder and what lies below it.
type Start struct {
	On     Trigger    `json:"on"`
	Folder *uuid.UUID `json:"folder,omitempty"`
	Tag    *uuid.UUID `json:"tag,omitempty"`
	// Particular is what was set, or the date that is reached.
	Particular *uuid.UUID `json:"particular,omitempty"`
	// Crosses narrows a particular down to its value coming to hold.
	Crosses *Test `json:"crosses,omitempty"`
	// Days is how many days before (below 0) or after a date.
	Days int `json:"days,omitempty"`
	// Route is the one whose decision starts this one; none is any.
	Route *uuid.UUID `json:"route,omitempty"`
}

// Stop is one station of a route. Stops are numbered by their order.
type Stop struct {
	// Only lets the stop be passed by where it does not hold.
	Only *Condition `json:"only,omitempty"`
	// Cases are what happens, by the document's data: the one whose condition holds.
	Cases []Case `json:"cases"`
}

// Case is what happens at a stop where its condition holds; without one it is what happens otherwise.
type Case struct {
	When *Condition `json:"when,omitempty"`
	Action
}

// Doing is what happens at a stop.
type Doing string

// What can happen at a stop: people are asked, or something is done without them.
const (
	Review  Doing = "review"
	Approve Doing = "approve"
	// Work is to do something without the document changing.
	Work Doing = "work"
	Fill Doing = "fill"
	// Sign is to have the document signed: it is left once it bears all signatures, or somebody says how else it was signed.
	Sign Doing = "sign"
	// Hold waits until the data of the document fit another case, and asks for them.
	Hold Doing = "hold"

	SetParticular Doing = "set"
	PutTag        Doing = "tag"
	TakeTag       Doing = "untag"
	Move          Doing = "move"
	Copy          Doing = "copy"
	Tell          Doing = "tell"
	GiveOut       Doing = "give"
	Wait          Doing = "wait"
	StartRoute    Doing = "start"
	// Pass goes on, and End ends the run.
	Pass Doing = "pass"
	End  Doing = "end"
)

var (
	people    = []Doing{Review, Approve, Work, Fill, Sign, Hold}
	automatic = []Doing{SetParticular, PutTag, TakeTag, Move, Copy, Tell, GiveOut, StartRoute}
	silent    = []Doing{Wait, Pass, End}
)

// Action is what happens at a stop, with whom and how.
type Action struct {
	Do Doing `json:"do"`
	// Who are asked, or told.
	Who  []Who `json:"who,omitempty"`
	Rule Rule  `json:"rule,omitempty"`
	// Of is how many of them must agree under the rule some.
	Of int `json:"of,omitempty"`
	// NotAuthor leaves out whoever brought the content.
	NotAuthor    bool          `json:"notAuthor,omitempty"`
	Within       *working.Span `json:"within,omitempty"`
	Remind       *working.Span `json:"remind,omitempty"`
	LateTell     []Who         `json:"lateTell,omitempty"`
	LateAsk      []Who         `json:"lateAsk,omitempty"`
	Instructions string        `json:"instructions,omitempty"`
	Returned     Returned      `json:"returned,omitzero"`

	Particular *uuid.UUID `json:"particular,omitempty"`
	Value      string     `json:"value,omitempty"`
	Tag        *uuid.UUID `json:"tag,omitempty"`
	Folder     *uuid.UUID `json:"folder,omitempty"`
	// Issues says that a document which is moved is issued by it.
	Issues bool `json:"issues,omitempty"`
	// To are the addresses to which something is given out, under terms written as people type them.
	To    []string   `json:"to,omitempty"`
	Terms string     `json:"terms,omitempty"`
	Route *uuid.UUID `json:"route,omitempty"`
	// For is how long is waited; else until a date among the particulars, and Days around it.
	For  *working.Span `json:"for,omitempty"`
	Days int           `json:"days,omitempty"`
}

// Rule says who of those asked must agree.
type Rule string

// Any one of them, all at once, all one after the other, or so many.
const (
	Any    Rule = "any"
	All    Rule = "all"
	InTurn Rule = "turn"
	Some   Rule = "some"
)

// Returned says where a return leads.
type Returned struct {
	// To is who has to do something about it.
	To Goal `json:"to,omitempty"`
	// Stop is the number of an earlier stop, for the goal stop.
	Stop int `json:"stop,omitempty"`
	// Again is who is asked once they did.
	Again Again `json:"again,omitempty"`
}

// Goal is where a return leads.
type Goal string

// To whoever brought the content (which is meant where nothing is said), whoever asked, an earlier
// stop; or it ends the run.
const (
	ToAuthor  Goal = "author"
	ToStarter Goal = "starter"
	ToStop    Goal = "stop"
	ToEnd     Goal = "end"
)

// Again is who is asked after a return was dealt with.
type Again string

// Everybody from the first stop on, or the one who returned it, where it stood.
const (
	FromStart Again = "start"
	FromHere  Again = "here"
)

// Who is somebody who is asked or told: a person, a group, or whoever stands in a role.
type Who struct {
	Person *uuid.UUID `json:"person,omitempty"`
	Group  *uuid.UUID `json:"group,omitempty"`
	Role   Role       `json:"role,omitempty"`
}

// Role is somebody by what they are to the document.
type Role string

// Who brought the content, who asked, who agreed at an earlier stop, and who manages the dossier.
const (
	Author   Role = "author"
	Starter  Role = "starter"
	Approver Role = "approver"
	Managers Role = "managers"
)

// Paperless reports whether something starts it that leaves no document to decide on: a deletion, or a
// folder that is made.
func (d Definition) Paperless() bool {
	return slices.ContainsFunc(d.Starts, func(s Start) bool { return s.On == Deleted || s.On == FolderMade })
}

// action returns the action of a case at a stop.
func (d Definition) action(at Place) Action { return d.Stops[at.Stop].Cases[at.Case].Action }

// AsksPeople reports whether a person has something to do.
func (a Action) AsksPeople() bool { return has(people, a.Do) }

// Automatic reports whether something is done without a person.
func (a Action) Automatic() bool { return has(automatic, a.Do) }

// Decides reports whether what is said at it is a decision on the content.
func (a Action) Decides() bool { return a.Do == Review || a.Do == Approve }

func has[T comparable](all []T, one T) bool {
	for _, x := range all {
		if x == one {
			return true
		}
	}
	return false
}
