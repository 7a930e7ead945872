package practice

import "tabularis/core/fault"

// What is refused here.
var (
	errOwnFactorFirst = fault.Declare(fault.Conflict, "own-factor-first", "set up a second factor of your own first")
	errDaysRange      = fault.Declare(fault.Invalid, "days-range", "a link lasts between 1 and … days")
	errNameDiffers    = fault.Declare(fault.Invalid, "name-differs", "that is not the name of the practice")
)
