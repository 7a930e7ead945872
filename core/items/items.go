// Package items knows folders and documents, their versions and their content.
package items

import (
	"time"

	"tabularis/core/events"
	"tabularis/core/fault"
	"tabularis/core/names"

	"github.com/google/uuid"
)

// Item is a folder or a document. What it says of content is the counting
// version's.
type Item struct {
	ID        uuid.UUID  `db:"id"`
	DossierID uuid.UUID  `db:"dossier_id"`
	ScopeID   uuid.UUID  `db:"scope_id"`
	ParentID  *uuid.UUID `db:"parent_id"`
	Kind      string     `db:"kind"`
	Name      string     `db:"name"`
	NameKey   string     `db:"name_key"`
	// Twin tells things of one name in a folder apart, of which not everybody sees
	// all.
	Twin        int        `db:"twin"`
	Position    int        `db:"position"`
	Number      *int       `db:"number"`
	Version     int        `db:"version"`
	SHA256      []byte     `db:"sha256"`
	Size        int64      `db:"size"`
	MediaType   string     `db:"media_type"`
	Documents   int        `db:"n_documents"`
	Bytes       int64      `db:"n_bytes"`
	LastEventID int64      `db:"last_event_id"`
	CreatedBy   uuid.UUID  `db:"created_by"`
	CreatedAt   time.Time  `db:"created_at"`
	DeletedAt   *time.Time `db:"deleted_at"`
	// What is said of a document's last event: when, what, by whom, on which
	// version, and whether it came from outside.
	LastAt      *time.Time `db:"last_at"`
	LastKind    string     `db:"last_kind"`
	LastBy      string     `db:"last_by"`
	LastOutside bool       `db:"last_outside"`
	LastVersion *int       `db:"last_version"`
}

// Folder and Document are the kinds of items.
const Folder = "folder"

const Document = "document"

// Placed is an item with its way from some folder, and the root and zone by
// which it is decided.
type Placed struct {
	Item
	Way  string    `db:"way"`
	Root uuid.UUID `db:"root_id"`
	Zone uuid.UUID `db:"zone_id"`
}

// Version is one state of a document's content.
type Version struct {
	ItemID    uuid.UUID `db:"item_id"`
	Number    int       `db:"number"`
	SHA256    []byte    `db:"sha256"`
	Size      int64     `db:"size"`
	MediaType string    `db:"media_type"`
	Origin    string    `db:"origin"`
	// Actor is who or what made it.
	events.Actor
	CreatedAt time.Time  `db:"created_at"`
	RemovedAt *time.Time `db:"removed_at"`
	RemovedBy *uuid.UUID `db:"removed_by"`
	// Title is a name that somebody gave it, Note what they say of it; BackFrom is the
	// version that was brought back with it.
	Title    string     `db:"title"`
	Note     string     `db:"note"`
	BackFrom *int       `db:"back_from"`
	MovedTo  *uuid.UUID `db:"moved_to"`
	// Held says that somebody put it back by hand.
	Held bool `db:"held"`
}

// Blob is stored content: where it lies, and its key, sealed under the key file.
type Blob struct {
	SHA256    []byte    `db:"sha256"`
	Size      int64     `db:"size"`
	Place     uuid.UUID `db:"place"`
	SealedKey []byte    `db:"sealed_key"`
	CreatedAt time.Time `db:"created_at"`
	// Own is how many bytes lie in its place: fewer than its size where the rest stands in
	// other blobs; Recipe says then of which runs it is made (core/chunk).
	Own    int64  `db:"own"`
	Recipe []byte `db:"recipe"`
	// Weighed says that it was looked at whether the rest stands in others.
	Weighed bool `db:"weighed"`
	// LeftOver says that only other blobs need it, of which it holds parts.
	LeftOver bool `db:"left_over"`
}

// Whole reports whether all of it lies in its place.
func (b Blob) Whole() bool { return b.Own == b.Size }

// Kinds of dossiers that are one person's alone; each has at most one of each.
const (
	// Desk is where somebody works for themselves.
	Desk = "desk"
	// Outgoing holds the frozen copies of what somebody transfers. It is in no list.
	Outgoing = "outgoing"
	// Incoming holds what was sent to somebody's published address until it is accepted: nobody
	// has access to it, and it is in no list.
	Incoming = "incoming"
)

// Particulars are what a dossier is called, and what it is about. Its code stays.
type Particulars struct {
	Name    string `db:"name"`
	Subject string `db:"subject"`
	Client  string `db:"client"`
	Kind    string `db:"kind"`
}

// Sound returns the particulars in normal form, or refuses them: an unsound name, a
// client or subject that is no single line, and kinds that nobody makes by hand. Only
// work for a client has one.
func (p Particulars) Sound() (Particulars, error) {
	var err error
	if p.Name, err = names.Check("name", p.Name); err != nil {
		return p, err
	}
	if p.Kind != "client" && p.Kind != "internal" {
		return p, fault.KindUnknown.In("kind", "a dossier is of the kind client or internal")
	}
	if p.Client, err = names.Line("client", p.Client, maxClient); err != nil {
		return p, err
	}
	if p.Kind == "internal" {
		p.Client = ""
	}
	p.Subject, err = names.Line("subject", p.Subject, maxSubject)
	return p, err
}

// In bytes.
const maxClient, maxSubject = 200, 500

// Dossier is a body of documents about one piece of work.
type Dossier struct {
	ID   uuid.UUID `db:"id"`
	Code string    `db:"code"`
	Particulars
	LastNumber  int       `db:"last_number"`
	LastEventID int64     `db:"last_event_id"`
	CreatedBy   uuid.UUID `db:"created_by"`
	CreatedAt   time.Time `db:"created_at"`
	// SetAsideAt is since when it is out of the daily lists.
	SetAsideAt *time.Time `db:"set_aside_at"`
}
