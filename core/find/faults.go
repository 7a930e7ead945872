package find

import "tabularis/core/fault"

var (
	errQuestionLong  = fault.Declare(fault.Invalid, "question-long", "a question has at most … characters and terms")
	errKindUnknown   = fault.Declare(fault.Invalid, "found-kind-unknown", "there is no such kind of document")
	errQuestionEmpty = fault.Declare(fault.Invalid, "question-empty", "the question names no word to look for")
)
