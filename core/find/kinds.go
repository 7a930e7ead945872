package find

import (
	"slices"
	"strings"
)

// Kinds are what documents are told apart by when one looks for them.
var Kinds = []string{"pdf", "writing", "table", "slides", "mail", "picture", "text", "recording", "other"}

// CheckKinds refuses kinds that there are not.
func CheckKinds(kinds []string) error {
	for _, k := range kinds {
		if !slices.Contains(Kinds, k) {
			return errKindUnknown.In("kind", "there is no kind %.20q", k)
		}
	}
	return nil
}

// KindOf is what content of a media type is.
func KindOf(mediaType string) string {
	for kind, parts := range byMediaType {
		for _, p := range parts {
			if strings.Contains(mediaType, p) {
				return kind
			}
		}
	}
	switch {
	case strings.HasPrefix(mediaType, "image/"):
		return "picture"
	case strings.HasPrefix(mediaType, "audio/"), strings.HasPrefix(mediaType, "video/"):
		return "recording"
	case strings.HasPrefix(mediaType, "text/"), strings.HasSuffix(mediaType, "json"), strings.HasSuffix(mediaType, "xml"):
		return "text"
	}
	return "other"
}

// byMediaType names what media types of a kind have in common; none of it stands in those
// of two kinds.
var byMediaType = map[string][]string{
	"pdf":     {"application/pdf"},
	"writing": {"wordprocessingml", "opendocument.text", "msword", "text/rtf", "application/rtf"},
	"table":   {"spreadsheetml", "opendocument.spreadsheet", "ms-excel", "text/csv", "text/tab-separated-values"},
	"slides":  {"presentationml", "opendocument.presentation", "ms-powerpoint"},
	"mail":    {"message/rfc822", "vnd.ms-outlook"},
}
