// Package evidence seals what happened: events become entries of a log that only grows
// (a Merkle tree as in RFC 6962 and RFC 9162), signed checkpoints say how far it has
// grown, and bundles of events with their proofs are checked without us.
package evidence

import (
	"bytes"
	"crypto/hmac"
	"crypto/sha256"
	"encoding/hex"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/events"
)

// Entry is what the log holds of an event. What may be personal stands in it as
// commitments only: each can be opened by its salt and value, and once the salt is
// forgotten nobody can find out what the value was, while the log still agrees.
type Entry struct {
	Format  int              `json:"entry"`
	Event   int64            `json:"event"`
	At      string           `json:"at"`
	Kind    string           `json:"kind"`
	Actor   events.ActorKind `json:"actor"`
	Outside bool             `json:"outside"`
	Dossier *uuid.UUID       `json:"dossier,omitempty"`
	Item    *uuid.UUID       `json:"item,omitempty"`
	Version *int             `json:"version,omitempty"`
	Link    *uuid.UUID       `json:"link,omitempty"`
	// Sealed are the commitments by the name of the field, SHA-256 in hexadecimal.
	Sealed map[string]string `json:"sealed"`
}

// Fields are the names of what is sealed by commitments: who acted (an id), the network
// and program they acted from, and what the event says beside (a JSON object).
var Fields = []string{"agent", "data", "network", "person"}

const (
	entryFormat = 1
	// moment is how a point in time is written, in UTC to the microsecond.
	moment = "2006-01-02T15:04:05.000000Z"
)

// Opening opens a commitment: SHA-256 of salt and value is the commitment.
type Opening struct {
	Salt  []byte `json:"salt"`
	Value string `json:"value"`
}

// Commitment is SHA-256 of salt and value, in hexadecimal.
func (o Opening) Commitment() string {
	h := sha256.New()
	h.Write(o.Salt)
	h.Write([]byte(o.Value))
	return hex.EncodeToString(h.Sum(nil))
}

// Open opens one field of an event under the event's secret.
func Open(e events.Event, secret []byte, field string) (Opening, error) {
	value, err := valueOf(e, field)
	m := hmac.New(sha256.New, secret)
	m.Write([]byte(field))
	return Opening{Salt: m.Sum(nil), Value: value}, err
}

// valueOf is the text of a field. Data are written anew, keys in order, since a database
// may write them otherwise.
func valueOf(e events.Event, field string) (string, error) {
	switch field {
	case "agent":
		return e.Agent, nil
	case "network":
		return e.Network, nil
	case "person":
		if e.PersonID == nil {
			return "", nil
		}
		return e.PersonID.String(), nil
	case "data":
		return canonical(e.Data)
	}
	return "", fmt.Errorf("an event has no field %q", field)
}

// canonical writes a JSON value with its keys in order and without blanks.
func canonical(raw json.RawMessage) (string, error) {
	d := json.NewDecoder(bytes.NewReader(raw))
	d.UseNumber()
	var v any
	if err := d.Decode(&v); err != nil {
		return "", fmt.Errorf("reading an event's data: %w", err)
	}
	var out strings.Builder
	e := json.NewEncoder(&out)
	e.SetEscapeHTML(false)
	if err := e.Encode(v); err != nil {
		return "", fmt.Errorf("writing an event's data: %w", err)
	}
	return strings.TrimSuffix(out.String(), "\n"), nil
}

// Commitments seals the fields of an event under a secret of its own.
func Commitments(e events.Event, secret []byte) (map[string]string, error) {
	sealed := map[string]string{}
	for _, field := range Fields {
		o, err := Open(e, secret, field)
		if err != nil {
			return nil, err
		}
		sealed[field] = o.Commitment()
	}
	return sealed, nil
}

// EntryOf is the entry of an event whose fields are sealed.
func EntryOf(e events.Event, sealed map[string]string) Entry {
	return Entry{Format: entryFormat, Event: e.ID, At: e.At.UTC().Format(moment), Kind: e.Kind, Actor: e.ActorKind, Outside: e.Outside,
		Dossier: e.DossierID, Item: e.ItemID, Version: e.Version, Link: e.LinkID, Sealed: sealed}
}

// Text is the entry as it stands in the log, a JSON object in one line.
func (e Entry) Text() []byte {
	text, err := json.Marshal(e)
	if err != nil {
		// It is made of texts, numbers and ids.
		panic(fmt.Sprintf("writing an entry: %v", err))
	}
	return text
}

// Time is when the event happened.
func (e Entry) Time() (time.Time, error) { return time.Parse(moment, e.At) }

// ReadEntry reads what Text wrote.
func ReadEntry(text string) (e Entry, err error) {
	if err = json.Unmarshal([]byte(text), &e); err == nil && e.Format != entryFormat {
		err = fmt.Errorf("an entry of the form %d", e.Format)
	}
	return e, err
}
