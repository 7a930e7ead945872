package dossiers

import "tabularis/core/fault"

// What is refused here.
var (
	errArrangement    = fault.Declare(fault.Invalid, "arrangement-unknown", "there is no such order, or no such column …")
	errCodeReserved   = fault.Declare(fault.Invalid, "code-reserved", "codes that begin with DESK- are for desks")
	errCodeTaken      = fault.Declare(fault.Conflict, "code-taken", "\"the code \" + code + \" is in use; codes are never used again\"")
	errDossierChanged = fault.Declare(fault.Conflict, "dossier-changed", "the dossier was changed meanwhile")
	errOrderUnknown   = fault.Declare(fault.Invalid, "order-unknown", "there is no order …")
)
