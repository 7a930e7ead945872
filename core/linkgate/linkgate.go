// Package linkgate decides whether an attempt to come in through a secure link
// is let in, and why not.
//
// An opening is consumed by a person's act (pressing Show, or giving the right
// password), once per visit. Merely fetching the page consumes nothing and is
// therefore no attempt: mail scanners and previews fetch every link they see.
package linkgate

import "time"

// Use is how much of a link was used, and whether the sender has ended it.
type Use struct {
	Openings  int
	Downloads int
	Ended     bool
}

// VisitLength is how long a visit lasts that was let in; afterwards it takes
// another opening.
const VisitLength = 12 * time.Hour

// Password says what came with an attempt.
type Password int

const (
	PasswordAbsent Password = iota
	PasswordWrong
	PasswordRight
)

// Act is what a visitor wants.
type Act int

const (
	// Arrive asks for the page in front; it never consumes anything.
	Arrive Act = iota
	// Open asks to be let in, by a person's act.
	Open
	// Read looks at something within a visit that was let in.
	Read
	// Fetch downloads something within a visit that was let in.
	Fetch
)

// Attempt is one request of a visitor. Visiting says that this visit was let
// in before, under a password that has not changed since.
type Attempt struct {
	Act      Act
	Password Password
	Visiting bool
	// Again says that this visit has begun to fetch the same before: going on with
	// it, or fetching it once more, is no further download.
	Again bool
	// Email is the visitor's address as far as it is known, Known how surely.
	Email string
	Known Identity
	At    time.Time
}

// Reason says why an attempt was refused.
type Reason string

const (
	None          Reason = ""
	Ended         Reason = "ended"
	NotYet        Reason = "not-yet"
	Expired       Reason = "expired"
	UsedUp        Reason = "used-up"
	NeedsOpening  Reason = "needs-opening"
	NeedsPassword Reason = "needs-password"
	WrongPassword Reason = "wrong-password"
	ViewOnly      Reason = "view-only"
	// NeedsIdentity asks for an address, a code or an account.
	NeedsIdentity     Reason = "needs-identity"
	AddressNotAllowed Reason = "address-not-allowed"
	DownloadsUsedUp   Reason = "downloads-used-up"
)

// Dead reports whether the reason means that the link is no longer available,
// about which a visitor is told nothing more.
func (r Reason) Dead() bool { return r == Ended || r == NotYet || r == Expired || r == UsedUp }

// Verdict is the answer to an attempt.
type Verdict struct {
	Allowed bool
	Reason  Reason
	// Opens says that one opening is to be counted, Downloads one download.
	Opens     bool
	Downloads bool
}

func refuse(r Reason) Verdict { return Verdict{Reason: r} }

// Decide answers an attempt under the link's terms and use. Whoever applies the
// verdict must do so while holding the link's row, so that N means N.
func Decide(t Terms, u Use, a Attempt) Verdict {
	if r := standing(t, u, a); r != None {
		return refuse(r)
	}
	switch a.Act {
	case Arrive:
		return Verdict{Allowed: true}
	case Open:
		return open(t, a)
	}
	if !a.Visiting {
		return refuse(NeedsOpening)
	}
	if a.Act == Read {
		return Verdict{Allowed: true}
	}
	if !t.MayDownload {
		return refuse(ViewOnly)
	}
	if a.Again {
		return Verdict{Allowed: true}
	}
	if t.Downloads != nil && u.Downloads >= *t.Downloads {
		return refuse(DownloadsUsedUp)
	}
	return Verdict{Allowed: true, Downloads: true}
}

// standing says whether the link lives at all at that moment for that visitor.
func standing(t Terms, u Use, a Attempt) Reason {
	switch {
	case u.Ended:
		return Ended
	case t.NotBefore != nil && a.At.Before(*t.NotBefore):
		return NotYet
	case t.Until != nil && !a.At.Before(*t.Until):
		return Expired
	case !a.Visiting && t.Openings != nil && u.Openings >= *t.Openings:
		return UsedUp
	}
	return None
}

func open(t Terms, a Attempt) Verdict {
	if a.Visiting {
		return Verdict{Allowed: true}
	}
	if t.Password {
		switch a.Password {
		case PasswordAbsent:
			return refuse(NeedsPassword)
		case PasswordWrong:
			return refuse(WrongPassword)
		}
	}
	if a.Known < t.Identify {
		return refuse(NeedsIdentity)
	}
	if !Admits(t.Allowed, a.Email) {
		return refuse(AddressNotAllowed)
	}
	return Verdict{Allowed: true, Opens: true}
}

// Standing says how a link stands for its sender at a moment.
func Standing(t Terms, u Use, now time.Time) Reason {
	return standing(t, u, Attempt{At: now})
}

// Waits are what Wait says, up to the number of tries from which on it stays the
// same.
func Waits() (all []time.Duration) {
	for n := 0; ; n++ {
		all = append(all, Wait(n))
		if n > 3 && all[n] == all[n-1] {
			return all
		}
	}
}

// Wait is how long a guesser must wait before the next password is looked at,
// after n wrong ones in a row: none for the first three, then doubling from
// two seconds up to five minutes. It never locks anyone out for good.
func Wait(n int) time.Duration {
	if n < 3 {
		return 0
	}
	d := 2 * time.Second
	for i := 3; i < n && d < 5*time.Minute; i++ {
		d *= 2
	}
	return min(d, 5*time.Minute)
}
