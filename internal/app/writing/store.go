package writing

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
)

// row is a document that is written, as it is kept.
type row struct {
	DocumentID   uuid.UUID  `db:"document_id"`
	MediaType    string     `db:"media_type"`
	Version      int        `db:"version"`
	StateVersion int        `db:"state_version"`
	State        []byte     `db:"state"`
	Base         int        `db:"base"`
	KeptVersion  int        `db:"kept_version"`
	LastBy       *uuid.UUID `db:"last_by"`
	LastAt       *time.Time `db:"last_at"`
	HereUntil    *time.Time `db:"here_until"`
	TriedAt      *time.Time `db:"tried_at"`
	Supersedes   bool       `db:"supersedes"`
	// into is the version in whose file it is written: the one it began with, or one that came in and was merged.
	into int
}

// clean says that all that was written is in a version.
func (r row) clean() bool { return r.KeptVersion >= r.Version }

// What is sealed: the text, the steps, and what stands beside a version.
const statePurpose, stepsPurpose = "written text", "written steps"

func rowOf(ctx context.Context, q postgres.Q, document uuid.UUID, held bool) (r row, err error) {
	lock := ""
	if held {
		lock = ` FOR UPDATE`
	}
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT * FROM writings WHERE document_id = $1`+lock, document))
}

// begin lets a document be written from its counting version on. One that is being written, or
// was begun from there, stays as it is.
func begin(ctx context.Context, q postgres.Q, keys *secret.Keys, item items.Item, state []byte) error {
	return postgres.Exec(ctx, q, `WITH begun AS (
		INSERT INTO writings AS w (document_id, version, state_version, state, base, kept_version, media_type) VALUES ($1, 1, 1, $3, $2, 1, $4)
		ON CONFLICT (document_id) DO UPDATE SET version = w.version + 1, state_version = w.version + 1, state = $3, base = $2, kept_version = w.version + 1, media_type = $4
		WHERE w.version = w.kept_version AND (w.base <> $2 OR w.media_type <> $4) RETURNING document_id)
		DELETE FROM writing_batches b USING begun WHERE b.document_id = begun.document_id`, item.ID, item.Version, keys.Seal(state, statePurpose), item.MediaType)
}

// batchRow is a batch as it is kept.
type batchRow struct {
	Version  int       `db:"version"`
	Count    int       `db:"count"`
	Client   string    `db:"client"`
	PersonID uuid.UUID `db:"person_id"`
	Steps    []byte    `db:"steps"`
	At       time.Time `db:"at"`
}

// batchesFrom are the batches from a version on.
func batchesFrom(ctx context.Context, q postgres.Q, keys *secret.Keys, document uuid.UUID, version int) (all []Batch, err error) {
	var rows []batchRow
	if err := q.SelectContext(ctx, &rows, `SELECT version, count, client, person_id, steps, at FROM writing_batches WHERE document_id = $1 AND version >= $2 ORDER BY version`, document, version); err != nil {
		return nil, err
	}
	for _, r := range rows {
		raw, err := keys.Open(r.Steps, stepsPurpose)
		if err != nil {
			return nil, fmt.Errorf("opening steps of %s: %w", document, err)
		}
		b := Batch{Version: r.Version, Client: r.Client, By: r.PersonID, At: r.At}
		if err := json.Unmarshal(raw, &b.Steps); err != nil {
			return nil, err
		}
		all = append(all, b)
	}
	return all, nil
}

// addBatches adds what was written, if nobody was quicker; then fresh is false. Wrote is who wrote last, uuid.Nil where
// nobody did more than say something about it.
func addBatches(ctx context.Context, q postgres.Q, keys *secret.Keys, document uuid.UUID, at int, all []Batch, state []byte, supersedes bool, wrote uuid.UUID) (fresh bool, err error) {
	last := all[len(all)-1]
	var sealed []byte
	if state != nil {
		sealed = keys.Seal(state, statePurpose)
	}
	changed, err := q.ExecContext(ctx, `UPDATE writings SET version = $3, last_by = CASE WHEN $8 THEN $9 ELSE coalesce(last_by, $4) END, last_at = $5, state = coalesce($6, state), state_version = CASE WHEN $6::bytea IS NULL THEN state_version ELSE $3 END, supersedes = supersedes OR $7
		WHERE document_id = $1 AND version = $2`, document, at, last.end(), last.By, last.At, sealed, supersedes, wrote != uuid.Nil, wrote)
	if err != nil {
		return false, err
	}
	if n, err := changed.RowsAffected(); err != nil || n == 0 {
		return false, err
	}
	for _, b := range all {
		raw, err := json.Marshal(b.Steps)
		if err != nil {
			return false, err
		}
		if err := postgres.Exec(ctx, q, `INSERT INTO writing_batches (document_id, version, count, client, person_id, steps, at) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
			document, b.Version, len(b.Steps), b.Client, b.By, keys.Seal(raw, stepsPurpose), b.At); err != nil {
			return false, err
		}
	}
	return true, nil
}

// noteHere says until when somebody is taken to be there.
func noteHere(ctx context.Context, q postgres.Q, document uuid.UUID, until time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE writings SET here_until = $2 WHERE document_id = $1`, document, until)
}

// unkept are documents with text that is in no version, which nobody has touched since: where nobody is there since
// the first moment, where somebody is since the second.
func unkept(ctx context.Context, q postgres.Q, left, rested, now time.Time) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT document_id FROM writings WHERE version > kept_version AND (last_at < $1 AND coalesce(here_until, $3) <= $3 OR last_at < $2) AND (tried_at IS NULL OR tried_at < $2) ORDER BY last_at LIMIT 50`, left, rested, now)
}

// noteTried says that a version could not be made: others have their turn first.
func noteTried(ctx context.Context, q postgres.Q, document uuid.UUID, now time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE writings SET tried_at = $2 WHERE document_id = $1`, document, now)
}

// noteKept says that the text after so many steps is a version of the document.
func noteKept(ctx context.Context, q postgres.Q, keys *secret.Keys, document uuid.UUID, version, number int, state []byte) error {
	if err := postgres.Exec(ctx, q, `UPDATE writings SET kept_version = $2, base = $3, tried_at = NULL, supersedes = false WHERE document_id = $1`, document, version, number); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `INSERT INTO written_versions (item_id, number, state) VALUES ($1, $2, $3) ON CONFLICT (item_id, number) DO UPDATE SET state = $3`, document, number, keys.Seal(state, statePurpose))
}

// stateBeside is the text of a version with all that its file cannot hold; nil where there is none.
func stateBeside(ctx context.Context, q postgres.Q, keys *secret.Keys, document uuid.UUID, number int) ([]byte, error) {
	var all [][]byte
	if err := q.SelectContext(ctx, &all, `SELECT state FROM written_versions WHERE item_id = $1 AND number = $2`, document, number); err != nil || len(all) == 0 {
		return nil, err
	}
	return keys.Open(all[0], statePurpose)
}

// forgetBatches drops steps that were made so long ago that nobody comes back to them.
func forgetBatches(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM writing_batches b USING writings w WHERE w.document_id = b.document_id AND b.at < $1 AND b.version + b.count <= least(w.kept_version, w.state_version)`, before)
}

func tellOthers(ctx context.Context, q postgres.Q, n note) error {
	raw, err := json.Marshal(n)
	if err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `SELECT pg_notify($1, $2)`, Channel, string(raw))
}

// decoded is what is written at the row's state.
func decoded(keys *secret.Keys, r row) (body, error) {
	raw, err := keys.Open(r.State, statePurpose)
	if err != nil {
		return nil, fmt.Errorf("opening the text of %s: %w", r.DocumentID, err)
	}
	kind, err := craftOf(r.MediaType)
	if err != nil {
		return nil, err
	}
	return kind.open(raw)
}

// pictureRow is a picture that was put into a document.
type pictureRow struct {
	DocumentID uuid.UUID `db:"document_id"`
	Name       string    `db:"name"`
	MediaType  string    `db:"media_type"`
	Size       int       `db:"size"`
	Picture    []byte    `db:"picture"`
	PutAt      time.Time `db:"put_at"`
}

const picturePurpose = "picture put into a text"

// addPicture keeps a picture, unless it is there already, as far as there is room for all of them.
func addPicture(ctx context.Context, q postgres.Q, keys *secret.Keys, p pictureRow, raw []byte, most int) error {
	if _, err := rowOf(ctx, q, p.DocumentID, true); err != nil {
		return err
	}
	var had int
	if err := q.GetContext(ctx, &had, `SELECT coalesce(sum(size), 0) FROM writing_pictures WHERE document_id = $1 AND name <> $2`, p.DocumentID, p.Name); err != nil {
		return err
	}
	if had+p.Size > most {
		return errPutInLarge.New("there are %d bytes of them", had)
	}
	return postgres.Exec(ctx, q, `INSERT INTO writing_pictures (document_id, name, media_type, size, picture, put_at) VALUES ($1, $2, $3, $4, $5, $6) ON CONFLICT DO NOTHING`,
		p.DocumentID, p.Name, p.MediaType, p.Size, keys.Seal(raw, picturePurpose), p.PutAt)
}

func picturesNamed(ctx context.Context, q postgres.Q, document uuid.UUID, names []string) (all []pictureRow, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM writing_pictures WHERE document_id = $1 AND name = ANY($2::text[])`, document, names)
}

// outsiderRow is a visitor who wrote.
type outsiderRow struct {
	DocumentID uuid.UUID `db:"document_id"`
	VisitID    uuid.UUID `db:"visit_id"`
	LinkID     uuid.UUID `db:"link_id"`
	Name       string    `db:"name"`
	Since      time.Time `db:"since"`
}

// noteOutsiders notes the visitors among those who wrote, by the names they go by now.
func noteOutsiders(ctx context.Context, q postgres.Q, document uuid.UUID, groups []group, now time.Time) error {
	for _, g := range groups {
		if g.pen.link == nil {
			continue
		}
		if err := postgres.Exec(ctx, q, `INSERT INTO writing_outsiders AS o (document_id, visit_id, link_id, name, since) VALUES ($1, $2, $3, $4, $5)
			ON CONFLICT (document_id, visit_id) DO UPDATE SET name = $4 WHERE o.name <> $4`, document, g.pen.id, *g.pen.link, g.pen.name, now); err != nil {
			return err
		}
	}
	return nil
}

// outsiderByID finds a visitor who wrote in a document (fault.NotFound).
func outsiderByID(ctx context.Context, q postgres.Q, document, visit uuid.UUID) (o outsiderRow, err error) {
	return o, postgres.Found(q.GetContext(ctx, &o, `SELECT * FROM writing_outsiders WHERE document_id = $1 AND visit_id = $2`, document, visit))
}

// outsidersOf are the visitors among those who wrote in a document.
func outsidersOf(ctx context.Context, q postgres.Q, document uuid.UUID, ids []uuid.UUID) (all []Author, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT visit_id AS id, name FROM writing_outsiders WHERE document_id = $1 AND visit_id = ANY($2)`, document, ids)
}
