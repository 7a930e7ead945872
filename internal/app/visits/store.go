package visits

import (
	"context"
	"time"

	guard "tabularis/internal/app/access"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/app/links"
	"tabularis/internal/platform/postgres"
)

// CopyFor returns to whom a copy of a link was sent, by the hash of its token;
// nothing for the link itself.
func CopyFor(ctx context.Context, q postgres.Q, link uuid.UUID, tokenSHA256 []byte) (address string, err error) {
	return address, q.GetContext(ctx, &address, `SELECT coalesce((SELECT address FROM link_mails WHERE link_id = $1 AND token_sha256 = $2), '')`,
		link, tokenSHA256)
}

// CountOpening counts one opening.
func CountOpening(ctx context.Context, q postgres.Q, link uuid.UUID, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE links SET openings = openings + 1, last_opened_at = $2 WHERE id = $1`, link, now)
}

// CountDownload counts one download.
func CountDownload(ctx context.Context, q postgres.Q, link uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `UPDATE links SET downloads = downloads + 1 WHERE id = $1`, link)
}

// PinnedVersions returns which version of which document a link gives: also one that was
// kept apart since, but none that was removed.
func PinnedVersions(ctx context.Context, q postgres.Q, link uuid.UUID) ([]items.Version, error) {
	var all []items.Version
	return all, q.SelectContext(ctx, &all, `SELECT v.* FROM link_versions p JOIN versions v ON v.item_id = p.item_id AND v.number = p.version AND (v.removed_at IS NULL OR v.moved_to IS NOT NULL)
		WHERE p.link_id = $1`, link)
}

// PinnedVersion returns which version of a document a link gives (fault.NotFound where
// it gives none).
func PinnedVersion(ctx context.Context, q postgres.Q, link, item uuid.UUID) (v items.Version, err error) {
	return v, postgres.Found(q.GetContext(ctx, &v, `SELECT v.* FROM link_versions p JOIN versions v ON v.item_id = p.item_id AND v.number = p.version AND (v.removed_at IS NULL OR v.moved_to IS NOT NULL)
		WHERE p.link_id = $1 AND p.item_id = $2`, link, item))
}

// Visit is one visitor's session with a link that was opened.
type Visit struct {
	ID          uuid.UUID `db:"id"`
	LinkID      uuid.UUID `db:"link_id"`
	TokenSHA256 []byte    `db:"token_sha256"`
	OpenedAt    time.Time `db:"opened_at"`
	Network     string    `db:"network"`
	Agent       string    `db:"agent"`
	// Email is the visitor's address as far as it is known, Known how surely.
	Email string `db:"email"`
	Known string `db:"known"`
	// Name is what a visitor calls themselves, Note what they wrote with their
	// papers.
	Name string `db:"name"`
	Note string `db:"note"`
	// SentTo is to whom the copy of the link was sent by which they came.
	SentTo string `db:"sent_to"`
}

// AddVisit adds a visit.
func AddVisit(ctx context.Context, q postgres.Q, v Visit) error {
	return postgres.Exec(ctx, q, `INSERT INTO visits (id, link_id, token_sha256, opened_at, network, agent, email, known, sent_to)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`, v.ID, v.LinkID, v.TokenSHA256, v.OpenedAt, v.Network, v.Agent, v.Email, v.Known, v.SentTo)
}

// VisitByToken finds a visit of the link that was opened after since.
func VisitByToken(ctx context.Context, q postgres.Q, link uuid.UUID, tokenSHA256 []byte, since time.Time) (v Visit, err error) {
	return v, postgres.Found(q.GetContext(ctx, &v, `SELECT * FROM visits WHERE link_id = $1 AND token_sha256 = $2 AND opened_at > $3`, link, tokenSHA256, since))
}

// VisitByID finds a visit, also one that is over (fault.NotFound).
func VisitByID(ctx context.Context, q postgres.Q, id uuid.UUID) (v Visit, err error) {
	return v, postgres.Found(q.GetContext(ctx, &v, `SELECT * FROM visits WHERE id = $1`, id))
}

// CallVisit notes by what name a visitor goes.
func CallVisit(ctx context.Context, q postgres.Q, visit uuid.UUID, name string) error {
	return postgres.ExecOne(ctx, q, `UPDATE visits SET name = $2 WHERE id = $1`, visit, name)
}

// Letterhead is who stands above a link: the practice and whoever gives it out.
type Letterhead struct {
	Practice string `db:"practice"`
	Tagline  string `db:"tagline"`
	Sender   string `db:"sender"`
}

// LetterheadOf returns what stands above a link of a person.
func LetterheadOf(ctx context.Context, q postgres.Q, sender uuid.UUID) (l Letterhead, err error) {
	return l, postgres.Found(q.GetContext(ctx, &l, `SELECT practice.name AS practice, practice.tagline, people.name AS sender FROM practice, people
		WHERE people.id = $1`, sender))
}

// FrontByToken finds what stands in front of a link by the hash of its token, in
// one statement, since fronts are fetched by the hundred when a mail goes to
// many: what the link is decided by, and what stands above it. Nothing else of
// the link is filled in. It goes past sqlx to the driver.
func FrontByToken(ctx context.Context, db *postgres.DB, tokenSHA256 []byte) (l links.Link, h Letterhead, err error) {
	err = db.Pool.QueryRow(ctx, `SELECT l.id, l.kind, l.not_before, l.until, l.openings_limit, l.openings, l.downloads_limit, l.downloads, l.password_hash, l.may_download, l.language, l.ended_at, l.identify, l.allowed,
			practice.name, practice.tagline, people.name
		FROM links l JOIN people ON people.id = l.created_by CROSS JOIN practice WHERE l.token_sha256 = $1 AND `+guard.Leads("l"), tokenSHA256).
		Scan(&l.ID, &l.Kind, &l.NotBefore, &l.Until, &l.Terms.Openings, &l.Openings, &l.Terms.Downloads, &l.Downloads, &l.PasswordHash, &l.MayDownload, &l.Language, &l.EndedAt, &l.Identify, (*[]string)(&l.Allowed),
			&h.Practice, &h.Tagline, &h.Sender)
	return l, h, postgres.Found(err)
}

// HasNoted reports whether an act of a visit was noted.
func HasNoted(ctx context.Context, q postgres.Q, visit uuid.UUID, act string, item uuid.UUID, version int) (noted bool, err error) {
	return noted, q.GetContext(ctx, &noted, `SELECT EXISTS (SELECT 1 FROM visit_acts WHERE visit_id = $1 AND act = $2 AND item_id = $3
		AND version = $4)`, visit, act, item, version)
}

// FirstTime notes an act of a visit and reports whether it was the first of its
// kind on that version.
func FirstTime(ctx context.Context, q postgres.Q, visit uuid.UUID, act string, item uuid.UUID, version int) (bool, error) {
	return postgres.Touches(ctx, q, `INSERT INTO visit_acts (visit_id, act, item_id, version) VALUES ($1, $2, $3, $4) ON CONFLICT DO NOTHING`,
		visit, act, item, version)
}

// LinkCode is the code that an address was sent last for a link.
type LinkCode struct {
	LinkID   uuid.UUID `db:"link_id"`
	EmailKey string    `db:"email_key"`
	SHA256   []byte    `db:"code_sha256"`
	MadeAt   time.Time `db:"made_at"`
	Tries    int       `db:"tries"`
}

// PutLinkCode notes a code; the one before is no longer good.
func PutLinkCode(ctx context.Context, q postgres.Q, c LinkCode) error {
	return postgres.Exec(ctx, q, `INSERT INTO link_codes (link_id, email_key, code_sha256, made_at) VALUES ($1, $2, $3, $4)
		ON CONFLICT (link_id, email_key) DO UPDATE SET code_sha256 = $3, made_at = $4, tries = 0`, c.LinkID, c.EmailKey, c.SHA256, c.MadeAt)
}

// TryLinkCode counts a try and returns the code as it was before.
func TryLinkCode(ctx context.Context, q postgres.Q, link uuid.UUID, emailKey string) (c LinkCode, err error) {
	return c, postgres.Found(q.GetContext(ctx, &c, `UPDATE link_codes SET tries = tries + 1 WHERE link_id = $1 AND email_key = $2
		RETURNING link_id, email_key, code_sha256, made_at, tries - 1 AS tries`, link, emailKey))
}

// UseLinkCode uses a code up, and reports whether it still was there.
func UseLinkCode(ctx context.Context, q postgres.Q, link uuid.UUID, emailKey string, sha256 []byte) (bool, error) {
	return postgres.Touches(ctx, q, `DELETE FROM link_codes WHERE link_id = $1 AND email_key = $2 AND code_sha256 = $3`, link, emailKey, sha256)
}

// forgetVisits removes visits that were opened before a moment, with what they looked
// at, unless something came in by them.
func forgetVisits(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `WITH old AS (SELECT v.id FROM visits v WHERE v.opened_at < $1
			AND NOT EXISTS (SELECT 1 FROM link_received r WHERE r.visit_id = v.id) AND NOT EXISTS (SELECT 1 FROM uploads u WHERE u.visit_id = v.id)),
		acts AS (DELETE FROM visit_acts WHERE visit_id IN (SELECT id FROM old)),
		looks AS (DELETE FROM visit_looks WHERE visit_id IN (SELECT id FROM old))
		DELETE FROM visits WHERE id IN (SELECT id FROM old)`, before)
}

// forgetCodes removes codes that were made before a moment.
func forgetCodes(ctx context.Context, q postgres.Q, before time.Time) error {
	return postgres.Exec(ctx, q, `DELETE FROM link_codes WHERE made_at < $1`, before)
}
