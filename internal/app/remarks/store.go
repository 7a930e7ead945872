package remarks

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/internal/app/listing"
	"tabularis/internal/platform/postgres"
)

// Remark is what somebody said, with their name.
type Remark struct {
	ID         uuid.UUID  `db:"id"`
	ItemID     uuid.UUID  `db:"item_id"`
	ThreadID   uuid.UUID  `db:"thread_id"`
	PersonID   uuid.UUID  `db:"person_id"`
	Said       string     `db:"said"`
	At         time.Time  `db:"at"`
	EditedAt   *time.Time `db:"edited_at"`
	RemovedAt  *time.Time `db:"removed_at"`
	Version    *int       `db:"version"`
	Place      []byte     `db:"place"`
	SoughtIn   *int       `db:"sought_in"`
	Found      bool       `db:"found"`
	ResolvedAt *time.Time `db:"resolved_at"`
	ResolvedBy *uuid.UUID `db:"resolved_by"`
	// LinkID is the link through which a visitor said it, who is no person; Visitor is what
	// is known of them, and VisitID the visit.
	LinkID  *uuid.UUID `db:"link_id"`
	VisitID *uuid.UUID `db:"visit_id"`
	Visitor string     `db:"visitor"`

	By         string  `db:"by_name"`
	Guest      bool    `db:"guest"`
	ResolvedOf *string `db:"resolved_name"`
}

const remark = `SELECT r.*, coalesce(p.name, r.visitor) AS by_name, coalesce(p.standing = 'guest', true) AS guest, (SELECT name FROM people WHERE id = r.resolved_by) AS resolved_name FROM remarks r LEFT JOIN people p ON p.id = r.person_id `

// byID finds a remark; what is said of something deleted is not there.
func byID(ctx context.Context, q postgres.Q, id uuid.UUID) (r Remark, err error) {
	return r, postgres.Found(q.GetContext(ctx, &r, remark+`JOIN items i ON i.id = r.item_id WHERE r.id = $1`, id))
}

func add(ctx context.Context, q postgres.Q, r Remark) error {
	return postgres.Exec(ctx, q, `INSERT INTO remarks (id, item_id, thread_id, person_id, said, at, version, place, sought_in, link_id, visit_id, visitor) VALUES ($1, $2, $3, nullif($4, '00000000-0000-0000-0000-000000000000'::uuid), $5, $6, $7, $8, $7, $9, $10, $11)`,
		r.ID, r.ItemID, r.ThreadID, r.PersonID, r.Said, r.At, r.Version, r.Place, r.LinkID, r.VisitID, r.Visitor)
}

func edit(ctx context.Context, q postgres.Q, id uuid.UUID, said string, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE remarks SET said = $2, edited_at = $3 WHERE id = $1`, id, said, now)
}

// answered reports whether something follows a remark in its thread.
func answered(ctx context.Context, q postgres.Q, id uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM remarks WHERE thread_id = $1 AND id <> $1 AND removed_at IS NULL)`, id)
}

// withdraw leaves of a remark that there was one: answers stand below it.
func withdraw(ctx context.Context, q postgres.Q, id uuid.UUID, now time.Time) error {
	if err := postgres.Exec(ctx, q, `DELETE FROM remark_mentions WHERE remark_id = $1`, id); err != nil {
		return err
	}
	return postgres.ExecOne(ctx, q, `UPDATE remarks SET said = '', removed_at = $2 WHERE id = $1`, id, now)
}

func remove(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM remarks WHERE id = $1`, id)
}

func resolve(ctx context.Context, q postgres.Q, thread uuid.UUID, by *uuid.UUID, at *time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE remarks SET resolved_by = $2, resolved_at = $3 WHERE id = $1`, thread, by, at)
}

// sought narrows what is listed.
type sought struct {
	Item, Person uuid.UUID
	Open, Mine   bool
	Unread       bool
	Since        time.Time
	Before       *listing.Mark
	Limit        int
}

// threads lists the first remarks of threads, newest first.
func threads(ctx context.Context, q postgres.Q, s sought) (all []Remark, err error) {
	where, args := `r.item_id = $1 AND r.id = r.thread_id`, []any{s.Item, s.Limit, s.Person, s.Since}
	if s.Open {
		where += ` AND r.resolved_at IS NULL`
	}
	if s.Mine {
		where += ` AND EXISTS (SELECT 1 FROM remarks o LEFT JOIN remark_mentions m ON m.remark_id = o.id AND m.person_id = $3 WHERE o.thread_id = r.id AND (o.person_id = $3 OR m.person_id IS NOT NULL))`
	}
	if s.Unread {
		where += ` AND EXISTS (SELECT 1 FROM remarks o WHERE o.thread_id = r.id AND o.person_id IS DISTINCT FROM $3 AND o.at > $4)`
	}
	if s.Before != nil {
		args = append(args, s.Before.At, s.Before.ID)
		where += ` AND (r.at, r.id) < ($5, $6)`
	}
	return all, q.SelectContext(ctx, &all, remark+`WHERE `+where+` AND ($3::uuid IS NOT NULL AND $4::timestamptz IS NOT NULL) ORDER BY r.at DESC, r.id DESC LIMIT $2`, args...)
}

// mostAnswers is how many answers of a thread are shown, the newest.
const mostAnswers = 200

// answers lists what follows in threads, in order.
func answers(ctx context.Context, q postgres.Q, threads []uuid.UUID) (all []Remark, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT n.* FROM unnest($1::uuid[]) t (id) CROSS JOIN LATERAL (`+remark+`WHERE r.thread_id = t.id AND r.id <> t.id AND r.removed_at IS NULL
		ORDER BY r.at DESC, r.id DESC LIMIT $2) n ORDER BY n.at, n.id`, postgres.IDs(threads), mostAnswers)
}

// everything lists all that was said of an item, thread by thread, up to a limit.
func everything(ctx context.Context, q postgres.Q, item uuid.UUID, limit int) (all []Remark, err error) {
	return all, q.SelectContext(ctx, &all, remark+`JOIN remarks f ON f.id = r.thread_id WHERE r.item_id = $1 AND r.removed_at IS NULL ORDER BY f.at, f.id, r.at, r.id LIMIT $2`, item, limit)
}

// Tally counts what was said of an item.
type Tally struct {
	Threads  int `db:"threads"`
	Resolved int `db:"resolved"`
	Unread   int `db:"unread"`
	Named    int `db:"named"`
}

func tally(ctx context.Context, q postgres.Q, item, person uuid.UUID, since time.Time) (t Tally, err error) {
	return t, q.GetContext(ctx, &t, `SELECT count(*) FILTER (WHERE r.id = r.thread_id) AS threads, count(*) FILTER (WHERE r.id = r.thread_id AND r.resolved_at IS NOT NULL) AS resolved,
		count(*) FILTER (WHERE r.at > $3 AND r.person_id IS DISTINCT FROM $2 AND r.removed_at IS NULL) AS unread,
		count(*) FILTER (WHERE r.at > $3 AND r.person_id IS DISTINCT FROM $2 AND EXISTS (SELECT 1 FROM remark_mentions m WHERE m.remark_id = r.id AND m.person_id = $2)) AS named
		FROM remarks r WHERE r.item_id = $1`, item, person, since)
}

// looked is until when somebody has read what was said; long ago where they never did.
func looked(ctx context.Context, q postgres.Q, item, person uuid.UUID) (at time.Time, err error) {
	return at, q.GetContext(ctx, &at, `SELECT coalesce((SELECT at FROM remark_looks WHERE item_id = $1 AND person_id = $2), 'epoch'::timestamptz)`, item, person)
}

func putLook(ctx context.Context, q postgres.Q, item, person uuid.UUID, at time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO remark_looks (item_id, person_id, at) VALUES ($1, $2, $3) ON CONFLICT (item_id, person_id) DO UPDATE SET at = greatest(remark_looks.at, excluded.at)`, item, person, at)
}

// Named is somebody whom a remark names, or who ticked one.
type Named struct {
	Remark uuid.UUID `db:"remark_id"`
	Person uuid.UUID `db:"person_id"`
	Name   string    `db:"name"`
}

func namedIn(ctx context.Context, q postgres.Q, remarks []uuid.UUID) (all []Named, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT m.remark_id, m.person_id, p.name FROM remark_mentions m JOIN people p ON p.id = m.person_id WHERE m.remark_id = ANY($1::uuid[]) ORDER BY p.name`, postgres.IDs(remarks))
}

func ticked(ctx context.Context, q postgres.Q, remarks []uuid.UUID) (all []Named, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT m.remark_id, m.person_id, p.name FROM remark_ticks m JOIN people p ON p.id = m.person_id WHERE m.remark_id = ANY($1::uuid[]) ORDER BY p.name`, postgres.IDs(remarks))
}

// setNamed names people in a remark, and returns those who were not named before.
func setNamed(ctx context.Context, q postgres.Q, remark uuid.UUID, people []uuid.UUID) (added []uuid.UUID, err error) {
	if err := postgres.Exec(ctx, q, `DELETE FROM remark_mentions WHERE remark_id = $1 AND person_id <> ALL($2::uuid[])`, remark, postgres.IDs(people)); err != nil {
		return nil, err
	}
	return added, q.SelectContext(ctx, &added, `INSERT INTO remark_mentions (remark_id, person_id) SELECT $1, id FROM unnest($2::uuid[]) id ON CONFLICT DO NOTHING RETURNING person_id`, remark, postgres.IDs(people))
}

func tick(ctx context.Context, q postgres.Q, remark, person uuid.UUID) error {
	return postgres.Exec(ctx, q, `INSERT INTO remark_ticks (remark_id, person_id) VALUES ($1, $2) ON CONFLICT DO NOTHING`, remark, person)
}

func untick(ctx context.Context, q postgres.Q, remark, person uuid.UUID) error {
	return postgres.Exec(ctx, q, `DELETE FROM remark_ticks WHERE remark_id = $1 AND person_id = $2`, remark, person)
}

// authors lists who said something in a thread.
func authors(ctx context.Context, q postgres.Q, thread uuid.UUID) (all []uuid.UUID, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT DISTINCT person_id FROM remarks WHERE thread_id = $1 AND removed_at IS NULL AND person_id IS NOT NULL`, thread)
}

// countSince counts what somebody said since a moment, in turn with whatever else they say.
func countSince(ctx context.Context, q postgres.Q, person uuid.UUID, since time.Time) (n int, err error) {
	if err := postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock(hashtext('tabularis remarks'), hashtext($1::text))`, person); err != nil {
		return 0, err
	}
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM remarks WHERE person_id = $1 AND at > $2`, person, since)
}

// through lists the first remarks of the threads that began through a link about a document,
// newest first.
func through(ctx context.Context, q postgres.Q, link, item uuid.UUID, limit int) (all []Remark, err error) {
	return all, q.SelectContext(ctx, &all, remark+`WHERE r.link_id = $1 AND r.item_id = $2 AND r.id = r.thread_id ORDER BY r.at DESC, r.id DESC LIMIT $3`, link, item, limit)
}

// countThrough counts what was said through a link since a moment, in all and in one visit,
// in turn with whatever else is said through it.
func countThrough(ctx context.Context, q postgres.Q, link, visit uuid.UUID, since time.Time) (n struct{ All, Visit, Ever int }, err error) {
	if err := postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock(hashtext('tabularis remarks'), hashtext($1::text))`, link); err != nil {
		return n, err
	}
	return n, q.GetContext(ctx, &n, `SELECT count(*) FILTER (WHERE at > $3) AS all, count(*) FILTER (WHERE at > $3 AND visit_id = $2) AS visit, count(*) AS ever FROM remarks WHERE link_id = $1`, link, visit, since)
}

// placed lists the threads of a document whose place was not looked for in a version yet.
func placed(ctx context.Context, q postgres.Q, item uuid.UUID, version int) (all []Remark, err error) {
	return all, q.SelectContext(ctx, &all, remark+`WHERE r.item_id = $1 AND r.id = r.thread_id AND r.place IS NOT NULL AND r.sought_in < $2 ORDER BY r.at DESC LIMIT 2000`, item, version)
}

func putPlace(ctx context.Context, q postgres.Q, id uuid.UUID, place json.RawMessage, version int, found bool) error {
	return postgres.ExecOne(ctx, q, `UPDATE remarks SET place = $2, sought_in = $3, found = $4 WHERE id = $1`, id, place, version, found)
}

// due is a mention that nobody was mailed yet.
type due struct {
	Remark
	To uuid.UUID `db:"to_id"`
	// Read says that they have looked since.
	Read bool `db:"read"`
}

// dueMentions takes mentions from before a moment whose people were not told by mail.
func dueMentions(ctx context.Context, q postgres.Q, before, now time.Time, limit int) (all []due, err error) {
	return all, q.SelectContext(ctx, &all, `WITH taken AS (SELECT m.remark_id, m.person_id FROM remark_mentions m JOIN remarks r ON r.id = m.remark_id WHERE m.mailed_at IS NULL AND r.at <= $1
			ORDER BY m.person_id, r.at LIMIT $2 FOR UPDATE OF m SKIP LOCKED),
		told AS (UPDATE remark_mentions m SET mailed_at = $3 FROM taken t WHERE m.remark_id = t.remark_id AND m.person_id = t.person_id)
		SELECT x.*, t.person_id AS to_id, EXISTS (SELECT 1 FROM remark_looks l WHERE l.item_id = x.item_id AND l.person_id = t.person_id AND l.at >= x.at) AS read
		FROM taken t JOIN LATERAL (`+remark+`WHERE r.id = t.remark_id) x ON true ORDER BY t.person_id, x.at`, before, limit, now)
}

// Words are the texts of what was said of an item, newest first, as it is found by them.
func Words(ctx context.Context, q postgres.Q, item uuid.UUID) (said []string, err error) {
	return said, q.SelectContext(ctx, &said, `SELECT said FROM remarks WHERE item_id = $1 AND removed_at IS NULL ORDER BY at DESC, id LIMIT 500`, item)
}
