package preview

import "tabularis/core/fault"

// What is refused here.
var (
	errNoText         = fault.Declare(fault.Invalid, "no-text", "content of the type … has no text to show")
	errTooLargeToShow = fault.Declare(fault.TooLarge, "too-large-to-show", "the spreadsheet is too large to be shown; it can be downloaded")
)
