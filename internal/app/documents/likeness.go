package documents

import (
	"cmp"
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/chunk"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/preview"
)

const (
	// alike is from how much in common on a document is likely a version of another.
	alike = 0.45
	// mostSketched is the largest content of which a sketch is made, in bytes.
	mostSketched = 64 << 20
	// mostCompared is with how many versions of a dossier one is compared.
	mostCompared = 20_000
)

// Likely is of which document another is likely a version, under another name: which of
// its versions it comes from, and which counts by now.
type Likely struct {
	Place
	Version, Counts int
}

// Likely finds the document of the same dossier from which one was likely made, where the
// acting person may give it a further version and could delete this one; nil where nothing
// is alike.
func (s *Service) Likely(ctx context.Context, id uuid.UUID) (*Likely, error) {
	now := s.Acts.Now()
	sight, err := s.Access.Kind(ctx, s.Acts.DB, id, items.Document, access.Download, now)
	if err != nil || !sight.MayDelete(act.Who(ctx).Person.ID) {
		return nil, err
	}
	mine, ok, err := s.sketch(ctx, id, items.Version{SHA256: sight.SHA256, Size: sight.Size, MediaType: sight.MediaType})
	if err != nil || !ok {
		return nil, err
	}
	others, err := sketchesIn(ctx, s.Acts.DB, sight.DossierID, id, mine.OfText, mostCompared)
	if err != nil {
		return nil, err
	}
	for _, o := range nearest(chunk.DecodeSketch(mine.Sketch), others) {
		there, err := s.Access.Item(ctx, s.Acts.DB, o.ItemID, access.See|access.Change, now)
		switch {
		case err == nil:
			return &Likely{Place{Item: there.Item, Code: there.Code}, o.Number, there.Item.Version}, nil
		case fault.Of(err).Kind == fault.Internal:
			return nil, err
		}
	}
	return nil, nil
}

// mostAsked is of how many documents that are alike it is asked whether they may be changed.
const mostAsked = 5

// nearest are those of others that are alike enough, each document once, the most alike
// first.
func nearest(own chunk.Sketch, others []sketched) []sketched {
	type near struct {
		sketched
		alike float64
	}
	var all []near
	for _, o := range others {
		if a := own.Alike(chunk.DecodeSketch(o.Sketch)); a >= alike {
			all = append(all, near{o, a})
		}
	}
	slices.SortStableFunc(all, func(a, b near) int { return cmp.Compare(b.alike, a.alike) })
	var out []sketched
	for _, n := range all {
		known := slices.ContainsFunc(out, func(o sketched) bool { return o.ItemID == n.ItemID })
		if !known && len(out) < mostAsked {
			out = append(out, n.sketched)
		}
	}
	return out
}

// sketch finds the sketch of content, or makes and keeps it. ok is false for content of
// which none is made.
func (s *Service) sketch(ctx context.Context, document uuid.UUID, v items.Version) (sketched, bool, error) {
	known, ok, err := sketchOf(ctx, s.Acts.DB, v.SHA256)
	if err != nil || ok {
		return known, ok, err
	}
	if v.Size > mostSketched {
		return known, false, nil
	}
	made := sketched{ItemID: document, SHA256: v.SHA256}
	if preview.HasText(v.MediaType, v.Size) {
		text, readable, err := s.Contents.Reader.Text(ctx, s.Contents.Source(ctx, v, document.String()))
		if err != nil {
			return made, false, err
		}
		if readable {
			made.OfText, made.Sketch = true, chunk.SketchText(strings.Join(text.Parts, "\n")).Encode()
		}
	}
	if !made.OfText {
		f, err := s.Contents.FileOf(ctx, items.Item{}, v)
		if err != nil {
			return made, false, err
		}
		defer f.Close()
		sum, err := chunk.SketchContent(f)
		if err != nil {
			return made, false, err
		}
		made.Sketch = sum.Encode()
	}
	return made, true, addSketch(ctx, s.Acts.DB, made)
}

// makeSketch makes the sketch of content that came in as a version of a document.
type makeSketch struct {
	Document  uuid.UUID `json:"document"`
	SHA256    []byte    `json:"sha256"`
	Size      int64     `json:"size"`
	MediaType string    `json:"mediaType"`
}

// Kind names the job.
func (makeSketch) Kind() string { return "make-sketch" }

// Follow has a sketch made of content that came in.
func Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	if c.Operation != items.Adding && c.Operation != items.Revising || c.Item.Kind != items.Document {
		return nil
	}
	return tx.Enqueue(ctx, makeSketch{c.Item.ID, c.Version.SHA256, c.Version.Size, c.Version.MediaType})
}

// Register registers the work.
func (s *Service) Register(r *jobs.Registry) {
	jobs.Handle(r, false, func(ctx context.Context, job makeSketch) error {
		_, _, err := s.sketch(ctx, job.Document, items.Version{SHA256: job.SHA256, Size: job.Size, MediaType: job.MediaType})
		if fault.Is(err, fault.NotFound) {
			return nil // It is gone already.
		}
		return err
	})
}
