package following

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/following"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// Heeded is what somebody follows and has muted.
func Heeded(ctx context.Context, q postgres.Q, person uuid.UUID) (h following.Heeding, err error) {
	var all []struct {
		ID      uuid.UUID `db:"item_id"`
		Dossier bool      `db:"dossier"`
		Muted   bool      `db:"muted"`
	}
	if err := q.SelectContext(ctx, &all, `SELECT f.item_id, i.parent_id IS NULL AS dossier, f.muted FROM followed f JOIN items i ON i.id = f.item_id WHERE f.person_id = $1`, person); err != nil {
		return h, err
	}
	for _, f := range all {
		things := &h.Followed
		if f.Muted {
			things = &h.Muted
		}
		if f.Dossier {
			things.Dossiers = append(things.Dossiers, f.ID)
		} else {
			things.Documents = append(things.Documents, f.ID)
		}
	}
	return h, nil
}

// things lists what somebody follows or has muted, and may see.
func things(ctx context.Context, q postgres.Q, person uuid.UUID, r guard.Readable) (all []Thing, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT i.id, d.code, i.number, CASE WHEN i.number IS NULL THEN d.name ELSE i.name END AS name, f.muted
		FROM followed f JOIN items i ON i.id = f.item_id JOIN dossiers d ON d.id = i.dossier_id JOIN scopes s ON s.id = i.scope_id
		WHERE f.person_id = $1 AND `+r.Current("s", 2)+` ORDER BY d.code, i.number NULLS FIRST`, append([]any{person}, r.Args()...)...)
}

func follow(ctx context.Context, q postgres.Q, person, item uuid.UUID, muted bool, now time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO followed (person_id, item_id, muted, since) VALUES ($1, $2, $3, $4)
		ON CONFLICT (person_id, item_id) DO UPDATE SET muted = $3, since = CASE WHEN followed.muted = $3 THEN followed.since ELSE $4 END`, person, item, muted, now)
}

func leave(ctx context.Context, q postgres.Q, person, item uuid.UUID) error {
	return postgres.Exec(ctx, q, `DELETE FROM followed WHERE person_id = $1 AND item_id = $2`, person, item)
}

// countThings counts what somebody follows or has muted; nobody else of the same person
// counts meanwhile.
func countThings(ctx context.Context, q postgres.Q, person uuid.UUID) (n int, err error) {
	if err := lock(ctx, q, person); err != nil {
		return 0, err
	}
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM followed WHERE person_id = $1`, person)
}

func lock(ctx context.Context, q postgres.Q, person uuid.UUID) error {
	return postgres.Exec(ctx, q, `SELECT 1 FROM people WHERE id = $1 FOR UPDATE`, person)
}

func digestOf(ctx context.Context, q postgres.Q, person uuid.UUID) (d Digest, err error) {
	return d, postgres.Found(q.GetContext(ctx, &d, `SELECT digest, digest_followed, timezone FROM people WHERE id = $1`, person))
}

func setDigest(ctx context.Context, q postgres.Q, person uuid.UUID, d Digest, now time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE people SET digest_at = CASE WHEN digest <> '' AND $2 <> '' THEN digest_at WHEN $2 <> '' THEN $5::timestamptz END, digest = $2, digest_followed = $3, timezone = $4 WHERE id = $1`,
		person, d.Every, d.Followed, d.Zone, now)
}

func filters(ctx context.Context, q postgres.Q, person uuid.UUID) (all []Filter, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT id, name, filter FROM kept_filters WHERE person_id = $1 ORDER BY name_key`, person)
}

// keep keeps a filter, and says under which id and how many there are now.
func keep(ctx context.Context, q postgres.Q, person uuid.UUID, f Filter, key string) (id uuid.UUID, n int, err error) {
	if err := lock(ctx, q, person); err != nil {
		return id, 0, err
	}
	if err := q.GetContext(ctx, &id, `INSERT INTO kept_filters (id, person_id, name, name_key, filter) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (person_id, name_key) DO UPDATE SET name = $3, filter = $5 RETURNING id`, f.ID, person, f.Name, key, f.Filter); err != nil {
		return id, 0, err
	}
	return id, n, q.GetContext(ctx, &n, `SELECT count(*) FROM kept_filters WHERE person_id = $1`, person)
}

func forget(ctx context.Context, q postgres.Q, person, id uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM kept_filters WHERE person_id = $1 AND id = $2`, person, id)
}

// told is up to when followers were told, which nobody else tells meanwhile.
func told(ctx context.Context, q postgres.Q) (at time.Time, err error) {
	return at, postgres.Found(q.GetContext(ctx, &at, `SELECT at FROM followers_told FOR UPDATE SKIP LOCKED`))
}

func setTold(ctx context.Context, q postgres.Q, at time.Time) error {
	return postgres.Exec(ctx, q, `UPDATE followers_told SET at = $1`, at)
}

// concerned are those who follow something where others did something in a time.
func concerned(ctx context.Context, q postgres.Q, since, until time.Time) (all []uuid.UUID, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT DISTINCT f.person_id FROM events e JOIN followed f ON f.item_id IN (e.item_id, e.dossier_id)
		WHERE e.at >= $1 AND e.at < $2 AND NOT f.muted AND f.since <= e.at AND e.person_id IS DISTINCT FROM f.person_id`, since, until)
}

// waiting are those who may be due a digest, with up to when they had one.
func waiting(ctx context.Context, q postgres.Q, before time.Time) (all []reader, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT id, digest, digest_followed, timezone, digest_at FROM people WHERE digest <> '' AND deactivated_at IS NULL AND digest_at < $1 ORDER BY digest_at`, before)
}

// claim takes a digest to be sent by nobody else; it is not found where somebody has it.
func claim(ctx context.Context, q postgres.Q, r reader, until time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE people SET digest_at = $3 WHERE id = $1 AND digest_at = $2 AND digest = $4`, r.ID, r.Last, until, r.Every)
}
