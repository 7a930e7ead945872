package decisions

import "tabularis/core/fault"

var (
	errDocuments  = fault.Declare(fault.Invalid, "ask-documents", "ask for the approval of documents, between 1 and … at once")
	errWord       = fault.Declare(fault.Invalid, "ask-word", "that word does not hold")
	errUnderWay   = fault.Declare(fault.Conflict, "run-under-way", "a decision on the document is asked for already")
	errNobody     = fault.Declare(fault.Invalid, "ask-nobody", "nobody is left to be asked")
	errAbsence    = fault.Declare(fault.Invalid, "absence-days", "an absence ends after it begins, and within two years from now")
	errSubstitute = fault.Declare(fault.Invalid, "absence-substitute", "somebody else of the practice stands in")
	errAbsences   = fault.Declare(fault.Invalid, "absences-many", "at most … absences")
	errApproved   = fault.Declare(fault.Conflict, "approved-stays", "the document is approved; say that it is to be superseded, or keep the new one apart")
	errWay        = fault.Declare(fault.Gone, "decision-way", "the way in the mail was used, or is over; sign in")
	// ErrUnplaced is refused where a route would act for somebody who may no longer let it.
	ErrUnplaced = fault.Declare(fault.Forbidden, unplaced, "whoever placed the route may no longer do that")
	errDeep     = fault.Declare(fault.Conflict, "route-deep", "… routes have started each other")
	errWithout  = fault.Declare(fault.Conflict, "access-needed", "somebody who is asked cannot open the document, and you may not give access to it")
)

// unplaced is the code by which a route is known to act no more for whoever placed it.
const unplaced = "route-unplaced"
