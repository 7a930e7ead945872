package decisions

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/route"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// onMe are the runs in which somebody has to decide, or has a document back, what is due first first.
func onMe(ctx context.Context, q postgres.Q, person uuid.UUID, most int) (all []row, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT r.* FROM (
			SELECT a.run_id, a.due, a.since FROM run_asked a WHERE a.person_id = $1 AND a.waits
			UNION ALL SELECT b.id, NULL, b.since FROM runs b WHERE b.back_to = $1 AND b.ended_at IS NULL) w
		JOIN runs r ON r.id = w.run_id WHERE r.ended_at IS NULL ORDER BY w.due NULLS LAST, w.since, r.id LIMIT $2`, person, most)
}

// waitedFor are the open runs that somebody began or whose document they brought in, and in which they
// decided, without those that are on them.
func waitedFor(ctx context.Context, q postgres.Q, person uuid.UUID, most int) (all []row, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT r.* FROM runs r JOIN items i ON i.id = r.item_id
		WHERE r.ended_at IS NULL AND r.back_to IS DISTINCT FROM $1
			AND (r.starter_id = $1 OR r.starter_id IS NULL AND i.created_by = $1 OR EXISTS (SELECT 1 FROM run_said s WHERE s.run_id = r.id AND s.person_id = $1))
			AND NOT EXISTS (SELECT 1 FROM run_asked a WHERE a.run_id = r.id AND a.person_id = $1 AND a.waits)
		ORDER BY r.since DESC, r.id LIMIT $2`, person, most)
}

// finished are the runs with which somebody had to do, the last first.
func finished(ctx context.Context, q postgres.Q, person uuid.UUID, since time.Time, most int) (all []row, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT r.* FROM runs r WHERE r.ended_at >= $2
			AND (r.starter_id = $1 OR EXISTS (SELECT 1 FROM run_said s WHERE s.run_id = r.id AND s.person_id = $1) OR r.starter_id IS NULL AND EXISTS (SELECT 1 FROM items i WHERE i.id = r.item_id AND i.created_by = $1))
		ORDER BY r.ended_at DESC, r.id LIMIT $3`, person, since, most)
}

func countOnMe(ctx context.Context, q postgres.Q, person uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT (SELECT count(*) FROM run_asked a JOIN runs r ON r.id = a.run_id JOIN items i ON i.id = r.item_id WHERE a.person_id = $1 AND a.waits AND r.ended_at IS NULL)
		+ (SELECT count(*) FROM runs r JOIN items i ON i.id = r.item_id WHERE r.back_to = $1 AND r.ended_at IS NULL)`, person)
}

// runsOf are the runs of a document, the last first.
func runsOf(ctx context.Context, q postgres.Q, item uuid.UUID, most int) (all []row, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM runs WHERE item_id = $1 ORDER BY started_at DESC, id DESC LIMIT $2`, item, most)
}

// runsAlong are the runs of a route: those under way, held up ones first, and those that have ended since
// a moment, the last first.
func runsAlong(ctx context.Context, q postgres.Q, of uuid.UUID, since time.Time, most int) (all []row, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT r.* FROM runs r JOIN editions e ON e.id = r.edition_id WHERE e.route_id = $1 AND (r.ended_at IS NULL OR r.ended_at >= $2)
		ORDER BY r.ended_at IS NOT NULL, r.status <> 'held', coalesce(r.ended_at, r.since) DESC, r.id LIMIT $3`, of, since, most)
}

// Counts are how many runs of a route go on, are held up, and have come through since a moment.
type Counts struct {
	Going int `db:"going"`
	Held  int `db:"held"`
	Done  int `db:"done"`
}

// along are the runs of the route $1 whose documents may be seen.
func along(seen guard.Readable, n int) string {
	return ` FROM runs r JOIN editions e ON e.id = r.edition_id JOIN items i ON i.id = r.item_id JOIN scopes s ON s.id = i.scope_id WHERE e.route_id = $1 AND ` + seen.Within("s", n)
}

func countAlong(ctx context.Context, q postgres.Q, of uuid.UUID, since time.Time, seen guard.Readable) (c Counts, err error) {
	return c, q.GetContext(ctx, &c, `SELECT count(*) FILTER (WHERE r.status = 'going') AS going, count(*) FILTER (WHERE r.status = 'held') AS held, count(*) FILTER (WHERE r.ended_at >= $2) AS done`+
		along(seen, 3), of, since, seen.Zones, seen.Roots)
}

// allEvents are the events of runs, by run.
func allEvents(ctx context.Context, q postgres.Q, runs []uuid.UUID) (map[uuid.UUID][]route.Event, error) {
	var rows []struct {
		Run  uuid.UUID       `db:"run_id"`
		Body json.RawMessage `db:"body"`
	}
	if err := q.SelectContext(ctx, &rows, `SELECT run_id, body FROM run_events WHERE run_id = ANY($1::uuid[]) ORDER BY run_id, seq`, postgres.IDs(runs)); err != nil {
		return nil, err
	}
	by := map[uuid.UUID][]route.Event{}
	for _, r := range rows {
		var e route.Event
		if err := json.Unmarshal(r.Body, &e); err != nil {
			return nil, fmt.Errorf("reading an event of the run %s: %w", r.Run, err)
		}
		by[r.Run] = append(by[r.Run], e)
	}
	return by, nil
}

func editionsByID(ctx context.Context, q postgres.Q, ids []uuid.UUID) (map[uuid.UUID]Edition, error) {
	var all []Edition
	err := q.SelectContext(ctx, &all, `SELECT * FROM editions WHERE id = ANY($1::uuid[])`, postgres.IDs(ids))
	by := map[uuid.UUID]Edition{}
	for _, e := range all {
		by[e.ID] = e
	}
	return by, err
}

// standing is where the newest run of a document stands.
type standing struct {
	ItemID uuid.UUID  `db:"item_id"`
	State  string     `db:"state"`
	SHA256 []byte     `db:"sha256"`
	RunID  uuid.UUID  `db:"run_id"`
	Status string     `db:"status"`
	Doing  string     `db:"doing"`
	Names  []byte     `db:"names"`
	Due    *time.Time `db:"due"`
}

// standings are what has become of documents, with whom each waits.
func standings(ctx context.Context, q postgres.Q, documents []uuid.UUID) (all []standing, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT s.item_id, s.state, s.sha256, s.run_id, r.status,
			coalesce((SELECT jsonb_agg(p.name ORDER BY a.due, p.name) FROM run_asked a JOIN people p ON p.id = a.person_id WHERE a.run_id = r.id AND a.waits),
				(SELECT jsonb_build_array(p.name) FROM people p WHERE p.id = r.back_to), '[]') AS names,
			(SELECT min(a.due) FROM run_asked a WHERE a.run_id = r.id AND a.waits) AS due, CASE WHEN r.back_to IS NULL THEN '' ELSE 'back' END AS doing
		FROM item_states s JOIN runs r ON r.id = s.run_id WHERE s.item_id = ANY($1::uuid[])`, postgres.IDs(documents))
}

// signed is what has become of a document by its signing: the parties for whom it waits, or with which content it
// bears all signatures.
type signed struct {
	ItemID  uuid.UUID       `db:"item_id"`
	Signing uuid.UUID       `db:"id"`
	Open    bool            `db:"open"`
	Held    bool            `db:"held"`
	SHA256  []byte          `db:"sealed_sha256"`
	Until   time.Time       `db:"until"`
	Names   json.RawMessage `db:"names"`
}

// bearing says whether a version of a document is the one before it with signatures, and whether it bears all that were
// asked for.
func bearing(ctx context.Context, q postgres.Q, document uuid.UUID, number int) (sealed, signed bool, err error) {
	var is struct {
		Sealed bool `db:"sealed"`
		Signed bool `db:"signed"`
	}
	err = q.GetContext(ctx, &is, `SELECT coalesce(bool_or(v.origin = 'signed'), false) AS sealed,
			coalesce(bool_or(EXISTS (SELECT 1 FROM signings s WHERE s.item_id = v.item_id AND s.status = 'finished' AND s.sealed_sha256 = v.sha256)), false) AS signed
		FROM versions v WHERE v.item_id = $1 AND v.number = $2`, document, number)
	return is.Sealed, is.Signed, err
}

func signings(ctx context.Context, q postgres.Q, documents []uuid.UUID) (all []signed, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT DISTINCT ON (s.item_id) s.item_id, s.id, s.ended_at IS NULL AS open, s.trouble <> '' AS held, s.sealed_sha256, s.until,
			coalesce((SELECT jsonb_agg(p.name ORDER BY p.party) FROM signing_parties p WHERE p.signing_id = s.id AND p.waits), '[]') AS names
		FROM signings s WHERE s.item_id = ANY($1::uuid[]) AND (s.ended_at IS NULL OR s.status = 'finished') ORDER BY s.item_id, s.sent_at DESC`, postgres.IDs(documents))
}

// InState is a query for the documents that stand in one of States, as Standings finds them.
func InState(state string) string {
	const (
		open   = "SELECT s.item_id FROM signings s WHERE s.ended_at IS NULL"
		signed = "SELECT s.item_id FROM signings s JOIN items i ON i.id = s.item_id AND i.sha256 = s.sealed_sha256 WHERE s.status = 'finished'"
		states = "SELECT s.item_id FROM item_states s JOIN items i ON i.id = s.item_id WHERE s.state = "
		counts = " AND i.sha256 = s.sha256"
	)
	switch state {
	case WithTheParties:
		return open
	case Signed:
		return signed + " EXCEPT (" + open + ") EXCEPT " + states + "'issued'" + counts
	case Issued:
		return states + "'issued'" + counts + " EXCEPT " + open
	case Approved:
		return states + "'approved'" + counts + " EXCEPT (" + open + ") EXCEPT " + signed
	}
	return states + "'review' EXCEPT (" + open + ") EXCEPT " + signed
}

// passed is how long a run stood at a stop, and who decided last there.
type passed struct {
	Stop   int        `db:"stop"`
	Since  time.Time  `db:"since"`
	Till   time.Time  `db:"till"`
	Person *uuid.UUID `db:"person_id"`
}

// passedAlong are the stops that runs of a route have passed since a moment, the last first.
func passedAlong(ctx context.Context, q postgres.Q, of uuid.UUID, since time.Time, most int, seen guard.Readable) (all []passed, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT p.stop, p.since, p.till, p.person_id FROM run_passed p JOIN (SELECT r.id`+along(seen, 4)+`) r ON r.id = p.run_id
		WHERE p.how = 'through' AND p.till >= $2 ORDER BY p.till DESC LIMIT $3`, of, since, most, seen.Zones, seen.Roots)
}

// waitsFor is how many runs wait for somebody, and how many of them are late.
type waitsFor struct {
	Person uuid.UUID `db:"person_id"`
	N      int       `db:"n"`
	Late   int       `db:"late"`
}

func loadAlong(ctx context.Context, q postgres.Q, of uuid.UUID, seen guard.Readable) (all []waitsFor, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT a.person_id, count(*) AS n, count(*) FILTER (WHERE a.late) AS late FROM run_asked a
		JOIN (SELECT r.id`+along(seen, 2)+` AND r.ended_at IS NULL) r ON r.id = a.run_id WHERE a.waits GROUP BY 1`, of, seen.Zones, seen.Roots)
}
