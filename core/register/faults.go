package register

import "tabularis/core/fault"

// What is refused here.
var (
	errCodeForm = fault.Declare(fault.Invalid, "code-form", "a code looks like MER-24: letters, a dash, a number")
	errRefForm  = fault.Declare(fault.Invalid, "ref-form", "a register number looks like MER-24/017")
)
