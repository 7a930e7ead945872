package documents

import (
	"cmp"
	"context"
	"io"
	"slices"
	"strings"

	"github.com/google/uuid"
	"github.com/riverqueue/river"

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
	// mostPlain is up to which size plain text is told by its words.
	mostPlain = 4 << 20
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
	mine, ok, err := s.sketch(ctx, act.Who(ctx).Person.ID, items.Version{SHA256: sight.SHA256, Size: sight.Size, MediaType: sight.MediaType})
	if err != nil || !ok {
		return nil, err
	}
	if err := s.sketchNear(ctx, sight.Item); err != nil {
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

// mostNear is of how many documents beside one a sketch is made when it is asked for.
const mostNear = 6

// sketchNear makes sketches of what needs a reader, of the newest documents in the same
// folder: it is not made when they come in, so that nobody waits who wants to look at
// something.
func (s *Service) sketchNear(ctx context.Context, i items.Item) error {
	if !needsReader(i.MediaType, i.Size) {
		return nil
	}
	near, err := unsketched(ctx, s.Acts.DB, i, mostNear)
	if err != nil {
		return err
	}
	for _, v := range near {
		if _, _, err := s.sketch(ctx, act.Who(ctx).Person.ID, v); err != nil && fault.Of(err).Kind == fault.Internal {
			return err
		}
	}
	return nil
}

// needsReader reports whether the text of content is read in a cell.
func needsReader(mediaType string, size int64) bool {
	return preview.HasText(mediaType, size) && !strings.HasPrefix(mediaType, "text/")
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
func (s *Service) sketch(ctx context.Context, asker uuid.UUID, v items.Version) (sketched, bool, error) {
	known, ok, err := sketchOf(ctx, s.Acts.DB, v.SHA256)
	if err != nil || ok {
		return known, ok, err
	}
	if v.Size > mostSketched {
		return known, false, nil
	}
	made := sketched{SHA256: v.SHA256}
	if needsReader(v.MediaType, v.Size) {
		text, readable, err := s.Contents.Reader.Text(ctx, s.Contents.Source(ctx, v, asker.String()))
		if err != nil {
			return made, false, err
		}
		if readable {
			made.OfText, made.Sketch = true, chunk.SketchText(strings.Join(text.Parts, "\n")).Encode()
		}
	}
	if !made.OfText {
		if err := s.sketchBytes(ctx, v, &made); err != nil {
			return made, false, err
		}
	}
	return made, true, addSketch(ctx, s.Acts.DB, made)
}

// sketchBytes makes a sketch of what needs no reader: of plain text by its words, of others
// by their bytes.
func (s *Service) sketchBytes(ctx context.Context, v items.Version, made *sketched) error {
	f, err := s.Contents.FileOf(ctx, items.Item{}, v)
	if err != nil {
		return err
	}
	defer f.Close()
	if strings.HasPrefix(v.MediaType, "text/") && v.Size <= mostPlain {
		raw, err := io.ReadAll(f)
		made.OfText, made.Sketch = true, chunk.SketchText(string(raw)).Encode()
		return err
	}
	sum, err := chunk.SketchContent(f)
	made.Sketch = sum.Encode()
	return err
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

// InsertOpts says in which queue it waits.
func (makeSketch) InsertOpts() river.InsertOpts { return river.InsertOpts{Queue: jobs.Storing} }

// Follow has a sketch made of content that came in.
func Follow(ctx context.Context, tx *act.Tx, c tree.Change) error {
	if c.Operation != items.Adding && c.Operation != items.Revising || c.Item.Kind != items.Document || needsReader(c.Version.MediaType, c.Version.Size) {
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
