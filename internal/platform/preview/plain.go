package preview

import (
	"bytes"
	"errors"
	"strings"

	"github.com/xuri/excelize/v2"

	"tabularis/internal/platform/office"
	"tabularis/internal/platform/pdf"
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
func PlainText(reader *pdf.Reader, mediaType string, content []byte) (text Plain, ok bool, err error) {
	return plain(reader, mediaType, content, 0)
}

// deepest is how many mails may lie in each other.
const deepest = 3

func plain(reader *pdf.Reader, mediaType string, content []byte, depth int) (text Plain, ok bool, err error) {
	switch look := LookOf(mediaType); {
	case mediaType == mailMessage:
		text, files := message(content[:min(len(content), maxPlain)])
		return withAttached(reader, text, files, depth)
	case mediaType == compoundMail:
		if text, files, ok := compound(content); ok {
			return withAttached(reader, text, files, depth)
		}
		return Plain{}, false, nil
	case mediaType == "text/html":
		return Plain{Parts: []string{plainOf(decode(content[:min(len(content), maxPlain)], true))}}, true, nil
	case look == PDF:
		pages, err := reader.Text(content)
		if errors.Is(err, pdf.ErrUnreadable) {
			return Plain{}, false, nil
		}
		return Plain{pages, true}, err == nil, err
	case office.HasText(mediaType):
		parts, err := office.Text(mediaType, int64(len(content)), bytes.NewReader(content))
		return Plain{Parts: parts, Paged: len(parts) > 1}, err == nil, nil
	case mediaType == Spreadsheet:
		text, ok = sheets(content)
		return text, ok, nil
	case look == Text || look == Markdown || look == Table:
		raw := content[:min(len(content), maxPlain)]
		return Plain{Parts: []string{words(mediaType, raw, true)}}, true, nil
	}
	return Plain{}, false, nil
}

// withAttached is the text of a mail and of what is attached to it, in turn.
func withAttached(reader *pdf.Reader, text string, files []attachedFile, depth int) (Plain, bool, error) {
	out := Plain{Parts: []string{text}}
	for _, f := range files {
		if depth == deepest {
			break
		}
		kind := MediaType(f.name, f.content)
		inner, ok, err := plain(reader, kind, f.content, depth+1)
		if err != nil || !ok {
			continue // It is named in the mail.
		}
		out.Parts = append(out.Parts, f.name+"\n"+strings.Join(inner.Parts, "\n"))
	}
	return out, true, nil
}

// sheets reads all sheets of a spreadsheet, a row a line.
func sheets(content []byte) (Plain, bool) {
	if len(content) > maxBook {
		return Plain{}, false
	}
	f, err := excelize.OpenReader(bytes.NewReader(content), bookOptions)
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

// maxRead is the largest content whose text is read, in bytes.
const maxRead = 64 << 20

// HasText reports whether PlainText reads content of a type and size.
func HasText(mediaType string, size int64) bool {
	look := LookOf(mediaType)
	return size <= maxRead && (mediaType == compoundMail || look == PDF || look == Text || look == Markdown || look == Table || office.HasText(mediaType))
}
