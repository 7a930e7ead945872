package routes

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/core/route"
	"tabularis/internal/platform/postgres"
)

// Route is a route on a folder, or without one a model of the practice.
type Route struct {
	ID       uuid.UUID  `db:"id"`
	FolderID *uuid.UUID `db:"folder_id"`
	Name     string     `db:"name"`
	PlacedBy uuid.UUID  `db:"placed_by"`
	On       bool       `db:"is_on"`
	// Stopped is why it does not act any more, where it was not switched off by hand.
	Stopped string `db:"stopped"`
	// Draft is what is being written, if it differs from the edition that counts.
	Draft     *json.RawMessage `db:"draft"`
	Edition   int              `db:"edition"`
	CreatedAt time.Time        `db:"created_at"`
	ChangedAt time.Time        `db:"changed_at"`
	RemovedAt *time.Time       `db:"removed_at"`
}

func byID(ctx context.Context, q postgres.Q, id uuid.UUID, held bool) (r Route, err error) {
	lock := ""
	if held {
		lock = ` FOR UPDATE`
	}
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT * FROM routes WHERE id = $1 AND removed_at IS NULL`+lock, id))
}

func add(ctx context.Context, q postgres.Q, r Route) error {
	return postgres.Exec(ctx, q, `INSERT INTO routes (id, folder_id, name, placed_by, draft, created_at, changed_at) VALUES ($1, $2, $3, $4, $5, $6, $6)`,
		r.ID, r.FolderID, r.Name, r.PlacedBy, text(r.Draft), r.CreatedAt)
}

func text(raw *json.RawMessage) *string {
	if raw == nil {
		return nil
	}
	s := string(*raw)
	return &s
}

func change(ctx context.Context, q postgres.Q, r Route) error {
	return postgres.ExecOne(ctx, q, `UPDATE routes SET name = $2, placed_by = $3, is_on = $4, stopped = $5, draft = $6, edition = $7, changed_at = $8, removed_at = $9 WHERE id = $1`,
		r.ID, r.Name, r.PlacedBy, r.On, r.Stopped, text(r.Draft), r.Edition, r.ChangedAt, r.RemovedAt)
}

// remove removes a route of which nothing was ever on its way; else it says false.
func remove(ctx context.Context, q postgres.Q, id uuid.UUID) (gone bool, err error) {
	return postgres.Touches(ctx, q, `DELETE FROM routes r WHERE r.id = $1 AND NOT EXISTS (SELECT 1 FROM runs x JOIN editions e ON e.id = x.edition_id WHERE e.route_id = r.id)`, id)
}

// on are the routes of folders, in the order in which they were made.
func on(ctx context.Context, q postgres.Q, folders []uuid.UUID) (all []Route, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM routes WHERE folder_id = ANY($1::uuid[]) AND removed_at IS NULL ORDER BY created_at, id`, postgres.IDs(folders))
}

// all are all routes of all folders that are there, and the models.
func all(ctx context.Context, q postgres.Q) (list []Route, err error) {
	return list, q.SelectContext(ctx, &list, `SELECT r.* FROM routes r LEFT JOIN items i ON i.id = r.folder_id WHERE r.removed_at IS NULL AND (r.folder_id IS NULL OR i.id IS NOT NULL) ORDER BY r.name, r.created_at, r.id`)
}

func countOn(ctx context.Context, q postgres.Q, folder *uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM routes WHERE folder_id IS NOT DISTINCT FROM $1 AND removed_at IS NULL`, folder)
}

// keepStarts says by what a route is started from now on.
func keepStarts(ctx context.Context, q postgres.Q, r Route, starts []route.Start) error {
	if err := postgres.Exec(ctx, q, `DELETE FROM route_starts WHERE route_id = $1`, r.ID); err != nil || !r.On {
		return err
	}
	for i, s := range starts {
		folder := r.FolderID
		if s.Folder != nil {
			folder = s.Folder
		}
		if err := postgres.Exec(ctx, q, `INSERT INTO route_starts (route_id, position, trigger, folder_id) VALUES ($1, $2, $3, $4)`, r.ID, i, s.On, folder); err != nil {
			return err
		}
	}
	return nil
}

// started is a route that something may start, by which of its starts.
type started struct {
	Route
	Position int `db:"position"`
}

// startedBy are the routes that are on and start by one of the triggers, in one of the folders.
func startedBy(ctx context.Context, q postgres.Q, folders []uuid.UUID, triggers []route.Trigger) (list []started, err error) {
	names := make([]string, len(triggers))
	for i, t := range triggers {
		names[i] = string(t)
	}
	return list, q.SelectContext(ctx, &list, `SELECT r.*, s.position FROM route_starts s JOIN routes r ON r.id = s.route_id WHERE r.is_on AND s.folder_id = ANY($1::uuid[]) AND s.trigger = ANY($2::text[]) ORDER BY r.created_at, r.id, s.position`,
		postgres.IDs(folders), names)
}

// byDate are all routes that are on and are started by a date.
func byDate(ctx context.Context, q postgres.Q) (list []started, err error) {
	return list, q.SelectContext(ctx, &list, `SELECT r.*, s.position FROM route_starts s JOIN routes r ON r.id = s.route_id WHERE r.is_on AND s.trigger = 'date'`)
}

// begun notes that something has started a route for an item, and reports whether it is the first time.
func begun(ctx context.Context, q postgres.Q, of, item uuid.UUID, cause string) (first bool, err error) {
	return postgres.Touches(ctx, q, `INSERT INTO route_begun (route_id, item_id, cause) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`, of, item, cause)
}

// ceased forgets that something has started a route, so that it can again.
func ceased(ctx context.Context, q postgres.Q, of, item uuid.UUID, cause string) error {
	return postgres.Exec(ctx, q, `DELETE FROM route_begun WHERE route_id = $1 AND item_id = $2 AND cause = $3`, of, item, cause)
}

// newest are the documents that came last into folders and what lies below them.
func newest(ctx context.Context, q postgres.Q, folders []uuid.UUID, most int) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `WITH RECURSIVE below AS (SELECT id FROM items WHERE id = ANY($1::uuid[]) UNION SELECT i.id FROM items i JOIN below b ON i.parent_id = b.id WHERE i.kind = 'folder')
		SELECT i.id FROM items i JOIN below b ON i.parent_id = b.id WHERE i.kind = 'document' ORDER BY i.created_at DESC, i.id LIMIT $2`, postgres.IDs(folders), most)
}

// anyByID finds a route, also one that was removed.
func anyByID(ctx context.Context, q postgres.Q, id uuid.UUID) (r Route, err error) {
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT * FROM routes WHERE id = $1`, id))
}

// dated is a document with a day that is set in it.
type dated struct {
	ItemID uuid.UUID `db:"item_id"`
	Day    string    `db:"value"`
}

// reached are documents in a folder, and below, in which a date is set that is a day or lies within the
// month before, and that has not started the route.
func reached(ctx context.Context, q postgres.Q, of, folder, particular uuid.UUID, day string, most int) (list []dated, err error) {
	return list, q.SelectContext(ctx, &list, `WITH RECURSIVE below AS (SELECT id FROM items WHERE id = $2 UNION SELECT i.id FROM items i JOIN below b ON i.parent_id = b.id WHERE i.kind = 'folder')
		SELECT v.item_id, v.value FROM item_particulars v JOIN items i ON i.id = v.item_id JOIN below b ON b.id = i.parent_id
		WHERE v.particular_id = $3 AND v.value <= $4 AND v.value >= ($4::date - 31)::text AND NOT EXISTS (SELECT 1 FROM route_begun g WHERE g.route_id = $1 AND g.item_id = v.item_id AND g.cause = 'date:' || v.value)
		ORDER BY v.value, v.item_id LIMIT $5`, of, folder, particular, day, most)
}
