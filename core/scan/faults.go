package scan

import "tabularis/core/fault"

// What is refused here.
var (
	errPatternCostly    = fault.Declare(fault.Invalid, "pattern-costly", "the pattern leaves too much open; say how often within narrower bounds")
	errPatternForm      = fault.Declare(fault.Invalid, "pattern-form", "…")
	errPatternsCount    = fault.Declare(fault.Invalid, "patterns-count", "at most … words and patterns")
	errSensitiveUnknown = fault.Declare(fault.Invalid, "sensitive-unknown", "sensitive content is off, warn or forbid")
)
