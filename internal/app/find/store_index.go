package find

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/find"
	"tabularis/core/items"
	"tabularis/internal/platform/postgres"
)

// document is a document with the version that counts.
type document struct {
	ID      uuid.UUID     `db:"id"`
	Name    string        `db:"name"`
	Version items.Version `db:"version"`
}

func documentOf(ctx context.Context, q postgres.Q, id uuid.UUID) (d document, err error) {
	d.ID = id
	if err = postgres.Found(q.GetContext(ctx, &d.Name, `SELECT name FROM items WHERE id = $1 AND kind = 'document'`, id)); err != nil {
		return d, err
	}
	return d, postgres.Found(q.GetContext(ctx, &d.Version, `SELECT v.* FROM items i JOIN versions v ON v.item_id = i.id AND v.number = i.version WHERE i.id = $1 AND v.sha256 IS NOT NULL`, id))
}

// unindexed are documents of whose counting version no words are kept, before an id, the
// newest first.
func unindexed(ctx context.Context, q postgres.Q, before uuid.UUID, limit int) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT i.id FROM items i WHERE i.kind = 'document' AND i.sha256 IS NOT NULL
		AND NOT EXISTS (SELECT 1 FROM text_places p WHERE p.item_id = i.id AND p.version = i.version) AND i.id < $1 ORDER BY i.id DESC LIMIT $2`, before, limit)
}

// named is a dossier's code and name.
type named struct {
	ID   uuid.UUID `db:"id"`
	Code string    `db:"code"`
	Name string    `db:"name"`
}

func namesOf(ctx context.Context, q postgres.Q, dossiers []uuid.UUID) (all []named, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT id, code, name FROM dossiers WHERE id = ANY($1::uuid[])`, postgres.IDs(dossiers))
}

// place is where the words of a version are kept.
type place struct {
	Window int    `db:"win"`
	Number int64  `db:"seq"`
	Beside []byte `db:"beside"`
}

func placeOf(ctx context.Context, q postgres.Q, document uuid.UUID, version int) (p place, err error) {
	err = postgres.Found(q.GetContext(ctx, &p, `SELECT win, seq, beside FROM text_places WHERE item_id = $1 AND version = $2`, document, version))
	if fault.Is(err, fault.NotFound) {
		err = nil
	}
	return p, err
}

// perWindow is how many texts stand in a window.
const perWindow = 50_000

func newestWindow(ctx context.Context, q postgres.Q) (w int, err error) {
	return w, q.GetContext(ctx, &w, `SELECT ((last_value + 1) / $1::bigint)::int FROM text_numbers`, perWindow)
}

// makeWindows makes windows that are not there yet.
func makeWindows(ctx context.Context, q postgres.Q, windows ...int) error {
	for _, w := range windows {
		if err := postgres.Exec(ctx, q, `SELECT text_window($1)`, w); err != nil {
			return err
		}
	}
	return nil
}

// unhurried lets a transaction end before it is on the disk, so that keeping words does not make
// acts wait for the disk. Nothing is lost by it: that the work is done is written after it, and
// where that is lost, too, the work is done again.
const unhurried = `set_config('synchronous_commit', 'off', true)`

// lockDocument takes a document's row, and returns its name and counting version by now.
func lockDocument(ctx context.Context, q postgres.Q, d document) (document, error) {
	var now struct {
		Name    string `db:"name"`
		Version int    `db:"version"`
	}
	err := postgres.Found(q.GetContext(ctx, &now, `SELECT name, version FROM items, (SELECT `+unhurried+`) s WHERE id = $1 FOR NO KEY UPDATE OF items`, d.ID))
	d.Name, d.Version.Number = now.Name, now.Version
	return d, err
}

// putWords keeps the words of a document's counting version, in place of what was kept of it.
// Its row is held.
func putWords(ctx context.Context, q postgres.Q, d document, v find.Vector, beside []byte) error {
	known, err := placeOf(ctx, q, d.ID, d.Version.Number)
	if err != nil {
		return err
	}
	if known.Beside != nil {
		if err := postgres.ExecOne(ctx, q, `UPDATE text_places SET beside = $3 WHERE item_id = $1 AND version = $2`, d.ID, d.Version.Number, beside); err != nil {
			return err
		}
		if err := postgres.ExecOne(ctx, q, `UPDATE texts SET words = $3::tsvector, language = $4 WHERE win = $1 AND seq = $2`, known.Window, known.Number, v.Literal, v.Language); err != nil {
			return err
		}
	} else if err := addWords(ctx, q, d, v, beside); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `UPDATE texts t SET counts = (p.version = $2) FROM text_places p WHERE p.item_id = $1 AND t.win = p.win AND t.seq = p.seq AND t.counts <> (p.version = $2)`, d.ID, d.Version.Number)
}

func addWords(ctx context.Context, q postgres.Q, d document, v find.Vector, beside []byte) error {
	if err := postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock_shared(`+textsLock+`)`); err != nil {
		return err
	}
	return postgres.ExecOne(ctx, q, `WITH n AS MATERIALIZED (SELECT nextval('text_numbers') AS seq),
		place AS (INSERT INTO text_places (item_id, version, win, seq, beside) SELECT $1, $2, seq / $3::bigint, seq, $4 FROM n)
		INSERT INTO texts (win, seq, item_id, version, scope_no, dossier_id, kind, language, by_id, at, size, words)
		SELECT n.seq / $3::bigint, n.seq, i.id, v.number, s.no, i.dossier_id, $5, $6, v.actor_id, v.created_at, v.size, $7::tsvector
		FROM n, items i JOIN versions v ON v.item_id = i.id AND v.number = $2 JOIN scopes s ON s.id = i.scope_id WHERE i.id = $1`,
		d.ID, d.Version.Number, perWindow, beside, find.KindOf(d.Version.MediaType), v.Language, v.Literal)
}

func addBody(ctx context.Context, q postgres.Q, b body) error {
	return postgres.Exec(ctx, q, `INSERT INTO bodies (sha256, state, pages, paged, sealed, at) SELECT sha256, $2, $3, $4, $5, $6 FROM blobs, (SELECT `+unhurried+`) s WHERE sha256 = $1 ON CONFLICT DO NOTHING`,
		b.SHA256, b.State, b.Pages, b.Paged, b.Sealed, b.At)
}

// bodyOf finds what is written in content; known is false where it was not read yet.
func bodyOf(ctx context.Context, q postgres.Q, sha256 []byte) (b body, known bool, err error) {
	err = postgres.Found(q.GetContext(ctx, &b, `SELECT * FROM bodies WHERE sha256 = $1`, sha256))
	if fault.Is(err, fault.NotFound) {
		return b, false, nil
	}
	return b, err == nil, err
}

func addNameWords(ctx context.Context, q postgres.Q, words []string) error {
	return postgres.Exec(ctx, q, `INSERT INTO name_words (word) SELECT w FROM unnest($1::text[]) w WHERE NOT EXISTS (SELECT 1 FROM name_words n WHERE n.word = w) ORDER BY w ON CONFLICT DO NOTHING`, words)
}

// wordsLike finds words of names that resemble one.
func wordsLike(ctx context.Context, q postgres.Q, word string, limit int) (words []string, err error) {
	return words, q.SelectContext(ctx, &words, `SELECT word FROM name_words WHERE word % $1 ORDER BY similarity(word, $1) DESC, word LIMIT $2`, word, limit)
}

// toRecognise is a document with content in which no text was found, and in whose pages none was
// looked for yet; the newest such content.
func toRecognise(ctx context.Context, q postgres.Q) (d document, there bool, err error) {
	var id uuid.UUID
	err = postgres.Found(q.GetContext(ctx, &id, `SELECT i.id FROM bodies b JOIN versions v ON v.sha256 = b.sha256 JOIN items i ON i.id = v.item_id AND i.version = v.number
		WHERE b.state = 'empty' AND b.recognised_at IS NULL AND v.media_type = 'application/pdf' ORDER BY b.at DESC LIMIT 1`))
	if err == nil {
		d, err = documentOf(ctx, q, id)
	}
	if fault.Is(err, fault.NotFound) {
		return d, false, nil
	}
	return d, err == nil, err
}

// putRecognised keeps what was read in pages, and returns the documents whose words follow.
func putRecognised(ctx context.Context, q postgres.Q, b body, now time.Time) (documents []uuid.UUID, err error) {
	if err := postgres.Exec(ctx, q, `UPDATE bodies SET state = $2, pages = $3, paged = $4, sealed = $5, recognised_at = $6 WHERE sha256 = $1`, b.SHA256, b.State, b.Pages, b.Paged, b.Sealed, now); err != nil {
		return nil, err
	}
	// What stands beside a document says whether its words are up to date: they are not now.
	return documents, q.SelectContext(ctx, &documents, `UPDATE text_places p SET beside = '\x00' FROM versions v JOIN items i ON i.id = v.item_id AND i.version = v.number
		WHERE v.sha256 = $1 AND p.item_id = v.item_id AND p.version = v.number RETURNING p.item_id`, b.SHA256)
}
