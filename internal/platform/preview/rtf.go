package preview

import (
	"bytes"
	"strconv"
	"strings"

	"golang.org/x/text/encoding/charmap"
)

// richText is the media type of the Rich Text Format.
const richText = "text/rtf"

// asides are groups whose text is not the document's: fonts, colours, pictures, fields'
// instructions and what else is written in it for programs.
var asides = map[string]bool{"fonttbl": true, "colortbl": true, "stylesheet": true, "info": true, "pict": true, "object": true, "fldinst": true, "themedata": true, "datastore": true,
	"generator": true, "listtable": true, "listoverridetable": true, "rsidtbl": true, "latentstyles": true, "xmlnstbl": true, "header": false, "footer": false}

// group is what holds within braces: whether its text is left out, and how many characters
// stand for one that was written as a number.
type group struct {
	aside bool
	skip  int
}

// plainRichText reads the text of a document in the Rich Text Format, 1.9.1. What is broken
// is read as far as it goes.
func plainRichText(raw []byte) string {
	var out strings.Builder
	groups := []group{{skip: 1}}
	skip := 0
	for at := 0; at < len(raw) && out.Len() < maxPlain; {
		top := &groups[len(groups)-1]
		switch c := raw[at]; c {
		case '{':
			if len(groups) < 1000 {
				groups = append(groups, *top)
			}
			at++
		case '}':
			if len(groups) > 1 {
				groups = groups[:len(groups)-1]
			}
			at++
		case '\\':
			at = control(raw, at+1, top, &skip, &out)
		case '\r', '\n':
			at++
		default:
			if skip > 0 {
				skip--
			} else if !top.aside {
				out.WriteRune(charmap.Windows1252.DecodeByte(c))
			}
			at++
		}
	}
	return strings.ToValidUTF8(out.String(), "\ufffd")
}

// control reads a control word or symbol, and returns where what follows it begins.
func control(raw []byte, at int, top *group, skip *int, out *strings.Builder) int {
	if at >= len(raw) {
		return at
	}
	if !isLetter(raw[at]) {
		return symbol(raw, at, top, skip, out)
	}
	end := at
	for end < len(raw) && isLetter(raw[end]) && end-at < 32 {
		end++
	}
	word := string(raw[at:end])
	digits := end
	for digits < len(raw) && digits-end < 10 && (raw[digits] == '-' && digits == end || raw[digits] >= '0' && raw[digits] <= '9') {
		digits++
	}
	n, err := strconv.Atoi(string(raw[end:digits]))
	if digits < len(raw) && raw[digits] == ' ' {
		digits++
	}
	switch {
	case asides[word]:
		top.aside = true
	case word == "bin" && err == nil && n > 0:
		return min(len(raw), digits+n)
	case word == "uc" && err == nil && n >= 0:
		top.skip = n
	case top.aside:
	case word == "u" && err == nil:
		out.WriteRune(rune(uint16(n)))
		*skip = top.skip
	case word == "par" || word == "line" || word == "row" || word == "sect" || word == "page":
		out.WriteByte('\n')
	case word == "tab" || word == "cell":
		out.WriteByte('\t')
	}
	return digits
}

func symbol(raw []byte, at int, top *group, skip *int, out *strings.Builder) int {
	switch raw[at] {
	case '\'':
		code := raw[min(len(raw), at+1):min(len(raw), at+3)]
		if n, err := strconv.ParseUint(string(code), 16, 8); err == nil && !top.aside {
			if *skip > 0 {
				*skip--
			} else {
				out.WriteRune(charmap.Windows1252.DecodeByte(byte(n)))
			}
		}
		return min(len(raw), at+3)
	case '*':
		top.aside = true
	case '\\', '{', '}':
		if !top.aside {
			out.WriteByte(raw[at])
		}
	case '~':
		out.WriteByte(' ')
	}
	return at + 1
}

func isLetter(c byte) bool {
	return bytes.IndexByte([]byte("abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ"), c) >= 0
}
