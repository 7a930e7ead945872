package linkgate

import (
	"fmt"
	"time"

	"tabularis/core/intake"
	"tabularis/core/names"
)

// Terms is under what terms something is given out or taken in: the one value that is
// stored and loaded, decided by, written as a sentence and set in a sheet. A limit or
// moment that is nil is not set. Its tags are the names under which it is kept.
//
// A new term is a field here, a part of the sentence in core/terms, and a field of the
// contract.
type Terms struct {
	// Kind is one of Kinds.
	Kind      string     `db:"kind"`
	NotBefore *time.Time `db:"not_before"`
	Until     *time.Time `db:"until"`
	// Openings and Downloads are how many there may be.
	Openings  *int `db:"openings_limit"`
	Downloads *int `db:"downloads_limit"`
	// Password says that one is asked for; its hash is kept beside the terms.
	Password bool `db:"-"`
	// MayDownload lets originals leave; without it they are looked at in marked pages.
	MayDownload bool `db:"may_download"`
	// Remarks lets visitors say something to what is handed out, and read what is answered.
	Remarks bool `db:"may_remark"`
	// Sealed is what opens a transfer that was sealed in its sender's browser.
	Sealed Seal `db:"sealed"`
	// Newest always gives what is newest, not what was chosen.
	Newest bool `db:"newest"`
	// Identify is how surely a visitor has to be known, Allowed who may come in, see
	// the function Allowed.
	Identify Identity   `db:"identify"`
	Allowed  names.List `db:"allowed"`
	// Slug is a readable address, Tell how soon the sender is told.
	Slug *string `db:"slug"`
	Tell Telling `db:"tell"`
	// Limits is what an intake takes.
	intake.Limits
}

// ViewOnly says that nothing is downloaded.
func (t Terms) ViewOnly() bool { return !t.MayDownload }

// Scan reads an identity as it is kept, in the manner of values that read themselves.
func (i *Identity) Scan(src any) (err error) {
	text, ok := src.(string)
	if raw, bytes := src.([]byte); bytes {
		text, ok = string(raw), true
	}
	if !ok {
		return fmt.Errorf("an identity cannot be read from %T", src)
	}
	*i, err = ParseIdentity("identify", text)
	return err
}
