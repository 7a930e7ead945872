package sharing

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/access"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// ShownGrant is a grant with the names that belong to its ids.
type ShownGrant struct {
	guard.Grant
	Subject      string     `db:"subject_name"`
	Outside      bool       `db:"outside"`
	Organisation string     `db:"organisation"`
	Invited      bool       `db:"invited"`
	By           string     `db:"by_name"`
	ItemName     string     `db:"item_name"`
	ItemKind     string     `db:"item_kind"`
	ItemNumber   *int       `db:"item_number"`
	ParentID     *uuid.UUID `db:"parent_id"`
	DossierID    uuid.UUID  `db:"dossier_id"`
	Code         string     `db:"code"`
	DossierName  string     `db:"dossier_name"`
	MediaType    string     `db:"media_type"`
	SeenAt       *time.Time `db:"seen_at"`
	Pinned       bool       `db:"pinned"`
}

const shownGrant = `SELECT g.*, coalesce(p.name, c.name, '') AS subject_name, coalesce(p.standing = 'guest', false) AS outside, coalesce(p.organisation, '') AS organisation,
	coalesce(p.standing = 'guest' AND p.seen_at IS NULL, false) AS invited, coalesce(b.name, '') AS by_name, p.seen_at,
	i.name AS item_name, i.kind AS item_kind, i.number AS item_number, i.parent_id, i.dossier_id, i.media_type, d.code, d.name AS dossier_name,
	EXISTS (SELECT 1 FROM pins WHERE pins.item_id = g.item_id AND pins.person_id = $1) AS pinned
	FROM grants g JOIN items i ON i.id = g.item_id JOIN dossiers d ON d.id = i.dossier_id
	LEFT JOIN people p ON g.subject_kind = 0 AND p.id = g.subject_id LEFT JOIN groups c ON g.subject_kind = 1 AND c.id = g.subject_id LEFT
	JOIN people b ON b.id = g.created_by `

// ShownGrants returns grants with their names, the oldest first.
func ShownGrants(ctx context.Context, q postgres.Q, reader uuid.UUID, ids []uuid.UUID) (all []ShownGrant, err error) {
	return all, q.SelectContext(ctx, &all, shownGrant+`WHERE g.id = ANY($2::uuid[]) ORDER BY g.created_at, g.id`, reader, postgres.IDs(ids))
}

// Cursor is where a list goes on.
type Cursor struct {
	At time.Time
	ID uuid.UUID
}

// subjectIDs passes subjects as one parameter: ids of people and groups are never
// the same, and everyone has the nil one.
func subjectIDs(subjects []access.Subject) []string {
	ids := make([]string, len(subjects))
	for i, s := range subjects {
		ids[i] = uuid.UUID(s.ID).String()
	}
	return ids
}

// GivenTo lists what subjects were given by others and still runs, the newest
// first. Each subject is read by itself from its newest grant on.
func GivenTo(ctx context.Context, q postgres.Q, reader uuid.UUID, subjects []access.Subject, now time.Time, after *Cursor, limit int) (all []ShownGrant, err error) {
	args := []any{reader, subjectIDs(subjects), now, limit}
	where := ""
	if after != nil {
		where, args = ` AND (created_at, id) < ($5, $6)`, append(args, after.At, after.ID)
	}
	return all, q.SelectContext(ctx, &all, shownGrant+`WHERE g.id IN (SELECT n.id FROM unnest($2::uuid[]) AS s(id) CROSS JOIN LATERAL (
			SELECT id, created_at FROM grants WHERE subject_id = s.id AND created_by IS DISTINCT FROM $1 AND (ends_at IS NULL OR ends_at > $3)`+where+` ORDER BY created_at DESC, id DESC LIMIT $4) n
			ORDER BY n.created_at DESC, n.id DESC LIMIT $4) ORDER BY g.created_at DESC, g.id DESC`, args...)
}

// GivenFilter narrows what somebody gave. Zero values do not.
type GivenFilter struct {
	Dossier uuid.UUID
	Person  uuid.UUID
	// Kind is folder or document; Ending keeps what ends before the moment.
	Kind   string
	Ending *time.Time
}

// GivenBy lists what somebody gave to others, still runs, and is still there for
// them, the newest first.
func GivenBy(ctx context.Context, q postgres.Q, giver uuid.UUID, r guard.Readable, f GivenFilter, now time.Time, after *Cursor, limit int) (all []ShownGrant, err error) {
	var at *time.Time
	var id *uuid.UUID
	if after != nil {
		at, id = &after.At, &after.ID
	}
	return all, q.SelectContext(ctx, &all, shownGrant+`WHERE g.created_by = $1 AND NOT (g.subject_kind = 0 AND g.subject_id = $1)
		AND (g.ends_at IS NULL OR g.ends_at > $2)
		AND ($3::uuid = '00000000-0000-0000-0000-000000000000' OR i.dossier_id = $3) AND ($4::uuid = '00000000-0000-0000-0000-000000000000'
		OR g.subject_id = $4)
		AND ($5 = '' OR i.kind = $5) AND ($6::timestamptz IS NULL OR g.ends_at <= $6) AND ($7::timestamptz IS NULL OR (g.created_at, g.id) < ($7, $8))
		AND (SELECT `+r.Within("s", 10)+` FROM scopes s WHERE s.id = i.scope_id)
		ORDER BY g.created_at DESC, g.id DESC LIMIT $9`, giver, now, f.Dossier, f.Person, f.Kind, f.Ending, at, id, limit, r.Zones, r.Roots)
}

// Trace is what somebody did lately in a dossier.
type Trace struct {
	PersonID  uuid.UUID `db:"person_id"`
	DossierID uuid.UUID `db:"dossier_id"`
	Code      string    `db:"code"`
	Acts      int       `db:"acts"`
	Last      time.Time `db:"last"`
	Given     bool      `db:"given"`
}

// Whom somebody works with is told by the newest events of the dossiers that
// they acted in last, and by what they gave last.
const (
	lastDossiers = `20`
	lastActs     = `200`
	lastGiven    = `300`
)

// Traces gathers who acted since a moment in the dossier at hand and in those,
// of the ones given, in which the person acted last; and whom the person gave
// something.
func Traces(ctx context.Context, q postgres.Q, person, here uuid.UUID, dossiers []string, since time.Time) (all []Trace, err error) {
	return all, q.SelectContext(ctx, &all, `WITH mine AS (
			SELECT one.id FROM unnest($2::uuid[]) AS one(id) CROSS JOIN LATERAL (SELECT at FROM events WHERE dossier_id = one.id AND person_id = $1
			AND at > $3 ORDER BY at DESC LIMIT 1) own ORDER BY own.at DESC LIMIT `+lastDossiers+`),
		near AS (SELECT id FROM mine UNION SELECT $4::uuid)
		SELECT e.person_id, e.dossier_id, d.code, count(*)::int AS acts, max(e.at) AS last, false AS given
			FROM near CROSS JOIN LATERAL (SELECT * FROM events WHERE dossier_id = near.id ORDER BY id DESC LIMIT `+lastActs+`) e JOIN dossiers d ON d.id = e.dossier_id
			WHERE e.at > $3 AND e.person_id IS NOT NULL GROUP BY 1, 2, 3
		UNION ALL SELECT g.subject_id, i.dossier_id, d.code, count(*)::int, max(g.created_at), true
			FROM (SELECT * FROM grants WHERE created_by = $1 AND created_at > $3 ORDER BY created_at DESC, id DESC LIMIT `+lastGiven+`) g JOIN items i ON i.id = g.item_id
				JOIN dossiers d ON d.id = i.dossier_id
			WHERE g.subject_id <> $1 GROUP BY 1, 2, 3`, person, dossiers, since, here)
}

// Pin keeps an item at hand, or no longer.
func Pin(ctx context.Context, q postgres.Q, person, item uuid.UUID, pinned bool, now time.Time) error {
	if !pinned {
		return postgres.Exec(ctx, q, `DELETE FROM pins WHERE person_id = $1 AND item_id = $2`, person, item)
	}
	return postgres.Exec(ctx, q, `INSERT INTO pins (person_id, item_id, at) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`, person, item, now)
}

// NoteGivenSeen notes that somebody has looked at what they were given.
func NoteGivenSeen(ctx context.Context, q postgres.Q, person uuid.UUID, now time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE people SET given_seen_at = $2 WHERE id = $1`, person, now)
}

// CountNew counts what was given since somebody last looked.
func CountNew(ctx context.Context, q postgres.Q, person uuid.UUID, subjects []access.Subject, since *time.Time, now time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM grants WHERE subject_id = ANY($1::uuid[]) AND created_by IS DISTINCT FROM $2
		AND (ends_at IS NULL OR ends_at > $3) AND ($4::timestamptz IS NULL OR created_at > $4)`, subjectIDs(subjects), person, now, since)
}

// EndingFor lists the grants which end before a moment and which a person gave
// or, where they manage the dossier, anybody did.
func EndingFor(ctx context.Context, q postgres.Q, person uuid.UUID, r guard.Readable, managed []uuid.UUID, now, before time.Time) (all []ShownGrant, err error) {
	return all, q.SelectContext(ctx, &all, shownGrant+`WHERE g.ends_at > $2 AND g.ends_at <= $3 AND (g.created_by = $1
		OR i.dossier_id = ANY($4::uuid[])) AND (SELECT `+r.Within("s", 5)+` FROM scopes s WHERE s.id = i.scope_id)
		ORDER BY g.ends_at LIMIT 100`, person, now, before, postgres.IDs(managed), r.Zones, r.Roots)
}

// Request is somebody's wish to be let in somewhere.
type Request struct {
	ID       uuid.UUID `db:"id"`
	PersonID uuid.UUID `db:"person_id"`
	ItemID   uuid.UUID `db:"item_id"`
	Message  string    `db:"message"`
	At       time.Time `db:"at"`
	Name     string    `db:"name"`
	ItemName string    `db:"item_name"`
	ItemKind string    `db:"item_kind"`
	Number   *int      `db:"item_number"`
	Code     string    `db:"code"`
	Root     uuid.UUID `db:"root_id"`
	Dossier  uuid.UUID `db:"dossier_id"`
}

// AddRequest notes a request and reports whether it is new; a second one for
// the same waits with the first.
func AddRequest(ctx context.Context, q postgres.Q, r Request) (isNew bool, err error) {
	return isNew, q.GetContext(ctx, &isNew, `INSERT INTO access_requests (id, person_id, item_id, message, at) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (person_id, item_id) WHERE answered_at IS NULL DO UPDATE SET message = $4, at = $5 RETURNING xmax = 0`,
		r.ID, r.PersonID, r.ItemID, r.Message, r.At)
}

const request = `SELECT r.id, r.person_id, r.item_id, r.message, r.at, p.name, i.name AS item_name, i.kind AS item_kind, i.number AS item_number, d.code, s.root_id, i.dossier_id
	FROM access_requests r JOIN people p ON p.id = r.person_id AND p.deactivated_at IS NULL JOIN items i ON i.id = r.item_id
	JOIN dossiers d ON d.id = i.dossier_id JOIN scopes s ON s.id = i.scope_id `

// OpenRequests lists the requests of dossiers that wait for an answer.
func OpenRequests(ctx context.Context, q postgres.Q, dossiers []string) (all []Request, err error) {
	return all, q.SelectContext(ctx, &all, request+`WHERE r.answered_at IS NULL AND i.dossier_id = ANY($1::uuid[]) ORDER BY r.at`, dossiers)
}

// RequestByID finds a request that waits for an answer.
func RequestByID(ctx context.Context, q postgres.Q, id uuid.UUID) (r Request, err error) {
	return r, postgres.Found(q.GetContext(ctx, &r, request+`WHERE r.id = $1 AND r.answered_at IS NULL`, id))
}

// AnswerRequest notes the answer.
func AnswerRequest(ctx context.Context, q postgres.Q, id, by uuid.UUID, given bool, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE access_requests SET answered_at = $3, answered_by = $2, given = $4 WHERE id = $1 AND answered_at IS NULL`,
		id, by, now, given)
}

// forgetRequests removes requests that were answered before a moment.
func forgetRequests(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM access_requests WHERE answered_at < $1`, before)
}
