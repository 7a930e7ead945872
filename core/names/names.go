// Package names keeps the names of folders and documents sound: what may be a
// name, when two names are the same, and how a name gives way to one that is
// taken.
package names

import (
	"fmt"
	"path"
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"

	"tabularis/core/fault"
)

// MaxBytes is the longest name, in bytes of UTF-8, that file systems commonly
// take.
const MaxBytes = 255

// Check returns the name in Unicode normal form C without outer white space,
// or refuses it: empty, "." or "..", with a slash or backslash, with control or
// text-direction characters, not UTF-8, or over MaxBytes.
func Check(field, name string) (string, error) {
	if !utf8.ValidString(name) {
		return "", errNameNotText.In(field, "the name is not valid UTF-8")
	}
	name = strings.TrimSpace(norm.NFC.String(name))
	switch {
	case name == "":
		return "", errNameEmpty.In(field, "the name is empty")
	case name == "." || name == "..":
		return "", errNameReserved.In(field, "the name %q has a meaning of its own", name)
	case len(name) > MaxBytes:
		return "", errNameTooLong.In(field, "the name has %d bytes, at most %d are possible", len(name), MaxBytes)
	}
	for _, r := range name {
		switch {
		case r == '/' || r == '\\':
			return "", errNameSlash.In(field, "the name contains %q", r)
		case unicode.IsControl(r):
			return "", errNameControl.In(field, "the name contains a control character")
		case turnsText(r):
			return "", errNameDirection.In(field, "the name contains a character that turns the direction of text")
		}
	}
	return name, nil
}

// Storable reports whether text can be kept: it is UTF-8, without the character that databases
// keep for the end of a text.
func Storable(text string) bool { return utf8.ValidString(text) && !strings.ContainsRune(text, 0) }

// turnsText reports the marks, embeddings, overrides and isolates of the
// Unicode Bidirectional Algorithm (UAX #9), by which "fdp.exe" can be made to
// look like "exe.pdf". Letters of right-to-left scripts are not among them.
func turnsText(r rune) bool {
	return r == 0x061C || r == 0x200E || r == 0x200F || r >= 0x202A && r <= 0x202E || r >= 0x2066 && r <= 0x2069
}

// Person returns the name of a person or an organisation as Line does.
func Person(field, name string) (string, error) { return Line(field, name, maxPerson) }

// Line returns a single line of text in normal form without outer white space, or
// refuses it: over so many bytes, not UTF-8, on several lines, or with characters
// that are not seen. An empty one is none.
func Line(field, text string, most int) (string, error) {
	if !utf8.ValidString(text) {
		return "", errNameNotText.In(field, "the name is not valid UTF-8")
	}
	text = strings.TrimSpace(norm.NFC.String(text))
	if len(text) > most || strings.ContainsFunc(text, func(r rune) bool { return unicode.IsControl(r) || r == '\u2028' || r == '\u2029' || turnsText(r) }) {
		return "", fault.NameLength.In(field, "a name has at most %d characters, on one line", most)
	}
	return text, nil
}

// Named is Line for what cannot do without a name.
func Named(field, text string, most int) (string, error) {
	text, err := Line(field, text, most)
	if err == nil && text == "" {
		err = errNameEmpty.In(field, "the name is empty")
	}
	return text, err
}

const maxPerson = 200

// Key is the same for two names that people and file systems would confuse:
// those which differ only in case or in Unicode normal form.
func Key(name string) string {
	return norm.NFC.String(cases.Fold().String(norm.NFC.String(name)))
}

// Path checks each part of a slash-separated relative path and returns them.
// An empty path has no parts. More than maxDepth parts are refused.
func Path(field, p string, maxDepth int) ([]string, error) {
	if p == "" {
		return nil, nil
	}
	parts := strings.Split(p, "/")
	if len(parts) > maxDepth {
		return nil, errPathTooDeep.In(field, "the path is %d folders deep, at most %d are possible", len(parts), maxDepth)
	}
	for i, part := range parts {
		clean, err := Check(field, part)
		if err != nil {
			return nil, err
		}
		parts[i] = clean
	}
	return parts, nil
}

// Split divides a name before its extension; the extension keeps its dot. A
// leading dot does not begin an extension.
func Split(name string) (stem, ext string) {
	ext = path.Ext(name)
	if ext == name || len(ext) > 12 || strings.ContainsRune(ext, ' ') {
		return name, ""
	}
	return name[:len(name)-len(ext)], ext
}

// Stem is a name without its extension.
func Stem(name string) string {
	stem, _ := Split(name)
	return stem
}

// Apart returns the first of name, "stem (2).ext", "stem (3).ext" … that is not
// taken. The stem gives way where the whole would be too long.
func Apart(name string, taken func(string) bool) string {
	if !taken(name) {
		return name
	}
	stem, ext := Split(name)
	for i := 2; ; i++ {
		suffix := fmt.Sprintf(" (%d)%s", i, ext)
		s := stem
		for len(s)+len(suffix) > MaxBytes {
			_, size := utf8.DecodeLastRuneInString(s)
			s = s[:len(s)-size]
		}
		if candidate := s + suffix; !taken(candidate) {
			return candidate
		}
	}
}
