package activity

import (
	"context"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"tabularis/core/events"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

const namedEvent = `SELECT e.*, coalesce(p.name, '') AS actor, coalesce(d.code, '') AS dossier_code, coalesce(d.name, '') AS dossier_name,
	i.name AS item_name, i.kind AS item_kind, i.number AS item_number, CASE WHEN i.deleted_at IS NULL THEN i.parent_id END AS folder_id, l.name AS link_name, s.root_id, s.zone_id
	FROM events e LEFT JOIN all_items i ON i.id = e.item_id LEFT JOIN all_dossiers d ON d.id = coalesce(i.dossier_id, e.dossier_id)
	LEFT JOIN people p ON p.id = e.person_id LEFT JOIN links l ON l.id = e.link_id LEFT JOIN event_scopes w ON w.event_id = e.id LEFT JOIN scopes s ON s.id = w.scope_id `

// EventFilter narrows the stream. Zero values do not.
type EventFilter struct {
	Dossier  uuid.UUID
	Item     uuid.UUID
	Link     uuid.UUID
	Person   uuid.UUID
	Outside  bool
	Prefixes []string
	Kind     string
	Since    time.Time
	Until    time.Time
	Before   int64
	Limit    int
}

// Events returns events newest first, without asking what may be seen.
func Events(ctx context.Context, q postgres.Q, f EventFilter) (all []events.Named, err error) {
	c := conditions{}
	f.narrow(&c)
	limit := c.arg(f.Limit)
	return all, q.SelectContext(ctx, &all, namedEvent+"WHERE "+strings.Join(c.where, " AND ")+" ORDER BY e.id DESC LIMIT "+limit, c.args...)
}

// Newest returns the events that may be seen, newest first. It finds nothing
// where what may be seen has changed since it was computed.
func Newest(ctx context.Context, db *postgres.DB, f EventFilter, r guard.Readable) (all []events.Named, err error) {
	ids, err := f.visible(ctx, db, r)
	if err != nil {
		return nil, err
	}
	return all, db.SelectContext(ctx, &all, namedEvent+"WHERE ("+guard.SumOfStamps+") = $1 AND e.id = ANY($2) ORDER BY e.id DESC", r.Sum, ids)
}

// visible finds the ids of the newest events that may be seen.
func (f EventFilter) visible(ctx context.Context, db *postgres.DB, r guard.Readable) (ids []int64, err error) {
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
	return f.Dossier == uuid.Nil && f.Item == uuid.Nil && f.Link == uuid.Nil && f.Person == uuid.Nil && !f.Outside && len(f.Prefixes) == 0 && f.Kind == "" && f.Since.IsZero() && f.Until.IsZero()
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
func (f EventFilter) recent(ctx context.Context, db *postgres.DB, r guard.Readable) (ids []int64, all bool, err error) {
	before := int64(math.MaxInt64)
	if f.Before > 0 {
		before = f.Before
	}
	for seen, n := 0, f.Limit+f.Limit/4; len(ids) < f.Limit; {
		rows, err := db.Pool.Query(ctx, `SELECT w.event_id, s.root_id, s.zone_id
			FROM (SELECT event_id, scope_id FROM event_scopes WHERE event_id < $1 ORDER BY event_id DESC LIMIT $2) w
			LEFT JOIN LATERAL (SELECT root_id, zone_id FROM scopes WHERE id = w.scope_id OFFSET 0) s ON true ORDER BY w.event_id DESC`, before, n)
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
	if f.Kind != "" {
		c.add("e.kind = ?", f.Kind)
	}
	if !f.Since.IsZero() {
		c.add("e.at >= ?", f.Since)
	}
	if !f.Until.IsZero() {
		c.add("e.at < ?", f.Until)
	}
	if f.Before > 0 {
		c.add("e.id < ?", f.Before)
	}
}

// readable finds the newest events that may be seen. Who sees a few scopes has
// them looked through one by one; for everybody else it walks from the newest
// event on until enough are found. A join would read them all.
func (f EventFilter) readable(c *conditions, r guard.Readable, few bool) string {
	// The number itself: a plan for any limit would read far too much.
	limit := strconv.Itoa(f.Limit)
	filtered := len(c.where) > 0
	c.args = append(c.args, r.Zones, r.Roots)
	held := r.Within("s", len(c.args)-1)
	if !few {
		where := append([]string{"(SELECT " + held + " FROM event_scopes w JOIN scopes s ON s.id = w.scope_id WHERE w.event_id = e.id)"}, c.where...)
		return "SELECT e.id FROM events e WHERE " + strings.Join(where, " AND ") + " ORDER BY e.id DESC LIMIT " + limit
	}
	newest := "OFFSET 0"
	if !filtered {
		// Then the newest events lie in the scopes that had the last ones.
		newest = "ORDER BY s.last_event_id DESC LIMIT " + limit
	}
	// What is narrowed down is looked up with the event itself; else its scope is enough.
	of, id := "event_scopes w", "w.event_id"
	if filtered {
		of, id = "event_scopes w JOIN events e ON e.id = w.event_id", "e.id"
	}
	where := append([]string{"w.scope_id = s.id"}, c.where...)
	return "SELECT n.id FROM (SELECT s.id FROM scopes s WHERE " + held + " " + newest + ") s CROSS JOIN LATERAL (SELECT " + id + " AS id FROM " + of + " WHERE " + strings.Join(where, " AND ") +
		" ORDER BY w.event_id DESC LIMIT " + limit + ") n ORDER BY n.id DESC LIMIT " + limit
}

// manyZones is from how many zones on somebody sees so much that the newest
// events are mostly theirs to see.
const manyZones = 200

// fewScopes reports whether so few scopes may be seen that it pays to look
// through each of them.
func fewScopes(ctx context.Context, q postgres.Q, r guard.Readable) (few bool, err error) {
	return few, q.GetContext(ctx, &few, "SELECT count(*) < 10000 FROM (SELECT 1 FROM scopes s WHERE "+r.Within("s", 1)+" LIMIT 10000) few", r.Zones, r.Roots)
}

// EventsByID returns the events with these ids.
func EventsByID(ctx context.Context, q postgres.Q, ids []int64) (map[int64]events.Named, error) {
	slices.Sort(ids)
	var all []events.Named
	err := q.SelectContext(ctx, &all, namedEvent+`WHERE e.id = ANY($1)`, slices.Compact(ids))
	byID := make(map[int64]events.Named, len(all))
	for _, e := range all {
		byID[e.ID] = e
	}
	return byID, err
}

// CountEvents counts the events of an item, without those of links that may not be
// seen.
func CountEvents(ctx context.Context, q postgres.Q, item uuid.UUID, r guard.Readable) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM events e LEFT JOIN links l ON l.id = e.link_id WHERE e.item_id = $1
		AND (l.id IS NULL OR `+r.LinkWithin("l", 2)+`)`, item, r.Zones, r.Roots)
}

// LastActive returns when each of the people last did something in a dossier;
// those who never did are left out.
func LastActive(ctx context.Context, q postgres.Q, dossier uuid.UUID, people []uuid.UUID) (map[uuid.UUID]time.Time, error) {
	var rows []struct {
		Person uuid.UUID `db:"id"`
		At     time.Time `db:"at"`
	}
	err := q.SelectContext(ctx, &rows, `SELECT p.id, e.at FROM unnest($2::uuid[]) AS p(id) CROSS JOIN LATERAL (SELECT at FROM events
		WHERE dossier_id = $1 AND person_id = p.id ORDER BY at DESC LIMIT 1) e`, dossier, postgres.IDs(people))
	last := make(map[uuid.UUID]time.Time, len(rows))
	for _, r := range rows {
		last[r.Person] = r.At
	}
	return last, err
}
