package sharing

import "tabularis/core/fault"

// What is refused here.
var (
	errCapabilityUnknown = fault.Declare(fault.Invalid, "capability-unknown", "there is no such capability")
)
