package pages

import "tabularis/core/fault"

// What is refused here.
var (
	errWidth = fault.Declare(fault.Invalid, "width", "pages cannot be drawn in this width")
)
