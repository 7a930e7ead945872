package door

import "tabularis/core/fault"

// What is refused here.
var (
	errBody               = fault.Declare(fault.Invalid, "body", "the request cannot be read: …")
	errBodyTooLarge       = fault.Declare(fault.TooLarge, "body-too-large", "the request has more than … bytes")
	errDatabaseAway       = fault.Declare(fault.Unavailable, "database-away", "the database is away for the moment; nothing was changed")
	errInternal           = fault.Declare(fault.Internal, "internal", "something failed on our side; nothing was changed")
	errLimitRange         = fault.Declare(fault.Invalid, "limit-range", "ask for between 1 and … rows")
	errNoSpace            = fault.Declare(fault.NoSpace, "no-space", "there is no space left; nothing was changed")
	errSecondFactorNeeded = fault.Declare(fault.Forbidden, "second-factor-needed", "the practice asks for a second factor; set one up first")
	errStoreAway          = fault.Declare(fault.Unavailable, "store-away", "content cannot be stored at the moment; nothing was changed")
	errValue              = fault.Declare(fault.Invalid, "value", "a value is not what it is taken for; nothing was changed")
)
