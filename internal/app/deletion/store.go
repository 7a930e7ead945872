package deletion

import (
	"context"
	"fmt"
	"time"

	"github.com/google/uuid"

	"tabularis/core/items"
	guard "tabularis/internal/app/access"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/listing"
	"tabularis/internal/platform/postgres"
)

// Row is a deletion with what was deleted.
type Row struct {
	tree.Deletion
	Root      uuid.UUID `db:"root_id"`
	DossierID uuid.UUID `db:"dossier_id"`
	Code      string    `db:"code"`
	Kind      string    `db:"kind"`
	Name      string    `db:"name"`
	Number    *int      `db:"number"`
	CreatedBy uuid.UUID `db:"created_by"`
	Versions  int       `db:"n_versions"`
	ByName    string    `db:"by_name"`
	// FolderGone says that the folder in which it was is deleted, too; Links is how many
	// ended with it.
	FolderGone bool `db:"folder_gone"`
	Links      int  `db:"n_links"`
}

func (r Row) item() items.Item {
	return items.Item{ID: r.ItemID, DossierID: r.DossierID, Kind: r.Kind, Name: r.Name}
}

type sought struct {
	Dossier, By *uuid.UUID
	Since       time.Time
	Before      *listing.Mark
	Limit       int
}

const rows = `SELECT d.*, s.root_id, i.dossier_id, i.kind, i.name, i.number, i.created_by, b.code, p.name AS by_name,
	(SELECT count(*) FROM versions v WHERE v.item_id = i.id AND v.removed_at IS NULL) AS n_versions,
	NOT EXISTS (SELECT 1 FROM items f WHERE f.id = d.folder_id) AS folder_gone,
	(SELECT count(*) FROM deleted_links l WHERE l.deletion_id = d.id) AS n_links
	FROM deletions d JOIN all_items i ON i.id = d.item_id JOIN scopes s ON s.id = i.scope_id JOIN all_dossiers b ON b.id = i.dossier_id JOIN people p ON p.id = d.deleted_by `

// deletions lists what may be seen of what was deleted since a moment, newest first.
func deletions(ctx context.Context, q postgres.Q, r guard.Readable, s sought) (all []Row, err error) {
	args, where := append([]any{s.Limit, s.Since}, r.Args()...), `d.at > $2 AND `+r.Current("s", 3)
	and := func(condition string, values ...any) {
		for _, v := range values {
			args = append(args, v)
			condition = fmt.Sprintf(condition, len(args))
		}
		where += " AND " + condition
	}
	if s.Dossier != nil {
		and("i.dossier_id = $%d", *s.Dossier)
	}
	if s.By != nil {
		and("d.deleted_by = $%d", *s.By)
	}
	if s.Before != nil {
		args = append(args, s.Before.At, s.Before.ID)
		where += fmt.Sprintf(" AND (d.at, d.id) < ($%d, $%d)", len(args)-1, len(args))
	}
	return all, q.SelectContext(ctx, &all, rows+`WHERE `+where+` ORDER BY d.at DESC, d.id DESC LIMIT $1`, args...)
}

// dueDeletions lists deletions from before a moment, the oldest first, which no other
// process is at work on.
func dueDeletions(ctx context.Context, q postgres.Q, before time.Time, limit int) (all []Row, err error) {
	return all, q.SelectContext(ctx, &all, rows+`WHERE d.at <= $1 ORDER BY d.at, d.id LIMIT $2 FOR UPDATE OF d SKIP LOCKED`, before, limit)
}
