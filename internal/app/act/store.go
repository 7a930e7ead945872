package act

import (
	"context"
	"encoding/json"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/internal/platform/postgres"
)

// AddEvent appends an event, makes it the last one of its dossier and document,
// and tells all server processes when the transaction commits.
func AddEvent(ctx context.Context, q postgres.Q, e events.Event) (id int64, err error) {
	var dossier struct {
		ID   int64  `db:"last_event_id"`
		Code string `db:"code"`
	}
	// The dossier's row is held before the scope is read: whoever changes access
	// holds it too, and moves the events that are there.
	if e.DossierID != nil {
		err = postgres.Found(q.GetContext(ctx, &dossier, `UPDATE all_dossiers SET last_event_id = nextval(pg_get_serial_sequence('events', 'id')) WHERE id = $1
			RETURNING last_event_id, code`, e.DossierID))
		id = dossier.ID
	} else {
		err = q.GetContext(ctx, &id, `SELECT nextval(pg_get_serial_sequence('events', 'id'))`)
	}
	if err != nil {
		return 0, err
	}
	// It waits to be sealed by the act that records it.
	if err := postgres.Exec(ctx, q, `WITH waits AS (INSERT INTO unsealed_events (event_id) VALUES ($1))
		INSERT INTO events (id, at, kind, person_id, outside, dossier_id, item_id, version, link_id, network, agent, data, actor_kind) OVERRIDING SYSTEM VALUE
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13)`,
		id, e.At, e.Kind, e.PersonID, e.Outside, e.DossierID, e.ItemID, e.Version, e.LinkID, e.Network, e.Agent, e.Data, e.ActorKind); err != nil {
		return 0, err
	}
	if e.DossierID == nil {
		return id, nil
	}
	news := News{Event: id, Kind: e.Kind, Dossier: *e.DossierID, Code: dossier.Code, Item: e.ItemID, Link: e.LinkID}
	if err := q.GetContext(ctx, &news, `WITH scope AS (INSERT INTO event_scopes (event_id, scope_id, kind, person_id, outside)
			VALUES ($1, coalesce((SELECT scope_id FROM all_items WHERE id = $2), (`+scopeOfLink+`), $3), $5, $6, $7) RETURNING scope_id)
		UPDATE scopes SET last_event_id = $1 FROM scope WHERE id = scope.scope_id RETURNING root_id, zone_id`, id, e.ItemID, e.DossierID, e.LinkID, e.Kind, e.PersonID, e.Outside); err != nil {
		return 0, err
	}
	// What the practice keeps to itself is not what others are told of a document at last.
	if kind, _ := events.KindNamed(e.Kind); e.ItemID != nil && !kind.Inside {
		if err = postgres.Exec(ctx, q, `UPDATE items SET last_event_id = $2, last_at = $3, last_kind = $4, last_by = $5, last_outside = $6, last_version = $7
			WHERE id = $1 AND kind = 'document'`, e.ItemID, id, e.At, e.Kind, e.By, e.Outside, e.Version); err != nil {
			return 0, err
		}
	}
	return id, Tell(ctx, q, news)
}

// Tell tells all server processes when the transaction commits.
func Tell(ctx context.Context, q postgres.Q, n News) error {
	text, err := json.Marshal(n)
	if err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `SELECT pg_notify('`+NewsChannel+`', $1)`, string(text))
}

// scopeOfLink is the scope of what is about a link $4 as a whole, in a dossier $3:
// that of something closed that it gives, if it does, else the dossier's.
const scopeOfLink = `SELECT i.scope_id FROM link_items c JOIN all_items i ON i.id = c.item_id JOIN scopes s ON s.id = i.scope_id
	WHERE c.link_id = $4 AND s.dossier_id = $3 AND s.zone_id <> $3 ORDER BY c.position LIMIT 1`

// NewsChannel carries News between server processes.
const NewsChannel = "tabularis_news"

// News says that an event has happened; whoever is concerned reads anew.
type News struct {
	Event   int64     `json:"event"`
	Kind    string    `json:"kind"`
	Dossier uuid.UUID `json:"dossier"`
	// Code is the dossier's.
	Code string     `json:"code,omitempty"`
	Item *uuid.UUID `json:"item,omitempty"`
	Link *uuid.UUID `json:"link,omitempty"`
	// Access says that who may see what has changed, and nothing else.
	Access bool `json:"access,omitempty"`
	// Person is set where it concerns one person, and nothing else is.
	Person *uuid.UUID `json:"person,omitempty"`
	// Session says that one of the person's sessions has ended.
	Session bool `json:"session,omitempty"`
	// Root and Zone say who may see what it is about.
	Root uuid.UUID `json:"root" db:"root_id"`
	Zone uuid.UUID `json:"zone" db:"zone_id"`
}
