package table

import (
	"regexp"
	"strconv"
	"strings"
	"unicode/utf8"
)

// references finds in a formula: texts, references to a cell or to cells between two, to whole columns and to
// whole rows, each perhaps of another sheet, and words that are none of it. The page has the same expression.
var references = regexp.MustCompile(`"(?:[^"]|"")*"` +
	`|(?:('(?:[^']|'')+'|[\p{L}_][\p{L}\p{N}_.]*)!)?(?:` +
	`(\$?)([A-Za-z]{1,3})(\$?)([0-9]{1,7})(?::(\$?)([A-Za-z]{1,3})(\$?)([0-9]{1,7}))?` +
	`|(\$?)([A-Za-z]{1,3}):(\$?)([A-Za-z]{1,3})` +
	`|(\$?)([0-9]{1,7}):(\$?)([0-9]{1,7}))`)

var wordly = regexp.MustCompile(`^[\p{L}\p{N}_.]$`)

// The parts of references that the expression captures.
const (
	refSheet = iota + 1
	refColumnFixed
	refColumn
	refRowFixed
	refRow
	refColumnFixed2
	refColumn2
	refRowFixed2
	refRow2
	columnsFixed
	columnsFrom
	columnsFixed2
	columnsTo
	rowsFixed
	rowsFrom
	rowsFixed2
	rowsTo
)

// reference is one in a formula: cells from one to another, counted from 0.
type reference struct {
	sheet                    string
	from, to                 Place
	single, columns, rows    bool
	fixed                    [4]string // "$" before column, row, column and row
	start, end, sheetMatters int
}

// each calls for every reference of a formula.
func each(formula string, do func(r reference)) {
	for at := 0; at < len(formula); {
		m := references.FindStringSubmatchIndex(formula[at:])
		if m == nil {
			return
		}
		start, end := at+m[0], at+m[1]
		group := func(i int) string {
			if m[2*i] < 0 {
				return ""
			}
			return formula[at+m[2*i] : at+m[2*i+1]]
		}
		if formula[start] == '"' {
			at = end
			continue
		}
		if partOfWord(formula, start, end) {
			// A name, such as that of a function, or a part of one.
			at = start + wordLength(formula[start:])
			continue
		}
		r := reference{sheet: group(refSheet), start: start, end: end}
		if strings.HasPrefix(r.sheet, "'") {
			r.sheet = strings.ReplaceAll(r.sheet[1:len(r.sheet)-1], "''", "'")
		}
		if group(refSheet) != "" {
			r.sheetMatters = len(group(refSheet)) + 1
		}
		switch {
		case group(refColumn) != "":
			r.fixed = [4]string{group(refColumnFixed), group(refRowFixed), group(refColumnFixed2), group(refRowFixed2)}
			r.from = Place{Row: number(group(refRow)), Column: ColumnOf(group(refColumn))}
			r.to = r.from
			if r.single = group(refColumn2) == ""; !r.single {
				r.to = Place{Row: number(group(refRow2)), Column: ColumnOf(group(refColumn2))}
			}
		case group(columnsFrom) != "":
			r.columns, r.fixed = true, [4]string{group(columnsFixed), "", group(columnsFixed2), ""}
			r.from, r.to = Place{Column: ColumnOf(group(columnsFrom))}, Place{Row: MostRows - 1, Column: ColumnOf(group(columnsTo))}
		default:
			r.rows, r.fixed = true, [4]string{"", group(rowsFixed), "", group(rowsFixed2)}
			r.from, r.to = Place{Row: number(group(rowsFrom))}, Place{Row: number(group(rowsTo)), Column: MostColumns - 1}
		}
		if min(r.from.Row, r.to.Row, r.from.Column, r.to.Column) >= 0 {
			do(r)
		}
		at = end
	}
}

// partOfWord says that what looks like a reference is within a longer name, or calls a function.
func partOfWord(formula string, start, end int) bool {
	if before, n := utf8.DecodeLastRuneInString(formula[:start]); n > 0 && (wordly.MatchString(string(before)) || before == '!') {
		return true
	}
	for _, next := range formula[end:] {
		return next == '(' || next == '!' || wordly.MatchString(string(next))
	}
	return false
}

func wordLength(s string) int {
	for i, r := range s {
		if i > 0 && !wordly.MatchString(string(r)) && r != '$' {
			return i
		}
	}
	return len(s)
}

func number(s string) int {
	n, err := strconv.Atoi(s)
	if err != nil {
		return -1
	}
	return n - 1
}

// ColumnOf counts a column's letters from 0.
func ColumnOf(letters string) int {
	n := 0
	for _, r := range strings.ToUpper(letters) {
		n = n*26 + int(r-'A') + 1
	}
	return n - 1
}

// Letters are those of a column that is counted from 0.
func Letters(column int) string {
	s := ""
	for n := column + 1; n > 0; n = (n - 1) / 26 {
		s = string(rune('A'+(n-1)%26)) + s
	}
	return s
}

// Followed is a formula of a sheet after rows or columns of another, or the same, were added or taken away. What it
// referred to and is gone is "#REF!"; other texts stay.
func Followed(text string, names []string, own int, s Step) string {
	if !strings.HasPrefix(text, "=") || !s.Moves() {
		return text
	}
	var out strings.Builder
	last := 0
	each(text, func(r reference) {
		if r.sheet == "" && own != s.Sheet || r.sheet != "" && (s.Sheet >= len(names) || !strings.EqualFold(r.sheet, names[s.Sheet])) {
			return
		}
		if s.Op == Rows && r.columns || s.Op == Columns && r.rows {
			return
		}
		out.WriteString(text[last:r.start])
		out.WriteString(text[r.start : r.start+r.sheetMatters])
		out.WriteString(r.moved(s))
		last = r.end
	})
	if last == 0 {
		return text
	}
	return out.String() + text[last:]
}

// moved is how the reference is written after rows or columns came or went.
func (r reference) moved(s Step) string {
	from, to := &r.from.Row, &r.to.Row
	if s.Op == Columns {
		from, to = &r.from.Column, &r.to.Column
	}
	if *from > *to {
		from, to = to, from
	}
	start, end := *from, *to
	switch {
	case s.Add > 0:
		if start >= s.At {
			start += s.Add
		}
		if end >= s.At {
			end += s.Add
		}
	default:
		start, end = pointOver(start, s, true), pointOver(end+1, s, true)-1
	}
	if end < start {
		return "#REF!"
	}
	*from, *to = start, end
	return r.written()
}

func (r reference) written() string {
	row := func(p Place) string { return strconv.Itoa(p.Row + 1) }
	switch {
	case r.columns:
		return r.fixed[0] + Letters(r.from.Column) + ":" + r.fixed[2] + Letters(r.to.Column)
	case r.rows:
		return r.fixed[1] + row(r.from) + ":" + r.fixed[3] + row(r.to)
	}
	first := r.fixed[0] + Letters(r.from.Column) + r.fixed[1] + row(r.from)
	if r.single {
		return first
	}
	return first + ":" + r.fixed[2] + Letters(r.to.Column) + r.fixed[3] + row(r.to)
}
