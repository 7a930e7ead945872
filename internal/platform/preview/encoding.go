package preview

import (
	"bytes"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/encoding"
	"golang.org/x/text/encoding/charmap"
	xunicode "golang.org/x/text/encoding/unicode"
)

// marks are the byte order marks of Unicode (chapter 23.8 of the standard), and what is
// read by each.
var marks = []struct {
	mark string
	read encoding.Encoding
}{
	{"\xff\xfe", xunicode.UTF16(xunicode.LittleEndian, xunicode.IgnoreBOM)},
	{"\xfe\xff", xunicode.UTF16(xunicode.BigEndian, xunicode.IgnoreBOM)},
}

// old are tables of characters that instruments and old programs write by, the likeliest first.
var old = []encoding.Encoding{charmap.Windows1252, charmap.CodePage850, charmap.Macintosh}

// Decoded is a whole text whose encoding is not told.
func Decoded(raw []byte) string { return decode(raw, false) }

// decode reads text of an encoding that is not told: by its mark, as UTF-8, as UTF-16 where
// every other byte is zero, or by the table under which its letters stand beside letters.
func decode(raw []byte, cut bool) string {
	raw = bytes.TrimPrefix(raw, []byte("\ufeff"))
	for _, m := range marks {
		if rest, ok := bytes.CutPrefix(raw, []byte(m.mark)); ok {
			return with(m.read, rest)
		}
	}
	if cut {
		for i := 0; i < utf8.UTFMax && len(raw) > 0 && !utf8.Valid(raw[max(0, len(raw)-utf8.UTFMax):]); i++ {
			raw = raw[:len(raw)-1]
		}
	}
	if i, ok := zeros(raw); ok {
		return with(marks[i].read, raw)
	}
	if utf8.Valid(raw) {
		return string(raw)
	}
	best, most := "", 0
	for i, table := range old {
		text := with(table, raw)
		if n := likeness(text); i == 0 || n > most {
			best, most = text, n
		}
	}
	return best
}

func with(e encoding.Encoding, raw []byte) string {
	text, err := e.NewDecoder().Bytes(raw)
	if err != nil {
		text = raw
	}
	return strings.ToValidUTF8(string(text), "\ufffd")
}

// zeros reports whether text is UTF-16 without a mark, and in which order its bytes stand.
func zeros(raw []byte) (order int, ok bool) {
	n := [2]int{}
	beginning := raw[:min(len(raw), 4000)/2*2]
	for i, b := range beginning {
		if b == 0 {
			n[i%2]++
		}
	}
	half := len(beginning) / 2
	switch {
	case half == 0:
	case n[1] > half*3/4 && n[0] == 0:
		return 0, true
	case n[0] > half*3/4 && n[1] == 0:
		return 1, true
	}
	return 0, false
}

// likeness is how often letters beyond ASCII stand beside letters, less how often other
// characters do.
func likeness(text string) (n int) {
	before := ' '
	for i, r := range text {
		if i > 100_000 {
			break
		}
		if r >= utf8.RuneSelf && unicode.IsLetter(before) {
			switch {
			case strings.ContainsRune("äöüÄÖÜßéèêàáâçñôûëïíóúåøæ", r):
				n += 2
			case unicode.IsLetter(r):
			default:
				n -= 3
			}
		}
		before = r
	}
	return n
}
