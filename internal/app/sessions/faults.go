package sessions

import "tabularis/core/fault"

// What is refused here.
var (
	errEntryOver         = fault.Declare(fault.Gone, "entry-over", "this link was used or has run out; ask for a new one")
	errFactorUnknown     = fault.Declare(fault.Invalid, "factor-unknown", "there is no factor …")
	errNoAuthenticator   = fault.Declare(fault.Conflict, "no-authenticator", "no authenticator is set up")
	errNoFactor          = fault.Declare(fault.Conflict, "no-factor", "recovery codes go with a second factor; set one up first")
	errNoPasskey         = fault.Declare(fault.Conflict, "no-passkey", "no passkey is set up")
	errPasskeyNotBegun   = fault.Declare(fault.Conflict, "passkey-not-begun", "begin anew")
	errPasskeyWrong      = fault.Declare(fault.Invalid, "passkey-wrong", "the passkey's answer cannot be read")
	errPasskeysNeedName  = fault.Declare(fault.Conflict, "passkeys-need-name", "passkeys need a host name; the practice is reached by a bare IP address")
	errPreferenceUnknown = fault.Declare(fault.Invalid, "preference-unknown", "there is no language … here")
	errWrongSignIn       = fault.Declare(fault.Unauthenticated, "wrong-sign-in", "the address or the password is wrong")
)
