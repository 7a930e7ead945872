package signing

import "tabularis/core/fault"

// What is refused here.
var (
	errNothingGiven = fault.Declare(fault.Invalid, "signature-missing", "a signature is missing")
	errHand         = fault.Declare(fault.Invalid, "signature-unusable", "this is no signature that can be set on paper")
	errPlace        = fault.Declare(fault.Invalid, "place-unknown", "something is given where nothing is asked")
	errValue        = fault.Declare(fault.Invalid, "value-wrong", "this cannot be given here")
	errLongText     = fault.Declare(fault.Invalid, "value-long", "more is written than has room")
	errIncomplete   = fault.Declare(fault.Invalid, "places-left", "places are left that must be filled in")
	errTurn         = fault.Declare(fault.Conflict, "not-your-turn", "somebody else signs before")
	errDone         = fault.Declare(fault.Conflict, "signed-already", "this part is done already")
	errOver         = fault.Declare(fault.Conflict, "signing-over", "this request has ended")
	errReason       = fault.Declare(fault.Invalid, "reason-missing", "a reason is needed")
	errHanding      = fault.Declare(fault.Invalid, "handing-not", "this part cannot be handed to somebody else")
	errSamePlan     = fault.Declare(fault.Conflict, "signed-by-somebody", "somebody has signed; places no longer change")
	errUnread       = fault.Declare(fault.Invalid, "pages-unread", "the paper has not been read to its end")
	errParty        = fault.Declare(fault.Invalid, "party-wrong", "this party cannot be asked like that")
	errEnd          = fault.Declare(fault.Invalid, "end-past", "this end is past")
)
