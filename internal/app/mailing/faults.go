package mailing

import "tabularis/core/fault"

// What is refused here.
var (
	errMustSeal    = fault.Declare(fault.Invalid, "mail-must-seal", "the practice wants what goes there to be sealed, which a mail program cannot")
	errNotYours    = fault.Declare(fault.Forbidden, "mail-not-yours", "mails are sent from one's own address: …")
	errRecipients  = fault.Declare(fault.TooLarge, "mail-recipients", "a mail goes to at most … recipients")
	errUnreadable  = fault.Declare(fault.Invalid, "mail-unreadable", "this is no mail that can be read")
	errDecided     = fault.Declare(fault.Conflict, "mail-decided", "the mail has been sent or given up already")
	errSendAgain   = fault.Declare(fault.Conflict, "mail-taking", "the same mail is just being taken; try again shortly")
	errOverRange   = fault.Declare(fault.Invalid, "mail-over", "a size is between 0 and … bytes")
	errPasswords   = fault.Declare(fault.Invalid, "mail-passwords", "at most … passwords for mail programs")
	errNoSubmitter = fault.Declare(fault.Conflict, "mail-off", "no mail program can be connected here")
)
