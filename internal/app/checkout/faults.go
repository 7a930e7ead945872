package checkout

import "tabularis/core/fault"

// What is refused here.
var (
	errNotHeld = fault.Declare(fault.Conflict, "not-held", "nobody has it in hand, or no longer")
	errReason  = fault.Declare(fault.Invalid, "reason-empty", "say why, the holder is told")
)
