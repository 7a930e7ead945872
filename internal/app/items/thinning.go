package items

import (
	"context"

	"github.com/google/uuid"

	"tabularis/core/events"
	"tabularis/core/versions"
	"tabularis/internal/app/act"
)

// Thin removes versions of a document that a rule lets go, and nothing of one that keeps
// its versions for another reason. They can be put back during the keeping period. The
// dossier's row is held.
func (s *Service) Thin(ctx context.Context, tx *act.Tx, document uuid.UUID, rule func([]versions.Version) []int) error {
	item, err := ItemByID(ctx, tx, document)
	if err != nil {
		return err
	}
	if barred, err := s.barred(ctx, tx, document); err != nil || barred {
		return err
	}
	aged, err := AgedVersions(ctx, tx, []uuid.UUID{document}, tx.Now)
	if err != nil {
		return err
	}
	gone := rule(PlainAged(aged[document]))
	if len(gone) == 0 {
		return nil
	}
	if err := thinVersions(ctx, tx, document, gone, tx.Now); err != nil {
		return err
	}
	data := events.Thinning{Name: item.Name, Versions: len(gone)}
	return tx.Record(ctx, act.Event{What: events.VersionThinned.With(data), Dossier: item.DossierID, Item: &document})
}
