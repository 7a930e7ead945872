package intake

import "tabularis/core/fault"

// What is refused here.
var (
	errBytesRange     = fault.Declare(fault.Invalid, "bytes-range", "a limit is at least one byte")
	errEndingForm     = fault.Declare(fault.Invalid, "ending-form", "… is not the ending of a file's name")
	errEndingNotTaken = fault.Declare(fault.Invalid, "ending-not-taken", "only files of these kinds are taken: …")
	errEndingsCount   = fault.Declare(fault.Invalid, "endings-count", "name at most … kinds of files")
	errExpectedCount  = fault.Declare(fault.Invalid, "expected-count", "expect at most … papers")
	errFilesRange     = fault.Declare(fault.Invalid, "files-range", "a limit is between 1 and … files")
	errIntakeFull     = fault.Declare(fault.TooLarge, "intake-full", "no further file is taken")
)
