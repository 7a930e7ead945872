package letters

// Signing is about a paper that goes to its parties.
type Signing struct {
	What   SigningWhat
	Sender Sender
	// Number and Name say of which paper, Until by when, Message what the sender says.
	Number, Name, Until, Message string
	// Outside says that whoever gets it has no account, Fills that they fill in and do not sign, Password that a
	// password comes another way.
	Outside, Fills, Password bool
	// Reason is why it ended, Other who else is concerned.
	Reason, Other string
	Address       string
}

// SigningWhat is what is said.
type SigningWhat string

// What can be said of a paper that is signed.
const (
	SigningAsks      SigningWhat = "asks"
	SigningReminds   SigningWhat = "reminds"
	SigningPassed    SigningWhat = "passed"
	SigningDeclined  SigningWhat = "declined"
	SigningCalledOff SigningWhat = "called-off"
	SigningExpired   SigningWhat = "expired"
	SigningDone      SigningWhat = "done"
)

func (Signing) name() string { return "signing" }
