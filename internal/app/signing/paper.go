package signing

import (
	"bytes"
	"context"

	"tabularis/core/fault"
	"tabularis/core/signing"
	"tabularis/core/templates"
	"tabularis/internal/platform/reading"
)

// paper is the document on which a form stands, as it is filled for somebody.
type paper struct {
	*Service
	form   signing.Form
	source reading.Source
	// blanks are those in its text; a PDF document has none that can be filled.
	blanks []templates.Blank
}

// made is a paper for somebody.
type made struct {
	plan signing.Plan
	// raw is the PDF document, where the paper is not one already.
	raw    []byte
	sizes  []reading.Size
	marked []signing.Place
	// values are what stands in its blanks.
	values templates.Values
}

func (p *paper) isPDF() bool { return p.source.MediaType == pdfType }

// read reads which blanks the paper has.
func (p *paper) read(ctx context.Context) (err error) {
	if !p.isPDF() {
		p.blanks, _, err = p.Contents.Reader.Blanks(ctx, p.source)
	}
	return err
}

// filled is the paper for a row: its parties named, its blanks filled, and set on pages with its marked places.
func (p *paper) filled(ctx context.Context, r signing.Row) (m made, err error) {
	if m.plan, m.values = p.form.At(r); p.isPDF() {
		m.sizes, err = p.outline(ctx, p.source)
		return m, err
	}
	if m.raw, m.marked, err = p.onPages(ctx, m.values); err != nil {
		return m, err
	}
	m.sizes, err = p.outline(ctx, reading.FromMemory(m.raw, p.source))
	return m, err
}

// onPages sets the paper on pages with values in its blanks. Where places are marked it does so twice: once to see where, and
// once with room in their stead.
func (p *paper) onPages(ctx context.Context, v templates.Values) (raw []byte, marked []signing.Place, err error) {
	set := func(fill func(context.Context, reading.Source, templates.Values) ([]byte, error)) ([]byte, error) {
		source := p.source
		if len(p.blanks) > 0 || fill != nil {
			if fill == nil {
				fill = p.Contents.Reader.Fill
			}
			filled, err := fill(ctx, p.source, v)
			if err != nil {
				return nil, err
			}
			source = inMemory(filled, p.source)
		}
		return p.Pages.Paper(ctx, source)
	}
	if raw, err = set(nil); err != nil {
		return nil, nil, err
	}
	spots, err := p.Contents.Reader.Places(ctx, reading.FromMemory(raw, p.source), "")
	if err != nil || len(spots) == 0 {
		return raw, nil, err
	}
	raw, err = set(p.Contents.Reader.FillUnmarked)
	return raw, signing.Settle(spots), err
}

// inMemory is content of the same kind that is at hand.
func inMemory(raw []byte, of reading.Source) reading.Source {
	s := reading.FromMemory(raw, of)
	s.MediaType = of.MediaType
	return s
}

// places are those that are found in the document as it is.
func (p *paper) places(ctx context.Context) ([]signing.Place, error) {
	if !p.isPDF() {
		_, marked, err := p.onPages(ctx, nil)
		return marked, err
	}
	spots, err := p.Contents.Reader.Places(ctx, p.source, "")
	if fault.Is(err, fault.Invalid) {
		return nil, nil // What is locked shows nothing.
	}
	return signing.Settle(spots), err
}

// drawnWidth is how wide pages are drawn, in pixels.
const drawnWidth = 1100

// page draws a page of a paper that was made.
func (p *paper) page(ctx context.Context, m made, n int) ([]byte, error) {
	source := p.source
	if m.raw != nil {
		source = reading.FromMemory(m.raw, p.source)
	}
	drawn, err := p.Pages.Draw(ctx, source, n-1, drawnWidth)
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	err = p.Pages.Write(ctx, &out, drawn, nil)
	return out.Bytes(), err
}
