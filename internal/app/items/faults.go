package items

import "tabularis/core/fault"

// What is refused here.
var (
	errNotSeparable = fault.Declare(fault.Conflict, "not-separable", "version … does not count, or is the only one")
)
