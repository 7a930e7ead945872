package access

import "tabularis/core/fault"

// errDeskStays is what is refused here.
var errDeskStays = fault.Declare(fault.Forbidden, "desk-stays", "a desk stays with whose it is")
