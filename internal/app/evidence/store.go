package evidence

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/evidence"
	"tabularis/internal/platform/postgres"
)

// log is the practice's log: whose it is and how far it has grown.
type log struct {
	Origin string     `db:"origin"`
	Size   int64      `db:"size"`
	ToldOn *time.Time `db:"told_on"`
}

// makeLog makes the log where there is none.
func makeLog(ctx context.Context, q postgres.Q, origin string) error {
	return postgres.Exec(ctx, q, `INSERT INTO evidence_log (origin) VALUES ($1) ON CONFLICT DO NOTHING`, origin)
}

// holdLog finds the log and holds it: who does lets it grow.
func holdLog(ctx context.Context, q postgres.Q) (l log, err error) {
	return l, postgres.Found(q.GetContext(ctx, &l, `SELECT origin, size, told_on FROM evidence_log FOR UPDATE`))
}

func theLog(ctx context.Context, q postgres.Q) (l log, err error) {
	return l, postgres.Found(q.GetContext(ctx, &l, `SELECT origin, size, told_on FROM evidence_log`))
}

// takeUnsealed takes the oldest events that wait to be sealed.
func takeUnsealed(ctx context.Context, q postgres.Q, limit int) (all []events.Event, err error) {
	return all, q.SelectContext(ctx, &all, `WITH oldest AS (SELECT event_id FROM unsealed_events ORDER BY event_id LIMIT $1),
		gone AS (DELETE FROM unsealed_events u USING oldest o WHERE u.event_id = o.event_id)
		SELECT e.* FROM oldest o JOIN events e ON e.id = o.event_id ORDER BY e.id`, limit)
}

// countUnsealed counts the events that wait.
func countUnsealed(ctx context.Context, q postgres.Q) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM unsealed_events`)
}

// addSealed notes where events stand from a place on, and by which secrets.
func addSealed(ctx context.Context, q postgres.Q, from int64, ids []int64, secrets [][]byte) error {
	return postgres.Exec(ctx, q, `INSERT INTO sealed_events (place, event_id, secret)
		SELECT $1 + n - 1, id, secret FROM unnest($2::bigint[], $3::bytea[]) WITH ORDINALITY AS s (id, secret, n)`, from, ids, secrets)
}

func grow(ctx context.Context, q postgres.Q, size int64) error {
	return postgres.ExecOne(ctx, q, `UPDATE evidence_log SET size = $1`, size)
}

// tilesIn reads the log's tiles.
func tilesIn(ctx context.Context, q postgres.Q) evidence.Tiles {
	return func(at evidence.At) (hashes []byte, err error) {
		var all [][]byte
		err = q.SelectContext(ctx, &all, `SELECT hashes FROM evidence_tiles WHERE level = $1 AND n = $2`, at.Level, at.N)
		if len(all) > 0 {
			hashes = all[0]
		}
		return hashes, err
	}
}

func putTiles(ctx context.Context, q postgres.Q, changed map[evidence.At][]byte) error {
	var levels, ns []int64
	var hashes [][]byte
	for at, tile := range changed {
		levels, ns, hashes = append(levels, int64(at.Level)), append(ns, at.N), append(hashes, tile)
	}
	return postgres.Exec(ctx, q, `INSERT INTO evidence_tiles (level, n, hashes) SELECT * FROM unnest($1::int[], $2::bigint[], $3::bytea[])
		ON CONFLICT (level, n) DO UPDATE SET hashes = excluded.hashes`, levels, ns, hashes)
}

// signing is a generation of the key by which checkpoints are signed.
type signing struct {
	Generation int       `db:"generation"`
	Verifier   string    `db:"verifier"`
	Since      time.Time `db:"since"`
}

// signings lists the keys, the newest first.
func signings(ctx context.Context, q postgres.Q) (all []signing, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM evidence_keys ORDER BY generation DESC`)
}

func addSigning(ctx context.Context, q postgres.Q, s signing) error {
	return postgres.Exec(ctx, q, `INSERT INTO evidence_keys (generation, verifier, since) VALUES ($1, $2, $3) ON CONFLICT DO NOTHING`, s.Generation, s.Verifier, s.Since)
}

// Checkpoint is a signed checkpoint with the key that signed it.
type Checkpoint struct {
	Size       int64     `db:"size"`
	At         time.Time `db:"at"`
	Generation int       `db:"generation"`
	Signed     string    `db:"signed"`
	Verifier   string    `db:"verifier"`
}

func addCheckpoint(ctx context.Context, q postgres.Q, c Checkpoint) error {
	return postgres.Exec(ctx, q, `INSERT INTO checkpoints (size, at, generation, signed) VALUES ($1, $2, $3, $4)
		ON CONFLICT (size) DO UPDATE SET generation = excluded.generation, signed = excluded.signed`, c.Size, c.At, c.Generation, c.Signed)
}

const checkpoint = `SELECT c.*, k.verifier FROM checkpoints c JOIN evidence_keys k USING (generation) `

// newest is the checkpoint of the whole log.
func newest(ctx context.Context, q postgres.Q) (c Checkpoint, err error) {
	return c, postgres.Found(q.GetContext(ctx, &c, checkpoint+`ORDER BY size DESC LIMIT 1`))
}

// checkpointsAfter lists checkpoints from some size on, in their order.
func checkpointsAfter(ctx context.Context, q postgres.Q, size int64, limit int) (all []Checkpoint, err error) {
	return all, q.SelectContext(ctx, &all, checkpoint+`WHERE size > $1 ORDER BY size LIMIT $2`, size, limit)
}

// dailyBefore lists the last checkpoint of each day before the log had some size, the
// newest first.
func dailyBefore(ctx context.Context, q postgres.Q, size int64, zone string, limit int) (all []Checkpoint, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM (SELECT DISTINCT ON ((c.at AT TIME ZONE $2)::date) c.*, k.verifier FROM checkpoints c JOIN evidence_keys k USING (generation)
		WHERE size < $1 ORDER BY (c.at AT TIME ZONE $2)::date DESC, size DESC) d ORDER BY size DESC LIMIT $3`, size, zone, limit)
}

// holding finds for each place the checkpoint that was the first to hold it.
func holding(ctx context.Context, q postgres.Q, places []int64) (all []struct {
	Place int64     `db:"place"`
	Size  int64     `db:"size"`
	At    time.Time `db:"at"`
}, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT p.place, c.size, c.at FROM unnest($1::bigint[]) p (place)
		CROSS JOIN LATERAL (SELECT size, at FROM checkpoints WHERE size > p.place ORDER BY size LIMIT 1) c`, places)
}

// sealedEvent is where an event stands, with the secret or, of an erased one, what was
// sealed of it.
type sealedEvent struct {
	Place  int64  `db:"place"`
	Event  int64  `db:"event_id"`
	Secret []byte `db:"secret"`
	Kept   []byte `db:"kept"`
}

// sealedOf finds where events stand, by their ids.
func sealedOf(ctx context.Context, q postgres.Q, ids []int64) (map[int64]sealedEvent, error) {
	var all []sealedEvent
	err := q.SelectContext(ctx, &all, `SELECT * FROM sealed_events WHERE event_id = ANY($1)`, ids)
	by := make(map[int64]sealedEvent, len(all))
	for _, s := range all {
		by[s.Event] = s
	}
	return by, err
}

// sealedFrom reads what is sealed from a place on, with the events that are there.
func sealedFrom(ctx context.Context, q postgres.Q, place int64, limit int) (all []struct {
	sealedEvent
	events.Event
	There bool `db:"there"`
}, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT s.*, e.id IS NOT NULL AS there, coalesce(e.id, 0) AS id, coalesce(e.at, 'epoch') AS at, coalesce(e.kind, '') AS kind,
		coalesce(e.actor_kind, '') AS actor_kind, e.person_id, coalesce(e.outside, false) AS outside, e.dossier_id, e.item_id, e.version, e.link_id, coalesce(e.network, '') AS network,
		coalesce(e.agent, '') AS agent, coalesce(e.data, '{}') AS data
		FROM sealed_events s LEFT JOIN events e ON e.id = s.event_id WHERE s.place >= $1 ORDER BY s.place LIMIT $2`, place, limit)
}

// looseEvents lists events that are neither sealed nor wait to be.
func looseEvents(ctx context.Context, q postgres.Q) (ids []int64, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT e.id FROM events e WHERE NOT EXISTS (SELECT 1 FROM sealed_events s WHERE s.event_id = e.id)
		AND NOT EXISTS (SELECT 1 FROM unsealed_events u WHERE u.event_id = e.id) ORDER BY e.id`)
}

// Check is what a comparison of the log with what happened found.
type Check struct {
	At       time.Time       `db:"at"`
	Findings json.RawMessage `db:"findings"`
}

func addCheck(ctx context.Context, q postgres.Q, c Check) error {
	return postgres.Exec(ctx, q, `INSERT INTO evidence_checks (at, findings) VALUES ($1, $2) ON CONFLICT (at) DO UPDATE SET findings = excluded.findings`, c.At, c.Findings)
}

// lastCheck finds the newest comparison, if there was one.
func lastCheck(ctx context.Context, q postgres.Q) (c []Check, err error) {
	return c, q.SelectContext(ctx, &c, `SELECT * FROM evidence_checks ORDER BY at DESC LIMIT 1`)
}

// eraseEvent forgets what may be personal in an event, and by what it could be found out.
func eraseEvent(ctx context.Context, q postgres.Q, id int64, kept json.RawMessage) error {
	if err := postgres.Exec(ctx, q, `SELECT set_config('tabularis.erasing', 'yes', true)`); err != nil {
		return err
	}
	if err := postgres.ExecOne(ctx, q, `UPDATE events SET network = '', agent = '', data = '{}', person_id = NULL WHERE id = $1`, id); err != nil {
		return err
	}
	return postgres.ExecOne(ctx, q, `UPDATE sealed_events SET secret = NULL, kept = $2 WHERE event_id = $1`, id, kept)
}

// version is a version of a document that an event is about.
type version struct {
	ItemID uuid.UUID `db:"item_id"`
	Number int       `db:"number"`
	Name   string    `db:"name"`
	SHA256 []byte    `db:"sha256"`
	Size   int64     `db:"size"`
}

// versionsIn finds the versions that events are about, as far as they are there.
func versionsIn(ctx context.Context, q postgres.Q, ids []int64) (all []version, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT v.item_id, v.number, i.name, v.sha256, v.size FROM (SELECT DISTINCT item_id, version FROM events WHERE id = ANY($1)) e
		JOIN items i ON i.id = e.item_id JOIN versions v ON v.item_id = e.item_id AND v.number = e.version WHERE v.removed_at IS NULL ORDER BY i.number, v.number`, ids)
}

// Witness is whom the practice sends its checkpoints.
type Witness struct {
	Email   string    `db:"email"`
	NamedBy uuid.UUID `db:"named_by"`
	NamedAt time.Time `db:"named_at"`
}

func witnesses(ctx context.Context, q postgres.Q) (all []Witness, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM witnesses ORDER BY email`)
}

// setWitnesses names all witnesses anew.
func setWitnesses(ctx context.Context, q postgres.Q, emails []string, by uuid.UUID, now time.Time) error {
	if err := postgres.Exec(ctx, q, `DELETE FROM witnesses WHERE email <> ALL($1)`, emails); err != nil {
		return err
	}
	return postgres.Exec(ctx, q, `INSERT INTO witnesses (email, named_by, named_at) SELECT email, $2, $3 FROM unnest($1::text[]) email ON CONFLICT DO NOTHING`, emails, by, now)
}

func noteTold(ctx context.Context, q postgres.Q, day time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE evidence_log SET told_on = $1`, day)
}
