package decisions

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"tabularis/core/route"
	"tabularis/internal/platform/postgres"
)

// Edition is a definition as it was when runs began to go along it.
type Edition struct {
	ID uuid.UUID `db:"id"`
	// RouteID is nil where approval was asked by hand.
	RouteID *uuid.UUID      `db:"route_id"`
	Number  int             `db:"number"`
	Raw     json.RawMessage `db:"definition"`
	MadeBy  uuid.UUID       `db:"made_by"`
	MadeAt  time.Time       `db:"made_at"`
}

// Definition reads the definition.
func (e Edition) Definition() (d route.Definition, err error) {
	if err := json.Unmarshal(e.Raw, &d); err != nil {
		return d, fmt.Errorf("reading the definition %s: %w", e.ID, err)
	}
	return d, nil
}

// AddEdition keeps a definition for good.
func AddEdition(ctx context.Context, q postgres.Q, e Edition) error {
	return postgres.Exec(ctx, q, `INSERT INTO editions (id, route_id, number, definition, made_by, made_at) VALUES ($1, $2, $3, $4, $5, $6)`,
		e.ID, e.RouteID, e.Number, string(e.Raw), e.MadeBy, e.MadeAt)
}

// EditionOf is an edition of a route, by its number.
func EditionOf(ctx context.Context, q postgres.Q, of uuid.UUID, number int) (e Edition, err error) {
	return e, postgres.Found(q.GetContext(ctx, &e, `SELECT * FROM editions WHERE route_id = $1 AND number = $2`, of, number))
}

func editionByID(ctx context.Context, q postgres.Q, id uuid.UUID) (e Edition, err error) {
	return e, postgres.Found(q.GetContext(ctx, &e, `SELECT * FROM editions WHERE id = $1`, id))
}

// row is a run as it is listed and found; what it is made of are its events.
type row struct {
	ID        uuid.UUID    `db:"id"`
	EditionID uuid.UUID    `db:"edition_id"`
	ItemID    uuid.UUID    `db:"item_id"`
	DossierID uuid.UUID    `db:"dossier_id"`
	ActsFor   uuid.UUID    `db:"acts_for"`
	StarterID *uuid.UUID   `db:"starter_id"`
	Status    route.Status `db:"status"`
	Stop      int          `db:"stop"`
	Held      string       `db:"held"`
	Version   int          `db:"version"`
	SHA256    []byte       `db:"sha256"`
	BackTo    *uuid.UUID   `db:"back_to"`
	StartedAt time.Time    `db:"started_at"`
	Since     time.Time    `db:"since"`
	EndedAt   *time.Time   `db:"ended_at"`
	Seq       int          `db:"seq"`
	WakeAt    *time.Time   `db:"wake_at"`
	Depth     int          `db:"depth"`
}

var runColumns = postgres.Columns[row]()

// rowOf finds a run; held, nobody else takes it on meanwhile.
func rowOf(ctx context.Context, q postgres.Q, id uuid.UUID, held bool) (r row, err error) {
	lock := ""
	if held {
		lock = ` FOR UPDATE`
	}
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT * FROM runs WHERE id = $1`+lock, id))
}

func eventsOf(ctx context.Context, q postgres.Q, run uuid.UUID) (all []route.Event, err error) {
	var raw []json.RawMessage
	if err := q.SelectContext(ctx, &raw, `SELECT body FROM run_events WHERE run_id = $1 ORDER BY seq`, run); err != nil {
		return nil, err
	}
	for _, body := range raw {
		var e route.Event
		if err := json.Unmarshal(body, &e); err != nil {
			return nil, fmt.Errorf("reading an event of the run %s: %w", run, err)
		}
		all = append(all, e)
	}
	return all, nil
}

// keep writes what has become of a run: its row, and its events from a number on.
func keep(ctx context.Context, q postgres.Q, r row, from int, events []route.Event) error {
	_, err := sqlx.NamedExecContext(ctx, q, `INSERT INTO runs (`+strings.Join(runColumns, ", ")+`) VALUES (`+postgres.Named(runColumns)+`) ON CONFLICT (id) DO UPDATE SET `+postgres.Set(runColumns), r)
	if err != nil {
		return err
	}
	for i, e := range events {
		body, err := json.Marshal(e)
		if err != nil {
			return err
		}
		if err := postgres.Exec(ctx, q, `INSERT INTO run_events (run_id, seq, at, body) VALUES ($1, $2, $3, $4)`, r.ID, from+i, e.At, string(body)); err != nil {
			return err
		}
	}
	return nil
}

// keepAsked writes who is asked where a run stands now.
func keepAsked(ctx context.Context, q postgres.Q, run uuid.UUID, asked []route.Asked, waits func(a route.Asked) bool) error {
	if err := postgres.Exec(ctx, q, `DELETE FROM run_asked WHERE run_id = $1`, run); err != nil {
		return err
	}
	for _, a := range asked {
		var due *time.Time
		if !a.Due.IsZero() {
			due = &a.Due
		}
		if err := postgres.Exec(ctx, q, `INSERT INTO run_asked (run_id, person_id, waits, since, due, late) VALUES ($1, $2, $3, $4, $5, $6)`,
			run, a.Person, waits(a), a.Since, due, a.Late); err != nil {
			return err
		}
	}
	return nil
}

func addSaid(ctx context.Context, q postgres.Q, run uuid.UUID, seq int, person uuid.UUID, at time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO run_said (run_id, seq, person_id, at) VALUES ($1, $2, $3, $4)`, run, seq, person, at)
}

func addPassed(ctx context.Context, q postgres.Q, run uuid.UUID, p route.Passed, person *uuid.UUID) error {
	return postgres.Exec(ctx, q, `INSERT INTO run_passed (run_id, visit, stop, since, till, how, person_id) VALUES ($1, $2, $3, $4, $5, $6, $7)
		ON CONFLICT (run_id, visit, stop) DO UPDATE SET since = excluded.since, till = excluded.till, how = excluded.how, person_id = excluded.person_id`,
		run, p.Visit, p.Stop, p.Since, p.Till, p.How, person)
}

// openRuns are those of a document that have not come to their end.
func openRuns(ctx context.Context, q postgres.Q, item uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM runs WHERE item_id = $1 AND ended_at IS NULL ORDER BY started_at, id`, item)
}

// misplaced are open runs in a dossier of which the document is deleted and they do not know it, or is
// there again.
func misplaced(ctx context.Context, q postgres.Q, dossier uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT r.id FROM runs r LEFT JOIN items i ON i.id = r.item_id
		WHERE r.dossier_id = $1 AND r.ended_at IS NULL AND (i.id IS NULL) <> (r.held = 'gone')`, dossier)
}

// askedOf are the open runs in which somebody is asked, or is to be.
func askedOf(ctx context.Context, q postgres.Q, person uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT a.run_id FROM run_asked a JOIN runs r ON r.id = a.run_id WHERE a.person_id = $1 AND r.ended_at IS NULL`, person)
}

// waking is when something is due for a run.
type waking struct {
	ID uuid.UUID `db:"id"`
	At time.Time `db:"wake_at"`
}

// dueRuns are runs for which something is due, the longest first, after one of them.
func dueRuns(ctx context.Context, q postgres.Q, now time.Time, after waking, most int) (all []waking, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT id, wake_at FROM runs WHERE wake_at <= $1 AND (wake_at, id) > ($2, $3) ORDER BY wake_at, id LIMIT $4`, now, after.At, after.ID, most)
}

// State is what has become of a document by decisions.
type State struct {
	ItemID uuid.UUID `db:"item_id"`
	RunID  uuid.UUID `db:"run_id"`
	State  string    `db:"state"`
	SHA256 []byte    `db:"sha256"`
	At     time.Time `db:"at"`
}

func keepState(ctx context.Context, q postgres.Q, s State) error {
	return postgres.Exec(ctx, q, `INSERT INTO item_states (item_id, run_id, state, sha256, at) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (item_id) DO UPDATE SET run_id = excluded.run_id, state = excluded.state, sha256 = excluded.sha256, at = excluded.at`, s.ItemID, s.RunID, s.State, s.SHA256, s.At)
}

// dropState takes away what a run made of a document.
func dropState(ctx context.Context, q postgres.Q, item, run uuid.UUID) error {
	return postgres.Exec(ctx, q, `DELETE FROM item_states WHERE item_id = $1 AND run_id = $2`, item, run)
}

func stateOf(ctx context.Context, q postgres.Q, item uuid.UUID) (s State, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT * FROM item_states WHERE item_id = $1`, item))
}

func addWay(ctx context.Context, q postgres.Q, tokenSHA256 []byte, run, person uuid.UUID, visit int, ends time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO decision_ways (token_sha256, run_id, person_id, visit, ends_at) VALUES ($1, $2, $3, $4, $5)`, tokenSHA256, run, person, visit, ends)
}

// way is a way to decide from a mail.
type way struct {
	RunID    uuid.UUID  `db:"run_id"`
	PersonID uuid.UUID  `db:"person_id"`
	Visit    int        `db:"visit"`
	EndsAt   time.Time  `db:"ends_at"`
	UsedAt   *time.Time `db:"used_at"`
}

func wayOf(ctx context.Context, q postgres.Q, tokenSHA256 []byte, held bool) (w way, err error) {
	lock := ""
	if held {
		lock = ` FOR UPDATE`
	}
	return w, postgres.Found(q.GetContext(ctx, &w, `SELECT run_id, person_id, visit, ends_at, used_at FROM decision_ways WHERE token_sha256 = $1`+lock, tokenSHA256))
}

func useWay(ctx context.Context, q postgres.Q, tokenSHA256 []byte, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE decision_ways SET used_at = $2 WHERE token_sha256 = $1 AND used_at IS NULL`, tokenSHA256, now)
}

func forgetWays(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM decision_ways WHERE ends_at < $1`, before)
}

// concerned reports whether a route is placed in a dossier, or a run of an item is under way; where many
// are meant, of any of the dossier.
func concerned(ctx context.Context, q postgres.Q, dossier, item uuid.UUID, many bool) (any bool, err error) {
	return any, q.GetContext(ctx, &any, `SELECT EXISTS (SELECT 1 FROM route_starts s JOIN items f ON f.id = s.folder_id WHERE f.dossier_id = $1)
		OR EXISTS (SELECT 1 FROM runs r WHERE r.item_id = $2 AND r.ended_at IS NULL)
		OR $3 AND EXISTS (SELECT 1 FROM runs r WHERE r.dossier_id = $1 AND r.ended_at IS NULL)`, dossier, item, many)
}

// setRight puts runs under the dossiers in which their documents lie by now, and lists those whose document
// is deleted and they do not know it, or is there again.
func setRight(ctx context.Context, q postgres.Q) (ids []uuid.UUID, err error) {
	if err := postgres.Exec(ctx, q, `UPDATE runs r SET dossier_id = i.dossier_id FROM items i WHERE i.id = r.item_id AND r.ended_at IS NULL AND r.dossier_id <> i.dossier_id`); err != nil {
		return nil, err
	}
	return ids, q.SelectContext(ctx, &ids, `SELECT r.id FROM runs r LEFT JOIN items i ON i.id = r.item_id WHERE r.ended_at IS NULL AND (i.id IS NULL) <> (r.held = 'gone')`)
}

// UnderWay reports whether an item is on its way along a route.
func UnderWay(ctx context.Context, q postgres.Q, of, item uuid.UUID) (open bool, err error) {
	return open, q.GetContext(ctx, &open, `SELECT EXISTS (SELECT 1 FROM runs r JOIN editions e ON e.id = r.edition_id WHERE r.item_id = $2 AND r.ended_at IS NULL AND e.route_id = $1)`, of, item)
}

// BegunSince is how many runs of an item began along a route since a moment.
func BegunSince(ctx context.Context, q postgres.Q, of, item uuid.UUID, since time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM runs r JOIN editions e ON e.id = r.edition_id WHERE r.item_id = $2 AND e.route_id = $1 AND r.started_at >= $3`, of, item, since)
}

// LastDone is the route of the run of an item that has come through last; nil was asked by hand.
func LastDone(ctx context.Context, q postgres.Q, item uuid.UUID) (of *uuid.UUID, err error) {
	return of, postgres.Found(q.GetContext(ctx, &of, `SELECT e.route_id FROM runs r JOIN editions e ON e.id = r.edition_id WHERE r.item_id = $1 AND r.status = 'done' ORDER BY r.ended_at DESC LIMIT 1`, item))
}
