package tags

import "tabularis/core/fault"

var (
	errNoSuch    = fault.Declare(fault.Invalid, "tag-not-there", "a guest puts tags that the practice has")
	errMeanwhile = fault.Declare(fault.Conflict, "tag-meanwhile", "somebody else has just given that name; try again")
)
