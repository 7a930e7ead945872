package signing

import "tabularis/core/fault"

// What is refused here.
var (
	errUnderWay    = fault.Declare(fault.Conflict, "signing-under-way", "the document is with its parties already")
	errPlan        = fault.Declare(fault.Invalid, "signing-plan", "the paper cannot be signed like that")
	errPaper       = fault.Declare(fault.Invalid, "signing-paper", "only what can be set on pages is signed")
	errUntil       = fault.Declare(fault.Invalid, "signing-until", "a request ends between now and a year from now")
	errPerson      = fault.Declare(fault.Invalid, "signing-person", "a party cannot open the document")
	errNoSeal      = fault.Declare(fault.Conflict, "no-seal", "the practice has no key yet by which papers are signed")
	errConsent     = fault.Declare(fault.Invalid, "consent-missing", "say that you agree")
	errRoom        = fault.Declare(fault.Invalid, "no-room", "what is written does not fit into its place")
	errMoved       = fault.Declare(fault.Conflict, "paper-changed", "the paper has changed meanwhile")
	errWithThem    = fault.Declare(fault.Conflict, "with-the-parties", "the document is with its parties; call the request off before it is changed")
	errPicture     = fault.Declare(fault.Invalid, "picture-unusable", "this picture cannot be used as a signature")
	errSealed      = fault.Declare(fault.Conflict, "signed-stays", "the document is signed; say that it is to be superseded, or keep the new one apart")
	errFormChanged = fault.Declare(fault.Conflict, "form-changed", "somebody else has written this form meanwhile")
	errFormWritten = fault.Declare(fault.Conflict, "form-in-writing", "this form is still being written")
	errFormGone    = fault.Declare(fault.Gone, "form-paper-gone", "the paper of this form is gone; let a new edition count")
	errFormTold    = fault.Declare(fault.Invalid, "form-password", "this form is opened with a password that is told separately")
	errRows        = fault.Declare(fault.Invalid, "form-rows", "something is missing or wrong in what the form is sent with")
	errLarge       = fault.Declare(fault.TooLarge, "kept-large", "more is given than is kept")
)
