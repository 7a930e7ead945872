package evidence

import "tabularis/core/fault"

// What is refused here.
var (
	errWitnesses = fault.Declare(fault.Invalid, "witnesses-count", "name at most …")
	errSubject   = fault.Declare(fault.Invalid, "evidence-subject", "say of what: a document, a link or a dossier, or of which time")
	errTooMany   = fault.Declare(fault.TooLarge, "evidence-many", "there are more than … events; narrow it by a time")
	errSpan      = fault.Declare(fault.Invalid, "evidence-span", "the end comes after the beginning")
	errNothing   = fault.Declare(fault.NotFound, "evidence-none", "nothing happened there that can be proven")
)
