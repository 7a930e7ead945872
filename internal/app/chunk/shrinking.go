package chunk

import (
	"bytes"
	"context"
	"crypto/sha256"
	"errors"
	"io"
	"slices"

	"tabularis/core/chunk"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
)

// Shrink lets go of what no document holds any more of content that others are made of
// parts of: what they need is kept in a place of its own, and the rest is gone. So what is
// destroyed is gone even where a later version needs most of it.
func (s *Service) Shrink(ctx context.Context) error {
	all, err := leftOver(ctx, s.Acts.DB, 1000)
	if err != nil {
		return err
	}
	for _, b := range all {
		if err := s.shrink(ctx, b); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) shrink(ctx context.Context, b items.Blob) error {
	if yes, err := needed(ctx, s.Acts.DB, b.SHA256); err != nil || yes {
		return errors.Join(err, tree.NoteShrunk(ctx, s.Acts.DB, b.SHA256))
	}
	all, err := dependents(ctx, s.Acts.DB, b.SHA256, false)
	if err != nil {
		return err
	}
	spans, err := used(all)
	if err != nil {
		return err
	}
	need := int64(0)
	for _, p := range spans {
		need += p.Length
	}
	if need == 0 || need == b.Own {
		return tree.NoteShrunk(ctx, s.Acts.DB, b.SHA256)
	}
	own, err := s.Contents.ReadOwn(b)
	if err != nil {
		return err
	}
	defer own.Close()
	sum := sha256.New()
	for _, p := range spans {
		if _, err := io.Copy(sum, io.NewSectionReader(own, p.From, p.Length)); err != nil {
			return err
		}
	}
	pack, err := s.store(ctx, items.Blob{SHA256: sum.Sum(nil), Size: need, Weighed: true}, own, spans)
	if err != nil {
		return err
	}
	return s.unlessUnused(ctx, pack, func(tx *act.Tx) (bool, error) { return s.replace(ctx, tx, b, pack, all, spans) })
}

// replace lets dependents be made of a pack instead of a blob, of which only spans are in
// it, and forgets the blob. What was changed meanwhile is left for another time.
func (s *Service) replace(ctx context.Context, tx *act.Tx, b, pack items.Blob, seen []dependent, spans []chunk.Part) (taken bool, err error) {
	if err := tree.LockBlobs(ctx, tx, true); err != nil {
		return false, err
	}
	if yes, err := needed(ctx, tx, b.SHA256); err != nil || yes {
		return false, err
	}
	now, err := dependents(ctx, tx, b.SHA256, true)
	if err != nil {
		return false, err
	}
	same := slices.EqualFunc(now, seen, func(a, b dependent) bool { return bytes.Equal(a.SHA256, b.SHA256) && bytes.Equal(a.Recipe, b.Recipe) })
	if !same {
		return false, nil
	}
	pack.CreatedAt = tx.Now
	if isNew, err := tree.AddBlob(ctx, tx, pack); err != nil || !isNew {
		return false, err
	}
	for _, d := range now {
		if d.Recipe, err = moved(d, spans); err != nil {
			return false, err
		}
		if err := tree.ExchangeSource(ctx, tx, d.Blob, d.Position, pack.SHA256); err != nil {
			return false, err
		}
	}
	if err := tree.CountStored(ctx, tx, b, -b.Own); err != nil {
		return false, err
	}
	if err := leavePlace(ctx, tx, b.Place, tx.Now); err != nil {
		return false, err
	}
	return true, tree.DropBlob(ctx, tx, b.SHA256)
}

// used are the spans of a source that its dependents are made of, in order, none of which
// touch.
func used(all []dependent) ([]chunk.Part, error) {
	var spans []chunk.Part
	for _, d := range all {
		r, err := chunk.Decode(d.Recipe, d.Sources, d.Size)
		if err != nil {
			return nil, err
		}
		for _, run := range r {
			if run.Source == d.Position {
				spans = append(spans, chunk.Part{From: run.At, Length: run.Length})
			}
		}
	}
	return chunk.Union(spans), nil
}

// moved is a dependent's recipe once its source holds nothing but spans.
func moved(d dependent, spans []chunk.Part) ([]byte, error) {
	r, err := chunk.Decode(d.Recipe, d.Sources, d.Size)
	if err != nil {
		return nil, err
	}
	for i, run := range r {
		if run.Source == d.Position {
			r[i].At = chunk.Within(spans, run.At)
		}
	}
	return r.Encode(), nil
}
