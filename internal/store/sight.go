package store

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"
)

// Sight is an item with all that it takes to decide on it: fetched in one
// statement, since every request begins with it.
type Sight struct {
	Item
	Path   json.RawMessage `db:"path"`
	Grants json.RawMessage `db:"grants"`
}

// ContentSight is a document with a version of its content and where that lies.
type ContentSight struct {
	Sight
	VNumber int       `db:"v_number"`
	VSHA256 []byte    `db:"v_sha256"`
	VSize   int64     `db:"v_size"`
	VType   string    `db:"v_type"`
	VAt     time.Time `db:"v_at"`
	Place   uuid.UUID `db:"place"`
	Sealed  []byte    `db:"sealed_key"`
}

// Version is the version that was asked for.
func (s ContentSight) Version() Version {
	return Version{ItemID: s.ID, Number: s.VNumber, SHA256: s.VSHA256, Size: s.VSize, MediaType: s.VType, CreatedAt: s.VAt}
}

// Blob is the version's content.
func (s ContentSight) Blob() Blob {
	return Blob{SHA256: s.VSHA256, Size: s.VSize, Place: s.Place, SealedKey: s.Sealed}
}

// Way returns the path from the dossier's top and a person's grants on it.
func (s Sight) Way() (path []uuid.UUID, grants []Grant, err error) {
	if err = json.Unmarshal(s.Path, &path); err != nil {
		return nil, nil, err
	}
	var rows []struct {
		ID     uuid.UUID  `json:"id"`
		Item   uuid.UUID  `json:"item_id"`
		Person uuid.UUID  `json:"person_id"`
		Level  string     `json:"level"`
		Ends   *time.Time `json:"ends_at"`
	}
	if err = json.Unmarshal(s.Grants, &rows); err != nil {
		return nil, nil, err
	}
	for _, r := range rows {
		grants = append(grants, Grant{ID: r.ID, ItemID: r.Item, PersonID: r.Person, Level: r.Level, EndsAt: r.Ends})
	}
	return path, grants, nil
}

// up is the way from an item ($1) to its dossier's top, and way what is made of
// it: the ids from the top down, and the grants of a person ($2) on them. Nothing
// is found of an item below a deleted folder.
const (
	up = `WITH RECURSIVE up AS (
			SELECT id, parent_id, 0 AS n FROM items WHERE id = $1 AND deleted_at IS NULL
			UNION ALL SELECT i.id, i.parent_id, up.n + 1 FROM up JOIN items i ON i.id = up.parent_id AND i.deleted_at IS NULL)
		SELECT i.*`
	way = `,
			(SELECT coalesce(json_agg(id ORDER BY n DESC), '[]') FROM up) AS path,
			(SELECT coalesce(json_agg(g), '[]') FROM grants g WHERE g.person_id = $2 AND g.item_id IN (SELECT id FROM up)) AS grants
		FROM items i `
	whole = ` WHERE i.id = $1 AND i.deleted_at IS NULL AND (SELECT bool_or(parent_id IS NULL) FROM up)`
)

// SightOf finds an item with its path and the grants of a person on it.
func SightOf(ctx context.Context, q Q, id, person uuid.UUID) (s Sight, err error) {
	return s, found(q.GetContext(ctx, &s, up+way+whole, id, person))
}

// ContentSightOf finds a document like SightOf, with a version that is not
// removed; number 0 means the counting one.
func ContentSightOf(ctx context.Context, q Q, id, person uuid.UUID, number int) (s ContentSight, err error) {
	return s, found(q.GetContext(ctx, &s, up+`, v.number AS v_number, v.sha256 AS v_sha256, v.size AS v_size, v.media_type AS v_type, v.created_at AS v_at, b.place, b.sealed_key`+way+
		`JOIN versions v ON v.item_id = i.id AND v.number = CASE WHEN $3::int = 0 THEN i.version ELSE $3 END AND v.removed_at IS NULL JOIN blobs b ON b.sha256 = v.sha256`+whole, id, person, number))
}
