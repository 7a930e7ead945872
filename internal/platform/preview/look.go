// Package preview says how a document can be looked at in a page, and prepares
// text for looking at it.
package preview

import (
	"path"
	"strings"

	"github.com/gabriel-vasile/mimetype"
)

// Look is the way in which a document can be looked at.
type Look string

const (
	PDF      Look = "pdf"
	Picture  Look = "picture"
	Text     Look = "text"
	Markdown Look = "markdown"
	Table    Look = "table"
	Sound    Look = "sound"
	Video    Look = "video"
	// Archive is a list of files.
	Archive Look = "archive"
	// Pages are pictures drawn by the server.
	Pages Look = "pages"
	None  Look = "none"
)

// Spreadsheet is the type of spreadsheets (ECMA-376).
const Spreadsheet = "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet"

// byExtension refines what the bytes of a plain text cannot tell.
var byExtension = map[string]string{
	".csv": "text/csv", ".tsv": "text/tab-separated-values", ".md": "text/markdown", ".markdown": "text/markdown",
	".eml": mailMessage,
}

// HeadSize is how many first bytes MediaType wants to see.
const HeadSize = 3072

// MediaType tells the type from the first bytes of the content; the name only
// tells which kind of plain text it is. A name cannot make it lie.
func MediaType(name string, head []byte) string {
	t := mimetype.Detect(head[:min(len(head), HeadSize)])
	full, _, _ := strings.Cut(t.String(), ";")
	for p := t; p != nil; p = p.Parent() {
		if p.Is("text/plain") {
			if refined := byExtension[strings.ToLower(path.Ext(name))]; refined != "" && !t.Is("text/html") && !t.Is("image/svg+xml") {
				return refined
			}
		}
	}
	if len(head) == 0 {
		return "application/octet-stream"
	}
	return full
}

// LookOf says how content of a media type can be looked at.
func LookOf(mediaType string) Look {
	switch mediaType {
	case "application/pdf":
		return PDF
	case "image/png", "image/jpeg", "image/gif", "image/webp", "image/avif", "image/bmp", "image/svg+xml":
		return Picture
	case "text/csv", "text/tab-separated-values", Spreadsheet:
		return Table
	case "text/markdown":
		return Markdown
	case "audio/wav", "audio/x-wav", "audio/mpeg", "audio/ogg", "audio/flac", "audio/mp4", "audio/aac", "audio/x-m4a":
		return Sound
	case "video/mp4", "video/webm", "video/ogg", "video/x-m4v":
		return Video
	case archived:
		return Archive
	case mailMessage, compoundMail, "application/json", "application/ndjson", "application/geo+json":
		return Text
	}
	if strings.HasPrefix(mediaType, "text/") {
		return Text
	}
	return None
}
