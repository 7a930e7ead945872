package store

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
)

// Event is what somebody did.
type Event struct {
	ID        int64           `db:"id"`
	At        time.Time       `db:"at"`
	Kind      string          `db:"kind"`
	PersonID  *uuid.UUID      `db:"person_id"`
	Outside   bool            `db:"outside"`
	DossierID uuid.UUID       `db:"dossier_id"`
	ItemID    *uuid.UUID      `db:"item_id"`
	Version   *int            `db:"version"`
	LinkID    *uuid.UUID      `db:"link_id"`
	Network   string          `db:"network"`
	Agent     string          `db:"agent"`
	Data      json.RawMessage `db:"data"`
}

// AddEvent appends an event, makes it the last one of its dossier and document,
// and tells all server processes when the transaction commits.
func AddEvent(ctx context.Context, q Q, e Event) (id int64, err error) {
	err = q.GetContext(ctx, &id, `INSERT INTO events (at, kind, person_id, outside, dossier_id, item_id, version, link_id, network, agent, data)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11) RETURNING id`,
		e.At, e.Kind, e.PersonID, e.Outside, e.DossierID, e.ItemID, e.Version, e.LinkID, e.Network, e.Agent, e.Data)
	if err != nil {
		return 0, err
	}
	if err = exec(ctx, q, `UPDATE dossiers SET last_event_id = $2 WHERE id = $1`, e.DossierID, id); err != nil {
		return 0, err
	}
	if e.ItemID != nil {
		if err = exec(ctx, q, `UPDATE items SET last_event_id = $2 WHERE id = $1 AND kind = 'document'`, e.ItemID, id); err != nil {
			return 0, err
		}
	}
	news, err := json.Marshal(News{Event: id, Kind: e.Kind, Dossier: e.DossierID, Item: e.ItemID, Link: e.LinkID})
	if err != nil {
		return 0, err
	}
	return id, exec(ctx, q, `SELECT pg_notify('`+NewsChannel+`', $1)`, string(news))
}

// NewsChannel carries News between server processes.
const NewsChannel = "tabularis_news"

// News says that an event has happened; whoever is concerned reads anew.
type News struct {
	Event   int64      `json:"event"`
	Kind    string     `json:"kind"`
	Dossier uuid.UUID  `json:"dossier"`
	Item    *uuid.UUID `json:"item,omitempty"`
	Link    *uuid.UUID `json:"link,omitempty"`
}

// NamedEvent is an event with the names that belong to its ids now.
type NamedEvent struct {
	Event
	Actor       string     `db:"actor"`
	DossierCode string     `db:"dossier_code"`
	DossierName string     `db:"dossier_name"`
	ItemName    *string    `db:"item_name"`
	ItemKind    *string    `db:"item_kind"`
	ItemNumber  *int       `db:"item_number"`
	FolderID    *uuid.UUID `db:"folder_id"`
	LinkName    *string    `db:"link_name"`
}

const namedEvent = `SELECT e.*, coalesce(p.name, '') AS actor, d.code AS dossier_code, d.name AS dossier_name,
	i.name AS item_name, i.kind AS item_kind, i.number AS item_number, i.parent_id AS folder_id, l.name AS link_name
	FROM events e JOIN dossiers d ON d.id = e.dossier_id LEFT JOIN people p ON p.id = e.person_id
	LEFT JOIN items i ON i.id = e.item_id LEFT JOIN links l ON l.id = e.link_id `

// EventFilter narrows the stream. Zero values do not.
type EventFilter struct {
	Dossiers []uuid.UUID
	Item     uuid.UUID
	Link     uuid.UUID
	Person   uuid.UUID
	Outside  bool
	Prefixes []string
	Since    time.Time
	Before   int64
	Limit    int
}

// Events returns events newest first.
func Events(ctx context.Context, q Q, f EventFilter) (all []NamedEvent, err error) {
	var where []string
	var args []any
	add := func(cond string, arg any) {
		args = append(args, arg)
		where = append(where, fmt.Sprintf(cond, len(args)))
	}
	if f.Dossiers != nil {
		add("e.dossier_id = ANY($%d::uuid[])", IDs(f.Dossiers))
	}
	if f.Item != uuid.Nil {
		add("e.item_id = $%d", f.Item)
	}
	if f.Link != uuid.Nil {
		add("e.link_id = $%d", f.Link)
	}
	if f.Person != uuid.Nil {
		add("e.person_id = $%d", f.Person)
	}
	if f.Outside {
		where = append(where, "e.outside")
	}
	if len(f.Prefixes) > 0 {
		add("split_part(e.kind, '.', 1) = ANY($%d)", f.Prefixes)
	}
	if !f.Since.IsZero() {
		add("e.at >= $%d", f.Since)
	}
	if f.Before > 0 {
		add("e.id < $%d", f.Before)
	}
	args = append(args, f.Limit)
	return all, q.SelectContext(ctx, &all, namedEvent+"WHERE "+strings.Join(where, " AND ")+fmt.Sprintf(" ORDER BY e.id DESC LIMIT $%d", len(args)), args...)
}

// EventsByID returns the events with these ids.
func EventsByID(ctx context.Context, q Q, ids []int64) (map[int64]NamedEvent, error) {
	slices.Sort(ids)
	var all []NamedEvent
	err := q.SelectContext(ctx, &all, namedEvent+`WHERE e.id = ANY($1)`, slices.Compact(ids))
	byID := make(map[int64]NamedEvent, len(all))
	for _, e := range all {
		byID[e.ID] = e
	}
	return byID, err
}

// CountEvents counts the events of an item.
func CountEvents(ctx context.Context, q Q, item uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM events WHERE item_id = $1`, item)
}

// Colleagues lists the people who share a dossier with a person.
func Colleagues(ctx context.Context, q Q, dossiers []uuid.UUID) (all []Person, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM people WHERE id IN (SELECT person_id FROM grants WHERE item_id = ANY($1::uuid[])) ORDER BY name`, IDs(dossiers))
}
