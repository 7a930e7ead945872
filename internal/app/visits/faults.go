package visits

import (
	"tabularis/core/fault"
	"tabularis/core/linkgate"
)

// What is refused here.
var (
	errLooked          = fault.Declare(fault.Invalid, "looked", "pages are counted from 1, at most …, and time does not run backwards")
	errNothingHandedIn = fault.Declare(fault.Conflict, "nothing-handed-in", "nothing has been handed in yet")
	errHandedIn        = fault.Declare(fault.Conflict, "handed-in", "it is handed in already")
	errTakenUp         = fault.Declare(fault.Conflict, "taken-up", "somebody works with it already")
	errInHand          = fault.Declare(fault.Conflict, "in-hand", "somebody is working on it; it can be looked at, not downloaded, until they are done")
	errPaperUnknown    = fault.Declare(fault.Invalid, "paper-unknown", "there is no such paper in the list")
)

// refusals are what a visitor is told of the gate's reasons, unless it is that the
// link is over.
var refusals = map[linkgate.Reason]fault.Code{
	linkgate.AddressNotAllowed: fault.Declare(fault.Forbidden, string(linkgate.AddressNotAllowed), "this address is not among those it is meant for"),
	linkgate.NeedsPassword:     fault.Declare(fault.Unauthenticated, string(linkgate.NeedsPassword), "the link has to be opened first, with its password"),
	linkgate.NeedsOpening:      fault.Declare(fault.Unauthenticated, string(linkgate.NeedsOpening), "the link has to be opened first"),
	linkgate.NeedsIdentity:     fault.Declare(fault.Unauthenticated, string(linkgate.NeedsIdentity), "the link asks who opens it"),
	linkgate.ViewOnly:          fault.Declare(fault.Forbidden, string(linkgate.ViewOnly), "the link lets nothing be downloaded"),
	linkgate.DownloadsUsedUp:   fault.Declare(fault.Forbidden, string(linkgate.DownloadsUsedUp), "all downloads are used up"),
}
