package transfers

import (
	"fmt"

	"tabularis/core/fault"
)

const (
	// leastSealed is how many bytes a sealed file has at least: a header for one recipient, a nonce,
	// and the tag of its last chunk (C2SP age, "Header" and "Payload").
	leastSealed = 200
	// MostManifest is how large the sealed list of what is in a transfer is at most, in bytes.
	MostManifest = 700 << 10
)

// What is refused here.
var (
	errSealedWords  = fault.Declare(fault.Invalid, "sealed-words", "the name and the message of a sealed transfer stand in what is sealed")
	errSealedCopies = fault.Declare(fault.Invalid, "sealed-copies", "what is sealed comes from your browser; copies of what is here are sent unsealed")
	errSealedSize   = fault.Declare(fault.Invalid, "sealed-size", "a sealed file has at least … bytes")
	errManifestSize = fault.Declare(fault.TooLarge, "manifest-size", "the list of what is sealed has at most … bytes")
)

// Seals refuses what would tell of a sealed transfer what only its recipients are to know.
func Seals(name, message string, copies int) error {
	switch {
	case name != "":
		return errSealedWords.In("name", "the name of a sealed transfer stands in what is sealed")
	case message != "":
		return errSealedWords.In("message", "the message of a sealed transfer stands in what is sealed")
	case copies > 0:
		return errSealedCopies.In("items", "what is sealed comes from your browser; copies of what is here are sent unsealed")
	}
	return nil
}

// AnnounceSealed reads what sealed files are announced beside those that are there, like Announce. They
// are known by their number alone.
func AnnounceSealed(files []File, there []string, most int64) ([]File, error) {
	numbered := make([]File, len(files))
	for i, f := range files {
		if f.Size < leastSealed {
			return nil, errSealedSize.In("files", "a sealed file has at least %d bytes", leastSealed)
		}
		numbered[i] = File{Name: fmt.Sprintf("%d.age", len(there)+i+1), Size: f.Size}
	}
	return Announce(numbered, there, most)
}

// CheckManifest refuses a list of what is sealed that is too large; of what stands in it nothing can
// be known.
func CheckManifest(content []byte) error {
	switch {
	case len(content) > MostManifest:
		return errManifestSize.In("body", "the list of what is sealed has at most %d bytes", MostManifest)
	case len(content) < leastSealed:
		return errSealedSize.In("body", "what is sealed has at least %d bytes", leastSealed)
	}
	return nil
}
