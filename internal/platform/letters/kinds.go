package letters

// Link carries a link.
type Link struct {
	Sender  Sender
	Name    string
	Message string
	Address string
	// Terms are what whoever gets it may do, as a sentence.
	Terms string
	// Password says that one is needed, which is never in the letter.
	Password bool
	// Sealed is by what it opens, "key" or "passphrase", which is never in the letter; or nothing.
	Sealed string
	// Again says that it is not the first word about it: something has not been fetched yet.
	Again bool
	// Asks says that it is a form that is to be filled in.
	Asks bool
}

// Request asks for papers, or reminds of them.
type Request struct {
	Link
	// Missing are the papers that are waited for; Reminds says that it is not the
	// first word about them.
	Missing []string
	Reminds bool
}

// Access tells somebody of what they were given.
type Access struct {
	Sender   Sender
	Message  string
	Sentence string
	Address  string
}

// Invitation is somebody's way in. Terms say what they are given, if it was something.
type Invitation struct {
	Sender  Sender
	Message string
	Address string
	Terms   string
}

// AccountThere tells somebody who used an invitation link that they have an account.
type AccountThere struct{ Address string }

// SignInCode is a guest's one-time code.
type SignInCode struct{ Code string }

// LinkCode is the code by which a visitor shows that an address is theirs.
type LinkCode struct{ Code string }

// NewPassword leads to setting a new password.
type NewPassword struct{ Address string }

// Receipt says what was handed in.
type Receipt struct {
	Sender Sender
	Name   string
	Files  []ReceivedFile
}

// ReceivedFile is a file with its SHA-256 in hexadecimal and the moment it came in,
// as the practice's clock shows it.
type ReceivedFile struct {
	Name   string
	Bytes  int64
	At     string
	SHA256 string
}

// Checkpoint is how far the practice's log had grown, signed, for whoever keeps it so that
// the past cannot be changed unseen.
type Checkpoint struct {
	Events string
	// Signed is a C2SP signed note, Key the verifier that checks it.
	Signed, Key string
}

// Tidings tell a link's sender what happened through it.
type Tidings struct {
	Name    string
	Happens []Happening
	Address string
}

// Happening is a kind of event (see core/events) and how often it happened; of a
// single one perhaps who it was and with which file.
type Happening struct {
	Kind      string
	N         int
	Who, File string
}

// Missed tells a transfer's sender that somebody has fetched nothing for some days.
type Missed struct {
	Name, To string
	Days     int
	Address  string
}

// MailHeld says where a mail waits to be confirmed.
type MailHeld struct{ Subject, Address string }

// MailFailed says to whom a mail could not be delivered, and what their mail server said.
type MailFailed struct{ Subject, To, Why string }

func (MailHeld) name() string     { return "mail-held" }
func (MailFailed) name() string   { return "mail-failed" }
func (Missed) name() string       { return "missed" }
func (Link) name() string         { return "link" }
func (Request) name() string      { return "request" }
func (Access) name() string       { return "access" }
func (Invitation) name() string   { return "invitation" }
func (AccountThere) name() string { return "account-there" }
func (SignInCode) name() string   { return "sign-in-code" }
func (LinkCode) name() string     { return "link-code" }
func (NewPassword) name() string  { return "new-password" }
func (Receipt) name() string      { return "receipt" }
func (Tidings) name() string      { return "tidings" }
func (Checkpoint) name() string   { return "checkpoint" }

// Mentions tell somebody that remarks name them: how many, and the first of them.
type Mentions struct {
	Number int
	Lines  []Mention
}

// Mention is a remark that names somebody: by whom, about what, and where it stands.
type Mention struct{ By, What, Said, Address string }

func (Mentions) name() string { return "mentions" }

// Digest tells somebody what others did, up to a day: how much, or that it is more, and
// the lines of each dossier.
type Digest struct {
	Weekly   bool
	Day      string
	Number   int
	AndMore  bool
	Dossiers []DigestPart
	// Address leads to the activity, Change to where digests are chosen.
	Address, Change string
}

// DigestPart is what happened in a dossier (empty for what is in none), newest first, and
// how many lines more there would be.
type DigestPart struct {
	Dossier string
	Lines   []string
	More    int
}

func (Digest) name() string { return "digest" }
