// Package items changes folders and documents, and opens what documents hold. It
// is the only place that changes an item.
package items

import (
	"context"
	"slices"

	"github.com/google/uuid"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	"tabularis/internal/platform/postgres"
)

// NamesIndex is violated by a second item of a name and twin in a folder.
const NamesIndex = "items_names"

// ItemByID finds an item that is not deleted.
func ItemByID(ctx context.Context, q postgres.Q, id uuid.UUID) (i items.Item, err error) {
	return i, postgres.Found(q.GetContext(ctx, &i, `SELECT * FROM items WHERE id = $1`, id))
}

// DocumentByNumber finds a document by dossier code and running number, also by
// one that it had before it was moved to another dossier.
func DocumentByNumber(ctx context.Context, q postgres.Q, code string, number int) (i items.Item, err error) {
	return i, postgres.Found(q.GetContext(ctx, &i, `SELECT i.* FROM items i JOIN dossiers d ON d.id = i.dossier_id
		WHERE d.code = $1 AND i.number = $2
		UNION ALL SELECT i.* FROM former_numbers n JOIN dossiers d ON d.id = n.dossier_id JOIN items i ON i.id = n.item_id WHERE d.code = $1
		AND n.number = $2`, code, number))
}

// PathOf returns the ids from the dossier's top to the item, the item last.
// A deleted item on the way makes the path empty.
func PathOf(ctx context.Context, q postgres.Q, id uuid.UUID) ([]uuid.UUID, error) {
	var ids []uuid.UUID
	err := q.SelectContext(ctx, &ids, `WITH RECURSIVE up AS (
			SELECT id, parent_id, 0 AS n FROM items WHERE id = $1
			UNION ALL SELECT i.id, i.parent_id, up.n + 1 FROM up JOIN items i ON i.id = up.parent_id)
		SELECT id FROM up WHERE (SELECT bool_or(parent_id IS NULL) FROM up) ORDER BY n DESC`, id)
	return ids, err
}

// addItem adds a folder or document, with the access of the folder it lies in;
// a document is counted there. The caller holds the dossier's row.
func addItem(ctx context.Context, q postgres.Q, i items.Item) error {
	i.ScopeID = i.ID
	switch {
	case i.ParentID == nil:
		if err := guard.AddTop(ctx, q, i.ID); err != nil {
			return err
		}
	case i.Kind == items.Folder:
		if err := guard.AddScope(ctx, q, i.ID, *i.ParentID); err != nil {
			return err
		}
	default:
		i.ScopeID = *i.ParentID
		if err := postgres.ExecOne(ctx, q, `UPDATE items SET n_documents = n_documents + 1, n_bytes = n_bytes + $2 WHERE id = $1`, i.ParentID, i.Size); err != nil {
			return err
		}
		if err := guard.Weigh(ctx, q, i.ScopeID, 1, i.Size); err != nil {
			return err
		}
	}
	return postgres.Exec(ctx, q, `INSERT INTO items (id, dossier_id, scope_id, parent_id, kind, name, name_key, position, number, version, sha256, size, media_type, created_by, created_at, twin)
		VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $10, $11, $12, $13, $14, $15, $16)`,
		i.ID, i.DossierID, i.ScopeID, i.ParentID, i.Kind, i.Name, i.NameKey, i.Position, i.Number, i.Version, i.SHA256, i.Size, i.MediaType, i.CreatedBy, i.CreatedAt, i.Twin)
}

// renameItem changes a name.
func renameItem(ctx context.Context, q postgres.Q, id uuid.UUID, name, key string, twin int) error {
	return postgres.ExecOne(ctx, q, `UPDATE items SET name = $2, name_key = $3, twin = $4 WHERE id = $1`, id, name, key, twin)
}

// nextPosition is the place after the last folder in a folder.
func nextPosition(ctx context.Context, q postgres.Q, parent uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT coalesce(max(position), 0) + 1 FROM items WHERE parent_id = $1 AND kind = 'folder'`, parent)
}

// ScopedFolder is a folder with the root by which it is decided.
type ScopedFolder struct {
	items.Item
	Root uuid.UUID `db:"root_id"`
	// OwnDocuments are the documents in it that are roots themselves.
	Own int `db:"own"`
}

// FoldersOf returns all folders of a dossier, its top included.
func FoldersOf(ctx context.Context, q postgres.Q, dossier uuid.UUID) (all []ScopedFolder, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT i.*, s.root_id, (SELECT count(*) FROM scopes f WHERE f.parent_id = i.id AND NOT f.is_folder) AS own
		FROM items i JOIN scopes s ON s.id = i.id WHERE i.dossier_id = $1 AND i.kind = 'folder' ORDER BY i.position, i.id`, dossier)
}

// GivenUnder returns the documents under a folder that come with it when it is
// given: closed items, and what lies in closed folders, do not.
func GivenUnder(ctx context.Context, q postgres.Q, folder uuid.UUID) ([]items.Placed, error) {
	s, err := guard.ScopeOf(ctx, q, folder)
	if err != nil {
		return nil, err
	}
	all, err := guard.DocumentsUnder(ctx, q, folder)
	return slices.DeleteFunc(all, func(p items.Placed) bool { return p.Zone != s.Zone }), err
}

// Children returns the folders in a folder that come with it when it is given,
// in order.
func Children(ctx context.Context, q postgres.Q, folder uuid.UUID) (all []items.Item, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT i.* FROM items i JOIN scopes s ON s.id = i.id JOIN scopes f ON f.id = i.parent_id
		AND f.zone_id = s.zone_id
		WHERE i.parent_id = $1 AND i.kind = 'folder' ORDER BY i.position, i.id`, folder)
}

// ZonePathOf is PathOf without what lies above the nearest closed item.
func ZonePathOf(ctx context.Context, q postgres.Q, id uuid.UUID) (ids []uuid.UUID, err error) {
	return ids, q.SelectContext(ctx, &ids, `WITH RECURSIVE up AS (
			SELECT i.id, i.parent_id, i.scope_id, s.zone_id FROM items i JOIN scopes s ON s.id = i.scope_id WHERE i.id = $1
			UNION ALL SELECT i.id, i.parent_id, i.scope_id, s.zone_id FROM up JOIN items i ON i.id = up.parent_id JOIN scopes s ON s.id = i.scope_id
			AND s.zone_id = up.zone_id)
		SELECT id FROM up`, id)
}

// DossierByID finds a dossier.
func DossierByID(ctx context.Context, q postgres.Q, id uuid.UUID) (d items.Dossier, err error) {
	return d, postgres.Found(q.GetContext(ctx, &d, `SELECT * FROM dossiers WHERE id = $1`, id))
}

// AllDossiers lists all dossiers, in the order in which their rows are taken.
func AllDossiers(ctx context.Context, q postgres.Q) (all []items.Dossier, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM dossiers ORDER BY id`)
}

// LockDossier holds the dossier's row until the transaction ends. Acts that
// touch several rows take a link's row first, then the dossier's, then items'.
func LockDossier(ctx context.Context, q postgres.Q, id uuid.UUID) error {
	var one int
	return postgres.Found(q.GetContext(ctx, &one, `SELECT 1 FROM all_dossiers WHERE id = $1 FOR NO KEY UPDATE`, id))
}

// LockDossiers holds the rows of dossiers, which come in the order in which rows are
// taken; see access.Sorted.
func LockDossiers(ctx context.Context, q postgres.Q, sorted []uuid.UUID) error {
	for _, id := range sorted {
		if err := LockDossier(ctx, q, id); err != nil {
			return err
		}
	}
	return nil
}

// takeNumber gives out the next register number.
func takeNumber(ctx context.Context, q postgres.Q, dossier uuid.UUID) (n int, err error) {
	return n, postgres.Found(q.GetContext(ctx, &n, `UPDATE dossiers SET last_number = last_number + 1 WHERE id = $1 RETURNING last_number`, dossier))
}

// NextNumber is the register number that the next document of a dossier gets, if nobody is quicker.
func NextNumber(ctx context.Context, q postgres.Q, dossier uuid.UUID) (n int, err error) {
	return n, postgres.Found(q.GetContext(ctx, &n, `SELECT last_number + 1 FROM dossiers WHERE id = $1`, dossier))
}

// CodesOf returns the codes of dossiers.
func CodesOf(ctx context.Context, q postgres.Q, dossiers []uuid.UUID) (map[uuid.UUID]string, error) {
	var rows []struct {
		ID   uuid.UUID `db:"id"`
		Code string    `db:"code"`
	}
	err := q.SelectContext(ctx, &rows, `SELECT id, code FROM all_dossiers WHERE id = ANY($1::uuid[])`, postgres.IDs(dossiers))
	codes := make(map[uuid.UUID]string, len(rows))
	for _, r := range rows {
		codes[r.ID] = r.Code
	}
	return codes, err
}

// PlacedByID finds an item that is not deleted, with the root and zone by which it is
// decided.
func PlacedByID(ctx context.Context, q postgres.Q, id uuid.UUID) (p items.Placed, err error) {
	return p, postgres.Found(q.GetContext(ctx, &p, `SELECT i.*, s.root_id, s.zone_id, '' AS way FROM items i JOIN scopes s ON s.id = i.scope_id
		WHERE i.id = $1`, id))
}

// CountMade counts the documents that a person added.
func CountMade(ctx context.Context, q postgres.Q, person uuid.UUID) (n int, err error) {
	return n, q.GetContext(ctx, &n, `SELECT count(*) FROM items WHERE created_by = $1 AND kind = 'document'`, person)
}
