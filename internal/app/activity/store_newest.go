package activity

import (
	"context"
	"database/sql"
	"errors"
	"math"
	"strconv"
	"time"

	"github.com/google/uuid"
	"github.com/jackc/pgx/v5"

	"tabularis/core/events"
	"tabularis/core/following"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// Newest returns the events that may be seen, newest first. It finds nothing
// where what may be seen has changed since it was computed.
func Newest(ctx context.Context, db *postgres.DB, f EventFilter, r guard.Readable, bits *guard.Bits) (all []events.Named, err error) {
	ids, err := f.visible(ctx, db, r, bits)
	if err != nil {
		return nil, err
	}
	return all, db.SelectContext(ctx, &all, namedEvent+"WHERE ("+guard.SumOfStamps+") = $1 AND e.id = ANY($2) ORDER BY e.id DESC", r.Sum, ids)
}

// visible finds the ids of the newest events that may be seen.
func (f EventFilter) visible(ctx context.Context, db *postgres.DB, r guard.Readable, bits *guard.Bits) (ids []int64, err error) {
	if f.from, err = firstSince(ctx, db, f.Since); err != nil {
		return nil, err
	}
	c, newest := conditions{}, ""
	switch {
	case f.Heeding.Only:
		newest = f.ofFollowed(&c, r)
	case f.Folder != uuid.Nil:
		newest = f.byScope(&c, bits.Below(f.Folder))
	default:
		// What is of one thing is found by that thing's own events.
		ofOne := f.Dossier != uuid.Nil || f.Item != uuid.Nil || f.Link != uuid.Nil
		scopes, few := bits.Scopes()
		few = few && !ofOne
		if !few || len(scopes) >= hardlyAny {
			var all bool
			if ids, all, err = f.recent(ctx, db, bits); err != nil || all {
				return ids, err
			}
		}
		if few {
			newest = f.byScope(&c, scopes)
		} else {
			newest = f.walking(&c, r)
		}
	}
	rows, err := db.Pool.Query(ctx, newest, c.args...)
	if err != nil {
		return nil, err
	}
	return pgx.CollectRows(rows, pgx.RowTo[int64])
}

// ajar is how much earlier than its neighbours an event may be, for a clock that was set.
const ajar = 24 * time.Hour

// firstSince finds from which event on there may be some since a moment.
func firstSince(ctx context.Context, q postgres.Q, since time.Time) (id int64, err error) {
	if since.IsZero() {
		return 0, nil
	}
	err = q.GetContext(ctx, &id, `SELECT id FROM events WHERE at >= $1 ORDER BY at LIMIT 1`, since.Add(-ajar))
	if errors.Is(err, sql.ErrNoRows) {
		return math.MaxInt64, nil
	}
	return id, err
}

// glance is up to how many of the newest events are looked through for those that may
// be seen. Who sees one in a hundred finds a page of fifty there.
const glance = 5000

// recent finds what may be seen among the newest events, and says whether that is all that
// was asked for, or all there is: for most people it is. It reads on by as much as seems to
// be needed after what it has found, and gives up where that is too much.
//
// It goes past sqlx to the driver, whose reading of a row costs a fifth.
func (f EventFilter) recent(ctx context.Context, db *postgres.DB, bits *guard.Bits) (ids []int64, all bool, err error) {
	statement, args := f.reading()
	before := int64(math.MaxInt64)
	if f.Before > 0 {
		before = f.Before
	}
	for seen, n := 0, f.Limit+f.Limit/4; len(ids) < f.Limit; {
		rows, err := db.Pool.Query(ctx, statement, append([]any{before, n}, args...)...)
		if err != nil {
			return nil, false, err
		}
		got, fits, ended := 0, false, false
		var scope *uuid.UUID
		if _, err = pgx.ForEachRow(rows, []any{&before, &fits, &scope}, func() error {
			got++
			if ended = ended || before < f.from; !ended && fits && scope != nil && len(ids) < f.Limit && bits.Has(*scope) {
				ids = append(ids, before)
			}
			return nil
		}); err != nil {
			return nil, false, err
		}
		if got < n || ended {
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

// reading is the statement that reads the newest events before $1, $2 of them, with
// whether they fit and by what it is decided who sees them; and its further parameters.
func (f EventFilter) reading() (statement string, args []any) {
	if f.anything() {
		return `SELECT event_id, true, scope_id FROM event_scopes WHERE event_id < $1 ORDER BY event_id DESC LIMIT $2`, nil
	}
	// Where it ends is seen on the way: a plan for a span would leave the index.
	f.Before, f.from = 0, 0
	c := conditions{args: []any{nil, nil}}
	rest := f.first(&c)
	first, fits, read := c.and(), "true", ""
	if !rest.anything() {
		c.where = nil
		rest.narrow(&c)
		fits, read = "("+c.and()+") IS TRUE", " CROSS JOIN LATERAL (SELECT * FROM events WHERE id = n.id OFFSET 0) e"
	}
	return `SELECT n.id, ` + fits + `, v.scope_id FROM (SELECT e.id FROM events e WHERE e.id < $1 AND ` + first + ` ORDER BY e.id DESC LIMIT $2) n` + read +
		` LEFT JOIN event_scopes v ON v.event_id = n.id ORDER BY n.id DESC`, c.args[2:]
}

// walking finds the newest events for who sees much: from the newest on until enough are
// found. A join would read them all.
func (f EventFilter) walking(c *conditions, r guard.Readable) string {
	f.narrow(c)
	seen := f.seen(c, r)
	return "SELECT e.id FROM events e WHERE " + seen + " AND " + c.and() + " ORDER BY e.id DESC LIMIT " + strconv.Itoa(f.Limit)
}

// seen is the condition under which an event e may be seen.
func (f EventFilter) seen(c *conditions, r guard.Readable) string {
	c.args = append(c.args, r.Zones, r.Roots)
	return "(SELECT " + r.Within("s", len(c.args)-1) + " FROM event_scopes w JOIN scopes s ON s.id = w.scope_id WHERE w.event_id = e.id)"
}

// ofFollowed finds the newest events of what is followed, one thing after the other.
func (f EventFilter) ofFollowed(c *conditions, r guard.Readable) string {
	limit := " ORDER BY e.id DESC LIMIT " + strconv.Itoa(f.Limit)
	// That it is followed is asked for by each thing alone.
	alone := f
	alone.Heeding = following.Heeding{Muted: following.Things{Documents: f.Heeding.Muted.Documents}}
	alone.narrow(c)
	where := f.seen(c, r) + " AND " + c.and() + limit
	things := func(ids []uuid.UUID, column string) string {
		return "SELECT n.id FROM unnest(" + c.arg(postgres.IDs(ids)) + "::uuid[]) f(id) CROSS JOIN LATERAL (SELECT e.id FROM events e WHERE e." + column + " = f.id AND " + where + ") n"
	}
	return "SELECT n.id FROM (" + things(f.Heeding.Followed.Documents, "item_id") + " UNION " + things(f.Heeding.Followed.Dossiers, "dossier_id") + ") n ORDER BY n.id DESC LIMIT " + strconv.Itoa(f.Limit)
}

// byScope finds the newest events of a few scopes: it looks through one after the other.
func (f EventFilter) byScope(c *conditions, scopes []uuid.UUID) string {
	// The number itself: a plan for any limit would read far too much.
	limit := strconv.Itoa(f.Limit)
	plain := make([][16]byte, len(scopes))
	for i, id := range scopes {
		plain[i] = id
	}
	ids := c.arg(plain) + "::uuid[]"
	f.narrowBeside(c, "w", "w.event_id")
	chosen, from := "SELECT id FROM unnest("+ids+") id", "event_scopes w"
	if len(c.where) == 0 && !f.alone() {
		// Then the newest events lie in the scopes that had the last ones.
		chosen = "SELECT id FROM scopes WHERE id = ANY(" + ids + ") ORDER BY last_event_id DESC LIMIT " + limit
	}
	if f.alone() {
		from = "event_scopes w JOIN events e ON e.id = w.event_id"
		f.narrowAlone(c)
	}
	return "SELECT n.id FROM (" + chosen + ") s CROSS JOIN LATERAL (SELECT w.event_id AS id FROM " + from + " WHERE w.scope_id = s.id AND " +
		c.and() + " ORDER BY w.event_id DESC LIMIT " + limit + ") n ORDER BY n.id DESC LIMIT " + limit
}

// hardlyAny is up to how many scopes it is the first that is tried to look through each of
// them.
const hardlyAny = 300
