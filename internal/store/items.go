package store

import (
	"context"
	"slices"
	"time"

	"github.com/google/uuid"
)

// Item is a folder or a document. What it says of content is the counting
// version's.
type Item struct {
	ID        uuid.UUID  `db:"id"`
	DossierID uuid.UUID  `db:"dossier_id"`
	ScopeID   uuid.UUID  `db:"scope_id"`
	ParentID  *uuid.UUID `db:"parent_id"`
	Kind      string     `db:"kind"`
	Name      string     `db:"name"`
	NameKey   string     `db:"name_key"`
	// Twin tells things of one name in a folder apart, of which not everybody sees
	// all.
	Twin        int        `db:"twin"`
	Position    int        `db:"position"`
	Number      *int       `db:"number"`
	Version     int        `db:"version"`
	SHA256      []byte     `db:"sha256"`
	Size        int64      `db:"size"`
	MediaType   string     `db:"media_type"`
	Documents   int        `db:"n_documents"`
	Bytes       int64      `db:"n_bytes"`
	LastEventID int64      `db:"last_event_id"`
	CreatedBy   uuid.UUID  `db:"created_by"`
	CreatedAt   time.Time  `db:"created_at"`
	DeletedAt   *time.Time `db:"deleted_at"`
	// What is said of a document's last event: when, what, by whom, on which
	// version, and whether it came from outside.
	LastAt      *time.Time `db:"last_at"`
	LastKind    string     `db:"last_kind"`
	LastBy      string     `db:"last_by"`
	LastOutside bool       `db:"last_outside"`
	LastVersion *int       `db:"last_version"`
}

const (
	// Folder and Document are the kinds of items.
	Folder   = "folder"
	Document = "document"
	// NamesIndex is violated by a second item of a name and twin in a folder.
	NamesIndex = "items_names"
)

// ItemByID finds an item that is not deleted.
func ItemByID(ctx context.Context, q Q, id uuid.UUID) (i Item, err error) {
	return i, found(q.GetContext(ctx, &i, `SELECT * FROM items WHERE id = $1 AND deleted_at IS NULL`, id))
}

// ItemsByName lists the items in a folder by the key of their name: one, but for
// those that are hidden from one another's makers.
func ItemsByName(ctx context.Context, q Q, parent uuid.UUID, key string) (all []Item, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM items WHERE parent_id = $1 AND name_key = $2 AND deleted_at IS NULL ORDER BY twin`, parent, key)
}

// DocumentByNumber finds a document by dossier code and running number, also by
// one that it had before it was moved to another dossier.
func DocumentByNumber(ctx context.Context, q Q, code string, number int) (i Item, err error) {
	return i, found(q.GetContext(ctx, &i, `SELECT i.* FROM items i JOIN dossiers d ON d.id = i.dossier_id
		WHERE d.code = $1 AND i.number = $2 AND i.deleted_at IS NULL
		UNION ALL SELECT i.* FROM former_numbers n JOIN dossiers d ON d.id = n.dossier_id JOIN items i ON i.id = n.item_id WHERE d.code = $1
		AND n.number = $2 AND i.deleted_at IS NULL`, code, number))
}

// PathOf returns the ids from the dossier's top to the item, the item last.
// A deleted item on the way makes the path empty.
func PathOf(ctx context.Context, q Q, id uuid.UUID) ([]uuid.UUID, error) {
	var ids []uuid.UUID
	err := q.SelectContext(ctx, &ids, `WITH RECURSIVE up AS (
			SELECT id, parent_id, 0 AS n FROM items WHERE id = $1 AND deleted_at IS NULL
			UNION ALL SELECT i.id, i.parent_id, up.n + 1 FROM up JOIN items i ON i.id = up.parent_id AND i.deleted_at IS NULL)
		SELECT id FROM up WHERE (SELECT bool_or(parent_id IS NULL) FROM up) ORDER BY n DESC`, id)
	return ids, err
}

// AddItem adds a folder or document, with the access of the folder it lies in;
// a document is counted there. The caller holds the dossier's row.
func AddItem(ctx context.Context, q Q, i Item) error {
	i.ScopeID = i.ID
	switch {
	case i.ParentID == nil:
		if err := AddTop(ctx, q, i.ID); err != nil {
			return err
		}
	case i.Kind == Folder:
		if err := addScope(ctx, q, i.ID, *i.ParentID); err != nil {
			return err
		}
	default:
		i.ScopeID = *i.ParentID
		if err := execOne(ctx, q, `UPDATE items SET n_documents = n_documents + 1, n_bytes = n_bytes + $2 WHERE id = $1`, i.ParentID, i.Size); err != nil {
			return err
		}
		if err := weigh(ctx, q, i.ScopeID, 1, i.Size); err != nil {
			return err
		}
	}
	return exec(ctx, q, `INSERT INTO items (id, dossier_id, scope_id, parent_id, kind, name, name_key, position, number, version, sha256, size, media_type, created_by, created_at, twin)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16)`,
		i.ID, i.DossierID, i.ScopeID, i.ParentID, i.Kind, i.Name, i.NameKey, i.Position, i.Number, i.Version, i.SHA256, i.Size, i.MediaType, i.CreatedBy, i.CreatedAt, i.Twin)
}

// RenameItem changes a name.
func RenameItem(ctx context.Context, q Q, id uuid.UUID, name, key string, twin int) error {
	return execOne(ctx, q, `UPDATE items SET name = $2, name_key = $3, twin = $4 WHERE id = $1 AND deleted_at IS NULL`, id, name, key, twin)
}

// NextPosition is the place after the last folder in a folder.
func NextPosition(ctx context.Context, q Q, parent uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT coalesce(max(position), 0) + 1 FROM items WHERE parent_id = $1 AND kind = 'folder'`, parent)
}

// ScopedFolder is a folder with the root by which it is decided.
type ScopedFolder struct {
	Item
	Root uuid.UUID `db:"root_id"`
	// OwnDocuments are the documents in it that are roots themselves.
	Own int `db:"own"`
}

// FoldersOf returns all folders of a dossier, its top included.
func FoldersOf(ctx context.Context, q Q, dossier uuid.UUID) (all []ScopedFolder, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT i.*, s.root_id, (SELECT count(*) FROM scopes f WHERE f.parent_id = i.id AND NOT f.is_folder) AS own
		FROM items i JOIN scopes s ON s.id = i.id WHERE i.dossier_id = $1 AND i.kind = 'folder' AND i.deleted_at IS NULL ORDER BY i.position, i.id`, dossier)
}

// ItemsByID returns items that are not deleted, in no order.
func ItemsByID(ctx context.Context, q Q, ids []uuid.UUID) (all []Item, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM items WHERE id = ANY($1::uuid[]) AND deleted_at IS NULL`, IDs(ids))
}

// DocumentsUnder returns all documents in a folder and below, each with the
// slash-separated way from that folder.
func DocumentsUnder(ctx context.Context, q Q, folder uuid.UUID) (all []PlacedItem, err error) {
	return all, q.SelectContext(ctx, &all, `WITH RECURSIVE down AS (
			SELECT id, ''::text AS way, 0 AS depth FROM items WHERE id = $1 AND deleted_at IS NULL
			UNION ALL SELECT i.id, down.way || i.name || '/', depth + 1 FROM down JOIN items i ON i.parent_id = down.id AND i.kind = 'folder'
			AND i.deleted_at IS NULL)
		SELECT i.*, s.root_id, s.zone_id, down.way FROM down JOIN items i ON i.parent_id = down.id AND i.kind = 'document' AND i.deleted_at IS NULL
		JOIN scopes s ON s.id = i.scope_id ORDER BY down.way, i.name_key`, folder)
}

// GivenUnder returns the documents under a folder that come with it when it is
// given: closed items, and what lies in closed folders, do not.
func GivenUnder(ctx context.Context, q Q, folder uuid.UUID) ([]PlacedItem, error) {
	s, err := ScopeOf(ctx, q, folder)
	if err != nil {
		return nil, err
	}
	all, err := DocumentsUnder(ctx, q, folder)
	return slices.DeleteFunc(all, func(p PlacedItem) bool { return p.Zone != s.Zone }), err
}

// PlacedItem is an item with its way from some folder, and the root and zone by
// which it is decided.
type PlacedItem struct {
	Item
	Way  string    `db:"way"`
	Root uuid.UUID `db:"root_id"`
	Zone uuid.UUID `db:"zone_id"`
}

// Children returns the folders in a folder that come with it when it is given,
// in order.
func Children(ctx context.Context, q Q, folder uuid.UUID) (all []Item, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM items i JOIN scopes s ON s.id = i.id JOIN scopes f ON f.id = i.parent_id
		AND f.zone_id = s.zone_id
		WHERE i.parent_id = $1 AND i.kind = 'folder' AND i.deleted_at IS NULL ORDER BY i.position, i.id`, folder)
}

// ZonePathOf is PathOf without what lies above the nearest closed item.
func ZonePathOf(ctx context.Context, q Q, id uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `WITH RECURSIVE up AS (
			SELECT i.id, i.parent_id, i.scope_id, s.zone_id FROM items i JOIN scopes s ON s.id = i.scope_id WHERE i.id = $1
			UNION ALL SELECT i.id, i.parent_id, i.scope_id, s.zone_id FROM up JOIN items i ON i.id = up.parent_id JOIN scopes s ON s.id = i.scope_id
			AND s.zone_id = up.zone_id)
		SELECT id FROM up`, id)
}

// Version is one state of a document's content.
type Version struct {
	ItemID    uuid.UUID  `db:"item_id"`
	Number    int        `db:"number"`
	SHA256    []byte     `db:"sha256"`
	Size      int64      `db:"size"`
	MediaType string     `db:"media_type"`
	Origin    string     `db:"origin"`
	CreatedBy *uuid.UUID `db:"created_by"`
	CreatedAt time.Time  `db:"created_at"`
	RemovedAt *time.Time `db:"removed_at"`
	MovedTo   *uuid.UUID `db:"moved_to"`
}

// AddVersion adds a version.
func AddVersion(ctx context.Context, q Q, v Version) error {
	return exec(ctx, q, `INSERT INTO versions (item_id, number, sha256, size, media_type, origin, created_by, created_at)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8)`,
		v.ItemID, v.Number, v.SHA256, v.Size, v.MediaType, v.Origin, v.CreatedBy, v.CreatedAt)
}

// LetCount makes a version the one that counts.
func LetCount(ctx context.Context, q Q, v Version) error {
	if err := exec(ctx, q, `UPDATE items f SET n_bytes = f.n_bytes + $2 - i.size FROM items i WHERE i.id = $1 AND f.id = i.parent_id`,
		v.ItemID, v.Size); err != nil {
		return err
	}
	if err := exec(ctx, q, `UPDATE scopes s SET n_bytes = s.n_bytes + $2 - i.size FROM items i WHERE i.id = $1 AND s.id = i.scope_id`,
		v.ItemID, v.Size); err != nil {
		return err
	}
	return execOne(ctx, q, `UPDATE items SET version = $2, sha256 = $3, size = $4, media_type = $5 WHERE id = $1`,
		v.ItemID, v.Number, v.SHA256, v.Size, v.MediaType)
}

// MoveVersion marks a version as kept apart in another document.
func MoveVersion(ctx context.Context, q Q, item uuid.UUID, number int, to uuid.UUID, now time.Time) error {
	return execOne(ctx, q, `UPDATE versions SET removed_at = $3, moved_to = $4 WHERE item_id = $1 AND number = $2`, item, number, now, to)
}

// NamedVersion is a version with its maker's name and the number of the
// document it was moved to.
type NamedVersion struct {
	Version
	By        string `db:"by_name"`
	MovedToNo *int   `db:"moved_to_no"`
}

// VersionsOf returns all versions of a document, newest first.
func VersionsOf(ctx context.Context, q Q, item uuid.UUID) (all []NamedVersion, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT v.*, coalesce(p.name, '') AS by_name, m.number AS moved_to_no FROM versions v
		LEFT JOIN people p ON p.id = v.created_by LEFT JOIN items m ON m.id = v.moved_to WHERE v.item_id = $1 ORDER BY v.number DESC`, item)
}

// LastVersion is the highest number ever given in a document.
func LastVersion(ctx context.Context, q Q, item uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT max(number) FROM versions WHERE item_id = $1`, item)
}

// Blob is stored content: where it lies, and its key, sealed under the key file.
type Blob struct {
	SHA256    []byte    `db:"sha256"`
	Size      int64     `db:"size"`
	Place     uuid.UUID `db:"place"`
	SealedKey []byte    `db:"sealed_key"`
	CreatedAt time.Time `db:"created_at"`
}

// AddBlob adds content and reports whether it was new.
func AddBlob(ctx context.Context, q Q, b Blob) (bool, error) {
	r, err := q.ExecContext(ctx, `INSERT INTO blobs (sha256, size, place, sealed_key, created_at) VALUES ($1, $2, $3, $4, $5)
		ON CONFLICT (sha256) DO NOTHING`, b.SHA256, b.Size, b.Place, b.SealedKey, b.CreatedAt)
	if err != nil {
		return false, err
	}
	if n, err := r.RowsAffected(); err != nil || n == 0 {
		return false, err
	}
	return true, execOne(ctx, q, `UPDATE room_used SET bytes = bytes + $2 WHERE slot = $1`, b.Place[15]%16, b.Size)
}

// Room is how much content is kept, how much of people's open uploads is still to
// come or to be taken in, and how much of visitors' has arrived, and the practice's
// limit, if there is one. What visitors announce keeps nobody out.
type Room struct {
	Used      int64  `db:"used"`
	Announced int64  `db:"announced"`
	Limit     *int64 `db:"room_bytes"`
}

// Left is how much more may be taken in; nil without a limit.
func (r Room) Left() *int64 {
	if r.Limit == nil {
		return nil
	}
	left := max(0, *r.Limit-r.Used-r.Announced)
	return &left
}

// RoomOf reads how much room there is.
func RoomOf(ctx context.Context, q Q) (r Room, err error) {
	return r, found(q.GetContext(ctx, &r, `SELECT (SELECT sum(bytes) FROM room_used)::bigint AS used, (SELECT coalesce(sum(CASE WHEN visit_id IS NULL THEN size ELSE received END), 0) FROM uploads
		WHERE outcome = '')::bigint AS announced, room_bytes FROM practice`))
}

// LockRoom lets one after the other announce what it needs room for.
func LockRoom(ctx context.Context, q Q) error {
	return exec(ctx, q, `SELECT pg_advisory_xact_lock(hashtext('tabularis room'))`)
}

// BlobByHash finds content.
func BlobByHash(ctx context.Context, q Q, sha256 []byte) (b Blob, err error) {
	return b, found(q.GetContext(ctx, &b, `SELECT * FROM blobs WHERE sha256 = $1`, sha256))
}
