package comparison

import "tabularis/core/fault"

// What is refused here.
var (
	errTooLarge = fault.Declare(fault.TooLarge, "too-large-to-compare", "they are too large to be compared")
	errNoPaper  = fault.Declare(fault.Invalid, "nothing-to-print", "there are no words and no cells to be printed")
	errNoPatch  = fault.Declare(fault.Invalid, "no-patch", "only texts have differences line by line")
)
