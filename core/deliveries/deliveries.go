// Package deliveries holds the rules of what people outside send to an address that a colleague has
// published: how much is taken from whom, and what of it deserves a second thought.
package deliveries

import (
	"time"

	"tabularis/core/fault"
	"tabularis/core/names"
)

const (
	// MostFiles is of how many files a delivery is at most.
	MostFiles = 200
	// Day is over which time it is counted how much came from somebody.
	Day = 24 * time.Hour
	// Unsent is how long files wait that were brought and never sent off.
	Unsent = 48 * time.Hour
	// maxManifest is how large the sealed list of a delivery is at most, in bytes.
	maxManifest = 256 << 10
)

// What is refused here.
var (
	errFull         = fault.Declare(fault.TooLarge, "deliveries-full", "nothing more is taken for now")
	errFolders      = fault.Declare(fault.Invalid, "deliveries-flat", "a delivery is of files, not of folders")
	errManifestSize = fault.Declare(fault.TooLarge, "delivery-manifest", "a sealed list has at most … bytes")
	errNotSealed    = fault.Declare(fault.Invalid, "delivery-open", "what is sent to this address is not sealed")
	errMustSeal     = fault.Declare(fault.Conflict, "delivery-must-seal", "what is sent to this address is sealed; load the page anew")
	errSealedWords  = fault.Declare(fault.Invalid, "delivery-words", "of what is sealed, names and message stand in its list alone")
)

// Tally is how much came, or is on its way.
type Tally struct {
	Files int   `db:"files"`
	Bytes int64 `db:"bytes"`
}

// Plus are two tallies together.
func (t Tally) Plus(o Tally) Tally { return Tally{t.Files + o.Files, t.Bytes + o.Bytes} }

func (t Tally) within(most Tally) bool { return t.Files <= most.Files && t.Bytes <= most.Bytes }

// How much is taken within a day from one mail address, and from one network, whatever the addresses.
var (
	FromAddress = Tally{Files: MostFiles, Bytes: 20 << 30}
	FromNetwork = Tally{Files: 4 * MostFiles, Bytes: 40 << 30}
)

// Before is how much came before a file: within a day from the sender's address and network, and how
// many bytes wait to be accepted in the whole practice.
type Before struct {
	Address, Network Tally
	Waiting          int64
}

// Takes refuses a file that is more than is taken. It does not say which limit is reached: how
// much others send is nobody's business. nil is no limit of what waits.
func Takes(b Before, path string, size int64, mostWaiting *int64) error {
	one := Tally{Files: 1, Bytes: size}
	switch {
	case path != "":
		return errFolders.In("path", "a delivery is of files, not of folders")
	case !b.Address.Plus(one).within(FromAddress), !b.Network.Plus(one).within(FromNetwork), mostWaiting != nil && b.Waiting+size > *mostWaiting:
		return errFull.In("size", "nothing more is taken for now")
	}
	return nil
}

// Sending is what somebody sends off.
type Sending struct {
	Name, Message string
	Files         []string
	// Manifest is the sealed list of names and message, where they seal it.
	Manifest []byte
}

// Sound refuses what cannot be sent: without a name, with names or words beside a sealed list, or not
// sealed where the recipient wants that. It returns the sender's name in normal form.
func (s Sending) Sound(sealed bool) (string, error) {
	name, err := names.Check("name", s.Name)
	switch {
	case err != nil:
		return "", err
	case len(s.Manifest) > maxManifest:
		return "", errManifestSize.In("manifest", "a sealed list has at most %d bytes", maxManifest)
	case len(s.Manifest) > 0 && !sealed:
		return "", errNotSealed.In("manifest", "what is sent to this address is not sealed")
	case len(s.Manifest) == 0 && sealed:
		return "", errMustSeal.New("what is sent to this address is sealed; load the page anew")
	case sealed && s.Message != "":
		return "", errSealedWords.In("note", "of what is sealed, names and message stand in its list alone")
	}
	return name, nil
}
