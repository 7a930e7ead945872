// Package events knows what can happen, and what is said of it.
package events

import (
	"encoding/json"
	"time"

	"github.com/google/uuid"
)

// Event is what somebody did.
type Event struct {
	ID        int64           `db:"id"`
	At        time.Time       `db:"at"`
	Kind      string          `db:"kind"`
	ActorKind ActorKind       `db:"actor_kind"`
	PersonID  *uuid.UUID      `db:"person_id"`
	Outside   bool            `db:"outside"`
	DossierID *uuid.UUID      `db:"dossier_id"`
	ItemID    *uuid.UUID      `db:"item_id"`
	Version   *int            `db:"version"`
	LinkID    *uuid.UUID      `db:"link_id"`
	Network   string          `db:"network"`
	Agent     string          `db:"agent"`
	Data      json.RawMessage `db:"data"`
	// By is the name of the person, as it is at that moment.
	By string `db:"-"`
}

// Named is an event with the names that belong to its ids now. What it is about
// is named as it stands now, also after it has come from another dossier.
type Named struct {
	Event
	Actor       string     `db:"actor"`
	DossierCode string     `db:"dossier_code"`
	DossierName string     `db:"dossier_name"`
	ItemName    *string    `db:"item_name"`
	ItemKind    *string    `db:"item_kind"`
	ItemNumber  *int       `db:"item_number"`
	FolderID    *uuid.UUID `db:"folder_id"`
	LinkName    *string    `db:"link_name"`
	// Root and Zone say who may see what the event is about.
	Root *uuid.UUID `db:"root_id"`
	Zone *uuid.UUID `db:"zone_id"`
}
