package transfers

import (
	"context"
	"time"

	"github.com/google/uuid"

	rules "tabularis/core/transfers"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// Row is a transfer beside its link, in which its terms stand.
type Row struct {
	LinkID    uuid.UUID `db:"link_id"`
	FolderID  uuid.UUID `db:"folder_id"`
	SenderID  uuid.UUID `db:"sender_id"`
	CreatedAt time.Time `db:"created_at"`
	// TellDays is after how many days the sender is told of who has not fetched.
	TellDays    int        `db:"tell_days"`
	DestroyedAt *time.Time `db:"destroyed_at"`
	// Waits says that nobody was told of it, nor is yet to know: it is not out.
	Waits bool `db:"waits"`
}

func addTransfer(ctx context.Context, q postgres.Q, t Row) error {
	return postgres.Exec(ctx, q, `INSERT INTO transfers (link_id, folder_id, sender_id, created_at, tell_days, waits) VALUES ($1, $2, $3, $4, $5, $6)`, t.LinkID, t.FolderID, t.SenderID, t.CreatedAt, t.TellDays, t.Waits)
}

// transferOf finds somebody's transfer, and holds its row within an act.
func transferOf(ctx context.Context, q postgres.Q, id, sender uuid.UUID, lock bool) (t Row, err error) {
	query := `SELECT * FROM transfers WHERE link_id = $1 AND sender_id = $2`
	if lock {
		query += ` FOR UPDATE`
	}
	return t, postgres.Found(q.GetContext(ctx, &t, query, id, sender))
}

// transferByLink finds the transfer that a link gives.
func transferByLink(ctx context.Context, q postgres.Q, link uuid.UUID) (t Row, err error) {
	return t, postgres.Found(q.GetContext(ctx, &t, `SELECT * FROM transfers WHERE link_id = $1`, link))
}

// transfersOf lists somebody's transfers, the newest first: those whose copies are there, or
// those of which the record is left.
func transfersOf(ctx context.Context, q postgres.Q, sender uuid.UUID, over bool, limit int) (all []Row, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM transfers WHERE sender_id = $1 AND NOT waits AND (destroyed_at IS NOT NULL) = $2 ORDER BY created_at DESC, link_id LIMIT $3`, sender, over, limit)
}

func countOut(ctx context.Context, q postgres.Q, sender uuid.UUID, now time.Time) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM transfers t JOIN links l ON l.id = t.link_id WHERE t.sender_id = $1 AND NOT t.waits AND t.destroyed_at IS NULL AND `+guard.Living("l", "$2"), sender, now)
}

// kept lists transfers whose copies are still there.
func kept(ctx context.Context, q postgres.Q) (all []Row, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM transfers WHERE destroyed_at IS NULL ORDER BY created_at, link_id`)
}

// goesOut lets a transfer be out that waited.
func goesOut(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `UPDATE transfers SET waits = false WHERE link_id = $1`, id)
}

func setDestroyed(ctx context.Context, q postgres.Q, id uuid.UUID, at time.Time) error {
	return postgres.ExecOne(ctx, q, `UPDATE transfers SET destroyed_at = $2 WHERE link_id = $1`, id, at)
}

// file is a file of a transfer; it is a document once it is here.
type file struct {
	ID     uuid.UUID  `db:"id"`
	LinkID uuid.UUID  `db:"link_id"`
	Name   string     `db:"name"`
	Size   int64      `db:"size"`
	ItemID *uuid.UUID `db:"item_id"`
}

// File is a file of a transfer with how much of it is here.
type File struct {
	file
	Position int `db:"position"`
	// Upload is by what it arrives.
	Upload   *uuid.UUID `db:"upload_id"`
	Received int64      `db:"received"`
	// Touched is when something of it arrived last.
	Touched *time.Time `db:"touched_at"`
	SHA256  []byte     `db:"sha256"`
}

// Here says that all of it is.
func (f File) Here() bool { return f.ItemID != nil }

// Whole says that all of it is here, and has yet to be put in its place.
func (f File) Whole() bool { return f.Here() || f.Upload != nil && f.Received == f.Size }

func filesOf(announced []rules.File) []file {
	out := make([]file, len(announced))
	for i, f := range announced {
		out[i] = file{Name: f.Name, Size: f.Size}
	}
	return out
}

func namesOf(files []file) []string {
	out := make([]string, len(files))
	for i, f := range files {
		out[i] = f.Name
	}
	return out
}

func addFiles(ctx context.Context, q postgres.Q, link uuid.UUID, files []file) error {
	for _, f := range files {
		if err := postgres.Exec(ctx, q, `INSERT INTO transfer_files (id, link_id, position, name, size, item_id)
			SELECT $1, $2, coalesce(max(position), 0) + 1, $3, $4, $5 FROM transfer_files WHERE link_id = $2`, uuid.Must(uuid.NewV7()), link, f.Name, f.Size, f.ItemID); err != nil {
			return err
		}
	}
	return nil
}

// filesIn lists the files of transfers, in order.
func filesIn(ctx context.Context, q postgres.Q, links []uuid.UUID) (all []File, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT f.id, f.link_id, f.position, f.name, f.size, f.item_id, u.id AS upload_id, CASE WHEN f.item_id IS NOT NULL THEN f.size ELSE coalesce(u.received, 0) END AS received, u.touched_at, i.sha256
		FROM transfer_files f LEFT JOIN LATERAL (SELECT id, received, touched_at FROM uploads WHERE announced_id = f.id AND f.item_id IS NULL ORDER BY created_at DESC LIMIT 1) u ON true
		LEFT JOIN items i ON i.id = f.item_id WHERE f.link_id = ANY($1::uuid[]) ORDER BY f.link_id, f.position`, postgres.IDs(links))
}

// expected reports whether a file of that size is awaited in a folder.
func expected(ctx context.Context, q postgres.Q, file, folder uuid.UUID, size int64) (yes bool, err error) {
	return yes, q.GetContext(ctx, &yes, `SELECT EXISTS (SELECT 1 FROM transfer_files f JOIN transfers t ON t.link_id = f.link_id JOIN links l ON l.id = t.link_id
		WHERE f.id = $1 AND t.folder_id = $2 AND f.size = $3 AND f.item_id IS NULL AND t.destroyed_at IS NULL AND l.ended_at IS NULL)`, file, folder, size)
}

func setItem(ctx context.Context, q postgres.Q, file, document uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `UPDATE transfer_files f SET item_id = $2, name = i.name FROM items i, transfers t WHERE f.id = $1 AND i.id = $2 AND t.link_id = f.link_id AND i.parent_id = t.folder_id AND f.item_id IS NULL`, file, document)
}

func dropFile(ctx context.Context, q postgres.Q, file uuid.UUID) error {
	return postgres.ExecOne(ctx, q, `DELETE FROM transfer_files WHERE id = $1`, file)
}

// uploadsFor lists what is still arriving for files of a transfer, or for one of them.
func uploadsFor(ctx context.Context, q postgres.Q, link uuid.UUID, file *uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `SELECT u.id FROM uploads u JOIN transfer_files f ON f.id = u.announced_id WHERE f.link_id = $1 AND ($2::uuid IS NULL OR f.id = $2) AND f.item_id IS NULL`, link, file)
}

// Recipient is what became of a transfer for one address; the empty one is whoever has the copied
// link.
type Recipient struct {
	LinkID  uuid.UUID  `db:"link_id"`
	Address string     `db:"address"`
	Told    *time.Time `db:"told_at"`
	Opened  *time.Time `db:"opened_at"`
	// Begun counts the files of which something was fetched, Files those of which all was.
	Begun int `db:"begun"`
	Files int `db:"files"`
	// Which are the names of those, each on a line.
	Which    string     `db:"which"`
	BegunAt  *time.Time `db:"begun_at"`
	DoneAt   *time.Time `db:"done_at"`
	Reminded *time.Time `db:"reminded_at"`
	Missed   *time.Time `db:"missed_at"`
	Warned   *time.Time `db:"warned_at"`
}

// recipientsOf lists the recipients of transfers in the order in which they were told; whoever has
// the copied link stands first, once they came.
func recipientsOf(ctx context.Context, q postgres.Q, links []uuid.UUID) (all []Recipient, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT w.link_id, w.address, coalesce(r.told_at, m.at) AS told_at, r.opened_at, r.reminded_at, r.missed_at, r.warned_at, coalesce(x.begun, 0) AS begun, coalesce(x.files, 0) AS files, coalesce(x.which, '') AS which, x.begun_at, x.done_at
		FROM (SELECT link_id, address FROM link_mails WHERE link_id = ANY($1::uuid[]) UNION SELECT link_id, address FROM transfer_recipients WHERE link_id = ANY($1::uuid[])) w
		LEFT JOIN link_mails m ON m.link_id = w.link_id AND m.address = w.address
		LEFT JOIN transfer_recipients r ON r.link_id = w.link_id AND r.address = w.address
		LEFT JOIN LATERAL (SELECT count(*)::int AS begun, count(x.done_at)::int AS files, string_agg(f.name, E'\n' ORDER BY f.position) FILTER (WHERE x.done_at IS NOT NULL) AS which, min(x.begun_at) AS begun_at, max(x.done_at) AS done_at
			FROM transfer_fetches x JOIN transfer_files f ON f.id = x.file_id WHERE f.link_id = w.link_id AND x.address = w.address) x ON true
		ORDER BY w.link_id, m.at NULLS FIRST, w.address`, postgres.IDs(links))
}

// noted names what is noted of a recipient.
type noted string

const (
	told     noted = "told_at"
	opened   noted = "opened_at"
	reminded noted = "reminded_at"
	missed   noted = "missed_at"
	warned   noted = "warned_at"
)

// note notes a moment of a recipient: the newest of a reminder, of the rest the first.
func note(ctx context.Context, q postgres.Q, link uuid.UUID, address string, what noted, at time.Time) error {
	unless := ` WHERE transfer_recipients.` + string(what) + ` IS NULL`
	if what == reminded {
		unless = ``
	}
	return postgres.Exec(ctx, q, `INSERT INTO transfer_recipients (link_id, address, `+string(what)+`) VALUES ($1, $2, $3)
		ON CONFLICT (link_id, address) DO UPDATE SET `+string(what)+` = excluded.`+string(what)+unless, link, address, at)
}

// noteFetched notes that a part of a file went to a recipient, and when they have all of it.
func noteFetched(ctx context.Context, q postgres.Q, file uuid.UUID, address string, from, to, size int64, now time.Time) (done bool, err error) {
	return done, q.GetContext(ctx, &done, `INSERT INTO transfer_fetches AS x (file_id, address, begun_at, parts, done_at)
		SELECT id, $2, $3, int8multirange(int8range($4, $5)), CASE WHEN $4 = 0 AND $5 >= $6::bigint THEN $3::timestamptz END FROM transfer_files WHERE id = $1
		ON CONFLICT (file_id, address) DO UPDATE SET parts = x.parts + excluded.parts,
			done_at = coalesce(x.done_at, CASE WHEN (x.parts + excluded.parts) @> int8range(0, $6) THEN $3::timestamptz END)
		RETURNING coalesce(done_at = $3, false)`, file, address, now, from, to, size)
}

func setManifest(ctx context.Context, q postgres.Q, id uuid.UUID, content []byte, at time.Time) error {
	return postgres.Exec(ctx, q, `INSERT INTO transfer_manifests (link_id, content, written_at) VALUES ($1, $2, $3)
		ON CONFLICT (link_id) DO UPDATE SET content = excluded.content, written_at = excluded.written_at`, id, content, at)
}

func manifestOf(ctx context.Context, q postgres.Q, id uuid.UUID) (content []byte, err error) {
	return content, postgres.Found(q.GetContext(ctx, &content, `SELECT content FROM transfer_manifests WHERE link_id = $1`, id))
}

func dropManifest(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	return postgres.Exec(ctx, q, `DELETE FROM transfer_manifests WHERE link_id = $1`, id)
}
