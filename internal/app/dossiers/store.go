package dossiers

import (
	"context"
	"fmt"
	"strconv"
	"strings"
	"time"
	"unicode/utf8"

	"github.com/google/uuid"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// CodesIndex is violated by a second dossier with a code.
const CodesIndex = "dossiers_code_key"

// AddDossier adds a dossier; its top folder is added with the same id.
func AddDossier(ctx context.Context, q postgres.Q, d items.Dossier) error {
	return postgres.Exec(ctx, q, `INSERT INTO dossiers (id, code, name, subject, client, kind, created_by, created_at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		d.ID, d.Code, d.Name, d.Subject, d.Client, d.Kind, d.CreatedBy, d.CreatedAt)
}

// ParticularsOf reads what a dossier is called and about.
func ParticularsOf(ctx context.Context, q postgres.Q, dossier uuid.UUID) (p items.Particulars, err error) {
	return p, postgres.Found(q.GetContext(ctx, &p, `SELECT name, subject, client, kind FROM dossiers WHERE id = $1`, dossier))
}

// SetParticulars changes it.
func SetParticulars(ctx context.Context, q postgres.Q, dossier uuid.UUID, p items.Particulars) error {
	return postgres.ExecOne(ctx, q, `UPDATE dossiers SET name = $2, subject = $3, client = $4, kind = $5 WHERE id = $1`, dossier, p.Name, p.Subject, p.Client, p.Kind)
}

// setAside takes a dossier out of the daily lists, or, without a moment, back into them; it
// reports whether that was not so yet.
func setAside(ctx context.Context, q postgres.Q, dossier uuid.UUID, at *time.Time) (changed bool, err error) {
	return postgres.Touches(ctx, q, `UPDATE dossiers SET set_aside_at = $2 WHERE id = $1 AND (set_aside_at IS NULL) <> ($2::timestamptz IS NULL)`, dossier, at)
}

// DesksIndex is violated by a second desk of a person.
const DesksIndex = "dossiers_desks"

// DeskOf finds a person's desk.
func DeskOf(ctx context.Context, q postgres.Q, person uuid.UUID) (d items.Dossier, err error) {
	return d, postgres.Found(q.GetContext(ctx, &d, `SELECT * FROM dossiers WHERE created_by = $1 AND kind = 'desk'`, person))
}

// NextDesk numbers desks.
func NextDesk(ctx context.Context, q postgres.Q) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT nextval('desk_numbers')`)
}

// DossierSummary is a dossier as lists show it.
type DossierSummary struct {
	items.Dossier
	Documents int   `db:"documents"`
	Bytes     int64 `db:"bytes"`
	Links     int   `db:"links"`
}

// Summaries lists dossiers, last event first, counting what may be seen in them.
func Summaries(ctx context.Context, q postgres.Q, r guard.Readable, dossiers []uuid.UUID, now time.Time) (all []DossierSummary, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT d.*, coalesce(c.documents, 0)::int AS documents, coalesce(c.bytes, 0)::bigint AS bytes,
			(SELECT count(*) FROM links l WHERE l.dossier_id = d.id AND `+guard.Giving("l", "$2")+` AND `+r.LinkWithin("l", 4)+`) AS links
		FROM dossiers d LEFT JOIN (SELECT s.dossier_id, sum(s.n_documents) AS documents, sum(s.n_bytes) AS bytes FROM scopes s
		WHERE s.dossier_id = ANY($1::uuid[]) AND `+r.WithinSummed("s", 4)+` GROUP BY 1) c ON c.dossier_id = d.id
		WHERE d.id = ANY($1::uuid[]) AND (`+guard.SumOfStamps+`) = $3
		ORDER BY d.last_event_id DESC, d.code`, postgres.IDs(dossiers), now, r.Sum, r.Zones, r.Roots)
}

// RegisterOrder is an order of the register: the column and its direction.
type RegisterOrder struct {
	column, direction, compare, cast string
	// without leaves out documents in which a particular stands.
	without uuid.UUID
}

// RegisterOrders are the orders a register can be read in. Each has an index.
var RegisterOrders = map[string]RegisterOrder{
	"event":  {column: "last_event_id", direction: "DESC", compare: "<", cast: "bigint"},
	"number": {column: "number", direction: "ASC", compare: ">", cast: "int"},
	"name":   {column: "name_key", direction: "ASC", compare: ">", cast: "text"},
	"size":   {column: "size", direction: "DESC", compare: "<", cast: "bigint"},
}

// Key is the value by which the order sorts an item.
func (o RegisterOrder) Key(i items.Item) string {
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

// RegisterPage returns the documents directly in a folder after the key and id
// of the page before; an empty key begins at the front. With stamps that are no
// longer true it finds nothing.
func RegisterPage(ctx context.Context, q postgres.Q, folder uuid.UUID, part guard.Part, o RegisterOrder, key string, id uuid.UUID, limit int) (all []items.Item, err error) {
	w := within(folder, part, limit)
	if o.without != uuid.Nil {
		w.add(` AND NOT EXISTS (SELECT 1 FROM item_particulars v WHERE v.item_id = items.id AND v.particular_id = $%d)`, o.without)
	}
	if id != uuid.Nil {
		w.args = append(w.args, key, id)
		w.where += fmt.Sprintf(" AND (%s, id) %s ($%d::%s, $%d::uuid)", o.column, o.compare, len(w.args)-1, o.cast, len(w.args))
	}
	return all, q.SelectContext(ctx, &all, fmt.Sprintf(`SELECT * FROM %s WHERE %s
		ORDER BY %s %s, id %s LIMIT $2`, w.from, w.where, o.column, o.direction, o.direction), w.args...)
}

// shown are the documents directly in a folder that may be seen: where they are looked for,
// under which conditions, with $1 the folder and $2 how many.
type shown struct {
	from, where string
	args        []any
}

func (w *shown) add(condition string, arg any) {
	w.args = append(w.args, arg)
	w.where += fmt.Sprintf(condition, len(w.args))
}

func within(folder uuid.UUID, part guard.Part, limit int) shown {
	w := shown{from: "items", args: []any{folder, limit, part.Dossier, part.Stamps.Dossier, part.People},
		where: `parent_id = $1 AND kind = 'document' AND EXISTS (SELECT 1 FROM access_stamps WHERE scope = $3 AND version = $4) AND EXISTS (SELECT 1 FROM access_stamps WHERE scope = '` + guard.PeopleStamp.String() + `' AND version = $5)`}
	if part.Only != nil {
		// Fenced: otherwise the whole folder is read in its order to find a few.
		w.args = append(w.args, postgres.IDs(part.Only))
		w.from = fmt.Sprintf("(SELECT * FROM items WHERE id = ANY($%d::uuid[]) OFFSET 0) AS items", len(w.args))
	}
	if len(part.Except) > 0 {
		w.add(` AND id <> ALL($%d::uuid[])`, postgres.IDs(part.Except))
	}
	if part.By != nil {
		w.add(` AND created_by = $%d`, *part.By)
	}
	return w
}

// Measure counts documents of a folder and adds up their sizes.
func Measure(ctx context.Context, q postgres.Q, folder uuid.UUID, ids []uuid.UUID, by *uuid.UUID) (n int, bytes int64, err error) {
	var row struct {
		N     int   `db:"n"`
		Bytes int64 `db:"bytes"`
	}
	// Fenced, as in RegisterPage.
	from, arg := `(SELECT * FROM items WHERE id = ANY($2::uuid[]) OFFSET 0) AS items`, any(postgres.IDs(ids))
	if by != nil {
		from, arg = `(SELECT * FROM items WHERE created_by = $2) AS items`, *by
	}
	err = q.GetContext(ctx, &row, `SELECT count(*) AS n, coalesce(sum(size), 0)::bigint AS bytes FROM `+from+` WHERE parent_id = $1 AND kind = 'document'`, folder, arg)
	return row.N, row.Bytes, err
}

// Measured is a number of documents and their size.
type Measured struct {
	N     int
	Bytes int64
}

// MeasureOwn measures, by folder, the documents that are roots themselves: all
// of them, and those that may be seen.
func MeasureOwn(ctx context.Context, q postgres.Q, folders []uuid.UUID, r guard.Readable) (all, seen map[uuid.UUID]Measured, err error) {
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
	err = q.SelectContext(ctx, &rows, `SELECT s.parent_id, `+r.Within("s", 2)+` AS seen, count(*) AS n, sum(i.size)::bigint AS bytes
		FROM scopes s JOIN items i ON i.id = s.id WHERE s.parent_id = ANY($1::uuid[]) AND NOT s.is_folder GROUP BY 1, 2`,
		postgres.IDs(folders), r.Zones, r.Roots)
	for _, row := range rows {
		m := all[row.Folder]
		all[row.Folder] = Measured{m.N + row.N, m.Bytes + row.Bytes}
		if row.Seen {
			seen[row.Folder] = Measured{row.N, row.Bytes}
		}
	}
	return all, seen, err
}
