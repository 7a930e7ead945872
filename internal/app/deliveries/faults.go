package deliveries

import "tabularis/core/fault"

// What is refused here.
var (
	errForbidden = fault.Declare(fault.Forbidden, "addresses-forbidden", "the practice lets nobody publish an address")
	errDecided   = fault.Declare(fault.Conflict, "delivery-decided", "the delivery has been accepted or refused already")
	errNoAddress = fault.Declare(fault.Conflict, "address-none", "no address is published")
	errKeyForm   = fault.Declare(fault.Invalid, "key-form", "this is no public key of age")
)
