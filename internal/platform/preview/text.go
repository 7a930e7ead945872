package preview

import (
	"bytes"
	"encoding/csv"
	"fmt"
	"io"
	"strings"

	"github.com/microcosm-cc/bluemonday"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/extension"
	"github.com/yuin/goldmark/renderer"
	"github.com/yuin/goldmark/util"

	"tabularis/core/fault"
	separated "tabularis/core/table"
)

const (
	// MaxText is how much of a text is prepared, in bytes.
	MaxText = 512 << 10
	// MaxRows and MaxColumns are how much of a table is prepared, of each sheet.
	MaxRows    = 10_000
	MaxColumns = 60
	// maxCells is how much text of a spreadsheet's cells is prepared, in bytes.
	maxCells = 4 << 20
	// maxBook is the largest spreadsheet that is opened, in bytes.
	maxBook = 32 << 20
)

// Prepared is content made ready to be looked at as text.
type Prepared struct {
	Look Look
	Text string
	HTML string
	// Sheets are a table's parts; a table that is no spreadsheet is one without a name.
	Sheets []Sheet
	// Files are those of an archive, or attached to a mail.
	Files []File
	// Cut says that only the beginning is here.
	Cut bool
}

// Sheet is a part of a table, each cell as its file formats it.
type Sheet struct {
	Name string
	Rows [][]string
	// Hidden says that spreadsheet programs do not show it.
	Hidden bool
	// Cut says that only its beginning is here.
	Cut bool
}

// CanPrepare refuses content that Prepare does not take: other content is looked
// at by its own bytes, and some is too large.
func CanPrepare(mediaType string, size int64) error {
	switch look := LookOf(mediaType); {
	case HasInner(mediaType) && size > maxRead:
		return errTooLargeToShow.New("what is within is too much to be shown; it can be downloaded")
	case look != Text && look != Markdown && look != Table && look != Archive:
		return errNoText.New("content of the type %s has no text to show", mediaType)
	case mediaType == Spreadsheet && size > maxBook:
		return errTooLargeToShow.New("the spreadsheet is too large to be shown; it can be downloaded")
	}
	return nil
}

// Prepare reads text, Markdown or a table, which CanPrepare lets through.
func Prepare(mediaType string, size int64, r io.Reader) (Prepared, error) {
	p := Prepared{Look: LookOf(mediaType)}
	if err := CanPrepare(mediaType, size); err != nil {
		return p, err
	}
	if mediaType == Spreadsheet {
		return book(p, size, r)
	}
	most := MaxText
	switch {
	case p.Look == Table:
		most = maxCells
	case HasInner(mediaType):
		// What is written can stand behind what is attached, and an archive's list at its end.
		most = maxRead
	}
	raw, err := io.ReadAll(io.LimitReader(r, int64(most)+1))
	if err != nil {
		return p, fmt.Errorf("reading the text: %w", err)
	}
	if len(raw) > most {
		raw, p.Cut = raw[:most], true
	}
	if p.Look == Archive {
		p.Files, p.Cut, err = directory(raw)
		if err != nil {
			err = fault.Unreadable.New("the archive cannot be read")
		}
		return p, err
	}
	text := ""
	if HasInner(mediaType) {
		var files []attachedFile
		text, files = attachedTo(mediaType, raw)
		p.Files = listed(files)
	} else {
		text = words(mediaType, raw, p.Cut)
	}
	switch p.Look {
	case Markdown:
		p.HTML, err = safeHTML(text)
	case Table:
		rows, cut := table(text, p.Cut)
		p.Sheets, p.Cut = []Sheet{{Rows: rows, Cut: cut}}, cut
	default:
		if len(text) > MaxText {
			text, p.Cut = strings.ToValidUTF8(text[:MaxText], ""), true
		}
		p.Text = text
	}
	return p, err
}

// words reads what is written in content of a type.
func words(mediaType string, raw []byte, cut bool) string {
	switch mediaType {
	case mailMessage, compoundMail:
		text, _ := attachedTo(mediaType, raw)
		return text
	case richText:
		return plainRichText(raw)
	}
	return decode(raw, cut)
}

var (
	commonmark = goldmark.New(goldmark.WithExtensions(extension.GFM), goldmark.WithRendererOptions(renderer.WithNodeRenderers(util.Prioritized(fields{}, 100))))
	// policy lets through what documents need. Pictures are left out: their
	// addresses would tell somebody elsewhere who reads this, and when.
	policy = func() *bluemonday.Policy {
		p := bluemonday.NewPolicy()
		p.AllowStandardURLs()
		p.AllowAttrs("href").OnElements("a")
		p.AllowElements("h1", "h2", "h3", "h4", "h5", "h6", "p", "br", "hr", "blockquote", "pre", "code", "em", "strong", "del", "sup", "sub", "dl", "dt", "dd")
		p.AllowLists()
		p.AllowTables()
		return p
	}()
)

func safeHTML(text string) (string, error) {
	var b bytes.Buffer
	if err := commonmark.Convert([]byte(text), &b); err != nil {
		return "", fmt.Errorf("reading Markdown: %w", err)
	}
	return policy.Sanitize(b.String()), nil
}

// table reads separated rows.
func table(text string, cut bool) ([][]string, bool) {
	r := csv.NewReader(strings.NewReader(text))
	r.Comma = separated.Separator(text)
	r.LazyQuotes, r.FieldsPerRecord = true, -1
	rows := [][]string{}
	for {
		row, err := r.Read()
		if err != nil {
			return rows, cut || err != io.EOF
		}
		if len(rows) == MaxRows {
			return rows, true
		}
		rows = append(rows, row[:min(len(row), MaxColumns)])
	}
}
