package visits

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/intake"
	"tabularis/internal/app/links"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/postgres"
)

// Received is a file that came in through a link.
type Received struct {
	LinkID  uuid.UUID `db:"link_id"`
	ItemID  uuid.UUID `db:"item_id"`
	VisitID uuid.UUID `db:"visit_id"`
	// Paper is which of the expected papers it is.
	Paper  *int      `db:"paper"`
	Name   string    `db:"name"`
	SHA256 []byte    `db:"sha256"`
	Size   int64     `db:"size"`
	At     time.Time `db:"at"`
	// HandedAt is when the visitor said that they were done.
	HandedAt *time.Time `db:"handed_at"`
}

// AddReceived notes a file that came in.
func AddReceived(ctx context.Context, q postgres.Q, r Received) error {
	return postgres.Exec(ctx, q, `INSERT INTO link_received (link_id, item_id, visit_id, paper, name, sha256, size, at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		r.LinkID, r.ItemID, r.VisitID, r.Paper, r.Name, r.SHA256, r.Size, r.At)
}

// AddFolderBrought notes a folder that came in from a visit.
func AddFolderBrought(ctx context.Context, q postgres.Q, visit, folder uuid.UUID) error {
	return postgres.Exec(ctx, q, `INSERT INTO visit_folders (visit_id, item_id) VALUES ($1, $2)`, visit, folder)
}

// FolderBrought reports whether a folder came in from a visit, and still lies, with
// nothing but other such folders between, in the one that its link takes papers into.
// Of other folders there, of whatever name, a visitor learns nothing, and nothing of
// theirs goes into them.
func FolderBrought(ctx context.Context, q postgres.Q, v Visit, folder uuid.UUID) (brought bool, err error) {
	return brought, q.GetContext(ctx, &brought, `WITH RECURSIVE up AS (
			SELECT i.parent_id FROM items i JOIN visit_folders f ON f.item_id = i.id AND f.visit_id = $1 WHERE i.id = $3
			UNION SELECT i.parent_id FROM up JOIN items i ON i.id = up.parent_id JOIN visit_folders f ON f.item_id = i.id AND f.visit_id = $1)
		SELECT EXISTS (SELECT 1 FROM up JOIN link_items l ON l.item_id = up.parent_id AND l.link_id = $2)`, v.ID, v.LinkID, folder)
}

// ReceivedFrom lists what came in from a visit, and, where its address is known
// for certain, from all visits of that address.
func ReceivedFrom(ctx context.Context, q postgres.Q, v Visit) (all []Received, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT r.* FROM link_received r JOIN visits v ON v.id = r.visit_id
		WHERE `+fromVisit+`
		ORDER BY r.at, r.item_id`,
		v.LinkID, v.ID, certain(v))
}

// receivedItem finds what came in from a visit, or from the address it certainly has.
func receivedItem(ctx context.Context, q postgres.Q, v Visit, item uuid.UUID) (r Received, err error) {
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT r.* FROM link_received r JOIN visits v ON v.id = r.visit_id
		WHERE r.item_id = $4 AND `+fromVisit, v.LinkID, v.ID, certain(v), item))
}

// fromVisit is the condition that what was received through link $1 came in from visit $2,
// or from others of the address $3, where that is known for certain.
const fromVisit = `r.link_id = $1 AND (r.visit_id = $2 OR $3 <> '' AND lower(v.email) = lower($3) AND v.known IN ('confirmed', 'signed-in'))`

// takenUp reports whether somebody has worked with what came in: made a version of it, or
// given it to somebody.
func takenUp(ctx context.Context, q postgres.Q, item uuid.UUID) (used bool, err error) {
	return used, q.GetContext(ctx, &used, `SELECT EXISTS (SELECT 1 FROM versions WHERE item_id = $1 AND number > 1) OR EXISTS (SELECT 1 FROM grants WHERE item_id = $1)
		OR EXISTS (SELECT 1 FROM link_items WHERE item_id = $1) OR EXISTS (SELECT 1 FROM link_versions WHERE item_id = $1)`, item)
}

// handOver notes that what came in was handed in.
func handOver(ctx context.Context, q postgres.Q, received []Received, now time.Time) error {
	ids := make([]uuid.UUID, len(received))
	for i, r := range received {
		ids[i] = r.ItemID
	}
	return postgres.Exec(ctx, q, `UPDATE link_received SET handed_at = $2 WHERE item_id = ANY($1::uuid[]) AND handed_at IS NULL`, postgres.IDs(ids), now)
}

// dropReceived forgets that something came in.
func dropReceived(ctx context.Context, q postgres.Q, link, item uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM link_received WHERE link_id = $1 AND item_id = $2`, link, item)
}

// TallyComing counts what was announced through a link and is still on its way: what
// nothing was heard of for a while no longer counts.
func TallyComing(ctx context.Context, q postgres.Q, link uuid.UUID, now time.Time) (t intake.Tally, err error) {
	var row struct {
		Files int   `db:"files"`
		Bytes int64 `db:"bytes"`
	}
	err = q.GetContext(ctx, &row, `SELECT count(*) AS files, coalesce(sum(u.size), 0)::bigint AS bytes FROM uploads u JOIN visits v ON v.id = u.visit_id
		WHERE v.link_id = $1 AND u.outcome = '' AND `+uploads.UnderWay("u", "$2"), link, now)
	return intake.Tally{Files: row.Files, Bytes: row.Bytes}, err
}

// TallyReceived counts what came in through a link.
func TallyReceived(ctx context.Context, q postgres.Q, link uuid.UUID) (t intake.Tally, err error) {
	var row struct {
		Files int   `db:"files"`
		Bytes int64 `db:"bytes"`
	}
	err = q.GetContext(ctx, &row, `SELECT count(*) AS files, coalesce(sum(size), 0)::bigint AS bytes FROM link_received WHERE link_id = $1`, link)
	return intake.Tally{Files: row.Files, Bytes: row.Bytes}, err
}

// CompleteUploads lists the uploads of a visit that have arrived whole and have
// not become anything yet.
func CompleteUploads(ctx context.Context, q postgres.Q, visit uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM uploads WHERE visit_id = $1 AND outcome = '' AND received = size`, visit)
}

// SignVisit notes what a visitor calls themselves and writes.
func SignVisit(ctx context.Context, q postgres.Q, visit uuid.UUID, name, note string) error {
	return postgres.ExecOne(ctx, q, `UPDATE visits SET name = $2, note = $3 WHERE id = $1`, visit, name, note)
}

// Happening is how often something happened through a link.
type Happening struct {
	Kind string `db:"kind"`
	N    int    `db:"n"`
}

// HappenedSince counts what visitors did through a link, by kind.
func HappenedSince(ctx context.Context, q postgres.Q, link uuid.UUID, since time.Time) (all []Happening, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT kind, count(*) AS n FROM events WHERE link_id = $1 AND outside AND at > $2 GROUP BY kind
		ORDER BY kind`, link, since)
}

// DailyLinks lists the links of whose day the sender was last told before.
func DailyLinks(ctx context.Context, q postgres.Q, before time.Time) (all []links.Link, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM links WHERE tell = 'daily' AND coalesce(told_at, created_at) < $1
		AND (last_opened_at > coalesce(told_at, created_at) OR last_opened_at > $1) ORDER BY id`, before)
}

// NoteTold notes that the sender was told of a day.
func NoteTold(ctx context.Context, q postgres.Q, link uuid.UUID, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE links SET told_at = $2 WHERE id = $1`, link, now)
}

// certain is a visitor's address where they have shown that it is theirs.
func certain(v Visit) string {
	if v.Known == "confirmed" || v.Known == "signed-in" {
		return v.Email
	}
	return ""
}
