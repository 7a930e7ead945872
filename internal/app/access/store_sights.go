package access

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/register"
	"tabularis/internal/platform/postgres"
)

// ItemsByName lists the items in a folder by the key of their name: one, but for
// those that are hidden from one another's makers.
func ItemsByName(ctx context.Context, q postgres.Q, parent uuid.UUID, key string) (all []items.Item, err error) {
	return all, q.SelectContext(ctx, &all, `SELECT * FROM items WHERE parent_id = $1 AND name_key = $2 ORDER BY twin`, parent, key)
}

// DocumentsUnder returns all documents in a folder and below, each with the
// slash-separated way from that folder.
func DocumentsUnder(ctx context.Context, q postgres.Q, folder uuid.UUID) (all []items.Placed, err error) {
	return all, q.SelectContext(ctx, &all, `WITH RECURSIVE down AS (
			SELECT id, ''::text AS way, 0 AS depth FROM items WHERE id = $1
			UNION ALL SELECT i.id, down.way || i.name || '/', depth + 1 FROM down JOIN items i ON i.parent_id = down.id AND i.kind = 'folder')
		SELECT i.*, s.root_id, s.zone_id, down.way FROM down JOIN items i ON i.parent_id = down.id AND i.kind = 'document'
		JOIN scopes s ON s.id = i.scope_id ORDER BY down.way, i.name_key`, folder)
}

// DossierByCode finds a dossier.
func DossierByCode(ctx context.Context, q postgres.Q, code string) (d items.Dossier, err error) {
	return d, postgres.Found(q.GetContext(ctx, &d, `SELECT * FROM dossiers WHERE code = $1`, code))
}

// Located is an item with what it takes to decide on it, fetched in one
// statement, since every request begins with it.
type Located struct {
	items.Item
	Root        uuid.UUID `db:"root_id"`
	Zone        uuid.UUID `db:"zone_id"`
	Code        string    `db:"code"`
	DossierName string    `db:"dossier_name"`
	// Linked says that an open link reaches something in the dossier.
	Linked bool `db:"linked"`
	// KeptBy is who has it in hand and keeps others from downloading it meanwhile.
	KeptBy *uuid.UUID `db:"kept_by"`
	Stamps
}

// Ref is a document's register number; a folder has none.
func (l Located) Ref() string {
	if l.Item.Number == nil {
		return ""
	}
	return register.Ref{Code: l.Code, Number: *l.Item.Number}.String()
}

// ContentSight is a document with a version of its content and where that lies.
type ContentSight struct {
	Located
	VNumber int       `db:"v_number"`
	VSHA256 []byte    `db:"v_sha256"`
	VSize   int64     `db:"v_size"`
	VType   string    `db:"v_type"`
	VAt     time.Time `db:"v_at"`
	Place   uuid.UUID `db:"place"`
	Sealed  []byte    `db:"sealed_key"`
	Own     int64     `db:"own"`
}

// Version is the version that was asked for.
func (s ContentSight) Version() items.Version {
	return items.Version{ItemID: s.ID, Number: s.VNumber, SHA256: s.VSHA256, Size: s.VSize, MediaType: s.VType, CreatedAt: s.VAt}
}

// Blob is the version's content.
func (s ContentSight) Blob() items.Blob {
	return items.Blob{SHA256: s.VSHA256, Size: s.VSize, Place: s.Place, SealedKey: s.Sealed, Own: s.Own}
}

var (
	sight = `SELECT i.*, s.root_id, s.zone_id, d.code, d.name AS dossier_name, ds.version AS dossier_stamp, ps.version AS people_stamp,
		EXISTS (SELECT 1 FROM links l WHERE l.dossier_id = i.dossier_id AND ` + Giving("l", "$2") + `) AS linked,
		(SELECT k.person_id FROM checkouts k WHERE k.item_id = i.id AND k.keeps) AS kept_by`
	sightFrom = ` FROM items i ` + sightWith
	sightWith = `JOIN scopes s ON s.id = i.scope_id JOIN all_dossiers d ON d.id = i.dossier_id
		JOIN access_stamps ds ON ds.scope = i.dossier_id JOIN access_stamps ps ON ps.scope = '` + PeopleStamp.String() + `' `
)

// SightOf finds an item with what it takes to decide on it.
func SightOf(ctx context.Context, q postgres.Q, id uuid.UUID, now time.Time) (s Located, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, sight+sightFrom+`WHERE i.id = $1`, id, now))
}

// DeletedSightOf finds an item that was deleted, like SightOf.
func DeletedSightOf(ctx context.Context, q postgres.Q, id uuid.UUID, now time.Time) (s Located, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, sight+` FROM deleted_items del JOIN all_items i ON i.id = del.item_id `+sightWith+`WHERE i.id = $1`, id, now))
}

// SightAnywhere finds an item, also where it is deleted; there says that it is not.
func SightAnywhere(ctx context.Context, q postgres.Q, id uuid.UUID, now time.Time) (s Located, there bool, err error) {
	if s, err = SightOf(ctx, q, id, now); err == nil {
		return s, true, nil
	}
	if fault.Is(err, fault.NotFound) {
		s, err = DeletedSightOf(ctx, q, id, now)
	}
	return s, false, err
}

// SightsOf finds items like SightOf, in no order. What is not there is left out.
func SightsOf(ctx context.Context, q postgres.Q, ids []uuid.UUID, now time.Time) (all []Located, err error) {
	return all, q.SelectContext(ctx, &all, sight+sightFrom+`WHERE i.id = ANY($1::uuid[])`, postgres.IDs(ids), now)
}

// SessionSight is a document's content together with who asks for it.
type SessionSight struct {
	ContentSight
	Person uuid.UUID
}

// SessionSightOf finds content together with who is signed in by a token: in
// one statement, since small contents are asked for by the hundred. It finds
// nothing where either is missing, nor where the practice wants a second factor
// and an authenticator app is not what the person has.
//
// It goes past sqlx to the driver, whose reading of a row costs half as much.
func SessionSightOf(ctx context.Context, db *postgres.DB, tokenSHA256 []byte, id uuid.UUID, number int, now time.Time) (s SessionSight, err error) {
	err = db.Pool.QueryRow(ctx, `SELECT i.id, i.kind, i.name, i.dossier_id, i.created_by, s.root_id, s.zone_id, ds.version, ps.version, p.id, v.number, v.sha256, v.size, v.media_type, v.created_at, b.place, b.sealed_key, b.own,
		(SELECT k.person_id FROM checkouts k WHERE k.item_id = i.id AND k.keeps)
		FROM sessions se JOIN people p ON p.id = se.person_id AND p.deactivated_at IS NULL
		CROSS JOIN items i JOIN scopes s ON s.id = i.scope_id
		JOIN access_stamps ds ON ds.scope = i.dossier_id JOIN access_stamps ps ON ps.scope = '`+PeopleStamp.String()+`'
		JOIN versions v ON v.item_id = i.id AND v.number = CASE WHEN $4::int = 0 THEN i.version ELSE $4 END AND v.removed_at IS NULL
		JOIN blobs b ON b.sha256 = v.sha256
		WHERE se.token_sha256 = $1 AND se.expires_at > $2 AND NOT se.half AND i.id = $3
			AND (p.standing = 'guest' OR p.totp_sealed IS NOT NULL OR NOT (SELECT second_factor_required FROM practice))`, tokenSHA256, now, id, number).
		Scan(&s.ID, &s.Kind, &s.Name, &s.DossierID, &s.CreatedBy, &s.Root, &s.Zone, &s.Stamps.Dossier, &s.Stamps.People, &s.Person,
			&s.VNumber, &s.VSHA256, &s.VSize, &s.VType, &s.VAt, &s.Place, &s.Sealed, &s.Own, &s.KeptBy)
	return s, postgres.Found(err)
}

// ContentSightOf finds a document like SightOf, with a version that is not
// removed; number 0 means the counting one.
func ContentSightOf(ctx context.Context, q postgres.Q, id uuid.UUID, number int, now time.Time) (s ContentSight, err error) {
	return s, postgres.Found(q.GetContext(ctx, &s, sight+`, v.number AS v_number, v.sha256 AS v_sha256, v.size AS v_size, v.media_type AS v_type, v.created_at AS v_at, b.place, b.sealed_key, b.own`+sightFrom+
		`JOIN versions v ON v.item_id = i.id AND v.number = CASE WHEN $3::int = 0 THEN i.version ELSE $3 END AND v.removed_at IS NULL
			JOIN blobs b ON b.sha256 = v.sha256
		WHERE i.id = $1`, id, now, number))
}
