package dossiers

import (
	"context"
	"time"

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

// ownKind is a kind of dossiers of which each person has at most one: what its code and name
// begin with, the index that a second one violates, what numbers them, whether it is in lists, and
// whether whoever it belongs to manages it, or nobody has access to it.
type ownKind struct {
	kind, code, name, index, numbers string
	listed, managed                  bool
}

var (
	desk     = ownKind{items.Desk, "DESK", "Desk of ", "dossiers_desks", "desk_numbers", true, true}
	outgoing = ownKind{items.Outgoing, "OUT", "Transfers of ", "dossiers_outgoing", "outgoing_numbers", false, true}
	incoming = ownKind{items.Incoming, "IN", "Sent to ", "dossiers_incoming", "incoming_numbers", false, false}
)

func ownOf(ctx context.Context, q postgres.Q, person uuid.UUID, k ownKind) (d items.Dossier, err error) {
	return d, postgres.Found(q.GetContext(ctx, &d, `SELECT * FROM dossiers WHERE created_by = $1 AND kind = $2`, person, k.kind))
}

func nextOwn(ctx context.Context, q postgres.Q, k ownKind) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT nextval($1::regclass)`, k.numbers)
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

// Measure counts documents of a folder and adds up their sizes.
func Measure(ctx context.Context, q postgres.Q, folder uuid.UUID, ids []uuid.UUID, by *uuid.UUID) (n int, bytes int64, err error) {
	var row struct {
		N     int   `db:"n"`
		Bytes int64 `db:"bytes"`
	}
	// Fenced, as in within.
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
