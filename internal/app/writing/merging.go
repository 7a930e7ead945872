package writing

import (
	"context"
	"fmt"

	"github.com/google/uuid"

	"tabularis/core/items"
	"tabularis/core/richtext"
	"tabularis/core/versions"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
)

// Follow lets a text know of a version that came in by another way while it is written: by an upload, a check-in, or
// one that was brought back.
func (s *Service) Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	if c.Operation != items.Revising || c.Version.Origin == string(versions.Written) || c.Item.MediaType != MediaType {
		return nil
	}
	return tellOthers(ctx, tx, note{Document: c.Item.ID, Came: true})
}

// merge puts what came in by another way into the text that is written. Where both changed the same, nothing is put
// in, and it answers which version stays apart.
func (s *Service) merge(ctx context.Context, r row) (apart int, err error) {
	item, err := tree.ItemByID(ctx, s.Acts.DB, r.DocumentID)
	if err != nil || item.Version == r.Base || item.MediaType != MediaType {
		return 0, err
	}
	old, err := s.textOf(ctx, item.ID, r.Base)
	if err != nil {
		return item.Version, nil // That version is gone: there is nothing to compare with.
	}
	came, err := s.textOf(ctx, item.ID, item.Version)
	if err != nil {
		return item.Version, nil
	}
	now, version, err := s.textNow(ctx, r)
	if err != nil {
		return 0, err
	}
	since, err := s.mapsSince(ctx, r, version)
	if err != nil {
		return 0, err
	}
	steps, ok := richtext.Merged(old, came, now, since)
	if !ok {
		return item.Version, nil
	}
	if len(steps) == 0 {
		return 0, nil
	}
	b := Batch{Version: version, Client: fmt.Sprint("version ", item.Version), By: *r.LastBy, At: s.Acts.Now()}
	if by, err := tree.BroughtBy(ctx, s.Acts.DB, item.ID, item.Version); err == nil && by != uuid.Nil {
		b.By = by
	}
	if err := b.bear(steps); err != nil {
		return 0, err
	}
	fresh := false
	err = s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		if fresh, err = addBatches(ctx, tx, s.Keys, r.DocumentID, version, []Batch{b}, nil, false); err != nil || !fresh {
			return err
		}
		// The process that adds it follows it as the others do.
		return tellOthers(ctx, tx, note{Document: r.DocumentID, Version: b.end()})
	})
	if err == nil && !fresh {
		err = errBehind.New("others were quicker; it is merged when they have a moment")
	}
	return 0, err
}

// stateOf is the text of a version, as its state: as it was written here, or read from its file.
func (s *Service) stateOf(ctx context.Context, document uuid.UUID, number int) ([]byte, error) {
	if state, err := stateBeside(ctx, s.Acts.DB, s.Keys, document, number); err != nil || state != nil {
		return state, err
	}
	return s.fromFile(ctx, document, number, document)
}

// textOf is the text of a version.
func (s *Service) textOf(ctx context.Context, document uuid.UUID, number int) (*richtext.Node, error) {
	raw, err := s.stateOf(ctx, document, number)
	if err != nil {
		return nil, err
	}
	return richtext.Written.Read(raw)
}

// mapsSince say how positions moved since the text became a version last.
func (s *Service) mapsSince(ctx context.Context, r row, upto int) (maps []richtext.StepMap, err error) {
	all, err := batchesFrom(ctx, s.Acts.DB, s.Keys, r.DocumentID, r.KeptVersion)
	for _, b := range all {
		if b.Version >= upto {
			break
		}
		steps, err := b.read()
		if err != nil {
			return nil, err
		}
		for _, step := range steps {
			maps = append(maps, step.Map())
		}
	}
	return maps, err
}

// beginAnew begins the text of a document anew from the version that counts, where all that was written is in versions.
func (s *Service) beginAnew(ctx context.Context, document uuid.UUID) error {
	r, err := rowOf(ctx, s.Acts.DB, document, false)
	if err != nil || !r.clean() {
		return err
	}
	item, err := tree.ItemByID(ctx, s.Acts.DB, document)
	if err != nil || item.Version == r.Base || item.MediaType != MediaType || item.Size > MostBytes {
		return err
	}
	state, err := s.stateOf(ctx, item.ID, item.Version)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := begin(ctx, tx, s.Keys, document, item.Version, state); err != nil {
			return err
		}
		return tellOthers(ctx, tx, note{Document: document, Anew: true})
	})
}
