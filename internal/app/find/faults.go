package find

import "tabularis/core/fault"

var errQuestionsMany = fault.Declare(fault.Invalid, "questions-many", "keep at most … questions")
