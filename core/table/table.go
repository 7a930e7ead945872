// Package table is a document of rows and columns that several people write at once: its cells, the changes
// that can be made to them, how a change is carried over others that came in between, how formulas follow
// what moves, and how the whole is read from and written to separated values (RFC 4180).
package table

import (
	"slices"
	"strings"
	"unicode/utf8"

	"tabularis/core/fault"
)

// Limits of a table.
const (
	MostSheets  = 40
	MostRows    = 50_000
	MostColumns = 250
	// MostCells is how many cells all sheets may have room for.
	MostCells = 1_000_000
	// MostBytes is how long all that stands in cells may be together.
	MostBytes = 8 << 20
	// mostText and mostFormula are how long a cell's text and a formula may be (ECMA-376 part 1, 18.3.1.96
	// and 18.3.1.40 leave it open; programs for spreadsheets stop there).
	mostText    = 32_767
	mostFormula = 8_192
)

// Cell is what was written at a place: a text as it was typed. What begins with "=" is a formula, what begins
// with an apostrophe is a text whatever else it looks like.
type Cell struct {
	Text string
	// Format is how a number is shown: a number format code (ECMA-376 part 1, 18.8.31); none as it was typed.
	Format string
	Doubt  *Doubt
}

// Doubt says that several wrote there at the same moment. What was written last stands until one of them
// writes there anew.
type Doubt struct {
	// Was is what stood there before.
	Was string `json:"was"`
	// By is who wrote what stands.
	By     string `json:"by"`
	Others []Said `json:"others"`
}

// Said is what somebody else wrote at the same place.
type Said struct {
	Text string `json:"text"`
	By   string `json:"by"`
}

// length is how much a cell holds, in bytes.
func (c Cell) length() int {
	n := len(c.Text) + len(c.Format)
	if c.Doubt != nil {
		n += len(c.Doubt.Was)
		for _, o := range c.Doubt.Others {
			n += len(o.Text)
		}
	}
	return n
}

// IsFormula says that the cell holds a formula.
func (c Cell) IsFormula() bool { return len(c.Text) > 1 && c.Text[0] == '=' }

func (c Cell) empty() bool { return c.Text == "" && c.Format == "" && c.Doubt == nil }

// Sheet is a table of its own within the document.
type Sheet struct {
	Name string
	// Head is how many rows at the top are headings, which stay in sight.
	Head int
	// Columns is how wide it is; rows end with their last cell that holds something.
	Columns int
	Rows    [][]Cell
}

// At is the cell of a place; an empty one outside.
func (s *Sheet) At(row, column int) Cell {
	if row < 0 || row >= len(s.Rows) || column < 0 || column >= len(s.Rows[row]) {
		return Cell{}
	}
	return s.Rows[row][column]
}

// Book is a whole document. It is never changed: every change gives another one.
type Book struct {
	Sheets []Sheet
	// Manner is how a file of separated values is written.
	Manner Manner
	// Stays names what the file holds that is not shown or changed here, and is kept as it is.
	Stays []string
	bytes int
}

// Place is where a cell stands, counted from 0.
type Place struct{ Sheet, Row, Column int }

// Cell is what stands at a place; an empty cell outside.
func (b *Book) Cell(p Place) Cell {
	if p.Sheet < 0 || p.Sheet >= len(b.Sheets) {
		return Cell{}
	}
	return b.Sheets[p.Sheet].At(p.Row, p.Column)
}

// Size is roughly how many bytes it takes.
func (b *Book) Size() int {
	n := b.bytes
	for _, s := range b.Sheets {
		n += len(s.Rows) * 32
	}
	return n
}

var (
	stepInvalid = fault.Declare(fault.Invalid, "change-invalid", "a change does not fit the table, or the table would hold afterwards what it may not")
	tooLong     = fault.Declare(fault.TooLarge, "table-too-large", "the table would be larger than one that is written together may be")
)

// SheetTooLarge refuses a sheet with more rows or columns than one may have.
func SheetTooLarge() error {
	return tooLong.New("a sheet has at most %d rows and %d columns", MostRows, MostColumns)
}

// Check refuses what no table may be, as when it is read.
func (b *Book) Check() error {
	if len(b.Sheets) == 0 || len(b.Sheets) > MostSheets {
		return tooLong.New("a table has one to %d sheets", MostSheets)
	}
	b.bytes = 0
	cells := 0
	for i := range b.Sheets {
		s := &b.Sheets[i]
		if len(s.Rows) > MostRows || s.Columns > MostColumns || s.Head < 0 {
			return SheetTooLarge()
		}
		cells += len(s.Rows) * s.Columns
		for _, row := range s.Rows {
			if len(row) > s.Columns {
				return stepInvalid.New("a row is wider than its sheet")
			}
			for _, c := range row {
				if err := checkText(c.Text, c.Format); err != nil {
					return err
				}
				b.bytes += c.length()
			}
		}
	}
	return b.within(cells)
}

func (b *Book) within(cells int) error {
	if cells > MostCells || b.bytes > MostBytes {
		return tooLong.New("a table has at most %d cells, and %d bytes in them", MostCells, MostBytes)
	}
	return nil
}

func (b *Book) cells() (n int) {
	for _, s := range b.Sheets {
		n += len(s.Rows) * s.Columns
	}
	return n
}

func checkText(text, format string) error {
	if len(text) > mostText || strings.HasPrefix(text, "=") && len(text) > mostFormula {
		return tooLong.New("a cell holds at most %d letters, a formula %d", mostText, mostFormula)
	}
	if len(format) > 120 || !plain(format) || !plain(text) {
		return stepInvalid.New("a cell holds text alone")
	}
	return nil
}

// plain says that a text has no characters of control but breaks and tabulators.
func plain(text string) bool {
	return utf8.ValidString(text) && !strings.ContainsFunc(text, func(r rune) bool {
		return r < ' ' && r != '\n' && r != '\t' || r == 0x7f || r == '\ufffe' || r == '\uffff'
	})
}

// Clean is a text without what no cell holds.
func Clean(text string) string {
	if plain(text) {
		return text
	}
	return strings.Map(func(r rune) rune {
		if !plain(string(r)) {
			return -1
		}
		return r
	}, strings.ToValidUTF8(text, "\ufffd"))
}

// put gives a row with a cell in a place; cells that hold nothing do not lengthen it.
func put(row []Cell, column int, c Cell) []Cell {
	row = slices.Clone(row)
	for len(row) <= column {
		row = append(row, Cell{})
	}
	row[column] = c
	return Trimmed(row)
}

// Trimmed is a row up to its last cell that holds something.
func Trimmed(row []Cell) []Cell {
	for len(row) > 0 && row[len(row)-1].empty() {
		row = row[:len(row)-1]
	}
	return row
}
