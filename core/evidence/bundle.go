package evidence

import (
	"encoding/json"
	"fmt"

	"golang.org/x/mod/sumdb/tlog"
)

// Format names the form of a bundle; docs/formats.md describes it.
const Format = "tabularis-evidence/1"

// BundleFile is the name under which a bundle lies in its archive.
const BundleFile = "evidence.json"

// Bundle is a number of events with what proves them.
type Bundle struct {
	Format string `json:"format"`
	// Practice, Subject, Written and By say what was asked for, by whom and when. They
	// are not proven.
	Practice string `json:"practice"`
	Subject  string `json:"subject"`
	Written  string `json:"written"`
	By       string `json:"by"`
	// Key is the verifier of the checkpoint (C2SP signed-note); FormerKeys signed earlier
	// ones.
	Key        string   `json:"key"`
	FormerKeys []string `json:"formerKeys"`
	Checkpoint string   `json:"checkpoint"`
	// Earlier are checkpoints from before, with proofs that the log has grown out of
	// them.
	Earlier []Growth `json:"earlier"`
	Events  []Proven `json:"events"`
	// Versions are the documents' versions that the events are about.
	Versions []Version `json:"versions"`
}

// Growth is an earlier checkpoint, with what proves that the log has grown out of it.
type Growth struct {
	Checkpoint string `json:"checkpoint"`
	Proof      Proof  `json:"proof"`
}

// Proven is an event with its proof. Index is its place in the log, counted from 0.
type Proven struct {
	Index int64  `json:"index"`
	Entry string `json:"entry"`
	Proof Proof  `json:"proof"`
	// Opened are the fields that may be read.
	Opened map[string]Opening `json:"opened"`
	// Says is the event in words, as the application shows it. It is not proven.
	Says string `json:"says"`
}

// Version is a version of a document with the hash of its content.
type Version struct {
	Document string `json:"document"`
	Number   int    `json:"number"`
	Name     string `json:"name"`
	SHA256   string `json:"sha256"`
	Size     int64  `json:"size"`
	// File is where its content lies in the archive, if it is part of it.
	File string `json:"file,omitempty"`
}

// Proof is a list of hashes, in base64.
type Proof []tlog.Hash

// MarshalJSON writes the hashes in base64.
func (p Proof) MarshalJSON() ([]byte, error) {
	all := make([][]byte, len(p))
	for i := range p {
		all[i] = p[i][:]
	}
	return json.Marshal(all)
}

// UnmarshalJSON reads what MarshalJSON wrote.
func (p *Proof) UnmarshalJSON(raw []byte) error {
	var all [][]byte
	if err := json.Unmarshal(raw, &all); err != nil {
		return err
	}
	*p = make(Proof, len(all))
	for i, h := range all {
		if len(h) != tlog.HashSize {
			return fmt.Errorf("a hash has %d bytes, not %d", len(h), tlog.HashSize)
		}
		copy((*p)[i][:], h)
	}
	return nil
}
