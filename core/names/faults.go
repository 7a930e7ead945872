package names

import "tabularis/core/fault"

// What is refused here.
var (
	errNameControl   = fault.Declare(fault.Invalid, "name-control", "the name contains a control character")
	errNameDirection = fault.Declare(fault.Invalid, "name-direction", "the name contains a character that turns the direction of text")
	errNameEmpty     = fault.Declare(fault.Invalid, "name-empty", "the name is empty")
	errNameNotText   = fault.Declare(fault.Invalid, "name-not-text", "the name is not valid UTF-8")
	errNameReserved  = fault.Declare(fault.Invalid, "name-reserved", "the name … has a meaning of its own")
	errNameSlash     = fault.Declare(fault.Invalid, "name-slash", "the name contains …")
	errNameTooLong   = fault.Declare(fault.Invalid, "name-too-long", "the name has … bytes, at most … are possible")
	errPathTooDeep   = fault.Declare(fault.Invalid, "path-too-deep", "the path is … folders deep, at most … are possible")
)
