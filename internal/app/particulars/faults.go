package particulars

import "tabularis/core/fault"

var (
	errTaken    = fault.Declare(fault.Conflict, "particular-taken", "there is a particular of that name")
	errInUse    = fault.Declare(fault.Conflict, "particular-in-use", "values stand in it; its kind stays")
	errNotThere = fault.Declare(fault.Invalid, "particular-not-there", "there is no such particular in the document …")
	errTwice    = fault.Declare(fault.Conflict, "particulars-twice", "the document stands in the table twice")
	errRows     = fault.Declare(fault.Invalid, "particulars-rows", "a table has between 1 and … rows, each with a cell for each column")
	errNobody   = fault.Declare(fault.Invalid, "particular-nobody", "somebody whom you know, with an account, is named")
)
