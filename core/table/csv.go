package table

import (
	"cmp"
	"encoding/csv"
	"errors"
	"io"
	"slices"
	"strings"
)

// Manner is how a file of separated values is written.
type Manner struct {
	// Comma separates values; "" is no such file.
	Comma string `json:"comma,omitempty"`
	// Decimal stands before decimals.
	Decimal string `json:"decimal,omitempty"`
	// Breaks are those of DOS between lines.
	Breaks bool `json:"breaks,omitempty"`
	// Mark says that the file begins with the mark of its order of bytes.
	Mark bool `json:"mark,omitempty"`
}

// Decimal is the sign before decimals in a table's cells.
func (b *Book) Decimal() string { return cmp.Or(b.Manner.Decimal, ".") }

// New is an empty table, of separated values or not.
func New(separated bool) *Book {
	b := &Book{Sheets: []Sheet{{Name: "Table", Head: 1, Columns: 6, Rows: make([][]Cell, 20)}}}
	if separated {
		b.Sheets[0].Name, b.Manner = "", Manner{Comma: ",", Decimal: "."}
	}
	return b
}

// ReadSeparated reads separated values (RFC 4180, and with other signs between them). Whatever stands there is a value: what
// looks like a formula is a text.
func ReadSeparated(text string) (*Book, error) {
	b := &Book{Manner: Manner{Mark: strings.HasPrefix(text, "\ufeff")}}
	text = strings.TrimPrefix(text, "\ufeff")
	b.Manner.Breaks = strings.Contains(text, "\r\n")
	comma := Separator(text)
	b.Manner.Comma = string(comma)
	r := csv.NewReader(strings.NewReader(text))
	r.Comma, r.LazyQuotes, r.FieldsPerRecord, r.ReuseRecord = comma, true, -1, true
	sheet := Sheet{}
	var all [][]string
	for {
		record, err := r.Read()
		if errors.Is(err, io.EOF) {
			break
		}
		if err != nil {
			return nil, stepInvalid.New("the file is no table of separated values")
		}
		if len(all) == MostRows || len(record) > MostColumns {
			return nil, SheetTooLarge()
		}
		sheet.Columns = max(sheet.Columns, len(record))
		all = append(all, slices.Clone(record))
	}
	b.Manner.Decimal = decimalOf(all, comma)
	for _, record := range all {
		sheet.Rows = append(sheet.Rows, cellsOf(record, b.Manner.Decimal))
	}
	sheet.Columns = max(sheet.Columns, 1)
	sheet.Head = HeadOf(sheet.Rows, b.Manner.Decimal)
	b.Sheets = []Sheet{sheet}
	return b, b.Check()
}

func cellsOf(record []string, decimal string) []Cell {
	row := make([]Cell, len(record))
	for i, text := range record {
		row[i].Text = Clean(text)
		if strings.HasPrefix(text, "=") || strings.HasPrefix(text, "'") {
			row[i].Text = "'" + row[i].Text
		}
	}
	return Trimmed(row)
}

// Separator is the sign that every one of the first lines has most of.
func Separator(text string) rune {
	lines := strings.SplitN(strings.TrimSpace(text), "\n", 11)
	lines = lines[:min(len(lines), 10)]
	best, most := ',', 0
	for _, c := range []rune{',', ';', '\t', '|'} {
		least := len(text)
		for _, line := range lines {
			least = min(least, strings.Count(line, string(c)))
		}
		if least > most {
			best, most = c, least
		}
	}
	return best
}

// decimalOf is a comma where values are separated by something else and more of them read so.
func decimalOf(all [][]string, comma rune) string {
	if comma == ',' {
		return "."
	}
	commas, points := 0, 0
	for _, record := range all {
		for _, text := range record {
			switch {
			case strings.Count(text, ",") == 1 && ValueOf(text, ",").Kind == Number:
				commas++
			case strings.Contains(text, ".") && ValueOf(text, ".").Kind == Number:
				points++
			}
		}
	}
	if commas > points {
		return ","
	}
	return "."
}

// HeadOf finds out whether the first row has headings: texts, over others that hold something else as well.
func HeadOf(rows [][]Cell, decimal string) int {
	if len(rows) < 2 || len(rows[0]) == 0 {
		return 0
	}
	for _, c := range rows[0] {
		if k := ValueOf(c.Text, decimal).Kind; k != Text {
			return 0
		}
	}
	return 1
}

// WriteSeparated writes the first sheet as separated values; formulas as what they come to.
func (b *Book) WriteSeparated(values Values) (string, error) {
	var out strings.Builder
	if b.Manner.Mark {
		out.WriteString("\ufeff")
	}
	w := csv.NewWriter(&out)
	w.UseCRLF = b.Manner.Breaks
	for _, r := range b.Manner.Comma {
		w.Comma = r
	}
	sheet := b.Sheets[0]
	wide := 1
	for _, row := range sheet.Rows {
		for c, cell := range row {
			if cell.Text != "" {
				wide = max(wide, c+1)
			}
		}
	}
	record := make([]string, wide)
	for r := range lastRow(sheet) {
		for c := range record {
			record[c] = b.shown(Place{0, r, c}, values)
		}
		if err := w.Write(record); err != nil {
			return "", err
		}
	}
	w.Flush()
	return out.String(), w.Error()
}

// lastRow is how many rows there are up to the last one that holds something.
func lastRow(s Sheet) int {
	n := len(s.Rows)
	for n > 0 && !slices.ContainsFunc(s.Rows[n-1], func(c Cell) bool { return c.Text != "" }) {
		n--
	}
	return n
}

// shown is a cell as a value in a file.
func (b *Book) shown(p Place, values Values) string {
	text := b.Cell(p).Text
	switch v := ValueOf(text, b.Decimal()); v.Kind {
	case Formula:
		return values[p].Shown(b.Decimal())
	case Text:
		return v.Text
	}
	return text
}
