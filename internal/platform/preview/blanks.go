package preview

import (
	"bytes"
	"errors"
	"html"
	"regexp"
	"strings"
	"unicode/utf8"

	"tabularis/core/templates"
	"tabularis/internal/platform/office"
)

// ErrNoTemplate means that a document of this kind, or this one, has no blanks that are filled.
var ErrNoTemplate = errors.New("nothing can be filled in here")

// HasBlanks reports whether blanks of a media type are filled.
func HasBlanks(mediaType string) bool {
	return office.HasBlanks(mediaType) || strings.HasPrefix(mediaType, "text/") && mediaType != "text/rtf"
}

// Blanks are those of a document.
func Blanks(mediaType string, content []byte) ([]templates.Blank, error) {
	if office.HasBlanks(mediaType) {
		return office.Blanks(mediaType, int64(len(content)), bytes.NewReader(content))
	}
	if len(content) > maxPlain || !utf8.Valid(content) {
		return nil, ErrNoTemplate
	}
	return templates.Blanks(string(content)), nil
}

// Characters that mean something in Markdown wherever they stand, and what does at the beginning of a line (CommonMark, 2.4).
var (
	marksText = strings.NewReplacer("\\", "\\\\", "`", "\\`", "*", "\\*", "_", "\\_", "[", "\\[", "]", "\\]", "<", "\\<", ">", "\\>", "#", "\\#", "|", "\\|", "~", "\\~", "&", "\\&")
	marksLine = regexp.MustCompile(`(?m)^(\s*\d*)([-+=.)])`)
)

// literal is text that means itself in Markdown; its lines stay lines.
func literal(value string) string {
	return strings.ReplaceAll(marksLine.ReplaceAllString(marksText.Replace(value), `$1\$2`), "\n", "\\\n")
}

// FillBlanks returns a document with its blanks filled.
func FillBlanks(mediaType string, content []byte, v templates.Filler) ([]byte, error) {
	if office.HasBlanks(mediaType) {
		return office.Fill(mediaType, int64(len(content)), bytes.NewReader(content), v)
	}
	if len(content) > maxPlain || !utf8.Valid(content) {
		return nil, ErrNoTemplate
	}
	write := func(value string) string { return value }
	switch mediaType {
	case "text/html":
		write = html.EscapeString
	case "text/markdown":
		write = literal
	case "text/csv", "text/tab-separated-values":
		// It stays in its cell, whether that stands in quotation marks or not.
		write = strings.NewReplacer(`"`, "'", ",", " ", ";", " ", "\t", " ", "\n", " ").Replace
	}
	return []byte(templates.Fill(v, string(content), write)), nil
}
