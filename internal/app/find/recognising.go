package find

import (
	"context"
	"errors"
	"image"
	"time"

	"tabularis/internal/app/act"
	"tabularis/internal/platform/jobs"
	"tabularis/internal/platform/recognition"
)

const (
	// mostPages of a document are read, drawn so wide in pixels.
	mostPages, pageWidth = 100, 2600
	// recognising is how long one round of it goes on.
	recognising = 4 * time.Minute
)

// Recognise reads pages of documents that have no text, the newest first: nothing is in the way
// of what is read at once. Where no program is installed for it there is nothing to do.
func (s *Service) Recognise(ctx context.Context) error {
	if s.Recogniser == nil {
		return nil
	}
	for begun := s.Acts.Now(); s.Acts.Now().Sub(begun) < recognising; {
		d, there, err := toRecognise(ctx, s.Acts.DB)
		if err != nil || !there {
			return err
		}
		if err := s.recognise(ctx, d); err != nil {
			return err
		}
	}
	return nil
}

func (s *Service) recognise(ctx context.Context, d document) error {
	b, known, err := bodyOf(ctx, s.Acts.DB, d.Version.SHA256)
	if err != nil || !known {
		return err
	}
	text, err := s.recognised(ctx, d, b.Pages)
	if err != nil {
		return err
	}
	if s.seal(&b, text) {
		b.State, b.Pages, b.Paged = legible, len(text), true
	}
	return s.Acts.Do(ctx, func(tx *act.Tx) error {
		again, err := putRecognised(ctx, tx, b, tx.Now)
		if err != nil || b.State != legible {
			return err
		}
		for _, id := range again {
			if err := tx.Enqueue(ctx, jobs.Index{Item: id}); err != nil {
				return err
			}
		}
		return nil
	})
}

// recognised reads page after page. What cannot be read is left empty.
func (s *Service) recognised(ctx context.Context, d document, n int) ([]string, error) {
	source := s.Contents.Source(ctx, d.Version, "words")
	text := make([]string, min(max(n, 1), mostPages))
	for i := range text {
		var page image.Image
		if err := s.Contents.Reader.Draw(ctx, source, []int{i}, pageWidth, func(_ int, p *image.RGBA) { page = p }); err != nil || page == nil {
			if ctx.Err() != nil {
				return nil, ctx.Err()
			}
			continue
		}
		read, err := s.Recogniser.Page(ctx, page)
		if err != nil && !errors.Is(err, recognition.ErrUnreadable) {
			return nil, err
		}
		text[i] = read
	}
	return text, nil
}
