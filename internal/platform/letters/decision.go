package letters

// Decision is about a run of a document: whatever is to be said of it.
type Decision struct {
	What DecisionWhat
	// Number, Name and Version say of what, SHA256 of which content.
	Number, Name string
	Version      int
	SHA256       string
	// Route is by which route; none is asked by hand. By is who did it, For somebody else whom it
	// concerns.
	Route, By, For string
	// Doing is what is asked, Instructions how, and until when.
	Doing, Instructions, Due string
	// Note is what somebody wrote, Reason why it does not go on, or how it ended.
	Note, Reason string
	// Address is the page of the run; Way one on which it can be decided without signing in.
	Address, Way string
}

// DecisionWhat is what is said.
type DecisionWhat string

// What can be said of a run.
const (
	DecisionAsks      DecisionWhat = "asks"
	DecisionReminds   DecisionWhat = "reminds"
	DecisionLate      DecisionWhat = "late"
	DecisionLateOther DecisionWhat = "late-other"
	DecisionReturned  DecisionWhat = "returned"
	DecisionQuestion  DecisionWhat = "question"
	DecisionDone      DecisionWhat = "done"
	DecisionOver      DecisionWhat = "over"
	DecisionHeld      DecisionWhat = "held"
	DecisionTold      DecisionWhat = "told"
)

func (Decision) name() string { return "decision" }
