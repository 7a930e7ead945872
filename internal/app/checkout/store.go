package checkout

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/platform/postgres"
)

// Held is a document in somebody's hand.
type Held struct {
	ItemID   uuid.UUID  `db:"item_id"`
	Lease    string     `db:"lease"`
	PersonID uuid.UUID  `db:"person_id"`
	Holder   string     `db:"holder"`
	Since    time.Time  `db:"since"`
	Note     string     `db:"note"`
	Back     *time.Time `db:"back_at"`
	Keeps    bool       `db:"keeps"`
	// Version is the one that counted when it was taken in hand.
	Version    int        `db:"version"`
	RemindedAt *time.Time `db:"reminded_at"`
}

const held = `SELECT k.*, p.name AS holder FROM checkouts k JOIN people p ON p.id = k.person_id `

// Of returns who has documents in hand, by document.
func Of(ctx context.Context, q postgres.Q, documents []uuid.UUID) (map[uuid.UUID]Held, error) {
	var all []Held
	err := q.SelectContext(ctx, &all, held+`WHERE k.item_id = ANY($1::uuid[])`, postgres.IDs(documents))
	by := make(map[uuid.UUID]Held, len(all))
	for _, h := range all {
		by[h.ItemID] = h
	}
	return by, err
}

// KeptFrom lists those of the documents that somebody else has in hand and keeps from
// being downloaded.
func KeptFrom(ctx context.Context, q postgres.Q, documents []uuid.UUID, person uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT item_id FROM checkouts WHERE keeps AND person_id <> $2 AND item_id = ANY($1::uuid[])`, postgres.IDs(documents), person)
}

// heldBy lists what somebody has in hand, the longest first.
func heldBy(ctx context.Context, q postgres.Q, person uuid.UUID) (all []Held, err error) {
	return all, q.SelectContext(ctx, &all, held+`WHERE k.person_id = $1 ORDER BY k.since`, person)
}

// anyWithin reports whether something in a folder is in somebody's hand.
func anyWithin(ctx context.Context, q postgres.Q, folder uuid.UUID) (any bool, err error) {
	return any, q.GetContext(ctx, &any, `WITH RECURSIVE up AS (
			SELECT k.item_id, i.parent_id FROM checkouts k JOIN items i ON i.id = k.item_id
			UNION ALL SELECT up.item_id, i.parent_id FROM up JOIN items i ON i.id = up.parent_id WHERE up.parent_id <> $1)
		SELECT EXISTS (SELECT 1 FROM up WHERE parent_id = $1)`, folder)
}

func put(ctx context.Context, q postgres.Q, h Held) error {
	return postgres.Exec(ctx, q, `INSERT INTO checkouts (item_id, lease, person_id, since, note, back_at, keeps, version) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		h.ItemID, h.Lease, h.PersonID, h.Since, h.Note, h.Back, h.Keeps, h.Version)
}

func change(ctx context.Context, q postgres.Q, h Held) error {
	return postgres.ExecOne(ctx, q, `UPDATE checkouts SET note = $2, back_at = $3, keeps = $4, reminded_at = NULL WHERE item_id = $1`, h.ItemID, h.Note, h.Back, h.Keeps)
}

// addWait notes who wants to be told.
func addWait(ctx context.Context, q postgres.Q, item, person uuid.UUID) error {
	return postgres.Exec(ctx, q, `INSERT INTO checkout_waits (item_id, person_id) VALUES ($1, $2) ON CONFLICT DO NOTHING`, item, person)
}

// waiting lists who wants to be told.
func waiting(ctx context.Context, q postgres.Q, item uuid.UUID) (people []uuid.UUID, err error) {
	return people, q.SelectContext(ctx, &people, `SELECT person_id FROM checkout_waits WHERE item_id = $1`, item)
}

// Waits reports whether somebody waits for a document.
func Waits(ctx context.Context, q postgres.Q, item, person uuid.UUID) (is bool, err error) {
	return is, q.GetContext(ctx, &is, `SELECT EXISTS (SELECT 1 FROM checkout_waits WHERE item_id = $1 AND person_id = $2)`, item, person)
}

// toRemind lists what should have come back, or was taken long ago without a word of
// when, and of which nobody was reminded yet.
func toRemind(ctx context.Context, q postgres.Q, now, forgotten time.Time, limit int) (all []Held, err error) {
	return all, q.SelectContext(ctx, &all, held+`WHERE k.reminded_at IS NULL AND (k.back_at <= $1 OR k.back_at IS NULL AND k.since <= $2) ORDER BY k.since LIMIT $3 FOR UPDATE OF k SKIP LOCKED`, now, forgotten, limit)
}

func reminded(ctx context.Context, q postgres.Q, item uuid.UUID, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE checkouts SET reminded_at = $2 WHERE item_id = $1`, item, now)
}

// putBroken notes whose check-out was broken, at which version.
func putBroken(ctx context.Context, q postgres.Q, item, person uuid.UUID, version int, now time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO broken_checkouts (item_id, person_id, version, at) VALUES ($1, $2, $3, $4)
		ON CONFLICT (item_id, person_id) DO UPDATE SET version = $3, at = $4`, item, person, version, now)
}

// brokenAt finds at which version somebody's check-out was broken since a moment.
func brokenAt(ctx context.Context, q postgres.Q, item, person uuid.UUID, since time.Time) (version int, broken bool, err error) {
	err = postgres.Found(q.GetContext(ctx, &version, `SELECT version FROM broken_checkouts WHERE item_id = $1 AND person_id = $2 AND at > $3`, item, person, since))
	if fault.Is(err, fault.NotFound) {
		return 0, false, nil
	}
	return version, err == nil, err
}

func dropBroken(ctx context.Context, q postgres.Q, item, person uuid.UUID) error {
	return postgres.Exec(ctx, q, `DELETE FROM broken_checkouts WHERE item_id = $1 AND person_id = $2`, item, person)
}

func dropBrokenBefore(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM broken_checkouts WHERE at < $1`, before)
}
