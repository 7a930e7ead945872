package signing

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/core/signing"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// formRow is a form as it is kept; Draft is what is being written, if it differs from the edition that counts.
type formRow struct {
	ID          uuid.UUID        `db:"id"`
	ItemID      uuid.UUID        `db:"item_id"`
	MadeBy      uuid.UUID        `db:"made_by"`
	Name        string           `db:"name"`
	Description string           `db:"description"`
	Shared      bool             `db:"shared"`
	Draft       *json.RawMessage `db:"draft"`
	Edition     int              `db:"edition"`
	CreatedAt   time.Time        `db:"created_at"`
	ChangedAt   time.Time        `db:"changed_at"`
	RemovedAt   *time.Time       `db:"removed_at"`
}

func formByID(ctx context.Context, q postgres.Q, id uuid.UUID, held bool) (f formRow, err error) {
	lock := ""
	if held {
		lock = ` FOR UPDATE`
	}
	return f, postgres.Found(q.GetContext(ctx, &f, `SELECT * FROM signing_forms WHERE id = $1 AND removed_at IS NULL`+lock, id))
}

func addForm(ctx context.Context, q postgres.Q, f formRow) error {
	return postgres.Exec(ctx, q, `INSERT INTO signing_forms (id, item_id, made_by, name, draft, created_at, changed_at) VALUES ($1, $2, $3, $4, $5, $6, $6)`,
		f.ID, f.ItemID, f.MadeBy, f.Name, draftOf(f), f.CreatedAt)
}

func draftOf(f formRow) *string {
	if f.Draft == nil {
		return nil
	}
	s := string(*f.Draft)
	return &s
}

func keepForm(ctx context.Context, q postgres.Q, f formRow) error {
	return postgres.ExecOne(ctx, q, `UPDATE signing_forms SET name = $2, description = $3, shared = $4, draft = $5, edition = $6, changed_at = $7, removed_at = $8 WHERE id = $1`,
		f.ID, f.Name, f.Description, f.Shared, draftOf(f), f.Edition, f.ChangedAt, f.RemovedAt)
}

// formsSeen are the forms on documents that somebody sees: their own, and those that are shared.
func formsSeen(ctx context.Context, q postgres.Q, r guard.Readable, me uuid.UUID, limit int) (all []formRow, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT f.* FROM signing_forms f JOIN items i ON i.id = f.item_id JOIN scopes sc ON sc.id = i.scope_id
		WHERE f.removed_at IS NULL AND (f.made_by = $1 OR f.shared AND f.edition > 0) AND `+r.Current("sc", 3)+`
		ORDER BY f.name, f.created_at, f.id LIMIT $2`, append([]any{me, limit}, r.Args()...)...)
}

// formEdition is a form as requests were made of it.
type formEdition struct {
	FormID     uuid.UUID       `db:"form_id"`
	Number     int             `db:"number"`
	Definition json.RawMessage `db:"definition"`
	Version    int             `db:"version"`
	SHA256     []byte          `db:"sha256"`
	MadeBy     uuid.UUID       `db:"made_by"`
	MadeAt     time.Time       `db:"made_at"`
}

func (e formEdition) form() (f signing.Form, err error) {
	return f, json.Unmarshal(e.Definition, &f)
}

func editionOf(ctx context.Context, q postgres.Q, form uuid.UUID, number int) (e formEdition, err error) {
	return e, postgres.Found(q.GetContext(ctx, &e, `SELECT * FROM signing_form_editions WHERE form_id = $1 AND number = $2`, form, number))
}

func addEdition(ctx context.Context, q postgres.Q, e formEdition) error {
	return postgres.Exec(ctx, q, `INSERT INTO signing_form_editions (form_id, number, definition, version, sha256, made_by, made_at) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
		e.FormID, e.Number, string(e.Definition), e.Version, e.SHA256, e.MadeBy, e.MadeAt)
}

// formsUsed says how often forms were sent, and when last.
func formsUsed(ctx context.Context, q postgres.Q, forms []uuid.UUID) (of map[uuid.UUID]used, err error) {
	var all []used
	err = q.SelectContext(ctx, &all, `SELECT form_id, count(*) AS times, max(sent_at) AS last FROM signings WHERE form_id = ANY($1::uuid[]) GROUP BY form_id`, postgres.IDs(forms))
	of = map[uuid.UUID]used{}
	for _, u := range all {
		of[u.FormID] = u
	}
	return of, err
}

type used struct {
	FormID uuid.UUID `db:"form_id"`
	Times  int       `db:"times"`
	Last   time.Time `db:"last"`
}

// formName is how a form is called, also one that was removed.
func formName(ctx context.Context, q postgres.Q, id uuid.UUID) (name string, err error) {
	return name, q.GetContext(ctx, &name, `SELECT name FROM signing_forms WHERE id = $1`, id)
}

// batchRow is a form that was sent to many at once.
type batchRow struct {
	ID       uuid.UUID `db:"id"`
	FormID   uuid.UUID `db:"form_id"`
	Edition  int       `db:"edition"`
	FolderID uuid.UUID `db:"folder_id"`
	SentBy   uuid.UUID `db:"sent_by"`
	Terms    []byte    `db:"terms"`
	SentAt   time.Time `db:"sent_at"`
}

func addBatch(ctx context.Context, q postgres.Q, b batchRow, bodies [][]byte) error {
	if err := postgres.Exec(ctx, q, `INSERT INTO signing_batches (id, form_id, edition, folder_id, sent_by, terms, sent_at) VALUES ($1, $2, $3, $4, $5, $6, $7)`, b.ID, b.FormID, b.Edition, b.FolderID, b.SentBy, b.Terms, b.SentAt); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `INSERT INTO signing_batch_rows (batch_id, row, body) SELECT $1, n - 1, body FROM unnest($2::bytea[]) WITH ORDINALITY AS t (body, n)`, b.ID, bodies)
}

func batchByID(ctx context.Context, q postgres.Q, id uuid.UUID) (b batchRow, err error) {
	return b, postgres.Found(q.GetContext(ctx, &b, `SELECT * FROM signing_batches WHERE id = $1`, id))
}

// lineRow is one line of what was sent to many.
type lineRow struct {
	Row       int        `db:"row"`
	Body      []byte     `db:"body"`
	SigningID *uuid.UUID `db:"signing_id"`
	Refused   string     `db:"refused"`
	DoneAt    *time.Time `db:"done_at"`
}

func linesOf(ctx context.Context, q postgres.Q, batch uuid.UUID) (all []lineRow, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT row, body, signing_id, refused, done_at FROM signing_batch_rows WHERE batch_id = $1 ORDER BY row`, batch)
}

// lineCounts are how many lines wait, were sent, and were refused.
type lineCounts struct {
	Waiting int `db:"waiting"`
	Sent    int `db:"sent"`
	Refused int `db:"refused"`
}

func countLines(ctx context.Context, q postgres.Q, batch uuid.UUID) (n lineCounts, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FILTER (WHERE done_at IS NULL) AS waiting, count(*) FILTER (WHERE done_at IS NOT NULL AND refused = '') AS sent,
		count(*) FILTER (WHERE done_at IS NOT NULL AND refused <> '') AS refused FROM signing_batch_rows WHERE batch_id = $1`, batch)
}

// batchesOf are the latest that somebody sent.
func batchesOf(ctx context.Context, q postgres.Q, person uuid.UUID, limit int) (all []batchRow, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM signing_batches WHERE sent_by = $1 ORDER BY sent_at DESC LIMIT $2`, person, limit)
}

// holdLine holds a line that nothing came of yet; false, where something did meanwhile.
func holdLine(ctx context.Context, q postgres.Q, batch uuid.UUID, row int) (bool, error) {
	var done bool
	err := postgres.Found(q.GetContext(ctx, &done, `SELECT done_at IS NOT NULL FROM signing_batch_rows WHERE batch_id = $1 AND row = $2 FOR UPDATE`, batch, row))
	return !done, err
}

func endLine(ctx context.Context, q postgres.Q, batch uuid.UUID, row int, made *uuid.UUID, refused string, now time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE signing_batch_rows SET signing_id = $3, refused = $4, done_at = $5 WHERE batch_id = $1 AND row = $2 AND done_at IS NULL`, batch, row, made, refused, now)
}

// reopenLines lets lines be tried again that were refused.
func reopenLines(ctx context.Context, q postgres.Q, batch uuid.UUID) error {
	return postgres.Exec(ctx, q, `UPDATE signing_batch_rows SET refused = '', done_at = NULL WHERE batch_id = $1 AND refused <> ''`, batch)
}
