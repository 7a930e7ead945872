package people

import "tabularis/core/fault"

// What is refused here.
var (
	errAddressTaken     = fault.Declare(fault.Conflict, "address-taken", "p.Email + \" has an account already\"")
	errDomainOther      = fault.Declare(fault.Invalid, "domain-other", "this link is for addresses at …")
	errInvitationOver   = fault.Declare(fault.Conflict, "invitation-over", "… has come in already, or was taken back")
	errMemberUnknown    = fault.Declare(fault.Invalid, "member-unknown", "name a person or a group")
	errNeedsSuccessor   = fault.Declare(fault.Conflict, "needs-successor", "p.Name + \" alone manages \" + strings.Join(codes(owned), \", \") + \"; say who takes over\"")
	errNotComeIn        = fault.Declare(fault.Conflict, "not-come-in", "… has not come in yet")
	errNotInside        = fault.Declare(fault.Conflict, "not-inside", "… does not belong to the practice")
	errOwnStanding      = fault.Declare(fault.Conflict, "own-standing", "the proprietor hands the practice over to somebody else")
	errProprietorStays  = fault.Declare(fault.Conflict, "proprietor-stays", "the proprietor hands the practice over first")
	errStandingUnknown  = fault.Declare(fault.Invalid, "standing-unknown", "a standing is proprietor, administrator or colleague")
	errSuccessorUnknown = fault.Declare(fault.Invalid, "successor-unknown", "the successor belongs to the practice")
	errUsesRange        = fault.Declare(fault.Invalid, "uses-range", "between 1 and … people may join by a link")
)
