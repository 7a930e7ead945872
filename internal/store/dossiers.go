package store

import (
	"context"
	"fmt"
	"strings"
	"time"

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
	Members   int   `db:"members"`
	Links     int   `db:"links"`
}

// DossiersOf lists the dossiers whose top a person holds a running grant on,
// last event first. codes narrows the list; nil means all.
func DossiersOf(ctx context.Context, q Q, person uuid.UUID, now time.Time, codes []string) (all []DossierSummary, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT d.*,
			coalesce(c.documents, 0) AS documents, coalesce(c.bytes, 0) AS bytes,
			(SELECT count(*) FROM grants m WHERE m.item_id = d.id AND (m.ends_at IS NULL OR m.ends_at > $2)) AS members,
			(SELECT count(*) FROM links l WHERE l.dossier_id = d.id AND `+living("l", "$2")+`) AS links
		FROM grants g JOIN dossiers d ON d.id = g.item_id
		LEFT JOIN LATERAL (SELECT sum(n_documents) AS documents, sum(n_bytes) AS bytes FROM items i
			WHERE i.dossier_id = d.id AND i.kind = 'folder' AND i.deleted_at IS NULL) c ON true
		WHERE g.person_id = $1 AND (g.ends_at IS NULL OR g.ends_at > $2) AND ($3::text[] IS NULL OR d.code = ANY($3))
		ORDER BY d.last_event_id DESC, d.code`, person, now, codes)
}

// living is the condition under which somebody outside may be let in or still
// be in by a link: a used-up link lives on while a visit may be going on.
func living(l, now string) string {
	return fmt.Sprintf("(%[1]s.ended_at IS NULL AND (%[1]s.until IS NULL OR %[1]s.until > %[2]s) AND (%[1]s.openings_limit IS NULL OR %[1]s.openings < %[1]s.openings_limit OR %[1]s.last_opened_at > %[2]s::timestamptz - interval '%[3]d seconds'))",
		l, now, int(linkgate.VisitLength/time.Second))
}

// Frame is what belongs to every row of a dossier's registers.
type Frame struct {
	Code    string `db:"code"`
	Members int    `db:"members"`
	// Linked says that an open link reaches something in the dossier.
	Linked bool `db:"linked"`
}

// FrameOf returns a dossier's frame.
func FrameOf(ctx context.Context, q Q, dossier uuid.UUID, now time.Time) (f Frame, err error) {
	return f, found(q.GetContext(ctx, &f, `SELECT d.code, (SELECT count(*) FROM grants m WHERE m.item_id = d.id AND (m.ends_at IS NULL OR m.ends_at > $2)) AS members,
		EXISTS (SELECT 1 FROM links l WHERE l.dossier_id = d.id AND `+living("l", "$2")+`) AS linked FROM dossiers d WHERE d.id = $1`, dossier, now))
}

// Grant is a person's level on an item.
type Grant struct {
	ID        uuid.UUID  `db:"id"`
	ItemID    uuid.UUID  `db:"item_id"`
	PersonID  uuid.UUID  `db:"person_id"`
	Level     string     `db:"level"`
	EndsAt    *time.Time `db:"ends_at"`
	CreatedBy *uuid.UUID `db:"created_by"`
	CreatedAt time.Time  `db:"created_at"`
}

// AddGrant adds a grant.
func AddGrant(ctx context.Context, q Q, g Grant) error {
	return exec(ctx, q, `INSERT INTO grants (id, item_id, person_id, level, ends_at, created_by, created_at) VALUES ($1, $2, $3, $4, $5, $6, $7)`,
		g.ID, g.ItemID, g.PersonID, g.Level, g.EndsAt, g.CreatedBy, g.CreatedAt)
}

// IDs passes a list of ids as one parameter.
func IDs(ids []uuid.UUID) []string {
	s := make([]string, len(ids))
	for i, id := range ids {
		s[i] = id.String()
	}
	return s
}

// MemberRow is a person with a grant on a dossier's top.
type MemberRow struct {
	Person
	Level string    `db:"level"`
	Since time.Time `db:"since"`
}

// MembersOf lists who has a running grant on an item.
func MembersOf(ctx context.Context, q Q, item uuid.UUID, now time.Time) (all []MemberRow, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT p.*, g.level, g.created_at AS since FROM grants g JOIN people p ON p.id = g.person_id
		WHERE g.item_id = $1 AND (g.ends_at IS NULL OR g.ends_at > $2) ORDER BY g.created_at, p.name`, item, now)
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

// RegisterPage returns the documents directly in a folder after the key and id
// of the page before; an empty key begins at the front.
func RegisterPage(ctx context.Context, q Q, folder uuid.UUID, o RegisterOrder, key string, id uuid.UUID, limit int) (all []Item, err error) {
	where := ""
	args := []any{folder, limit}
	if id != uuid.Nil {
		where = fmt.Sprintf(" AND (%s, id) %s ($3::%s, $4::uuid)", o.column, o.compare, o.cast)
		args = append(args, key, id)
	}
	return all, q.SelectContext(ctx, &all, fmt.Sprintf(`SELECT * FROM items WHERE parent_id = $1 AND kind = 'document' AND deleted_at IS NULL%s
		ORDER BY %s %s, id %s LIMIT $2`, where, o.column, o.direction, o.direction), args...)
}

// FindDocuments finds documents by name in the dossiers of a person.
func FindDocuments(ctx context.Context, q Q, person uuid.UUID, words []string, now time.Time, limit int) (all []Item, err error) {
	patterns := make([]string, len(words))
	for i, w := range words {
		patterns[i] = "%" + strings.NewReplacer(`\`, `\\`, `%`, `\%`, `_`, `\_`).Replace(w) + "%"
	}
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM items i JOIN grants g ON g.item_id = i.dossier_id AND g.person_id = $1 AND (g.ends_at IS NULL OR g.ends_at > $3)
		WHERE i.kind = 'document' AND i.deleted_at IS NULL AND i.name_key LIKE ALL($2) ORDER BY i.last_event_id DESC LIMIT $4`, person, patterns, now, limit)
}
