package sharing

import "tabularis/core/fault"

// What is refused here.
var (
	errDepositFolder    = fault.Declare(fault.Invalid, "deposit-folder", "papers are put into folders")
	errDossierClosed    = fault.Declare(fault.Conflict, "dossier-closed", "a dossier is closed as it is: nobody comes in who is not in it")
	errHasAccess        = fault.Declare(fault.Conflict, "has-access", "… has access to … on other terms; change those")
	errIntoItself       = fault.Declare(fault.Invalid, "into-itself", "… cannot lie in itself")
	errRecipientsCount  = fault.Declare(fault.Invalid, "recipients-count", "name at most … people and groups at once")
	errSetUnsound       = fault.Declare(fault.Invalid, "set-unsound", "these capabilities do not go together")
	errCopiesMany       = fault.Declare(fault.Invalid, "copies-many", "copy at most … documents and folders at once")
	errDossierNotCopied = fault.Declare(fault.Invalid, "dossier-not-copied", "a dossier is not copied into another")
	errWhatIfEmpty      = fault.Declare(fault.Invalid, "what-if-empty", "say what is to be done")
)
