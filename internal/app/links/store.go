package links

import (
	"context"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// MoveLinks lets the links of which everything that was chosen has been moved
// belong to the dossier where it is now.
func MoveLinks(ctx context.Context, q postgres.Q, dossier uuid.UUID) error {
	return postgres.Exec(ctx, q, `UPDATE links l SET dossier_id = $1 WHERE l.id IN (SELECT link_id FROM link_items c JOIN items i ON i.id = c.item_id
		WHERE i.dossier_id = $1) AND l.dossier_id <> $1
		AND NOT EXISTS (SELECT 1 FROM link_items c JOIN items i ON i.id = c.item_id WHERE c.link_id = l.id AND i.dossier_id <> $1)`, dossier)
}

// TornLinks names the open links that give things of two dossiers, one of them
// this one.
func TornLinks(ctx context.Context, q postgres.Q, dossier uuid.UUID, now time.Time) (names []string, err error) {
	return names, q.SelectContext(ctx, &names, `SELECT l.name FROM links l WHERE (l.dossier_id = $1 OR EXISTS (SELECT 1 FROM link_items c
		JOIN items i ON i.id = c.item_id WHERE c.link_id = l.id AND i.dossier_id = $1)) AND `+guard.Living("l", "$2")+`
		AND EXISTS (SELECT 1 FROM link_items c JOIN items i ON i.id = c.item_id WHERE c.link_id = l.id AND i.dossier_id <> l.dossier_id)`, dossier, now)
}

// NewestOn counts the open links that always give what is newest in one of the
// folders.
func NewestOn(ctx context.Context, q postgres.Q, folders []uuid.UUID, now time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(DISTINCT l.id) FROM link_items c JOIN links l ON l.id = c.link_id WHERE l.newest
		AND c.item_id = ANY($1::uuid[]) AND `+guard.Living("l", "$2"), postgres.IDs(folders), now)
}

// Link is a secure link: its terms, and what became of it.
type Link struct {
	ID          uuid.UUID `db:"id"`
	Name        string    `db:"name"`
	TokenSHA256 []byte    `db:"token_sha256"`
	TokenSealed []byte    `db:"token_sealed"`
	DossierID   uuid.UUID `db:"dossier_id"`
	CreatedBy   uuid.UUID `db:"created_by"`
	CreatedAt   time.Time `db:"created_at"`
	linkgate.Terms
	PasswordHash string `db:"password_hash"`
	Language     string `db:"language"`
	Message      string `db:"message"`
	// Openings and Downloads are how many there were.
	Openings     int        `db:"openings"`
	Downloads    int        `db:"downloads"`
	LastOpenedAt *time.Time `db:"last_opened_at"`
	EndedAt      *time.Time `db:"ended_at"`
	EndedBy      *uuid.UUID `db:"ended_by"`
	RemindedAt   *time.Time `db:"reminded_at"`
	// ToldAt is when the sender was last told of a day.
	ToldAt *time.Time `db:"told_at"`
}

// Gate returns what the gate decides by.
func (l Link) Gate() (linkgate.Terms, linkgate.Use) {
	t := l.Terms
	t.Password = l.PasswordHash != ""
	return t, linkgate.Use{Openings: l.Openings, Downloads: l.Downloads, Ended: l.EndedAt != nil}
}

var (
	// termColumns are what a link's terms are kept in, madeColumns what else is written
	// of a new one.
	termColumns = append(postgres.Columns[linkgate.Terms](), "password_hash")
	madeColumns = append([]string{"id", "name", "token_sha256", "token_sealed", "dossier_id", "created_by", "created_at", "language", "message"}, termColumns...)
)

// kept is a link as it is kept.
func kept(l Link) Link {
	l.Allowed, l.Endings = l.Allowed.Kept(), l.Endings.Kept()
	return l
}

// AddLink adds a link with what was chosen.
func AddLink(ctx context.Context, q postgres.Q, l Link, items []uuid.UUID) error {
	_, err := sqlx.NamedExecContext(ctx, q, `INSERT INTO links (`+strings.Join(madeColumns, ", ")+`) VALUES (`+postgres.Named(madeColumns)+`)`, kept(l))
	if err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `INSERT INTO link_items (link_id, item_id, position) SELECT $1, item, n FROM unnest($2::uuid[]) WITH ORDINALITY AS c(item, n)`,
		l.ID, postgres.IDs(items))
}

// PinVersions notes the counting versions of documents as those the link gives.
func PinVersions(ctx context.Context, q postgres.Q, link uuid.UUID, documents []uuid.UUID) error {
	return postgres.Exec(ctx, q, `INSERT INTO link_versions (link_id, item_id, version) SELECT $1, id, version FROM items WHERE id = ANY($2::uuid[])`,
		link, postgres.IDs(documents))
}

// LinkByID finds a link.
func LinkByID(ctx context.Context, q postgres.Q, id uuid.UUID) (l Link, err error) {
	return l, postgres.Found(q.GetContext(ctx, &l, `SELECT * FROM links WHERE id = $1`, id))
}

// LinkByToken finds a link by the hash of its token. With lock it holds the
// row, so that openings and downloads are counted one after another.
func LinkByToken(ctx context.Context, q postgres.Q, tokenSHA256 []byte, lock bool) (l Link, err error) {
	l, err = linkBy(ctx, q, `l.token_sha256 = $1`, tokenSHA256, lock)
	if fault.Is(err, fault.NotFound) {
		// Somebody's own copy.
		l, err = linkBy(ctx, q, `l.id = (SELECT link_id FROM link_mails WHERE token_sha256 = $1)`, tokenSHA256, lock)
	}
	return l, err
}

// LinkBySlug finds a link by its readable address, like LinkByToken.
func LinkBySlug(ctx context.Context, q postgres.Q, slug string, lock bool) (l Link, err error) {
	return linkBy(ctx, q, `l.slug = $1`, slug, lock)
}

func linkBy(ctx context.Context, q postgres.Q, where string, key any, lock bool) (l Link, err error) {
	query := `SELECT l.* FROM links l WHERE ` + where + ` AND ` + guard.Leads("l")
	if lock {
		query += ` FOR NO KEY UPDATE`
	}
	return l, postgres.Found(q.GetContext(ctx, &l, query, key))
}

// LockLink finds a link and holds its row.
func LockLink(ctx context.Context, q postgres.Q, id uuid.UUID) (l Link, err error) {
	return l, postgres.Found(q.GetContext(ctx, &l, `SELECT * FROM links WHERE id = $1 FOR NO KEY UPDATE`, id))
}

// ChangeLink changes a link's terms.
func ChangeLink(ctx context.Context, q postgres.Q, l Link) error {
	_, err := sqlx.NamedExecContext(ctx, q, `UPDATE links SET name = :name, `+postgres.Set(termColumns)+` WHERE id = :id`, kept(l))
	return err
}

// AllowOpening raises the limit by one.
func AllowOpening(ctx context.Context, q postgres.Q, link uuid.UUID) error {
	return postgres.Exec(ctx, q, `UPDATE links SET openings_limit = openings_limit + 1 WHERE id = $1`, link)
}

// EndLink ends a link and reports whether it had not ended before.
func EndLink(ctx context.Context, q postgres.Q, link, by uuid.UUID, now time.Time) (bool, error) {
	return postgres.Touches(ctx, q, `UPDATE links SET ended_at = $3, ended_by = $2 WHERE id = $1 AND ended_at IS NULL`, link, by, now)
}

// ReopenLink takes back that a link has ended.
func ReopenLink(ctx context.Context, q postgres.Q, link uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `UPDATE links SET ended_at = NULL, ended_by = NULL WHERE id = $1`, link)
}

// AddLinkMail notes to whom a link was mailed, and the token of their copy.
// The token of whoever was sent it before stays good.
func AddLinkMail(ctx context.Context, q postgres.Q, m LinkMail) (kept LinkMail, err error) {
	return kept, q.GetContext(ctx, &kept, `INSERT INTO link_mails (link_id, address, at, token_sha256, token_sealed) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (link_id, address) DO UPDATE
		SET at = $3, token_sha256 = coalesce(link_mails.token_sha256, $4), token_sealed = coalesce(link_mails.token_sealed, $5) RETURNING *`,
		m.LinkID, m.Address, m.At, m.TokenSHA256, m.TokenSealed)
}

// SetMessage keeps what is said with a link.
func SetMessage(ctx context.Context, q postgres.Q, link uuid.UUID, message string) error {
	return postgres.ExecOne(ctx, q, `UPDATE links SET message = $2 WHERE id = $1`, link, message)
}

// MailsOf lists the mails by which a link went out.
func MailsOf(ctx context.Context, q postgres.Q, link uuid.UUID) (all []LinkMail, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM link_mails WHERE link_id = $1 ORDER BY at, address`, link)
}

// ListedLink is a link as lists show it.
type ListedLink struct {
	Link
	DossierCode string `db:"dossier_code"`
	By          string `db:"by_name"`
	SentTo      string `db:"sent_to"`
	// LastBy is who opened it last, as far as known.
	LastBy string `db:"last_by"`
	// ReceivedFiles came in through it.
	ReceivedFiles int `db:"received_files"`
}

const listedLink = `SELECT l.*, d.code AS dossier_code, p.name AS by_name,
	coalesce((SELECT string_agg(m.address, ' ' ORDER BY m.at, m.address) FROM link_mails m WHERE m.link_id = l.id), '') AS sent_to,
	coalesce((SELECT coalesce(nullif(v.email, ''), v.sent_to) FROM visits v WHERE v.link_id = l.id ORDER BY v.opened_at DESC LIMIT 1), '') AS last_by,
	(SELECT count(*) FROM link_received r WHERE r.link_id = l.id) AS received_files
	FROM links l JOIN dossiers d ON d.id = l.dossier_id JOIN people p ON p.id = l.created_by `

// LinksOf lists the links that may be seen, of one dossier and made by one
// person unless those are nil: the living ones ending soonest first, or those that are over, last ended first.
func LinksOf(ctx context.Context, q postgres.Q, r guard.Readable, dossier, by uuid.UUID, over bool, now time.Time, limit int) (all []ListedLink, err error) {
	where, order := guard.Living("l", "$2"), `l.until NULLS LAST, l.created_at DESC`
	if over {
		where, order = "NOT "+where, `coalesce(l.ended_at, l.until, l.last_opened_at) DESC, l.id`
	}
	of := r.Dossiers
	if dossier != uuid.Nil {
		of = postgres.IDs([]uuid.UUID{dossier})
	}
	return all, q.SelectContext(ctx, &all, listedLink+`WHERE l.dossier_id = ANY($1::uuid[]) AND `+where+` AND ($7::uuid = '`+uuid.Nil.String()+`' OR l.created_by = $7) AND (`+guard.SumOfStamps+`) = $4 AND `+r.LinkWithin("l", 5)+` ORDER BY `+order+` LIMIT $3`,
		of, now, limit, r.Sum, r.Zones, r.Roots, by)
}

// CountLinks counts the open links that may be seen.
func CountLinks(ctx context.Context, q postgres.Q, r guard.Readable, now time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM links l WHERE l.dossier_id = ANY($1::uuid[]) AND `+guard.Living("l", "$2")+` AND `+r.LinkWithin("l", 3), r.Dossiers, now, r.Zones, r.Roots)
}

// ListedLinkByID finds a link as lists show it.
func ListedLinkByID(ctx context.Context, q postgres.Q, id uuid.UUID) (l ListedLink, err error) {
	return l, postgres.Found(q.GetContext(ctx, &l, listedLink+`WHERE l.id = $1`, id))
}

// LinksReaching lists the links that give an item, chosen itself or through
// one of the folders on its path, and of which all may be seen; open ones first.
func LinksReaching(ctx context.Context, q postgres.Q, r guard.Readable, item uuid.UUID, path []uuid.UUID, folder bool, now time.Time, limit int) (all []ListedLink, err error) {
	return all, q.SelectContext(ctx, &all, listedLink+`WHERE l.id IN (SELECT link_id FROM link_items WHERE item_id = ANY($1::uuid[]))
		AND (l.newest OR $5 OR EXISTS (SELECT 1 FROM link_versions v WHERE v.link_id = l.id AND v.item_id = $2))
		AND `+r.LinkWithin("l", 6)+` ORDER BY `+guard.Living("l", "$3")+` DESC, l.created_at DESC LIMIT $4`, postgres.IDs(path), item, now, limit, folder, r.Zones, r.Roots)
}

// LivingLinkItem is an item chosen in a link that is open.
type LivingLinkItem struct {
	LinkID uuid.UUID `db:"link_id"`
	ItemID uuid.UUID `db:"item_id"`
	Newest bool      `db:"newest"`
}

// LivingOn returns which of the items are chosen in open links.
func LivingOn(ctx context.Context, q postgres.Q, items []uuid.UUID, now time.Time) (all []LivingLinkItem, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT c.link_id, c.item_id, l.newest FROM link_items c JOIN links l ON l.id = c.link_id
		WHERE c.item_id = ANY($1::uuid[]) AND `+guard.Giving("l", "$2"), postgres.IDs(items), now)
}

// LivingLinkCounts counts for each of the documents the open links that give
// it, chosen itself or through a folder on the path from the dossier's top to
// the folder it lies in.
func LivingLinkCounts(ctx context.Context, q postgres.Q, folderPath, documents []uuid.UUID, now time.Time) (map[uuid.UUID]int, error) {
	var rows []struct {
		ItemID uuid.UUID `db:"item_id"`
		N      int       `db:"n"`
	}
	err := q.SelectContext(ctx, &rows, `WITH through AS (
			SELECT DISTINCT l.id, l.newest FROM link_items c JOIN links l ON l.id = c.link_id WHERE c.item_id = ANY($1::uuid[]) AND `+guard.Living("l", "$3")+`)
		SELECT item_id, count(DISTINCT link_id) AS n FROM (
			SELECT c.item_id, c.link_id FROM link_items c JOIN links l ON l.id = c.link_id WHERE c.item_id = ANY($2::uuid[]) AND `+guard.Living("l", "$3")+`
			UNION ALL SELECT v.item_id, v.link_id FROM link_versions v JOIN through t ON t.id = v.link_id WHERE v.item_id = ANY($2::uuid[])
			UNION ALL SELECT d.id, t.id FROM through t, unnest($2::uuid[]) AS d(id) WHERE t.newest) reached
		GROUP BY item_id`, postgres.IDs(folderPath), postgres.IDs(documents), now)
	counts := make(map[uuid.UUID]int, len(rows))
	for _, r := range rows {
		counts[r.ItemID] = r.N
	}
	return counts, err
}

// reachedIn is LivingLinkCounts for all documents of a folder: those that links give by
// themselves or noted when they were made, and whether one gives whatever lies there.
func reachedIn(ctx context.Context, q postgres.Q, folder uuid.UUID, path []uuid.UUID, now time.Time) (documents []uuid.UUID, all bool, err error) {
	err = q.GetContext(ctx, &all, `SELECT EXISTS (SELECT 1 FROM link_items c JOIN links l ON l.id = c.link_id WHERE c.item_id = ANY($1::uuid[]) AND l.newest AND `+guard.Giving("l", "$2")+`)`, postgres.IDs(path), now)
	if err != nil {
		return nil, false, err
	}
	return documents, all, q.SelectContext(ctx, &documents, `SELECT i.id FROM items i JOIN link_items c ON c.item_id = i.id JOIN links l ON l.id = c.link_id WHERE i.parent_id = $1 AND `+guard.Giving("l", "$3")+`
		UNION SELECT i.id FROM link_items c JOIN links l ON l.id = c.link_id JOIN link_versions v ON v.link_id = l.id JOIN items i ON i.id = v.item_id WHERE c.item_id = ANY($2::uuid[]) AND i.parent_id = $1 AND `+guard.Giving("l", "$3"),
		folder, postgres.IDs(path), now)
}

func reachedDocuments(ctx context.Context, q postgres.Q, now time.Time) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT i.id FROM link_items c JOIN links l ON l.id = c.link_id JOIN items i ON i.id = c.item_id WHERE i.kind = 'document' AND `+guard.Giving("l", "$1")+`
		UNION SELECT v.item_id FROM link_versions v JOIN links l ON l.id = v.link_id WHERE `+guard.Giving("l", "$1"), now)
}

func reachedScopes(ctx context.Context, q postgres.Q, now time.Time) (numbers []int, err error) {
	return numbers, q.SelectContext(ctx, &numbers, `WITH RECURSIVE down AS (
			SELECT DISTINCT s.id, s.zone_id FROM link_items c JOIN links l ON l.id = c.link_id JOIN items i ON i.id = c.item_id JOIN scopes s ON s.id = i.id WHERE i.kind = 'folder' AND l.newest AND `+guard.Giving("l", "$1")+`
			UNION SELECT s.id, s.zone_id FROM down JOIN scopes s ON s.parent_id = down.id AND s.zone_id = down.zone_id)
		SELECT s.no FROM down JOIN scopes s ON s.id = down.id`, now)
}

// MakersOfNewest returns who made the open links that always give what is newest
// in one of the items.
func MakersOfNewest(ctx context.Context, q postgres.Q, items []uuid.UUID, now time.Time) (people []uuid.UUID, err error) {
	return people, q.SelectContext(ctx, &people, `SELECT DISTINCT l.created_by FROM link_items c JOIN links l ON l.id = c.link_id
		WHERE l.newest AND c.item_id = ANY($1::uuid[]) AND `+guard.Giving("l", "$2"), postgres.IDs(items), now)
}

// LinkMail is a mail by which a link went out, with the token of its copy.
type LinkMail struct {
	LinkID      uuid.UUID `db:"link_id"`
	Address     string    `db:"address"`
	At          time.Time `db:"at"`
	TokenSHA256 []byte    `db:"token_sha256"`
	TokenSealed []byte    `db:"token_sealed"`
}
