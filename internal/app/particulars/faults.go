package particulars

import "tabularis/core/fault"

var (
	errTaken    = fault.Declare(fault.Conflict, "particular-taken", "there is a particular of that name")
	errInUse    = fault.Declare(fault.Conflict, "particular-in-use", "values stand in it; its kind stays")
	errNotThere = fault.Declare(fault.Invalid, "particular-not-there", "there is no such particular in the document …")
	errNobody   = fault.Declare(fault.Invalid, "particular-nobody", "somebody whom you know, with an account, is named")
)
