package store

import (
	"context"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/intake"
)

// SlugIndex is violated by a second link with a readable address.
const SlugIndex = "links_slug_key"

// Limits is what an intake takes.
func (l Link) Limits() intake.Limits {
	return intake.Limits{Files: l.IntakeFiles, Bytes: l.IntakeBytes, Endings: strings.Fields(l.IntakeEndings)}
}

// ExpectPapers notes the papers that an intake waits for.
func ExpectPapers(ctx context.Context, q Q, link uuid.UUID, papers []string) error {
	return exec(ctx, q, `INSERT INTO link_expected (link_id, position, name) SELECT $1, n - 1, name
		FROM unnest($2::text[]) WITH ORDINALITY AS p(name, n)`, link, papers)
}

// ExpectedPaper is a paper that an intake waits for, and whether it is here.
type ExpectedPaper struct {
	LinkID   uuid.UUID `db:"link_id"`
	Position int       `db:"position"`
	Name     string    `db:"name"`
	Here     bool      `db:"here"`
}

// ExpectedPapers lists the papers that links wait for.
func ExpectedPapers(ctx context.Context, q Q, links []uuid.UUID) (all []ExpectedPaper, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT e.*, EXISTS (SELECT 1 FROM link_received r WHERE r.link_id = e.link_id
		AND r.paper = e.position) AS here
		FROM link_expected e WHERE e.link_id = ANY($1::uuid[]) ORDER BY e.link_id, e.position`, IDs(links))
}

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
}

// AddReceived notes a file that came in.
func AddReceived(ctx context.Context, q Q, r Received) error {
	return exec(ctx, q, `INSERT INTO link_received (link_id, item_id, visit_id, paper, name, sha256, size, at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		r.LinkID, r.ItemID, r.VisitID, r.Paper, r.Name, r.SHA256, r.Size, r.At)
}

// ReceivedFrom lists what came in from a visit, and, where its address is known
// for certain, from all visits of that address.
func ReceivedFrom(ctx context.Context, q Q, v Visit) (all []Received, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT r.* FROM link_received r JOIN visits v ON v.id = r.visit_id
		WHERE r.link_id = $1 AND (r.visit_id = $2 OR $3 <> '' AND lower(v.email) = lower($3) AND v.known IN ('confirmed', 'signed-in'))
		ORDER BY r.at, r.item_id`,
		v.LinkID, v.ID, certain(v))
}

func certain(v Visit) string {
	if v.Known == "confirmed" || v.Known == "signed-in" {
		return v.Email
	}
	return ""
}

// Announced counts what was announced through a link and is still on its way: what
// nothing was heard of for a while no longer counts.
func Announced(ctx context.Context, q Q, link uuid.UUID, now time.Time) (t intake.Tally, err error) {
	var row struct {
		Files int   `db:"files"`
		Bytes int64 `db:"bytes"`
	}
	err = q.GetContext(ctx, &row, `SELECT count(*) AS files, coalesce(sum(u.size), 0)::bigint AS bytes FROM uploads u JOIN visits v ON v.id = u.visit_id
		WHERE v.link_id = $1 AND u.outcome = '' AND `+underWay("u", "$2"), link, now)
	return intake.Tally{Files: row.Files, Bytes: row.Bytes}, err
}

// underWay is the condition under which a visitor's upload u counts at a moment: it
// has begun to arrive, or was announced just now.
func underWay(u, now string) string {
	return "(" + u + ".received > 0 AND " + u + ".touched_at > " + now + "::timestamptz - interval '2 hours' OR " + u + ".created_at > " + now + "::timestamptz - interval '10 minutes')"
}

// TallyOf counts what came in through a link.
func TallyOf(ctx context.Context, q Q, link uuid.UUID) (t intake.Tally, err error) {
	var row struct {
		Files int   `db:"files"`
		Bytes int64 `db:"bytes"`
	}
	err = q.GetContext(ctx, &row, `SELECT count(*) AS files, coalesce(sum(size), 0)::bigint AS bytes FROM link_received WHERE link_id = $1`, link)
	return intake.Tally{Files: row.Files, Bytes: row.Bytes}, err
}

// CompleteUploads lists the uploads of a visit that have arrived whole and have
// not become anything yet.
func CompleteUploads(ctx context.Context, q Q, visit uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM uploads WHERE visit_id = $1 AND outcome = '' AND received = size`, visit)
}

// SignVisit notes what a visitor calls themselves and writes.
func SignVisit(ctx context.Context, q Q, visit uuid.UUID, name, note string) error {
	return execOne(ctx, q, `UPDATE visits SET name = $2, note = $3 WHERE id = $1`, visit, name, note)
}

// WaitingLinks lists the open links that wait for papers.
func WaitingLinks(ctx context.Context, q Q, now time.Time) (all []Link, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT l.* FROM links l WHERE `+living("l", "$1")+` AND EXISTS (SELECT 1 FROM link_expected e
		WHERE e.link_id = l.id
		AND NOT EXISTS (SELECT 1 FROM link_received r WHERE r.link_id = l.id AND r.paper = e.position)) ORDER BY l.id`, now)
}

// LinkMail is a mail by which a link went out, with the token of its copy.
type LinkMail struct {
	LinkID      uuid.UUID `db:"link_id"`
	Address     string    `db:"address"`
	At          time.Time `db:"at"`
	TokenSHA256 []byte    `db:"token_sha256"`
	TokenSealed []byte    `db:"token_sealed"`
}

// Happening is how often something happened through a link.
type Happening struct {
	Kind string `db:"kind"`
	N    int    `db:"n"`
}

// HappenedSince counts what visitors did through a link, by kind.
func HappenedSince(ctx context.Context, q Q, link uuid.UUID, since time.Time) (all []Happening, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT kind, count(*) AS n FROM events WHERE link_id = $1 AND outside AND at > $2 GROUP BY kind
		ORDER BY kind`, link, since)
}

// DailyLinks lists the links of whose day the sender was last told before.
func DailyLinks(ctx context.Context, q Q, before time.Time) (all []Link, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM links WHERE tell = 'daily' AND coalesce(told_at, created_at) < $1
		AND (last_opened_at > coalesce(told_at, created_at) OR last_opened_at > $1) ORDER BY id`, before)
}

// ToldOf notes that the sender was told of a day.
func ToldOf(ctx context.Context, q Q, link uuid.UUID, now time.Time) error {
	return execOne(ctx, q, `UPDATE links SET told_at = $2 WHERE id = $1`, link, now)
}

// Reminded notes when the last reminder went out.
func Reminded(ctx context.Context, q Q, link uuid.UUID, now time.Time) error {
	return execOne(ctx, q, `UPDATE links SET reminded_at = $2 WHERE id = $1`, link, now)
}
