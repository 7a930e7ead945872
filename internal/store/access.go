package store

import (
	"context"
	"fmt"
	"slices"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/fault"
)

// PeopleStamp is the scope of the stamp of people and groups.
var PeopleStamp = uuid.Nil

// Grant gives a subject a level on an item. The subject is a person, a group,
// or everyone in the practice, whose id is nil.
type Grant struct {
	ID          uuid.UUID          `db:"id"`
	ItemID      uuid.UUID          `db:"item_id"`
	SubjectKind access.SubjectKind `db:"subject_kind"`
	SubjectID   uuid.UUID          `db:"subject_id"`
	Level       string             `db:"level"`
	Custom      access.Caps        `db:"custom"`
	Onward      bool               `db:"onward"`
	EndsAt      *time.Time         `db:"ends_at"`
	Message     string             `db:"message"`
	Version     int                `db:"version"`
	CreatedBy   *uuid.UUID         `db:"created_by"`
	CreatedAt   time.Time          `db:"created_at"`
}

// Core is the grant as the rules know it.
func (g Grant) Core() access.Grant {
	return access.Grant{ID: access.ID(g.ID), Item: access.ID(g.ItemID), Subject: access.Subject{Kind: g.SubjectKind, ID: access.ID(g.SubjectID)},
		Level: access.Level(g.Level), Custom: g.Custom, Onward: g.Onward, Ends: g.EndsAt}
}

// SubjectIndex is violated by a second grant for a subject on an item.
const SubjectIndex = "grants_subject_item"

// AddGrant adds a grant. Its item must be a root of access.
func AddGrant(ctx context.Context, q Q, g Grant) error {
	return exec(ctx, q, `INSERT INTO grants (id, item_id, subject_kind, subject_id, level, custom, onward, ends_at, message, created_by, created_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11)`,
		g.ID, g.ItemID, g.SubjectKind, g.SubjectID, g.Level, g.Custom, g.Onward, g.EndsAt, g.Message, g.CreatedBy, g.CreatedAt)
}

// GrantByID finds a grant, also one that has run out.
func GrantByID(ctx context.Context, q Q, id uuid.UUID) (g Grant, err error) {
	return g, found(q.GetContext(ctx, &g, `SELECT * FROM grants WHERE id = $1`, id))
}

// GrantFor finds the grant of a subject on an item.
func GrantFor(ctx context.Context, q Q, item uuid.UUID, kind access.SubjectKind, subject uuid.UUID) (g Grant, err error) {
	return g, found(q.GetContext(ctx, &g, `SELECT * FROM grants WHERE item_id = $1 AND subject_kind = $2 AND subject_id = $3`, item, kind, subject))
}

// ChangeGrant changes a grant's terms, provided that nobody changed them since
// the version it was read at.
func ChangeGrant(ctx context.Context, q Q, g Grant) error {
	err := execOne(ctx, q, `UPDATE grants SET level = $3, custom = $4, onward = $5, ends_at = $6, version = version + 1 WHERE id = $1
		AND version = $2`, g.ID, g.Version, g.Level, g.Custom, g.Onward, g.EndsAt)
	if fault.Is(err, fault.NotFound) {
		return fault.New(fault.Conflict, "changed-meanwhile", "somebody else changed this access meanwhile; look at it again")
	}
	return err
}

// EndGrant removes a grant and reports whether it was there.
func EndGrant(ctx context.Context, q Q, id uuid.UUID) (bool, error) {
	r, err := q.ExecContext(ctx, `DELETE FROM grants WHERE id = $1`, id)
	if err != nil {
		return false, err
	}
	n, err := r.RowsAffected()
	return n == 1, err
}

// Bump says that who may see what has changed in a scope: a dossier, or
// PeopleStamp. It comes last in a transaction, so that no list is made by what
// was true before.
func Bump(ctx context.Context, q Q, scope uuid.UUID) error {
	if err := exec(ctx, q, `SELECT pg_notify('`+NewsChannel+`', $1)`, `{"access":true,"dossier":"`+scope.String()+`"}`); err != nil {
		return err
	}
	return exec(ctx, q, `INSERT INTO access_stamps (scope) VALUES ($1) ON CONFLICT (scope) DO UPDATE SET version = access_stamps.version + 1`, scope)
}

// Stamp is a scope's stamp.
type Stamp struct {
	Scope   uuid.UUID `db:"scope"`
	Version int64     `db:"version"`
}

// AllStamps reads the stamps of all scopes.
func AllStamps(ctx context.Context, q Q) (all []Stamp, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT scope, version FROM access_stamps`)
}

// StampsOf reads one dossier's stamps.
func StampsOf(ctx context.Context, q Q, dossier uuid.UUID) (s Stamps, err error) {
	return s, found(q.GetContext(ctx, &s, `SELECT d.version AS dossier_stamp, p.version AS people_stamp FROM access_stamps d, access_stamps p
		WHERE d.scope = $1 AND p.scope = $2`, dossier, PeopleStamp))
}

// StampSum adds all stamps up: it changes with each of them.
func StampSum(ctx context.Context, q Q) (n int64, err error) {
	return n, q.GetContext(ctx, &n, stampSum)
}

const stampSum = `SELECT coalesce(sum(version), 0)::bigint FROM access_stamps`

// Readable is all that a person may see, at the stamp at which it was computed.
type Readable struct {
	Zones, Roots []string
	// Others says that all zones are meant but those named.
	Others bool
	// Dossiers are those in which there is something to see.
	Dossiers []string
	Sum      int64
	// Holds says the same of one item, by its zone and root.
	Holds func(zone, root uuid.UUID) bool
}

// holds is the condition under which the items of a scope s may be seen, and
// the stamp is still the one at which that was computed. A statement with a
// stale stamp finds nothing. The parameters begin at number n.
func (r Readable) holds(s string, n int) string {
	return fmt.Sprintf(`(`+stampSum+`) = $%d AND `, n) + r.held(s, n+1)
}

// fewIDs is up to how many zones and roots are looked up by an index; more are
// hashed once for all rows.
const fewIDs = 60

// held is the part of holds that looks at the scope.
func (r Readable) held(s string, n int) string {
	if len(r.Zones)+len(r.Roots) > fewIDs {
		return r.among("%s IN (SELECT unnest($%d::uuid[]))", s, n)
	}
	return r.summed(s, n)
}

// summed is held for sums over many scopes: it goes by the indexes, however many
// zones and roots there are.
func (r Readable) summed(s string, n int) string { return r.among("%s = ANY($%d::uuid[])", s, n) }

// among looks zone and root of a scope s up in the parameters number n and n+1.
func (r Readable) among(lookUp, s string, n int) string {
	zone := fmt.Sprintf(lookUp, s+".zone_id", n)
	if r.Others {
		zone = "NOT " + zone
	}
	return "(" + zone + " OR " + fmt.Sprintf(lookUp, s+".root_id", n+1) + ")"
}

// linkHeld is the condition under which a link l may be seen: everything that
// was chosen for it may. The parameters begin at number n.
func (r Readable) linkHeld(l string, n int) string {
	return fmt.Sprintf(`NOT EXISTS (SELECT 1 FROM link_items c JOIN items ci ON ci.id = c.item_id JOIN scopes cs ON cs.id = ci.scope_id
		WHERE c.link_id = %s.id AND NOT `, l) + r.held("cs", n) + `)`
}

func (r Readable) args() []any { return []any{r.Sum, r.Zones, r.Roots} }

// RootRow is a root of access.
type RootRow struct {
	ID      uuid.UUID  `db:"id"`
	Parent  *uuid.UUID `db:"parent_root_id"`
	Dossier uuid.UUID  `db:"dossier_id"`
	Closed  bool       `db:"closed"`
	// Folder is where a single document lies.
	Folder *uuid.UUID `db:"folder_id"`
}

// Core is the root as the rules know it.
func (r RootRow) Core() access.Root {
	c := access.Root{ID: access.ID(r.ID), Closed: r.Closed}
	if r.Parent != nil {
		c.Parent = access.ID(*r.Parent)
	}
	if r.Folder != nil {
		c.Folder = access.ID(*r.Folder)
	}
	return c
}

// PlacedGrant is a grant with its dossier.
type PlacedGrant struct {
	Grant
	DossierID uuid.UUID `db:"dossier_id"`
}

// RootsAndGrants reads all roots of dossiers with what is given on them.
func RootsAndGrants(ctx context.Context, q Q, dossiers []uuid.UUID) (roots []RootRow, grants []PlacedGrant, err error) {
	ids := IDs(dossiers)
	if err = q.SelectContext(ctx, &roots, `SELECT r.*, CASE WHEN s.is_folder THEN NULL ELSE s.parent_id END AS folder_id
		FROM access_roots r JOIN scopes s ON s.id = r.id WHERE r.dossier_id = ANY($1::uuid[])`, ids); err != nil {
		return nil, nil, err
	}
	return roots, grants, q.SelectContext(ctx, &grants, `SELECT g.*, r.dossier_id FROM grants g JOIN access_roots r ON r.id = g.item_id
		WHERE r.dossier_id = ANY($1::uuid[])`, ids)
}

// Circle reads who is active and who belongs to which groups.
func Circle(ctx context.Context, q Q) (accounts []access.Account, members []access.Membership, err error) {
	var people []struct {
		ID      uuid.UUID `db:"id"`
		Outside bool      `db:"outside"`
	}
	if err = q.SelectContext(ctx, &people, `SELECT id, standing = 'guest' AS outside FROM people WHERE deactivated_at IS NULL`); err != nil {
		return nil, nil, err
	}
	for _, p := range people {
		accounts = append(accounts, access.Account{ID: access.ID(p.ID), Outside: p.Outside})
	}
	var rows []GroupMember
	if err = q.SelectContext(ctx, &rows, `SELECT * FROM group_members`); err != nil {
		return nil, nil, err
	}
	for _, r := range rows {
		members = append(members, access.Membership{Group: access.ID(r.GroupID), Member: r.Subject()})
	}
	return accounts, members, nil
}

// AddTop makes a new dossier's top a root of access.
func AddTop(ctx context.Context, q Q, dossier uuid.UUID) error {
	if err := exec(ctx, q, `INSERT INTO access_roots (id, dossier_id) VALUES ($1, $1)`, dossier); err != nil {
		return err
	}
	if err := exec(ctx, q, `INSERT INTO scopes (id, dossier_id, root_id, zone_id, is_folder) VALUES ($1, $1, $1, $1, true)`, dossier); err != nil {
		return err
	}
	return Bump(ctx, q, dossier)
}

// addScope gives a new folder the access of the folder it lies in. The caller
// holds the dossier's row, so that nobody changes that access meanwhile.
func addScope(ctx context.Context, q Q, folder, parent uuid.UUID) error {
	return execOne(ctx, q, `INSERT INTO scopes (id, parent_id, dossier_id, root_id, zone_id, is_folder) SELECT $1, id, dossier_id, root_id, zone_id, true
		FROM scopes WHERE id = $2`, folder, parent)
}

// Scope is the access of a folder, or of a document that is a root itself.
type Scope struct {
	ID       uuid.UUID  `db:"id"`
	ParentID *uuid.UUID `db:"parent_id"`
	Dossier  uuid.UUID  `db:"dossier_id"`
	Root     uuid.UUID  `db:"root_id"`
	Zone     uuid.UUID  `db:"zone_id"`
	IsFolder bool       `db:"is_folder"`
	// Documents are those that are decided by it, Bytes their size.
	Documents   int   `db:"n_documents"`
	Bytes       int64 `db:"n_bytes"`
	LastEventID int64 `db:"last_event_id"`
}

// ScopeOf finds the scope by which an item is decided.
func ScopeOf(ctx context.Context, q Q, item uuid.UUID) (s Scope, err error) {
	return s, found(q.GetContext(ctx, &s, `SELECT s.* FROM items i JOIN scopes s ON s.id = i.scope_id WHERE i.id = $1`, item))
}

// under walks the folders from $1 down that are decided by the same root $2; what
// is not inside are the roots next below them. A plain join would merge with the
// whole forest at each level; OFFSET 0 keeps it to the children, and the root
// outside of it: the indexes of both together would read all of the root for each
// folder. What is found is joined in the order of the walk: an IN would hash it,
// and go through the table's pages at random.
const under = `WITH RECURSIVE down AS (
	SELECT id, n_documents, true AS inside FROM scopes WHERE id = $1
	UNION ALL SELECT c.id, c.n_documents, c.root_id = $2 AND c.is_folder FROM down CROSS JOIN LATERAL (SELECT id, root_id, is_folder, n_documents
	FROM scopes WHERE parent_id = down.id OFFSET 0) c WHERE down.inside)`

// RootsBelow lists the roots next below an item that is not a root itself.
func RootsBelow(ctx context.Context, q Q, item, root uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, under+` SELECT id FROM down WHERE NOT inside`, item, root)
}

// MakeRoot makes an item a root of access, so that grants can stand on it. The
// caller holds the dossier's row.
func MakeRoot(ctx context.Context, q Q, item Item) error {
	s, err := ScopeOf(ctx, q, item.ID)
	if err != nil || s.Root == item.ID {
		return err
	}
	if err := exec(ctx, q, `INSERT INTO access_roots (id, parent_root_id, dossier_id) VALUES ($1, $2, $3)`, item.ID, s.Root, s.Dossier); err != nil {
		return err
	}
	if item.Kind == Document {
		if err := exec(ctx, q, `INSERT INTO scopes (id, parent_id, dossier_id, root_id, zone_id, is_folder, n_documents, n_bytes)
			VALUES ($1, $2, $3, $1, $4, false, 1, $5)`, item.ID, s.ID, s.Dossier, s.Zone, item.Size); err != nil {
			return err
		}
		if err := weigh(ctx, q, s.ID, -1, -item.Size); err != nil {
			return err
		}
		return rescope(ctx, q, item.ID, item.ID)
	}
	return exec(ctx, q, under+`, lower AS (UPDATE access_roots r SET parent_root_id = $1 FROM down WHERE r.id = down.id AND NOT down.inside)
		UPDATE scopes s SET root_id = $1 FROM down WHERE s.id = down.id AND down.inside`, item.ID, s.Root)
}

// weigh changes how many documents are decided by a scope, and their size.
func weigh(ctx context.Context, q Q, scope uuid.UUID, n int, bytes int64) error {
	return execOne(ctx, q, `UPDATE scopes SET n_documents = n_documents + $2, n_bytes = n_bytes + $3 WHERE id = $1`, scope, n, bytes)
}

// rescope lets a document, and its events, be decided by another scope.
func rescope(ctx context.Context, q Q, document, scope uuid.UUID) error {
	if err := execOne(ctx, q, `UPDATE items SET scope_id = $2 WHERE id = $1`, document, scope); err != nil {
		return err
	}
	var old []string
	if err := q.SelectContext(ctx, &old, `WITH was AS (SELECT DISTINCT scope_id FROM events WHERE item_id = $1), moved AS (UPDATE events
		SET scope_id = $2 WHERE item_id = $1) SELECT scope_id FROM was WHERE scope_id <> $2`, document, scope); err != nil {
		return err
	}
	return exec(ctx, q, `UPDATE scopes s SET last_event_id = coalesce((SELECT max(id) FROM events e WHERE e.scope_id = s.id), 0)
		WHERE s.id = ANY($1::uuid[])`, append(old, scope.String()))
}

// zone walks the roots of $1's zone from it down: those before the next closed
// ones.
const zone = `WITH RECURSIVE z AS (
	SELECT id FROM access_roots WHERE id = $1
	UNION ALL SELECT c.id FROM z CROSS JOIN LATERAL (SELECT id FROM access_roots WHERE parent_root_id = z.id AND NOT closed OFFSET 0) c) `

// SetClosed closes or opens a root; what lies in it becomes a zone of its own,
// or part of the one around it.
func SetClosed(ctx context.Context, q Q, root uuid.UUID, closed bool) error {
	into := root
	if !closed {
		if err := found(q.GetContext(ctx, &into, `SELECT s.zone_id FROM access_roots r JOIN scopes s ON s.id = r.parent_root_id WHERE r.id = $1`,
			root)); err != nil {
			return err
		}
	}
	if err := execOne(ctx, q, `UPDATE access_roots SET closed = $2 WHERE id = $1`, root, closed); err != nil {
		return err
	}
	return exec(ctx, q, zone+`UPDATE scopes s SET zone_id = $2 FROM z WHERE s.root_id = z.id`, root, into)
}

// Weights counts the documents decided by each of the roots.
func Weights(ctx context.Context, q Q, roots []uuid.UUID) (map[uuid.UUID]int, error) {
	return weights(ctx, q, `SELECT root_id, sum(n_documents)::int AS n FROM scopes WHERE root_id = ANY($1::uuid[]) GROUP BY root_id`, IDs(roots))
}

// AllWeights counts the documents decided by each root of the practice.
func AllWeights(ctx context.Context, q Q) (map[uuid.UUID]int, error) {
	return weights(ctx, q, `SELECT root_id, sum(n_documents)::int AS n FROM scopes WHERE n_documents > 0 GROUP BY root_id`)
}

func weights(ctx context.Context, q Q, statement string, args ...any) (map[uuid.UUID]int, error) {
	var rows []struct {
		Root uuid.UUID `db:"root_id"`
		N    int       `db:"n"`
	}
	err := q.SelectContext(ctx, &rows, statement, args...)
	weights := make(map[uuid.UUID]int, len(rows))
	for _, r := range rows {
		weights[r.Root] = r.N
	}
	return weights, err
}

// WeightUnder counts the documents at or below an item that are decided by the
// same root as it.
func WeightUnder(ctx context.Context, q Q, item Item, root uuid.UUID) (n int, err error) {
	if item.Kind == Document {
		return 1, nil
	}
	return n, q.GetContext(ctx, &n, under+` SELECT coalesce(sum(n_documents), 0)::int FROM down WHERE inside`, item.ID, root)
}

// WrongScopes lists items whose scope, root or zone is not what a walk from
// their dossier's top gives, whose events are decided by another scope, and
// scopes that count their documents wrongly.
func WrongScopes(ctx context.Context, q Q) (ids []string, err error) {
	return ids, q.SelectContext(ctx, &ids, `WITH RECURSIVE walk AS (
			SELECT i.id, i.kind, i.scope_id, i.id AS scope, i.id AS root, NULL::uuid AS above, i.id AS zone FROM items i WHERE parent_id IS NULL
			UNION ALL SELECT i.id, i.kind, i.scope_id,
				CASE WHEN i.kind = 'folder' OR r.id IS NOT NULL THEN i.id ELSE w.scope END,
				CASE WHEN r.id IS NOT NULL THEN i.id ELSE w.root END,
				CASE WHEN r.id IS NOT NULL THEN w.root ELSE w.above END,
				CASE WHEN r.closed THEN i.id ELSE w.zone END
			FROM walk w JOIN items i ON i.parent_id = w.id LEFT JOIN access_roots r ON r.id = i.id)
		SELECT DISTINCT e.item_id::text FROM events e JOIN items i ON i.id = e.item_id WHERE e.scope_id IS DISTINCT FROM i.scope_id
		UNION ALL SELECT s.id::text FROM scopes s LEFT JOIN (SELECT scope_id, count(*) AS n, sum(size) AS bytes FROM items WHERE kind = 'document'
		AND deleted_at IS NULL GROUP BY 1) c ON c.scope_id = s.id
		WHERE s.n_documents <> coalesce(c.n, 0) OR s.n_bytes <> coalesce(c.bytes, 0)
		UNION ALL SELECT w.id::text FROM walk w LEFT JOIN scopes s ON s.id = w.scope LEFT JOIN access_roots r ON r.id = w.root
		WHERE w.scope_id <> w.scope OR s.id IS NULL OR s.root_id <> w.root OR s.zone_id <> w.zone OR r.id IS NULL OR (r.id = w.id
		AND r.parent_root_id IS DISTINCT FROM w.above)`)
}

// IDs passes a list of ids as one parameter.
func IDs(ids []uuid.UUID) []string {
	s := make([]string, len(ids))
	for i, id := range ids {
		s[i] = id.String()
	}
	return s
}

// sorted orders ids, so that rows are always taken in one order.
func sorted(ids []uuid.UUID) []uuid.UUID {
	ids = slices.Clone(ids)
	slices.SortFunc(ids, func(a, b uuid.UUID) int { return slices.Compare(a[:], b[:]) })
	return slices.Compact(ids)
}
