package store

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"
)

// Event is what somebody did.
type Event struct {
	ID        int64           `db:"id"`
	At        time.Time       `db:"at"`
	Kind      string          `db:"kind"`
	PersonID  *uuid.UUID      `db:"person_id"`
	Outside   bool            `db:"outside"`
	DossierID *uuid.UUID      `db:"dossier_id"`
	ItemID    *uuid.UUID      `db:"item_id"`
	Version   *int            `db:"version"`
	LinkID    *uuid.UUID      `db:"link_id"`
	Network   string          `db:"network"`
	Agent     string          `db:"agent"`
	Data      json.RawMessage `db:"data"`
	// ScopeID is the scope by which it is decided who may see the event.
	ScopeID *uuid.UUID `db:"scope_id"`
	// By is the name of the person, as it is at that moment.
	By string `db:"-"`
}

// AddEvent appends an event, makes it the last one of its dossier and document,
// and tells all server processes when the transaction commits.
func AddEvent(ctx context.Context, q Q, e Event) (id int64, err error) {
	// The dossier's row is held before the scope is read: whoever changes access
	// holds it too, and moves the events that are there.
	if e.DossierID != nil {
		err = found(q.GetContext(ctx, &id, `UPDATE dossiers SET last_event_id = nextval(pg_get_serial_sequence('events', 'id')) WHERE id = $1
			RETURNING last_event_id`, e.DossierID))
	} else {
		err = q.GetContext(ctx, &id, `SELECT nextval(pg_get_serial_sequence('events', 'id'))`)
	}
	if err != nil {
		return 0, err
	}
	var scope *uuid.UUID
	err = q.GetContext(ctx, &scope, `INSERT INTO events (id, at, kind, person_id, outside, dossier_id, item_id, version, link_id, network, agent, data, scope_id) OVERRIDING SYSTEM VALUE
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, coalesce((SELECT scope_id FROM items WHERE id = $7), (`+scopeOfLink+`), $6)) RETURNING scope_id`,
		id, e.At, e.Kind, e.PersonID, e.Outside, e.DossierID, e.ItemID, e.Version, e.LinkID, e.Network, e.Agent, e.Data)
	if err != nil || e.DossierID == nil {
		return id, err
	}
	news := News{Event: id, Kind: e.Kind, Dossier: *e.DossierID, Item: e.ItemID, Link: e.LinkID}
	if err := q.GetContext(ctx, &news, `UPDATE scopes SET last_event_id = $2 WHERE id = $1 RETURNING root_id, zone_id`, scope, id); err != nil {
		return 0, err
	}
	if e.ItemID != nil {
		if err = exec(ctx, q, `UPDATE items SET last_event_id = $2, last_at = $3, last_kind = $4, last_by = $5, last_outside = $6, last_version = $7
			WHERE id = $1 AND kind = 'document'`, e.ItemID, id, e.At, e.Kind, e.By, e.Outside, e.Version); err != nil {
			return 0, err
		}
	}
	text, err := json.Marshal(news)
	if err != nil {
		return 0, err
	}
	return id, exec(ctx, q, `SELECT pg_notify('`+NewsChannel+`', $1)`, string(text))
}

// scopeOfLink is the scope of what is about a link $9 as a whole, in a dossier $6:
// that of something closed that it gives, if it does, else the dossier's.
const scopeOfLink = `SELECT i.scope_id FROM link_items c JOIN items i ON i.id = c.item_id JOIN scopes s ON s.id = i.scope_id
	WHERE c.link_id = $9 AND s.dossier_id = $6 AND s.zone_id <> $6 ORDER BY c.position LIMIT 1`

// NewsChannel carries News between server processes.
const NewsChannel = "tabularis_news"

// News says that an event has happened; whoever is concerned reads anew.
type News struct {
	Event   int64      `json:"event"`
	Kind    string     `json:"kind"`
	Dossier uuid.UUID  `json:"dossier"`
	Item    *uuid.UUID `json:"item,omitempty"`
	Link    *uuid.UUID `json:"link,omitempty"`
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

// NamedEvent is an event with the names that belong to its ids now. What it is about
// is named as it stands now, also after it has come from another dossier.
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
	// Root and Zone say who may see what the event is about.
	Root *uuid.UUID `db:"root_id"`
	Zone *uuid.UUID `db:"zone_id"`
}

const namedEvent = `SELECT e.*, coalesce(p.name, '') AS actor, coalesce(d.code, '') AS dossier_code, coalesce(d.name, '') AS dossier_name,
	i.name AS item_name, i.kind AS item_kind, i.number AS item_number, i.parent_id AS folder_id, l.name AS link_name, s.root_id, s.zone_id
	FROM events e LEFT JOIN items i ON i.id = e.item_id LEFT JOIN dossiers d ON d.id = coalesce(i.dossier_id, e.dossier_id)
	LEFT JOIN people p ON p.id = e.person_id LEFT JOIN links l ON l.id = e.link_id LEFT JOIN scopes s ON s.id = e.scope_id `

// EventFilter narrows the stream. Zero values do not.
type EventFilter struct {
	Dossier  uuid.UUID
	Item     uuid.UUID
	Link     uuid.UUID
	Person   uuid.UUID
	Outside  bool
	Prefixes []string
	Since    time.Time
	Before   int64
	Limit    int
}

// Events returns events newest first, without asking what may be seen.
func Events(ctx context.Context, q Q, f EventFilter) (all []NamedEvent, err error) {
	c := conditions{}
	f.narrow(&c)
	limit := c.arg(f.Limit)
	return all, q.SelectContext(ctx, &all, namedEvent+"WHERE "+strings.Join(c.where, " AND ")+" ORDER BY e.id DESC LIMIT "+limit, c.args...)
}

// Stream returns the events that may be seen, newest first. It finds nothing
// where what may be seen has changed since it was computed.
func Stream(ctx context.Context, db *DB, f EventFilter, r Readable) (all []NamedEvent, err error) {
	ids, err := f.visible(ctx, db, r)
	if err != nil {
		return nil, err
	}
	return all, db.SelectContext(ctx, &all, namedEvent+"WHERE ("+stampSum+") = $1 AND e.id = ANY($2) ORDER BY e.id DESC", r.Sum, ids)
}

// visible finds the ids of the newest events that may be seen.
func (f EventFilter) visible(ctx context.Context, db *DB, r Readable) (ids []int64, err error) {
	if f.anything() {
		ids, all, err := f.recent(ctx, db, r)
		if err != nil || all {
			return ids, err
		}
	}
	c := conditions{}
	f.narrow(&c)
	few := !r.Others && len(r.Zones) < manyZones
	if few && len(c.where) > 0 {
		if few, err = fewScopes(ctx, db, r); err != nil {
			return nil, err
		}
	}
	newest := f.readable(&c, r, few)
	return ids, db.SelectContext(ctx, &ids, newest, c.args...)
}

// anything reports whether the filter narrows nothing but where to go on.
func (f EventFilter) anything() bool {
	return f.Dossier == uuid.Nil && f.Item == uuid.Nil && f.Link == uuid.Nil && f.Person == uuid.Nil && !f.Outside && len(f.Prefixes) == 0 && f.Since.IsZero()
}

// glance is up to how many of the practice's newest events are looked through
// for those that may be seen. Who sees one in a hundred finds a page of fifty
// there.
const glance = 5000

// recent finds what may be seen among the newest events of the practice, and says
// whether that is all that was asked for, or all there is: for most people it is.
// It reads on by as much as seems to be needed after what it has found, and gives
// up where that is too much.
//
// It goes past sqlx to the driver, whose reading of a row costs a fifth.
func (f EventFilter) recent(ctx context.Context, db *DB, r Readable) (ids []int64, all bool, err error) {
	before := int64(math.MaxInt64)
	if f.Before > 0 {
		before = f.Before
	}
	for seen, n := 0, f.Limit+f.Limit/4; len(ids) < f.Limit; {
		rows, err := db.Pool.Query(ctx, `SELECT e.id, s.root_id, s.zone_id
			FROM (SELECT id, scope_id FROM events WHERE id < $1 ORDER BY id DESC LIMIT $2) e
			LEFT JOIN LATERAL (SELECT root_id, zone_id FROM scopes WHERE id = e.scope_id OFFSET 0) s ON true ORDER BY e.id DESC`, before, n)
		if err != nil {
			return nil, false, err
		}
		got := 0
		var root, zone *uuid.UUID
		if _, err = pgx.ForEachRow(rows, []any{&before, &root, &zone}, func() error {
			if got++; root != nil && len(ids) < f.Limit && r.Holds(*zone, *root) {
				ids = append(ids, before)
			}
			return nil
		}); err != nil {
			return nil, false, err
		}
		if got < n {
			return ids, true, nil
		}
		seen += n
		needed := seen*(f.Limit-len(ids))*6/5/max(len(ids), 1) + f.Limit
		if seen+needed > glance && seen > 5*f.Limit {
			return ids, len(ids) == f.Limit, nil
		}
		// A few events say little about how many are needed.
		n = min(needed, 4*seen)
	}
	return ids, true, nil
}

// conditions collects parts of a statement with their parameters.
type conditions struct {
	where []string
	args  []any
}

func (c *conditions) arg(v any) string {
	c.args = append(c.args, v)
	return fmt.Sprintf("$%d", len(c.args))
}

func (c *conditions) add(cond string, v any) {
	c.where = append(c.where, strings.ReplaceAll(cond, "?", c.arg(v)))
}

// narrow adds what the filter asks for, but not what may be seen.
func (f EventFilter) narrow(c *conditions) {
	if f.Dossier != uuid.Nil {
		c.add("e.dossier_id = ?", f.Dossier)
	}
	if f.Item != uuid.Nil {
		c.add("e.item_id = ?", f.Item)
	}
	if f.Link != uuid.Nil {
		c.add("e.link_id = ?", f.Link)
	}
	if f.Person != uuid.Nil {
		c.add("e.person_id = ?", f.Person)
	}
	if f.Outside {
		c.where = append(c.where, "e.outside")
	}
	if len(f.Prefixes) > 0 {
		c.add("split_part(e.kind, '.', 1) = ANY(?)", f.Prefixes)
	}
	if !f.Since.IsZero() {
		c.add("e.at >= ?", f.Since)
	}
	if f.Before > 0 {
		c.add("e.id < ?", f.Before)
	}
}

// readable finds the newest events that may be seen. Who sees a few scopes has
// them looked through one by one; for everybody else it walks from the newest
// event on until enough are found. A join would read them all.
func (f EventFilter) readable(c *conditions, r Readable, few bool) string {
	// The number itself: a plan for any limit would read far too much.
	limit := strconv.Itoa(f.Limit)
	filtered := len(c.where) > 0
	c.args = append(c.args, r.Zones, r.Roots)
	held := r.held("s", len(c.args)-1)
	if !few {
		where := append([]string{"(SELECT " + held + " FROM scopes s WHERE s.id = e.scope_id)"}, c.where...)
		return "SELECT e.id FROM events e WHERE " + strings.Join(where, " AND ") + " ORDER BY e.id DESC LIMIT " + limit
	}
	newest := "OFFSET 0"
	if !filtered {
		// Then the newest events lie in the scopes that had the last ones.
		newest = "ORDER BY s.last_event_id DESC LIMIT " + limit
	}
	where := append([]string{"e.scope_id = s.id"}, c.where...)
	return "SELECT n.id FROM (SELECT s.id FROM scopes s WHERE " + held + " " + newest + ") s CROSS JOIN LATERAL (SELECT e.id FROM events e WHERE " + strings.Join(where, " AND ") +
		" ORDER BY e.id DESC LIMIT " + limit + ") n ORDER BY n.id DESC LIMIT " + limit
}

// manyZones is from how many zones on somebody sees so much that the newest
// events are mostly theirs to see.
const manyZones = 200

// fewScopes reports whether so few scopes may be seen that it pays to look
// through each of them.
func fewScopes(ctx context.Context, q Q, r Readable) (few bool, err error) {
	return few, q.GetContext(ctx, &few, "SELECT count(*) < 10000 FROM (SELECT 1 FROM scopes s WHERE "+r.held("s", 1)+" LIMIT 10000) few", r.Zones, r.Roots)
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

// CountEvents counts the events of an item, without those of links that may not be
// seen.
func CountEvents(ctx context.Context, q Q, item uuid.UUID, r Readable) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM events e LEFT JOIN links l ON l.id = e.link_id WHERE e.item_id = $1
		AND (l.id IS NULL OR `+r.linkHeld("l", 2)+`)`, item, r.Zones, r.Roots)
}

// LastActive returns when each of the people last did something in a dossier;
// those who never did are left out.
func LastActive(ctx context.Context, q Q, dossier uuid.UUID, people []uuid.UUID) (map[uuid.UUID]time.Time, error) {
	var rows []struct {
		Person uuid.UUID `db:"id"`
		At     time.Time `db:"at"`
	}
	err := q.SelectContext(ctx, &rows, `SELECT p.id, e.at FROM unnest($2::uuid[]) AS p(id) CROSS JOIN LATERAL (SELECT at FROM events
		WHERE dossier_id = $1 AND person_id = p.id ORDER BY at DESC LIMIT 1) e`, dossier, IDs(people))
	last := make(map[uuid.UUID]time.Time, len(rows))
	for _, r := range rows {
		last[r.Person] = r.At
	}
	return last, err
}
