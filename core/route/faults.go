package route

import "tabularis/core/fault"

// What is refused of a run.
var (
	ErrOver     = fault.Declare(fault.Conflict, "run-over", "the run has come to its end")
	ErrNotAsked = fault.Declare(fault.Conflict, "not-asked", "you are not asked, or not any more")
	ErrContent  = fault.Declare(fault.Conflict, "content-changed", "the document has another content now")
	ErrHeld     = fault.Declare(fault.Conflict, "run-held", "the run is held up")
	ErrReason   = fault.Declare(fault.Invalid, "reason-missing-for-run", "say why")
	ErrNote     = fault.Declare(fault.Invalid, "note-length", "a note has at most … letters")
	ErrBegun    = fault.Declare(fault.Conflict, "next-begun", "what comes next has begun")
	ErrFill     = fault.Declare(fault.Conflict, "not-filled", "what is asked for is not set yet")
	ErrHandTo   = fault.Declare(fault.Conflict, "hand-to", "they are asked already, brought the content, or cannot open it")
	ErrNotHeld  = fault.Declare(fault.Conflict, "run-not-held", "nothing has to be repeated")
)
