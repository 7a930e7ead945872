package routes

import "tabularis/core/fault"

var (
	errFlawed  = fault.Declare(fault.Invalid, "route-flawed", "… words of the route do not hold")
	errFormat  = fault.Declare(fault.Invalid, "route-format", "that is no route")
	errMany    = fault.Declare(fault.Conflict, "routes-many", "a folder has at most … routes")
	errOff     = fault.Declare(fault.Conflict, "route-off", "the route is not switched on")
	errByHand  = fault.Declare(fault.Conflict, "route-not-by-hand", "the route is not started by hand")
	errFits    = fault.Declare(fault.Conflict, "route-does-not-fit", "the route's conditions do not hold for the document")
	errUnder   = fault.Declare(fault.Conflict, "route-under-way", "the document is on its way along the route already")
	errNothing = fault.Declare(fault.Conflict, "route-unwritten", "there is nothing new to be switched on")
	errChanged = fault.Declare(fault.Conflict, "route-changed", "somebody has changed the route meanwhile")
)
