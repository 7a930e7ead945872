package signing

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"time"

	"github.com/google/uuid"
	"github.com/jmoiron/sqlx"

	"tabularis/core/signing"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
	"tabularis/internal/platform/secret"
)

// row is a request as it is listed and found; what it is made of are its events.
type row struct {
	ID            uuid.UUID      `db:"id"`
	ItemID        uuid.UUID      `db:"item_id"`
	SentBy        uuid.UUID      `db:"sent_by"`
	Status        signing.Status `db:"status"`
	Message       string         `db:"message"`
	Language      string         `db:"language"`
	Version       int            `db:"version"`
	SHA256        []byte         `db:"sha256"`
	Pages         int            `db:"pages"`
	Password      []byte         `db:"paper_password"`
	FileIn        *uuid.UUID     `db:"file_in"`
	SentAt        time.Time      `db:"sent_at"`
	Since         time.Time      `db:"since"`
	Until         time.Time      `db:"until"`
	EndedAt       *time.Time     `db:"ended_at"`
	WakeAt        *time.Time     `db:"wake_at"`
	Seq           int            `db:"seq"`
	Sealed        int            `db:"sealed"`
	SealedVersion int            `db:"sealed_version"`
	SealedSHA256  []byte         `db:"sealed_sha256"`
	Trouble       string         `db:"trouble"`
	// LastStamp is the time stamp that the sealed paper bears last, RenewAt when another one is set over it.
	LastStamp []byte     `db:"last_stamp"`
	RenewAt   *time.Time `db:"renew_at"`
	// FormID and FormEdition are the form of which it was made.
	FormID      *uuid.UUID `db:"form_id"`
	FormEdition int        `db:"form_edition"`
}

var columns = postgres.Columns[row]()

const alive = "signings_alive"

// rowOf finds a request; held, nobody else takes it on meanwhile.
func rowOf(ctx context.Context, q postgres.Q, id uuid.UUID, held bool) (r row, err error) {
	lock := ""
	if held {
		lock = ` FOR UPDATE`
	}
	return r, postgres.Found(q.GetContext(ctx, &r, `SELECT * FROM signings WHERE id = $1`+lock, id))
}

// eventsPurpose is what events are sealed for.
const eventsPurpose, keptPurpose, passwordPurpose = "signing events", "signing kept", "paper password"

// eventsOf are what has happened to a request up to the state in which its row was read: what came in between
// belongs to another one.
func eventsOf(ctx context.Context, q postgres.Q, keys *secret.Keys, r row) (all []signing.Event, err error) {
	var sealed [][]byte
	id := r.ID
	if err := q.SelectContext(ctx, &sealed, `SELECT body FROM signing_events WHERE signing_id = $1 AND seq < $2 ORDER BY seq`, id, r.Seq); err != nil {
		return nil, err
	}
	for _, s := range sealed {
		raw, err := keys.Open(s, eventsPurpose)
		if err != nil {
			return nil, fmt.Errorf("opening an event of the request %s: %w", id, err)
		}
		var e signing.Event
		if err := json.Unmarshal(raw, &e); err != nil {
			return nil, fmt.Errorf("reading an event of the request %s: %w", id, err)
		}
		all = append(all, e)
	}
	return all, nil
}

// keep writes what has become of a request: its row, and its events from a number on.
func keep(ctx context.Context, q postgres.Q, keys *secret.Keys, r row, from int, events []signing.Event) error {
	_, err := sqlx.NamedExecContext(ctx, q, `INSERT INTO signings (`+strings.Join(columns, ", ")+`) VALUES (`+postgres.Named(columns)+`) ON CONFLICT (id) DO UPDATE SET `+postgres.Set(columns), r)
	if err != nil {
		return err
	}
	for i, e := range events {
		raw, err := json.Marshal(e)
		if err != nil {
			return err
		}
		if err := postgres.Exec(ctx, q, `INSERT INTO signing_events (signing_id, seq, at, body) VALUES ($1, $2, $3, $4)`, r.ID, from+i, e.At, keys.Seal(raw, eventsPurpose)); err != nil {
			return err
		}
	}
	return nil
}

// seat is a party as it is found by who they are.
type seat struct {
	SigningID uuid.UUID  `db:"signing_id"`
	Party     int        `db:"party"`
	Name      string     `db:"name"`
	PersonID  *uuid.UUID `db:"person_id"`
	LinkID    *uuid.UUID `db:"link_id"`
	Waits     bool       `db:"waits"`
	Done      bool       `db:"done"`
	Kept      []byte     `db:"kept"`
}

func keepSeat(ctx context.Context, q postgres.Q, s seat) error {
	return postgres.Exec(ctx, q, `INSERT INTO signing_parties (signing_id, party, person_id, link_id, waits, done, kept, name) VALUES ($1, $2, $3, $4, $5, $6, $7, $8)
		ON CONFLICT (signing_id, party) DO UPDATE SET name = excluded.name, person_id = excluded.person_id, link_id = excluded.link_id, waits = excluded.waits, done = excluded.done, kept = excluded.kept`,
		s.SigningID, s.Party, s.PersonID, s.LinkID, s.Waits, s.Done, s.Kept, s.Name)
}

func seatsOf(ctx context.Context, q postgres.Q, id uuid.UUID) (all []seat, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM signing_parties WHERE signing_id = $1 ORDER BY party`, id)
}

// seatOfLink is whose way in a link is.
func seatOfLink(ctx context.Context, q postgres.Q, link uuid.UUID) (s seat, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, `SELECT * FROM signing_parties WHERE link_id = $1`, link))
}

// keepDraft keeps what a party has filled in so far, as long as they have not signed.
func keepDraft(ctx context.Context, q postgres.Q, id uuid.UUID, party int, sealed []byte) error {
	return postgres.Exec(ctx, q, `UPDATE signing_parties p SET kept = $3 FROM signings s WHERE s.id = p.signing_id AND s.ended_at IS NULL AND p.signing_id = $1 AND p.party = $2 AND NOT p.done`, id, party, sealed)
}

// listed are the requests of documents that somebody sees, newest first.
func listed(ctx context.Context, q postgres.Q, r guard.Readable, open bool, limit int) (ids []uuid.UUID, err error) {
	when := "s.ended_at IS NOT NULL"
	if open {
		when = "s.ended_at IS NULL"
	}
	return ids, q.SelectContext(ctx, &ids, `SELECT s.id FROM signings s JOIN items i ON i.id = s.item_id JOIN scopes sc ON sc.id = i.scope_id
		WHERE `+when+` AND `+r.Current("sc", 2)+`
		ORDER BY s.since DESC LIMIT $1`, append([]any{limit}, r.Args()...)...)
}

// waitingFor are the requests that wait for a person.
func waitingFor(ctx context.Context, q postgres.Q, person uuid.UUID, limit int) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT s.id FROM signing_parties p JOIN signings s ON s.id = p.signing_id
		WHERE p.person_id = $1 AND p.waits AND s.ended_at IS NULL ORDER BY s.since LIMIT $2`, person, limit)
}

func ofItem(ctx context.Context, q postgres.Q, item uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM signings WHERE item_id = $1 ORDER BY sent_at DESC LIMIT 100`, item)
}

// aliveOf is the request that a document is with its parties by.
func aliveOf(ctx context.Context, q postgres.Q, item uuid.UUID) (id uuid.UUID, err error) {
	return id, postgres.Found(q.GetContext(ctx, &id, `SELECT id FROM signings WHERE item_id = $1 AND ended_at IS NULL`, item))
}

func due(ctx context.Context, q postgres.Q, now time.Time, limit int) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM signings WHERE wake_at <= $1 ORDER BY wake_at LIMIT $2`, now, limit)
}

// toRenew are requests over whose paper another time stamp is to be set.
func toRenew(ctx context.Context, q postgres.Q, now time.Time, limit int) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM signings WHERE renew_at <= $1 ORDER BY renew_at LIMIT $2`, now, limit)
}

func renewNoMore(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.Exec(ctx, q, `UPDATE signings SET renew_at = NULL WHERE id = $1`, id)
}

// unsealed are requests whose paper does not bear all acts yet.
func unsealed(ctx context.Context, q postgres.Q, before time.Time) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT id FROM signings WHERE status = 'sealing' AND since < $1 ORDER BY since LIMIT 100`, before)
}

// lastOf is the request that counts of a document: the one it is with its parties by, or the last that came to its end, with the
// content that bears all signatures.
func lastOf(ctx context.Context, q postgres.Q, item uuid.UUID) (last struct {
	Open   bool   `db:"open"`
	SHA256 []byte `db:"sealed_sha256"`
}, err error) {
	return last, postgres.Found(q.GetContext(ctx, &last, `SELECT ended_at IS NULL AS open, sealed_sha256 FROM signings
		WHERE item_id = $1 AND (ended_at IS NULL OR status = 'finished') ORDER BY ended_at IS NULL DESC, sent_at DESC LIMIT 1`, item))
}

// ByLink reports whether a link is a party's way in.
func ByLink(ctx context.Context, q postgres.Q, link uuid.UUID) (is bool, err error) {
	return is, q.GetContext(ctx, &is, `SELECT EXISTS (SELECT 1 FROM signing_parties WHERE link_id = $1)`, link)
}

// paperRow is a paper that a party brought.
type paperRow struct {
	SigningID uuid.UUID `db:"signing_id"`
	Party     int       `db:"party"`
	Place     int       `db:"place"`
	Name      string    `db:"name"`
	MediaType string    `db:"media_type"`
	Size      int       `db:"size"`
	SHA256    []byte    `db:"sha256"`
	Paper     []byte    `db:"paper"`
	BroughtAt time.Time `db:"brought_at"`
}

const paperPurpose = "paper brought to a signing"

// bring keeps a paper in place of the one before, as far as there is room for all. The request's row is held.
func bring(ctx context.Context, q postgres.Q, keys *secret.Keys, p paperRow, raw []byte) error {
	var had int
	if err := q.GetContext(ctx, &had, `SELECT coalesce(sum(size), 0) FROM signing_papers WHERE signing_id = $1 AND place <> $2`, p.SigningID, p.Place); err != nil {
		return err
	}
	if had+p.Size > mostPapers {
		return errPaperLarge.New("there are %d bytes of them", had)
	}
	return postgres.Exec(ctx, q, `INSERT INTO signing_papers (signing_id, party, place, name, media_type, size, sha256, paper, brought_at) VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9)
		ON CONFLICT (signing_id, place) DO UPDATE SET party = $2, name = $4, media_type = $5, size = $6, sha256 = $7, paper = $8, brought_at = $9`,
		p.SigningID, p.Party, p.Place, p.Name, p.MediaType, p.Size, p.SHA256, keys.Seal(raw, paperPurpose), p.BroughtAt)
}

// papersOf are the papers that were brought to a request, without what they hold.
func papersOf(ctx context.Context, q postgres.Q, signing uuid.UUID) (all []paperRow, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT signing_id, party, place, name, media_type, size, sha256, brought_at FROM signing_papers WHERE signing_id = $1 ORDER BY place`, signing)
}

// paperAt is the one that was brought to a place, with what it holds.
func paperAt(ctx context.Context, q postgres.Q, signing uuid.UUID, place int) (p paperRow, err error) {
	return p, postgres.Found(q.GetContext(ctx, &p, `SELECT * FROM signing_papers WHERE signing_id = $1 AND place = $2`, signing, place))
}

func dropPaper(ctx context.Context, q postgres.Q, signing uuid.UUID, place int) error {
	return postgres.Exec(ctx, q, `DELETE FROM signing_papers WHERE signing_id = $1 AND place = $2`, signing, place)
}

func dropPapers(ctx context.Context, q postgres.Q, signing uuid.UUID, party int) error {
	return postgres.Exec(ctx, q, `DELETE FROM signing_papers WHERE signing_id = $1 AND party = $2`, signing, party)
}
