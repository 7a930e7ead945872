package links

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
)

// Follow lets links go along with what was moved to another dossier.
func Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	if c.Operation != items.Moving {
		return nil
	}
	return MoveLinks(ctx, tx, c.Item.DossierID)
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
