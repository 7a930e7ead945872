package items

import "tabularis/core/fault"

// What is refused here.
var (
	errDossierGone  = fault.Declare(fault.Conflict, "dossier-gone", "the dossier is deleted; bring that back first")
	errPlace        = fault.Declare(fault.Invalid, "folder-place", "a folder is put before another one that lies beside it")
	errTitleTaken   = fault.Declare(fault.Conflict, "title-taken", "another version is called …")
	errNotAdoptable = fault.Declare(fault.Invalid, "not-adoptable", "choose another document of the same dossier")
	errNotSeparable = fault.Declare(fault.Conflict, "not-separable", "version … does not count, or is the only one")
)
