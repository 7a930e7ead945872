package writing

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"github.com/google/uuid"

	"tabularis/core/fault"
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
	old, err := s.textOf(ctx, item, r.Base)
	if err != nil {
		return item.Version, nil // That version is gone: there is nothing to compare with.
	}
	came, err := s.textOf(ctx, item, item.Version)
	if err != nil {
		return item.Version, nil
	}
	now, err := s.written(ctx, r)
	if err != nil {
		return 0, err
	}
	since, err := s.mapsSince(ctx, r, now.version)
	if err != nil {
		return 0, err
	}
	steps, ok := richtext.Merged(old, came, now.doc, since)
	if !ok {
		return item.Version, nil
	}
	if len(steps) == 0 {
		return 0, nil
	}
	b := Batch{Version: now.version, Client: fmt.Sprint("version ", item.Version), By: *r.LastBy, At: s.Acts.Now()}
	if by, err := tree.BroughtBy(ctx, s.Acts.DB, item.ID, item.Version); err == nil && by != uuid.Nil {
		b.By = by
	}
	for _, step := range steps {
		raw, err := richtext.WriteStep(step)
		if err != nil {
			return 0, err
		}
		b.Steps = append(b.Steps, raw)
	}
	fresh := false
	err = s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		if fresh, err = addBatches(ctx, tx, s.Keys, r.DocumentID, now.version, []Batch{b}, nil, false); err != nil || !fresh {
			return err
		}
		// The process that adds it follows it as the others do.
		return tellOthers(ctx, tx, note{Document: r.DocumentID, Version: b.Version + len(b.Steps)})
	})
	if err == nil && !fresh {
		err = errBehind.New("others were quicker; it is merged when they have a moment")
	}
	return 0, err
}

// textOf is the text of a version: as it was written here, or read from its file.
func (s *Service) textOf(ctx context.Context, item items.Item, number int) (*richtext.Node, error) {
	raw, err := stateBeside(ctx, s.Acts.DB, s.Keys, item.ID, number)
	if err == nil && raw == nil {
		var all []tree.NamedVersion
		if all, err = tree.VersionsOf(ctx, s.Acts.DB, item.ID); err != nil {
			return nil, err
		}
		at := slices.IndexFunc(all, func(v tree.NamedVersion) bool { return v.Number == number && v.SHA256 != nil })
		if at < 0 {
			return nil, fault.Missing()
		}
		raw, err = s.Contents.Reader.Writing(ctx, s.Contents.Source(ctx, all[at].Version, item.ID.String()))
	}
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
		for _, raw := range b.Steps {
			step, err := richtext.Written.ReadStep(raw)
			if err != nil {
				return nil, err
			}
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
	doc, err := s.textOf(ctx, item, item.Version)
	if err != nil {
		return err
	}
	state, err := json.Marshal(doc)
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
