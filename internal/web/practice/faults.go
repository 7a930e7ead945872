package practice

import "tabularis/core/fault"

// What is refused here.
var (
	errOwnFactorFirst = fault.Declare(fault.Conflict, "own-factor-first", "set up a second factor of your own first")
)
