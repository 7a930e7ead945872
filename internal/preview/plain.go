package preview

import (
	"bytes"
	"context"
	"errors"
	"fmt"
	"io"
	"strings"

	"github.com/xuri/excelize/v2"

	"tabularis/internal/office"
	"tabularis/internal/pdf"
)

// maxPlain is how much of a plain text is read, in bytes.
const maxPlain = 32 << 20

// Plain is the text of a document, in pages where it has pages.
type Plain struct {
	Parts []string
	Paged bool
}

// PlainText reads the text of text, tables, spreadsheets, word documents,
// presentations and PDF documents. ok is
// false for content of other types and for what cannot be read.
func PlainText(ctx context.Context, reader *pdf.Reader, mediaType string, size int64, r io.Reader) (text Plain, ok bool, err error) {
	switch look := LookOf(mediaType); {
	case look == PDF:
		pages, err := reader.Text(ctx, size, r)
		if errors.Is(err, pdf.ErrUnreadable) {
			return Plain{}, false, nil
		}
		return Plain{pages, true}, err == nil, err
	case office.HasText(mediaType):
		return officeText(mediaType, size, r)
	case mediaType == spreadsheet:
		text, ok = sheets(size, r)
		return text, ok, nil
	case look == Text || look == Markdown || look == Table:
		raw, err := io.ReadAll(io.LimitReader(r, maxPlain))
		if err != nil {
			return Plain{}, false, fmt.Errorf("reading the text: %w", err)
		}
		return Plain{Parts: []string{decode(raw, true)}}, true, nil
	}
	return Plain{}, false, nil
}

// officeText reads a word document or a presentation.
func officeText(mediaType string, size int64, r io.Reader) (Plain, bool, error) {
	if size > office.MaxBytes {
		return Plain{}, false, nil
	}
	raw, err := io.ReadAll(io.LimitReader(r, office.MaxBytes))
	if err != nil {
		return Plain{}, false, fmt.Errorf("reading the document: %w", err)
	}
	parts, err := office.Text(mediaType, int64(len(raw)), bytes.NewReader(raw))
	return Plain{Parts: parts, Paged: len(parts) > 1}, err == nil, nil
}

// sheets reads all sheets of a spreadsheet, a row a line.
func sheets(size int64, r io.Reader) (Plain, bool) {
	if size > maxBook {
		return Plain{}, false
	}
	f, err := excelize.OpenReader(r, excelize.Options{UnzipSizeLimit: 256 << 20, UnzipXMLSizeLimit: 64 << 20})
	if err != nil {
		return Plain{}, false
	}
	defer f.Close()
	var out Plain
	for _, name := range f.GetSheetList() {
		rows, err := f.Rows(name)
		if err != nil {
			return Plain{}, false
		}
		var b strings.Builder
		for rows.Next() && b.Len() < maxPlain {
			row, err := rows.Columns()
			if err != nil {
				return Plain{}, false
			}
			b.WriteString(strings.Join(row, "\t") + "\n")
		}
		_ = rows.Close()
		out.Parts = append(out.Parts, b.String())
	}
	return out, true
}
