package storage

import "tabularis/core/fault"

// What is refused here.
var (
	errPracticeFull = fault.Declare(fault.NoSpace, "practice-full", "at most … bytes may be kept and … are left")
	errDossierFull  = fault.Declare(fault.NoSpace, "dossier-full", "at most … bytes may be kept and … are left")
	errPersonFull   = fault.Declare(fault.NoSpace, "person-full", "at most … bytes may be kept and … are left")
	errStorageForm  = fault.Declare(fault.Invalid, "storage-form", "a limit is a number of bytes above zero")
)
