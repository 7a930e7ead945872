package transfers

import "tabularis/core/fault"

// What is refused here.
var (
	errNotRecipient   = fault.Declare(fault.Invalid, "not-a-recipient", "the transfer did not go to …")
	errNotYet         = fault.Declare(fault.Conflict, "not-yet", "of this file nothing can be fetched yet")
	errNotSealed      = fault.Declare(fault.Conflict, "not-sealed", "the transfer is not sealed")
	errFetchedAlready = fault.Declare(fault.Conflict, "fetched-already", "… has fetched everything")
)
