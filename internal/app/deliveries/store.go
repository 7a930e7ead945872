package deliveries

import (
	"context"
	"time"

	"github.com/google/uuid"

	rules "tabularis/core/deliveries"
	"tabularis/core/items"
	"tabularis/core/linkgate"
	"tabularis/internal/app/uploads"
	"tabularis/internal/platform/postgres"
)

// Row is an address beside the link behind it.
type Row struct {
	LinkID   uuid.UUID `db:"link_id"`
	PersonID uuid.UUID `db:"person_id"`
	Slug     string    `db:"slug"`
	// Recipient is the public key for which senders seal what they send, if there is one.
	Recipient string `db:"recipient"`
}

const rows = `SELECT a.link_id, a.person_id, l.slug, a.recipient FROM addresses a JOIN links l ON l.id = a.link_id `

func addAddress(ctx context.Context, q postgres.Q, r Row) error {
	return postgres.Exec(ctx, q, `INSERT INTO addresses (link_id, person_id) VALUES ($1, $2)`, r.LinkID, r.PersonID)
}

// living finds the address at which somebody is sent files now.
func living(ctx context.Context, q postgres.Q, person uuid.UUID) (r Row, err error) {
	return r, postgres.Found(q.GetContext(ctx, &r, rows+`WHERE a.person_id = $1 AND l.ended_at IS NULL`, person))
}

// addressesOf lists all addresses that somebody has ever published, and holds them.
func addressesOf(ctx context.Context, q postgres.Q, person uuid.UUID) (all []Row, err error) {
	return all, q.SelectContext(ctx, &all, rows+`WHERE a.person_id = $1 ORDER BY a.link_id FOR UPDATE`, person)
}

func setRecipient(ctx context.Context, q postgres.Q, link uuid.UUID, recipient string) error {
	return postgres.ExecOne(ctx, q, `UPDATE addresses SET recipient = $2 WHERE link_id = $1`, link, recipient)
}

// open reports whether something is taken at an address: its owner is there, and the practice lets
// addresses be published.
func open(ctx context.Context, q postgres.Q, link uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM addresses a JOIN people p ON p.id = a.person_id, practice WHERE a.link_id = $1
		AND p.deactivated_at IS NULL AND p.standing <> 'guest' AND $2 = ANY(practice.outward_kinds))`, link, linkgate.Address)
}

func recipientOf(ctx context.Context, q postgres.Q, link uuid.UUID) (key string, err error) {
	return key, postgres.Found(q.GetContext(ctx, &key, `SELECT recipient FROM addresses WHERE link_id = $1`, link))
}

// lockTaking holds what is counted over all addresses.
func lockTaking(ctx context.Context, q postgres.Q) error {
	return postgres.Exec(ctx, q, `SELECT pg_advisory_xact_lock(hashtext('deliveries'))`)
}

// tallyFrom counts what came since a moment, or is on its way, from visitors of whom a condition of v
// holds for $1.
func tallyFrom(ctx context.Context, q postgres.Q, condition, value string, since, now time.Time) (t rules.Tally, err error) {
	return t, q.GetContext(ctx, &t, `SELECT count(*) AS files, coalesce(sum(size), 0)::bigint AS bytes FROM (
		SELECT r.size FROM link_received r JOIN visits v ON v.id = r.visit_id JOIN addresses a ON a.link_id = r.link_id WHERE r.at > $2 AND `+condition+`
		UNION ALL SELECT u.size FROM uploads u JOIN visits v ON v.id = u.visit_id JOIN addresses a ON a.link_id = v.link_id
		WHERE u.outcome = '' AND `+uploads.UnderWay("u", "$3")+` AND `+condition+`) came`, value, since, now)
}

const (
	ofAddress = `lower(v.email) = lower($1)`
	// ofNetwork goes by the part of an address that a single customer holds (RFC 6177).
	ofNetwork = `CASE WHEN v.network LIKE '%:%' THEN network(set_masklen(v.network::inet, 64))::text ELSE v.network END = $1`
)

// waiting is how many bytes lie there that nobody has accepted, or are on their way.
func waiting(ctx context.Context, q postgres.Q, now time.Time) (n int64, err error) {
	return n, q.GetContext(ctx, &n, `SELECT coalesce((SELECT sum(r.size) FROM link_received r JOIN items i ON i.id = r.item_id JOIN dossiers d ON d.id = i.dossier_id AND d.kind = '`+items.Incoming+`'), 0)::bigint
		+ coalesce((SELECT sum(u.size) FROM uploads u JOIN visits v ON v.id = u.visit_id JOIN addresses a ON a.link_id = v.link_id WHERE u.outcome = '' AND `+uploads.UnderWay("u", "$1")+`), 0)::bigint`, now)
}

// incomingOf is the dossier in which lies what comes to an address.
func incomingOf(ctx context.Context, q postgres.Q, link uuid.UUID) (dossier uuid.UUID, err error) {
	return dossier, postgres.Found(q.GetContext(ctx, &dossier, `SELECT dossier_id FROM links WHERE id = $1`, link))
}

// mediaTypesOf says what the content of documents that came begins like.
func mediaTypesOf(ctx context.Context, q postgres.Q, documents []uuid.UUID) (map[uuid.UUID]string, error) {
	var all []struct {
		ID   uuid.UUID `db:"item_id"`
		Type string    `db:"media_type"`
	}
	err := q.SelectContext(ctx, &all, `SELECT item_id, media_type FROM versions WHERE item_id = ANY($1::uuid[]) AND number = 1`, postgres.IDs(documents))
	out := make(map[uuid.UUID]string, len(all))
	for _, v := range all {
		out[v.ID] = v.Type
	}
	return out, err
}

// Delivery is what somebody sent off.
type Delivery struct {
	ID       uuid.UUID `db:"id"`
	LinkID   uuid.UUID `db:"link_id"`
	VisitID  uuid.UUID `db:"visit_id"`
	PersonID uuid.UUID `db:"person_id"`
	At       time.Time `db:"at"`
	// Name is what the sender calls themselves, Email the address that a code has confirmed.
	Name    string `db:"name"`
	Email   string `db:"email"`
	Message string `db:"message"`
	// Manifest is the sealed list of what is in it, where it is sealed.
	Manifest  []byte     `db:"manifest"`
	DecidedAt *time.Time `db:"decided_at"`
	Accepted  bool       `db:"accepted"`
	Files     []File     `db:"-"`
}

// File is a file of a delivery.
type File struct {
	DeliveryID uuid.UUID `db:"delivery_id"`
	Position   int       `db:"position"`
	// ItemID is the document, as long as there is one.
	ItemID    *uuid.UUID `db:"item_id"`
	Name      string     `db:"name"`
	Size      int64      `db:"size"`
	SHA256    []byte     `db:"sha256"`
	MediaType string     `db:"media_type"`
	Caution   string     `db:"caution"`
}

func addDelivery(ctx context.Context, q postgres.Q, d Delivery) error {
	err := postgres.Exec(ctx, q, `INSERT INTO deliveries (id, link_id, visit_id, person_id, at, name, email, message, manifest) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)`,
		d.ID, d.LinkID, d.VisitID, d.PersonID, d.At, d.Name, d.Email, d.Message, d.Manifest)
	for _, f := range d.Files {
		if err != nil {
			return err
		}
		err = postgres.Exec(ctx, q, `INSERT INTO delivery_files (delivery_id, position, item_id, name, size, sha256, media_type, caution) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
			d.ID, f.Position, f.ItemID, f.Name, f.Size, f.SHA256, f.MediaType, f.Caution)
	}
	return err
}

// deliveriesOf lists what somebody was sent, the newest first: what waits, or what was decided.
func deliveriesOf(ctx context.Context, q postgres.Q, person uuid.UUID, decided bool, limit int) (all []Delivery, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM deliveries WHERE person_id = $1 AND (decided_at IS NOT NULL) = $2 ORDER BY coalesce(decided_at, at) DESC, id DESC LIMIT $3`, person, decided, limit)
}

func filesOf(ctx context.Context, q postgres.Q, deliveries []uuid.UUID) (all []File, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM delivery_files WHERE delivery_id = ANY($1::uuid[]) ORDER BY delivery_id, position`, postgres.IDs(deliveries))
}

// deliveryOf finds what somebody was sent, and holds its row.
func deliveryOf(ctx context.Context, q postgres.Q, id, person uuid.UUID) (d Delivery, err error) {
	return d, postgres.Found(q.GetContext(ctx, &d, `SELECT * FROM deliveries WHERE id = $1 AND person_id = $2 FOR UPDATE`, id, person))
}

// sealedWaits reports whether a file is one of a sealed delivery that waits for somebody.
func sealedWaits(ctx context.Context, q postgres.Q, id, person, file uuid.UUID) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM deliveries d JOIN delivery_files f ON f.delivery_id = d.id
		WHERE d.id = $1 AND d.person_id = $2 AND f.item_id = $3 AND d.decided_at IS NULL AND d.manifest IS NOT NULL)`, id, person, file)
}

func decide(ctx context.Context, q postgres.Q, id uuid.UUID, accepted bool, now time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE deliveries SET decided_at = $2, accepted = $3, manifest = CASE WHEN $3 THEN manifest END WHERE id = $1`, id, now, accepted)
}

func countWaiting(ctx context.Context, q postgres.Q, person uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM deliveries WHERE person_id = $1 AND decided_at IS NULL`, person)
}

// lapsed lists deliveries that were not decided since a moment.
func lapsed(ctx context.Context, q postgres.Q, before time.Time) (all []Delivery, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM deliveries WHERE decided_at IS NULL AND at < $1 ORDER BY at LIMIT 100`, before)
}

// unsent is a file that was brought to an address and not sent off.
type unsent struct {
	LinkID uuid.UUID `db:"link_id"`
	ItemID uuid.UUID `db:"item_id"`
	Owner  uuid.UUID `db:"person_id"`
}

// neverSent lists what was brought before a moment and never sent off.
func neverSent(ctx context.Context, q postgres.Q, before time.Time) (all []unsent, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT r.link_id, r.item_id, a.person_id FROM link_received r JOIN addresses a ON a.link_id = r.link_id WHERE r.handed_at IS NULL AND r.at < $1 ORDER BY r.at LIMIT 1000`, before)
}

// dropUnsent forgets that it came in; not found where it was sent off meanwhile.
func dropUnsent(ctx context.Context, q postgres.Q, u unsent) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM link_received WHERE link_id = $1 AND item_id = $2 AND handed_at IS NULL`, u.LinkID, u.ItemID)
}
