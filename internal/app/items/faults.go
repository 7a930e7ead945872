package items

import "tabularis/core/fault"

// What is refused here.
var (
	errTitleTaken   = fault.Declare(fault.Conflict, "title-taken", "another version is called …")
	errNotAdoptable = fault.Declare(fault.Invalid, "not-adoptable", "choose another document of the same dossier")
	errNotSeparable = fault.Declare(fault.Conflict, "not-separable", "version … does not count, or is the only one")
)
