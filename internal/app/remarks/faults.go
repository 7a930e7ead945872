package remarks

import "tabularis/core/fault"

// What is refused here.
var (
	errMentions = fault.Declare(fault.Invalid, "mentions-count", "name at most … people")
	errUnseen   = fault.Declare(fault.Invalid, "mention-unseen", "… cannot see it")
	errFlood    = fault.Declare(fault.RateLimited, "remarks-many", "so many remarks in a short time; wait a little")
	errVersion  = fault.Declare(fault.Invalid, "remark-version", "there is no such version")
)
