package office

import (
	"archive/zip"
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"path"
	"slices"
	"strings"

	"tabularis/core/templates"
)

const workbook = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

// HasBlanks reports whether Blanks and Fill read a media type.
func HasBlanks(mediaType string) bool { return zipped[mediaType] != "" || mediaType == workbook }

// mayHoldBlanks reports whether a part of a document is text that people write.
func mayHoldBlanks(mediaType, name string) bool {
	switch mediaType {
	case workbook:
		return name == "xl/sharedStrings.xml" || strings.HasPrefix(name, "xl/worksheets/sheet") && path.Ext(name) == ".xml"
	case word, presentation:
		return holdsText(mediaType, name)
	}
	return name == "content.xml" || name == "styles.xml"
}

// Blanks are the blanks of a document's text, part by part.
func Blanks(mediaType string, size int64, r io.ReaderAt) ([]templates.Blank, error) {
	var text strings.Builder
	err := eachPart(mediaType, size, r, func(_ *zip.File, raw []byte) error {
		paragraphs, err := paragraphsOf(raw)
		for _, p := range paragraphs {
			text.WriteString(p.text() + "\n")
		}
		return err
	}, func(*zip.File) error { return nil })
	return templates.Blanks(text.String()), err
}

// Fill returns a document with its blanks filled; what else is in it stays byte by byte.
func Fill(mediaType string, size int64, r io.ReaderAt, v templates.Filler) ([]byte, error) {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	err := eachPart(mediaType, size, r, func(f *zip.File, raw []byte) error {
		filled, err := fillPart(raw, v)
		if err != nil {
			return err
		}
		w, err := z.CreateHeader(&zip.FileHeader{Name: f.Name, Method: zip.Deflate, Modified: f.Modified})
		if err != nil {
			return err
		}
		_, err = w.Write(filled)
		return err
	}, z.Copy)
	err = errors.Join(err, z.Close())
	return out.Bytes(), err
}

// eachPart goes through the parts of a document: those that may hold blanks, read, and others.
func eachPart(mediaType string, size int64, r io.ReaderAt, read func(f *zip.File, raw []byte) error, other func(f *zip.File) error) error {
	z, err := open(r, size)
	if err != nil {
		return err
	}
	left := int64(maxText)
	for _, f := range z.File {
		if !mayHoldBlanks(mediaType, f.Name) {
			if err := other(f); err != nil {
				return errors.Join(ErrUnreadable, err)
			}
			continue
		}
		c, err := f.Open()
		if err != nil {
			return ErrUnreadable
		}
		raw, err := io.ReadAll(io.LimitReader(c, left+1))
		left -= int64(len(raw))
		if c.Close(); err != nil || left < 0 {
			return ErrUnreadable
		}
		if err := read(f, raw); err != nil {
			return err
		}
	}
	return nil
}

// run is a piece of a paragraph's text, from one byte of the part to another.
type run struct {
	from, to int
	text     string
}

// paragraph is text that is read as one, in runs.
type paragraph []run

func (p paragraph) text() string {
	var b strings.Builder
	for _, r := range p {
		b.WriteString(r.text)
	}
	return b.String()
}

// paragraphNames are the elements whose text is read as one: paragraphs and headings (ISO/IEC
// 29500, 26300), and the strings of a workbook.
var paragraphNames = []string{"p", "h", "si", "is"}

// paragraphsOf finds the paragraphs of a part. One can lie within another, as a text box does.
func paragraphsOf(raw []byte) (all []paragraph, err error) {
	d := xml.NewDecoder(bytes.NewReader(raw))
	var open []paragraph
	depth := 0
	for {
		from := d.InputOffset()
		token, err := d.Token()
		if err == io.EOF {
			return append(all, open...), nil
		}
		if err != nil {
			return nil, errors.Join(ErrUnreadable, err)
		}
		switch t := token.(type) {
		case xml.StartElement:
			if depth++; depth > 500 {
				return nil, ErrUnreadable
			}
			if slices.Contains(paragraphNames, t.Name.Local) {
				open = append(open, nil)
			}
		case xml.EndElement:
			depth--
			if len(open) > 0 && slices.Contains(paragraphNames, t.Name.Local) {
				all, open = append(all, open[len(open)-1]), open[:len(open)-1]
			}
		case xml.CharData:
			if len(open) > 0 {
				open[len(open)-1] = append(open[len(open)-1], run{int(from), int(d.InputOffset()), string(t)})
			}
		}
	}
}

// fillPart fills the blanks of a part. A blank may lie across runs, as a program cuts text when
// it is looked through for spelling: its value stands in the first of them.
func fillPart(raw []byte, v templates.Filler) ([]byte, error) {
	paragraphs, err := paragraphsOf(raw)
	if err != nil {
		return nil, err
	}
	var changed []run
	for _, p := range paragraphs {
		spans := v.Spans(p.text())
		if len(spans) == 0 {
			continue
		}
		at := 0
		for _, r := range p {
			if text := r.filled(at, spans); text != r.text {
				changed = append(changed, run{r.from, r.to, text})
			}
			at += len(r.text)
		}
	}
	slices.SortFunc(changed, func(a, b run) int { return a.from - b.from })
	var out bytes.Buffer
	at := 0
	for _, r := range changed {
		out.Write(raw[at:r.from])
		if err := xml.EscapeText(&out, []byte(r.text)); err != nil {
			return nil, err
		}
		at = r.to
	}
	out.Write(raw[at:])
	return out.Bytes(), nil
}

// filled is a run's text, which stands at a byte of its paragraph, without what is filled, and
// with the values that begin in it.
func (r run) filled(at int, spans []templates.Span) string {
	var b strings.Builder
	from := 0
	for _, s := range spans {
		begin, end := s.From-at, s.To-at
		if end <= 0 || begin >= len(r.text) {
			continue
		}
		b.WriteString(r.text[from:max(from, begin)])
		if begin >= 0 {
			b.WriteString(strings.Map(plainSpace, s.Value))
		}
		from = min(end, len(r.text))
	}
	return b.String() + r.text[from:]
}

// plainSpace keeps a value on its line: a paragraph's text has no line breaks of its own.
func plainSpace(c rune) rune {
	if c == '\n' || c == '\t' {
		return ' '
	}
	return c
}
