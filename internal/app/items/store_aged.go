package items

import (
	"context"
	"time"

	"github.com/google/uuid"

	"tabularis/core/versions"
	"tabularis/internal/platform/postgres"
)

// AgedVersion is what a keeping rule asks of a version.
type AgedVersion struct {
	ItemID  uuid.UUID `db:"item_id"`
	Number  int       `db:"number"`
	At      time.Time `db:"created_at"`
	Size    int64     `db:"size"`
	Removed bool      `db:"removed"`
	Apart   bool      `db:"apart"`
	Named   bool      `db:"named"`
	Noted   bool      `db:"noted"`
	// Held says that it was put back by hand, or that an open link gives it.
	Held bool `db:"held"`
}

// Plain is the version as the rules know it.
func (v AgedVersion) Plain() versions.Version {
	return versions.Version{Number: v.Number, At: v.At, Removed: v.Removed, Apart: v.Apart, Named: v.Named, Noted: v.Noted, Held: v.Held}
}

// PlainAged are aged versions as the rules know them.
func PlainAged(all []AgedVersion) []versions.Version {
	out := make([]versions.Version, len(all))
	for i, v := range all {
		out[i] = v.Plain()
	}
	return out
}

// AgedVersions lists the versions of documents, by document.
func AgedVersions(ctx context.Context, q postgres.Q, documents []uuid.UUID, now time.Time) (map[uuid.UUID][]AgedVersion, error) {
	var all []AgedVersion
	err := q.SelectContext(ctx, &all, `SELECT item_id, number, created_at, size, removed_at IS NOT NULL AS removed, moved_to IS NOT NULL AS apart, title <> '' AS named, note <> '' AS noted,
		held OR EXISTS (SELECT 1 FROM link_versions g JOIN links l ON l.id = g.link_id WHERE g.item_id = v.item_id AND g.version = v.number AND l.ended_at IS NULL AND (l.until IS NULL OR l.until > $2)) AS held
		FROM versions v WHERE item_id = ANY($1::uuid[]) ORDER BY item_id, number`, postgres.IDs(documents), now)
	by := map[uuid.UUID][]AgedVersion{}
	for _, v := range all {
		by[v.ItemID] = append(by[v.ItemID], v)
	}
	return by, err
}
