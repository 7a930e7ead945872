package store

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"

	"tabularis/core/linkgate"
)

// Dossier is a body of documents about one piece of work.
type Dossier struct {
	ID          uuid.UUID `db:"id"`
	Code        string    `db:"code"`
	Name        string    `db:"name"`
	Subject     string    `db:"subject"`
	Client      string    `db:"client"`
	Kind        string    `db:"kind"`
	LastNumber  int       `db:"last_number"`
	LastEventID int64     `db:"last_event_id"`
	CreatedBy   uuid.UUID `db:"created_by"`
	CreatedAt   time.Time `db:"created_at"`
}

// CodesIndex is violated by a second dossier with a code.
const CodesIndex = "dossiers_code_key"

// AddDossier adds a dossier; its top folder is added with the same id.
func AddDossier(ctx context.Context, q Q, d Dossier) error {
	return exec(ctx, q, `INSERT INTO dossiers (id, code, name, subject, client, kind, created_by, created_at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		d.ID, d.Code, d.Name, d.Subject, d.Client, d.Kind, d.CreatedBy, d.CreatedAt)
}

// DossierByCode finds a dossier.
func DossierByCode(ctx context.Context, q Q, code string) (d Dossier, err error) {
	return d, found(q.GetContext(ctx, &d, `SELECT * FROM dossiers WHERE code = $1`, code))
}

// DossierByID finds a dossier.
func DossierByID(ctx context.Context, q Q, id uuid.UUID) (d Dossier, err error) {
	return d, found(q.GetContext(ctx, &d, `SELECT * FROM dossiers WHERE id = $1`, id))
}

// Desk is the kind of private dossiers; each person has at most one.
const Desk = "desk"

// DesksIndex is violated by a second desk of a person.
const DesksIndex = "dossiers_desks"

// DeskOf finds a person's desk.
func DeskOf(ctx context.Context, q Q, person uuid.UUID) (d Dossier, err error) {
	return d, found(q.GetContext(ctx, &d, `SELECT * FROM dossiers WHERE created_by = $1 AND kind = 'desk'`, person))
}

// NextDesk numbers desks.
func NextDesk(ctx context.Context, q Q) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT nextval('desk_numbers')`)
}

// AllDossiers lists all dossiers, in the order in which their rows are taken.
func AllDossiers(ctx context.Context, q Q) (all []Dossier, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM dossiers ORDER BY id`)
}

// LockDossier holds the dossier's row until the transaction ends. Acts that
// touch several rows take a link's row first, then the dossier's, then items'.
func LockDossier(ctx context.Context, q Q, id uuid.UUID) error {
	var one int
	return found(q.GetContext(ctx, &one, `SELECT 1 FROM dossiers WHERE id = $1 FOR NO KEY UPDATE`, id))
}

// TakeNumber gives out the next register number.
func TakeNumber(ctx context.Context, q Q, dossier uuid.UUID) (n int, err error) {
	return n, found(q.GetContext(ctx, &n, `UPDATE dossiers SET last_number = last_number + 1 WHERE id = $1 RETURNING last_number`, dossier))
}

// DossierSummary is a dossier as lists show it.
type DossierSummary struct {
	Dossier
	Documents int   `db:"documents"`
	Bytes     int64 `db:"bytes"`
	Links     int   `db:"links"`
}

// Summaries lists dossiers, last event first, counting what may be seen in them.
func Summaries(ctx context.Context, q Q, r Readable, dossiers []uuid.UUID, now time.Time) (all []DossierSummary, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT d.*, coalesce(c.documents, 0)::int AS documents, coalesce(c.bytes, 0)::bigint AS bytes,
			(SELECT count(*) FROM links l WHERE l.dossier_id = d.id AND `+giving("l", "$2")+` AND `+r.linkHeld("l", 4)+`) AS links
		FROM dossiers d LEFT JOIN (SELECT s.dossier_id, sum(s.n_documents) AS documents, sum(s.n_bytes) AS bytes FROM scopes s
		WHERE s.dossier_id = ANY($1::uuid[]) AND `+r.summed("s", 4)+` GROUP BY 1) c ON c.dossier_id = d.id
		WHERE d.id = ANY($1::uuid[]) AND (`+stampSum+`) = $3
		ORDER BY d.last_event_id DESC, d.code`, IDs(dossiers), now, r.Sum, r.Zones, r.Roots)
}

// living is the condition under which somebody outside may be let in or still
// be in by a link: a used-up link lives on while a visit may be going on.
func living(l, now string) string {
	return fmt.Sprintf("(%[1]s.ended_at IS NULL AND (%[1]s.until IS NULL OR %[1]s.until > %[2]s) AND (%[1]s.openings_limit IS NULL OR %[1]s.openings < %[1]s.openings_limit OR %[1]s.last_opened_at > %[2]s::timestamptz - interval '%[3]d seconds'))",
		l, now, int(linkgate.VisitLength/time.Second))
}

// giving is living for links that give something out: what only takes papers in
// opens nothing.
func giving(l, now string) string {
	return fmt.Sprintf("(%s AND %s.kind <> 'intake')", living(l, now), l)
}

// RegisterOrder is an order of the register: the column and its direction.
type RegisterOrder struct {
	column, direction, compare, cast string
}

// RegisterOrders are the orders a register can be read in. Each has an index.
var RegisterOrders = map[string]RegisterOrder{
	"event":  {"last_event_id", "DESC", "<", "bigint"},
	"number": {"number", "ASC", ">", "int"},
	"name":   {"name_key", "ASC", ">", "text"},
	"size":   {"size", "DESC", "<", "bigint"},
}

// Key is the value by which the order sorts an item.
func (o RegisterOrder) Key(i Item) string {
	switch o.column {
	case "number":
		return fmt.Sprint(*i.Number)
	case "name_key":
		return i.NameKey
	case "size":
		return fmt.Sprint(i.Size)
	}
	return fmt.Sprint(i.LastEventID)
}

// Fits reports whether a key can be one of the order.
func (o RegisterOrder) Fits(key string) bool {
	bits := map[string]int{"int": 32, "bigint": 64}[o.cast]
	if bits == 0 {
		return utf8.ValidString(key) && !strings.ContainsRune(key, 0)
	}
	_, err := strconv.ParseInt(key, 10, bits)
	return err == nil
}

// Part says which of a folder's documents are meant: all but some, or only
// some, at the stamps at which that was decided.
type Part struct {
	Stamps
	Dossier uuid.UUID
	// Only is nil where all but Except are meant.
	Only, Except []uuid.UUID
	// By is set where only what somebody added themselves is meant.
	By *uuid.UUID
}

// RegisterPage returns the documents directly in a folder after the key and id
// of the page before; an empty key begins at the front. With stamps that are no
// longer true it finds nothing.
func RegisterPage(ctx context.Context, q Q, folder uuid.UUID, part Part, o RegisterOrder, key string, id uuid.UUID, limit int) (all []Item, err error) {
	args := []any{folder, limit, part.Dossier, part.Stamps.Dossier, part.People}
	where := ` AND EXISTS (SELECT 1 FROM access_stamps WHERE scope = $3 AND version = $4) AND EXISTS (SELECT 1 FROM access_stamps WHERE scope = '` + PeopleStamp.String() + `' AND version = $5)`
	add := func(cond string, arg any) {
		args = append(args, arg)
		where += fmt.Sprintf(cond, len(args))
	}
	from := "items"
	if part.Only != nil {
		// Fenced: otherwise the whole folder is read in its order to find a few.
		args = append(args, IDs(part.Only))
		from = fmt.Sprintf("(SELECT * FROM items WHERE id = ANY($%d::uuid[]) OFFSET 0) AS items", len(args))
	}
	if len(part.Except) > 0 {
		add(` AND id <> ALL($%d::uuid[])`, IDs(part.Except))
	}
	if part.By != nil {
		add(` AND created_by = $%d`, *part.By)
	}
	if id != uuid.Nil {
		args = append(args, key, id)
		where += fmt.Sprintf(" AND (%s, id) %s ($%d::%s, $%d::uuid)", o.column, o.compare, len(args)-1, o.cast, len(args))
	}
	return all, q.SelectContext(ctx, &all, fmt.Sprintf(`SELECT * FROM %s WHERE parent_id = $1 AND kind = 'document' AND deleted_at IS NULL%s
		ORDER BY %s %s, id %s LIMIT $2`, from, where, o.column, o.direction, o.direction), args...)
}

// Measure counts documents of a folder and adds up their sizes.
func Measure(ctx context.Context, q Q, folder uuid.UUID, ids []uuid.UUID, by *uuid.UUID) (n int, bytes int64, err error) {
	var row struct {
		N     int   `db:"n"`
		Bytes int64 `db:"bytes"`
	}
	// Fenced, as in RegisterPage.
	from, arg := `(SELECT * FROM items WHERE id = ANY($2::uuid[]) OFFSET 0) AS items`, any(IDs(ids))
	if by != nil {
		from, arg = `(SELECT * FROM items WHERE created_by = $2) AS items`, *by
	}
	err = q.GetContext(ctx, &row, `SELECT count(*) AS n, coalesce(sum(size), 0)::bigint AS bytes FROM `+from+` WHERE parent_id = $1 AND kind = 'document'
		AND deleted_at IS NULL`, folder, arg)
	return row.N, row.Bytes, err
}

// FindDocuments finds documents by name among those that may be seen.
func FindDocuments(ctx context.Context, q Q, r Readable, words []string, limit int) (all []Item, err error) {
	patterns := make([]string, len(words))
	for i, w := range words {
		patterns[i] = "%" + strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(w) + "%"
	}
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM items i JOIN scopes s ON s.id = i.scope_id
		WHERE i.kind = 'document' AND i.deleted_at IS NULL AND i.name_key LIKE ALL($1) AND `+r.holds("s", 3)+` ORDER BY i.last_event_id DESC LIMIT $2`,
		append([]any{patterns, limit}, r.args()...)...)
}

// Measured is a number of documents and their size.
type Measured struct {
	N     int
	Bytes int64
}

// MeasureOwn measures, by folder, the documents that are roots themselves: all
// of them, and those that may be seen.
func MeasureOwn(ctx context.Context, q Q, folders []uuid.UUID, r Readable) (all, seen map[uuid.UUID]Measured, err error) {
	all, seen = map[uuid.UUID]Measured{}, map[uuid.UUID]Measured{}
	if len(folders) == 0 {
		return all, seen, nil
	}
	var rows []struct {
		Folder uuid.UUID `db:"parent_id"`
		Seen   bool      `db:"seen"`
		N      int       `db:"n"`
		Bytes  int64     `db:"bytes"`
	}
	err = q.SelectContext(ctx, &rows, `SELECT s.parent_id, `+r.held("s", 2)+` AS seen, count(*) AS n, sum(i.size)::bigint AS bytes
		FROM scopes s JOIN items i ON i.id = s.id AND i.deleted_at IS NULL WHERE s.parent_id = ANY($1::uuid[]) AND NOT s.is_folder GROUP BY 1, 2`,
		IDs(folders), r.Zones, r.Roots)
	for _, row := range rows {
		m := all[row.Folder]
		all[row.Folder] = Measured{m.N + row.N, m.Bytes + row.Bytes}
		if row.Seen {
			seen[row.Folder] = Measured{row.N, row.Bytes}
		}
	}
	return all, seen, err
}

// CountReadable counts the documents that may be seen.
func CountReadable(ctx context.Context, q Q, r Readable) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT coalesce(sum(s.n_documents), 0)::int FROM scopes s WHERE `+r.summed("s", 1), r.Zones, r.Roots)
}
