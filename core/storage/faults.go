package storage

import "tabularis/core/fault"

// What is refused here.
var (
	errPracticeFull = fault.Declare(fault.NoSpace, "practice-full", "there is no storage left for so much")
	errDossierFull  = fault.Declare(fault.NoSpace, "dossier-full", "there is no storage left for so much")
	errPersonFull   = fault.Declare(fault.NoSpace, "person-full", "there is no storage left for so much")
	errStorageForm  = fault.Declare(fault.Invalid, "storage-form", "a limit is a number of bytes above zero")
)
