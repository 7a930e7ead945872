package names

import (
	"fmt"
	"regexp"
	"strings"
)

// List is a list of words as it is kept: a database gives it back in the text form
// of an array of texts, {one,"and another"}.
type List []string

// Kept is the list as it is kept: without words it is empty, and never absent.
func (l List) Kept() List {
	if l == nil {
		return List{}
	}
	return l
}

// Scan reads that form, in the manner of values that read themselves.
func (l *List) Scan(src any) error {
	var text string
	switch s := src.(type) {
	case nil:
		*l = nil
		return nil
	case string:
		text = s
	case []byte:
		text = string(s)
	default:
		return fmt.Errorf("a list of words cannot be read from %T", src)
	}
	inner, ok := strings.CutPrefix(text, "{")
	if inner, ok = strings.CutSuffix(inner, "}"); !ok || !strings.HasPrefix(text, "{") {
		return fmt.Errorf("%q is not a list of words", text)
	}
	*l = List{}
	for inner != "" {
		word, rest, err := element(inner)
		if err != nil {
			return err
		}
		*l, inner = append(*l, word), rest
	}
	return nil
}

// element reads the next word, quoted or bare, and returns what follows its comma.
func element(s string) (word, rest string, err error) {
	if !strings.HasPrefix(s, `"`) {
		word, rest, _ = strings.Cut(s, ",")
		return word, rest, nil
	}
	var b strings.Builder
	for i := 1; i < len(s); i++ {
		switch s[i] {
		case '\\':
			if i++; i < len(s) {
				b.WriteByte(s[i])
			}
		case '"':
			return b.String(), strings.TrimPrefix(s[i+1:], ","), nil
		default:
			b.WriteByte(s[i])
		}
	}
	return "", "", fmt.Errorf("the list %q does not end", s)
}

// number is one that is no formula, though it begins with a sign.
var number = regexp.MustCompile(`^-[0-9]+(\.[0-9]+)?$`)

// Cells are the cells of a row of which a spreadsheet reads none as a formula.
func Cells(row []string) []string {
	out := make([]string, len(row))
	for i, text := range row {
		out[i] = cell(text)
	}
	return out
}

// cell keeps a text from being read as a formula by a spreadsheet.
func cell(text string) string {
	if number.MatchString(text) {
		return text
	}
	if text != "" && strings.ContainsRune("=+-@\t\r", rune(text[0])) {
		return "'" + text
	}
	return text
}
