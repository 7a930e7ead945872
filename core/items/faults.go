package items

import "tabularis/core/fault"

// What is refused here.
var (
	errDossierKept  = fault.Declare(fault.Conflict, "dossier-kept", "a dossier cannot be deleted like a folder")
	errDossierStays = fault.Declare(fault.Conflict, "dossier-stays", "a dossier cannot be moved")
)
