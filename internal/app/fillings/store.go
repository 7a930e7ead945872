package fillings

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fillings"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
)

// What is sealed: what a document asks, and what was answered.
const sheetPurpose, answersPurpose = "form", "answers"

// fillable is what a document asks, as of a version.
type fillable struct {
	DocumentID uuid.UUID  `db:"document_id"`
	Version    int        `db:"version"`
	Fields     int        `db:"fields"`
	Sheet      []byte     `db:"sheet"`
	FolderID   *uuid.UUID `db:"folder_id"`
	Handed     int        `db:"handed"`
}

func fillableOf(ctx context.Context, q postgres.Q, document uuid.UUID, held bool) (f fillable, err error) {
	lock := ""
	if held {
		lock = ` FOR UPDATE`
	}
	return f, postgres.Found(q.GetContext(ctx, &f, `SELECT * FROM fillable WHERE document_id = $1`+lock, document))
}

func (f fillable) form(keys *secret.Keys) (form fillings.Form, err error) {
	return form, unsealed(keys, f.Sheet, sheetPurpose, &form)
}

func unsealed(keys *secret.Keys, sealed []byte, purpose string, into any) error {
	raw, err := keys.Open(sealed, purpose)
	if err != nil {
		return fmt.Errorf("opening %s: %w", purpose, err)
	}
	return json.Unmarshal(raw, into)
}

func sealed(keys *secret.Keys, purpose string, value any) ([]byte, error) {
	raw, err := json.Marshal(value)
	if err != nil {
		return nil, err
	}
	return keys.Seal(raw, purpose), nil
}

// noteFillable says what a version of a document asks; what is known of a later one stays.
func noteFillable(ctx context.Context, q postgres.Q, document uuid.UUID, version, fields int, sheet []byte) error {
	return postgres.Exec(ctx, q, `INSERT INTO fillable AS f (document_id, version, fields, sheet) VALUES ($1, $2, $3, $4)
		ON CONFLICT (document_id) DO UPDATE SET version = $2, fields = $3, sheet = $4 WHERE f.version <= $2`, document, version, fields, sheet)
}

func putFolder(ctx context.Context, q postgres.Q, document uuid.UUID, folder *uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `UPDATE fillable SET folder_id = $2 WHERE document_id = $1`, document, folder)
}

// row is what somebody answers, as it is kept.
type row struct {
	ID         uuid.UUID  `db:"id"`
	DocumentID uuid.UUID  `db:"document_id"`
	Who        string     `db:"who"`
	PersonID   *uuid.UUID `db:"person_id"`
	LinkID     *uuid.UUID `db:"link_id"`
	Email      string     `db:"email"`
	Known      string     `db:"known"`
	Name       string     `db:"name"`
	Answers    []byte     `db:"answers"`
	BegunAt    time.Time  `db:"begun_at"`
	KeptAt     time.Time  `db:"kept_at"`
	// Number, and what follows, is there once it was handed in.
	Number      *int       `db:"number"`
	HandedAt    *time.Time `db:"handed_at"`
	Handed      []byte     `db:"handed"`
	Version     *int       `db:"version"`
	PaperID     *uuid.UUID `db:"paper_id"`
	PaperSHA256 []byte     `db:"paper_sha256"`
	TakenAt     *time.Time `db:"taken_at"`
	TakenBy     *uuid.UUID `db:"taken_by"`
}

// latest is what somebody answers now, or answered last (fault.NotFound where they have not).
func latest(ctx context.Context, q postgres.Q, document uuid.UUID, who string) (r row, err error) {
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT * FROM fillings WHERE document_id = $1 AND who = $2 ORDER BY taken_at IS NULL DESC, begun_at DESC LIMIT 1`, document, who))
}

// open is what somebody answers now, held for the rest of the act (fault.NotFound where that is nothing).
func open(ctx context.Context, q postgres.Q, document uuid.UUID, who string) (r row, err error) {
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT * FROM fillings WHERE document_id = $1 AND who = $2 AND taken_at IS NULL FOR UPDATE`, document, who))
}

// begun counts what was begun by a link and not handed in.
func begun(ctx context.Context, q postgres.Q, document uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM fillings WHERE document_id = $1 AND number IS NULL`, document)
}

func addRow(ctx context.Context, q postgres.Q, r row) error {
	return postgres.Exec(ctx, q, `INSERT INTO fillings (id, document_id, who, person_id, link_id, email, known, name, answers, begun_at, kept_at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $10)
		ON CONFLICT DO NOTHING`, r.ID, r.DocumentID, r.Who, r.PersonID, r.LinkID, r.Email, r.Known, r.Name, r.Answers, r.BegunAt)
}

func putAnswers(ctx context.Context, q postgres.Q, id uuid.UUID, answers []byte, at time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE fillings SET answers = $2, kept_at = $3 WHERE id = $1`, id, answers, at)
}

// nextNumber counts what was handed in with a document.
func nextNumber(ctx context.Context, q postgres.Q, document uuid.UUID) (n int, err error) {
	return n, postgres.Found(q.GetContext(ctx, &n, `UPDATE fillable SET handed = handed + 1 WHERE document_id = $1 RETURNING handed`, document))
}

func handIn(ctx context.Context, q postgres.Q, r row) error {
	return postgres.ExecOne(ctx, q, `UPDATE fillings SET name = $2, number = $3, handed_at = $4, handed = $5, version = $6, paper_id = $7, paper_sha256 = $8, answers = $9, kept_at = $4 WHERE id = $1`,
		r.ID, r.Name, r.Number, r.HandedAt, r.Handed, r.Version, r.PaperID, r.PaperSHA256, r.Answers)
}

// takeUp says that somebody has begun to work on what was handed in; false where somebody has already.
func takeUp(ctx context.Context, q postgres.Q, document, id, by uuid.UUID, at time.Time) (bool, error) {
	return postgres.Touches(ctx, q, `UPDATE fillings SET taken_at = $4, taken_by = $3 WHERE id = $2 AND document_id = $1 AND number IS NOT NULL AND taken_at IS NULL`, document, id, by, at)
}

// shown is a row with who took it up, and its paper's name.
type shown struct {
	row
	TakenName *string `db:"taken_name"`
	Link      *string `db:"link_name"`
}

// handedIn are what was handed in with a document, the newest first, below a number where one is given.
func handedIn(ctx context.Context, q postgres.Q, document uuid.UUID, below, limit int) (all []shown, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT f.*, p.name AS taken_name, l.name AS link_name FROM fillings f LEFT JOIN people p ON p.id = f.taken_by LEFT JOIN links l ON l.id = f.link_id
		WHERE f.document_id = $1 AND f.number IS NOT NULL AND ($2 = 0 OR f.number < $2) ORDER BY f.number DESC LIMIT $3`, document, below, limit)
}

// underWay are those who have begun and not handed in.
func underWay(ctx context.Context, q postgres.Q, document uuid.UUID, limit int) (all []row, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM fillings WHERE document_id = $1 AND number IS NULL ORDER BY kept_at DESC LIMIT $2`, document, limit)
}

// counts are how many were handed in, and how many of these nobody has taken up.
func counts(ctx context.Context, q postgres.Q, document uuid.UUID) (all, fresh int, err error) {
	var n struct{ All, Fresh int }
	err = q.GetContext(ctx, &n, `SELECT count(*) AS all, count(*) FILTER (WHERE taken_at IS NULL) AS fresh FROM fillings WHERE document_id = $1 AND number IS NOT NULL`, document)
	return n.All, n.Fresh, err
}

// forgetBegun drops what was begun so long ago that nobody comes back to it.
func forgetBegun(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM fillings WHERE number IS NULL AND kept_at < $1`, before)
}
