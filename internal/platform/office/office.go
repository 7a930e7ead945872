// Package office reads office documents: their text (ISO/IEC 29500 and 26300)
// by itself, and their pages by LibreOffice, where that is installed.
package office

import (
	"archive/zip"
	"encoding/xml"
	"errors"
	"fmt"
	"io"
	"path"
	"slices"
	"strconv"
	"strings"
)

// Word is the type of word-processing documents (ISO/IEC 29500-1).
const Word = "application/vnd.openxmlformats-officedocument.wordprocessingml.document"

const (
	word         = Word
	presentation = "application/vnd.openxmlformats-officedocument.presentationml.presentation"
	openText     = "application/vnd.oasis.opendocument.text"
	openSlides   = "application/vnd.oasis.opendocument.presentation"
	openSheet    = "application/vnd.oasis.opendocument.spreadsheet"
)

// zipped are the types that are ZIP archives of XML, with the endings by which
// LibreOffice knows them; old are those of before.
var (
	zipped = map[string]string{word: ".docx", presentation: ".pptx", openText: ".odt", openSlides: ".odp", openSheet: ".ods"}
	old    = map[string]string{"application/msword": ".doc", "application/vnd.ms-powerpoint": ".ppt", "application/vnd.ms-excel": ".xls", "text/rtf": ".rtf"}
)

const (
	// MaxBytes is the largest document that is opened.
	MaxBytes = 64 << 20
	// maxUnpacked and maxEntries are checked in the archive's directory before
	// anything is unpacked, and maxRatio how much smaller packing made it.
	maxUnpacked = 512 << 20
	maxEntries  = 10_000
	maxRatio    = 200
	// maxText is how much text is read.
	maxText = 32 << 20
)

// ErrUnreadable means that it is no such document, that it is broken, locked or
// unpacks to too much, or that converting it took too long.
var ErrUnreadable = errors.New("the office document cannot be read")

// IsDocument reports whether a media type is that of an office document that
// has pages of its own. Spreadsheets of ISO/IEC 29500 are read elsewhere.
func IsDocument(mediaType string) bool { return zipped[mediaType] != "" || old[mediaType] != "" }

// HasText reports whether Text reads a media type.
func HasText(mediaType string) bool { return zipped[mediaType] != "" }

// open opens an archive after a look at its directory.
func open(r io.ReaderAt, size int64) (*zip.Reader, error) {
	if size > MaxBytes {
		return nil, ErrUnreadable
	}
	z, err := zip.NewReader(r, size)
	if err != nil || len(z.File) > maxEntries {
		return nil, ErrUnreadable
	}
	var unpacked, packed uint64
	for _, f := range z.File {
		unpacked, packed = unpacked+f.UncompressedSize64, packed+f.CompressedSize64
		if unpacked > maxUnpacked || strings.Contains(f.Name, "..") {
			return nil, ErrUnreadable
		}
	}
	if unpacked > 1<<20 && unpacked > maxRatio*packed {
		return nil, ErrUnreadable
	}
	return z, nil
}

// Sound refuses what is packed and unpacks to too much: ErrUnreadable.
func Sound(mediaType string, size int64, r io.ReaderAt) error {
	if zipped[mediaType] == "" {
		return nil
	}
	_, err := open(r, size)
	return err
}

// Text returns the text of a document in parts: slides, or the whole.
func Text(mediaType string, size int64, r io.ReaderAt) ([]string, error) {
	z, err := open(r, size)
	if err != nil {
		return nil, err
	}
	var parts []*zip.File
	for _, f := range z.File {
		if holdsText(mediaType, f.Name) {
			parts = append(parts, f)
		}
	}
	// Slide 10 stands after slide 9.
	slices.SortStableFunc(parts, func(a, b *zip.File) int { return number(a.Name) - number(b.Name) })
	if len(parts) == 0 {
		return nil, ErrUnreadable
	}
	left := int64(maxText)
	var out []string
	for i, f := range parts {
		text, err := textOf(f, &left)
		if err != nil {
			return nil, err
		}
		if mediaType == presentation && i > 0 && number(f.Name) == number(parts[i-1].Name) {
			// The notes of a slide stand with it.
			out[len(out)-1] += "\n" + text
			continue
		}
		out = append(out, text)
	}
	return out, nil
}

func holdsText(mediaType, name string) bool {
	switch mediaType {
	case word:
		dir, base := path.Split(name)
		return dir == "word/" && (base == "document.xml" || strings.HasPrefix(base, "header") || strings.HasPrefix(base, "footer") || base == "footnotes.xml" || base == "endnotes.xml" || base == "comments.xml")
	case presentation:
		return (strings.HasPrefix(name, "ppt/slides/slide") || strings.HasPrefix(name, "ppt/notesSlides/notesSlide")) && path.Ext(name) == ".xml"
	}
	return name == "content.xml"
}

func number(name string) int {
	digits := strings.TrimRight(strings.TrimSuffix(path.Base(name), ".xml"), "0123456789")
	n, _ := strconv.Atoi(strings.TrimSuffix(path.Base(name), ".xml")[len(digits):])
	return n
}

// blocks are the elements after which a new line begins.
var blocks = []string{"p", "h", "br", "tab", "tr", "table-row", "line-break", "list-item"}

// textOf reads the text between the marks of a part. XML entities are only the
// five that every document has: nothing can be expanded.
func textOf(f *zip.File, left *int64) (string, error) {
	r, err := f.Open()
	if err != nil {
		return "", ErrUnreadable
	}
	defer r.Close()
	limited := &io.LimitedReader{R: r, N: *left}
	d := xml.NewDecoder(limited)
	var b strings.Builder
	for {
		token, err := d.Token()
		if err == io.EOF || err != nil && limited.N <= 0 {
			break
		}
		if err != nil {
			return "", fmt.Errorf("%w: %w", ErrUnreadable, err)
		}
		switch t := token.(type) {
		case xml.CharData:
			b.Write(t)
		case xml.EndElement:
			if slices.Contains(blocks, t.Name.Local) {
				b.WriteByte('\n')
			}
		}
	}
	*left = limited.N
	return b.String(), nil
}
