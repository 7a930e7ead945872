package writing

import (
	"context"
	"encoding/json"

	"tabularis/core/fault"
	"tabularis/core/richtext"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/reading"
)

// body is what is written, as it stands after so many steps: a text or a table. It is never changed.
type body interface {
	json.Marshaler
	// Size is roughly how much memory it takes.
	Size() int
	Check() error
	// read reads steps as a page sends them.
	read(raw []json.RawMessage) (script, error)
	// stand carries somebody's steps over what came in between, which is all that is remembered from one on, applies them,
	// and gives them as they stand.
	stand(s script, before []group, from int, by hand) (script, body, error)
	// follow applies a batch that stands.
	follow(b Batch) (script, body, error)
	// past is what has to be remembered of it so that steps can be carried past it; nil where that is nothing.
	past() body
	// people are the ids of those who are named in it.
	people() []string
}

// script are steps that were read.
type script interface {
	raw() ([]json.RawMessage, error)
}

// hand is who makes steps, and what they may.
type hand struct {
	id   string
	mode richtext.Mode
}

// craft is what is particular to documents of a kind that is written.
type craft interface {
	// open reads what is kept of a body.
	open(state []byte) (body, error)
	// fromFile reads a file, as what is kept of a body.
	fromFile(ctx context.Context, r *reading.Reader, s reading.Source) ([]byte, error)
	// file writes a body as a file; since are the batches since it was one last.
	file(ctx context.Context, s *Service, r row, b body, since []Batch) ([]byte, error)
	// merged are the steps that put what came in into the body as it is now, where all began with the old one.
	merged(old, came, now body, since []Batch) (script, bool)
	// fresh is an empty document: its file, and what is kept of its body.
	fresh(ctx context.Context, s *Service) (file, state []byte, err error)
}

// The media types of what is written.
const (
	markdownType   = "text/markdown"
	commasType     = "text/csv"
	tabulatorsType = "text/tab-separated-values"
)

// crafts are those of the media types that are written.
var crafts = map[string]craft{
	markdownType: texts{}, office.Word: texts{inWord: true}, commasType: tables{separated: true}, tabulatorsType: tables{separated: true}, preview.Spreadsheet: tables{},
}

// bodyNow is what is written as the database has it, its version, and the batches since it became a version last.
func (s *Service) bodyNow(ctx context.Context, r row) (b body, version int, since []Batch, err error) {
	if b, err = decoded(s.Keys, r); err != nil {
		return nil, 0, nil, err
	}
	all, err := batchesFrom(ctx, s.Acts.DB, s.Keys, r.DocumentID, min(r.StateVersion, r.KeptVersion))
	if err != nil {
		return nil, 0, nil, err
	}
	version = r.StateVersion
	for _, batch := range all {
		if batch.Version >= r.KeptVersion {
			since = append(since, batch)
		}
		if batch.Version < version {
			continue
		}
		if _, b, err = b.follow(batch); err != nil {
			return nil, 0, nil, err
		}
		version = batch.end()
	}
	return b, version, since, b.Check()
}

// craftOf is the craft of a kind of document, or says that it is not written here.
func craftOf(mediaType string) (craft, error) {
	if c, known := crafts[mediaType]; known {
		return c, nil
	}
	return nil, errNotWritten.New("it is %s", mediaType)
}

// within refuses whoever may not write, of documents on which nobody only proposes or fills.
func (h hand) within() error {
	if h.mode != richtext.Write {
		return fault.Refused("write in this")
	}
	return nil
}
