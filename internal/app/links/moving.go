package links

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
)

// Follow lets links go along with what was moved to another dossier, and end with what
// was deleted.
func Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	switch c.Operation {
	case items.Moving:
		return MoveLinks(ctx, tx, c.Item.DossierID)
	case items.Deleting:
		return endWith(ctx, tx, c)
	case items.BringingBack:
		return comeBack(ctx, tx, c)
	}
	return nil
}

// NotTorn refuses what would leave an open link with things of two dossiers
// (fault.Conflict).
func NotTorn(ctx context.Context, tx *act.Tx, dossier uuid.UUID) error {
	torn, err := TornLinks(ctx, tx, dossier, tx.Now)
	if err == nil && len(torn) > 0 {
		err = errLinkHolds.New("the link %q gives this together with what stays; end it first", torn[0])
	}
	return err
}
