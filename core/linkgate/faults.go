package linkgate

import "tabularis/core/fault"

// What is refused here.
var (
	errAllowedCount    = fault.Declare(fault.Invalid, "allowed-count", "name at most … addresses and domains")
	errAllowedForm     = fault.Declare(fault.Invalid, "allowed-form", "… is neither a mail address nor a domain")
	errIdentityUnknown = fault.Declare(fault.Invalid, "identity-unknown", "a visitor's identity is none, stated, confirmed or signed-in")
	errRequiredUnknown = fault.Declare(fault.Invalid, "required-unknown", "a link may require nothing, a password, an identity, or either")
	errRuleEither      = fault.Declare(fault.Invalid, "rule-either", "the practice wants a password on every link, or to know who comes in")
	errRuleIdentity    = fault.Declare(fault.Invalid, "rule-identity", "the practice wants to know who comes in")
	errRuleKind        = fault.Declare(fault.Invalid, "rule-kind", "the practice does not let links of this kind be made")
	errRuleOnly        = fault.Declare(fault.Invalid, "rule-only", "the practice lets only certain domains in, so it has to know who comes")
	errRulePassword    = fault.Declare(fault.Invalid, "rule-password", "the practice wants a password on every link")
	errSlugForm        = fault.Declare(fault.Invalid, "slug-form", "a readable address has small letters from a to z, digits, and single hyphens between them")
	errSlugLength      = fault.Declare(fault.Invalid, "slug-length", "a readable address has between … and … characters")
	errSlugReserved    = fault.Declare(fault.Invalid, "slug-reserved", "this word is reserved; take another one")
	errTellingUnknown  = fault.Declare(fault.Invalid, "telling-unknown", "you can be told each time, daily or never")
)
