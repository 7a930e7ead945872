package links

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
)

// endWith ends the links of which nothing is left once something is deleted. Others go on
// with the rest.
func endWith(ctx context.Context, tx *act.Tx, c tree.Change) error {
	ended, err := endDeleted(ctx, tx, c.Deletion, tx.Actor.Person.ID, tx.Now)
	if err != nil {
		return err
	}
	return tellOf(ctx, tx, c.Item.DossierID, ended, events.LinkEnded)
}

// comeBack lets links give what was brought back, or takes it out of them.
func comeBack(ctx context.Context, tx *act.Tx, c tree.Change) error {
	if !c.Links {
		return leaveOut(ctx, tx, c.Item.ID)
	}
	reopened, err := reopenDeleted(ctx, tx, c.Deletion, tx.Now)
	if err != nil {
		return err
	}
	return tellOf(ctx, tx, c.Item.DossierID, reopened, events.LinkReopened)
}

func tellOf(ctx context.Context, tx *act.Tx, dossier uuid.UUID, links []Link, what events.Of[events.LinkNamed]) error {
	for _, l := range links {
		if err := tx.Record(ctx, act.Event{What: what.With(named(l)), Dossier: dossier, Link: &l.ID}); err != nil {
			return err
		}
	}
	return nil
}
