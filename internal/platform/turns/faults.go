package turns

import "tabularis/core/fault"

// What is refused here.
var (
	errBusy = fault.Declare(fault.Unavailable, "busy", "there is much to do just now; try again in a moment")
)
