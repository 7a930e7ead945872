package items

import "tabularis/core/fault"

// What is refused here.
var (
	errDossierStays = fault.Declare(fault.Conflict, "dossier-stays", "a dossier cannot be moved")
)
