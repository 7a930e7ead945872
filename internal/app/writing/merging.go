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
	if c.Operation != items.Revising || c.Version.Origin == string(versions.Written) || crafts[c.Item.MediaType] == nil {
		return nil
	}
	return tellOthers(ctx, tx, note{Document: c.Item.ID, Came: true})
}

// merge puts what came in by another way into the text that is written, and says into the file of which version that is
// to be written. Where both changed the same, nothing is put in, and it answers which version stays apart.
func (s *Service) merge(ctx context.Context, r row) (apart, into int, err error) {
	item, err := tree.ItemByID(ctx, s.Acts.DB, r.DocumentID)
	if err != nil || item.Version == r.Base {
		return 0, r.Base, err
	}
	if item.MediaType != r.MediaType {
		return item.Version, r.Base, nil // It is another kind of document now.
	}
	old, err := s.bodyOf(ctx, item, r.Base)
	if err != nil {
		return item.Version, r.Base, nil // That version is gone: there is nothing to compare with.
	}
	came, err := s.bodyOf(ctx, item, item.Version)
	if err != nil {
		return item.Version, r.Base, nil
	}
	now, version, since, err := s.bodyNow(ctx, r)
	if err != nil {
		return 0, 0, err
	}
	script, ok := crafts[r.MediaType].merged(old, came, now, since)
	if !ok {
		return item.Version, r.Base, nil
	}
	steps, err := script.raw()
	if err != nil {
		return 0, 0, err
	}
	if len(steps) == 0 {
		return 0, item.Version, nil
	}
	b := Batch{Version: version, Client: fmt.Sprint("version ", item.Version), By: *r.LastBy, At: s.Acts.Now(), Steps: steps}
	if by, err := tree.BroughtBy(ctx, s.Acts.DB, item.ID, item.Version); err == nil && by != uuid.Nil {
		b.By = by
	}
	fresh := false
	err = s.Acts.Do(ctx, func(tx *act.Tx) (err error) {
		if fresh, err = addBatches(ctx, tx, s.Keys, r.DocumentID, version, []Batch{b}, nil, false, b.By); err != nil || !fresh {
			return err
		}
		// The process that adds it follows it as the others do.
		return tellOthers(ctx, tx, note{Document: r.DocumentID, Version: b.end()})
	})
	if err == nil && !fresh {
		err = errBehind.New("others were quicker; it is merged when they have a moment")
	}
	return 0, item.Version, err
}

// stateOf is the text of a version, as its state: as it was written here, or read from its file.
func (s *Service) stateOf(ctx context.Context, document uuid.UUID, number int) ([]byte, error) {
	if state, err := stateBeside(ctx, s.Acts.DB, s.Keys, document, number); err != nil || state != nil {
		return state, err
	}
	return s.fromFile(ctx, document, number, document)
}

// bodyOf is what is written in a version. Of a table it is what its file says: what formulas come to is no change.
func (s *Service) bodyOf(ctx context.Context, item items.Item, number int) (body, error) {
	read := s.stateOf
	if _, isTable := crafts[item.MediaType].(tables); isTable {
		read = func(ctx context.Context, id uuid.UUID, number int) ([]byte, error) {
			return s.fromFile(ctx, id, number, id)
		}
	}
	raw, err := read(ctx, item.ID, number)
	if err != nil {
		return nil, err
	}
	return crafts[item.MediaType].open(raw)
}

// beginAnew begins the text of a document anew from the version that counts, where all that was written is in versions.
func (s *Service) beginAnew(ctx context.Context, document uuid.UUID) error {
	r, err := rowOf(ctx, s.Acts.DB, document, false)
	if err != nil || !r.clean() {
		return err
	}
	item, err := tree.ItemByID(ctx, s.Acts.DB, document)
	if err != nil || item.Version == r.Base || crafts[item.MediaType] == nil || item.Size > mostBytes(item.MediaType) {
		return err
	}
	state, err := s.stateOf(ctx, item.ID, item.Version)
	if err != nil {
		return err
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		if err := begin(ctx, tx, s.Keys, item, state); err != nil {
			return err
		}
		return tellOthers(ctx, tx, note{Document: document, Anew: true})
	})
}

// TextOf is the text of a version of a document.
func (s *Service) TextOf(ctx context.Context, item items.Item, number int) (*richtext.Node, error) {
	b, err := s.bodyOf(ctx, item, number)
	if err != nil {
		return nil, err
	}
	t, is := b.(text)
	if !is {
		return nil, errNotWritten.New("it is %s", item.MediaType)
	}
	return t.Node, nil
}
