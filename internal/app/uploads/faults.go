package uploads

import "tabularis/core/fault"

// What is refused here.
var (
	errHashDiffers    = fault.Declare(fault.Conflict, "hash-differs", "what arrived is not what was sent; send it again")
	errHashForm       = fault.Declare(fault.Invalid, "hash-form", "the hash has 64 hexadecimal digits")
	errIncomplete     = fault.Declare(fault.Conflict, "incomplete", "… of … bytes have arrived")
	errNameIsDocument = fault.Declare(fault.Conflict, "name-is-document", "… is a document, not a folder")
	errNameIsFolder   = fault.Declare(fault.Conflict, "name-is-folder", "… is a folder here")
)
