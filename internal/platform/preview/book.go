package preview

import (
	"fmt"
	"io"
	"slices"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"tabularis/core/fault"
)

// maxSheets is how many sheets of a spreadsheet are prepared.
const maxSheets = 100

// bookOptions keep all of a spreadsheet in memory: parts larger than the second
// size would be written to files. A short date is written as in ISO 8601: programs
// write it in the manner of the country, and a file does not say of which.
var bookOptions = excelize.Options{UnzipSizeLimit: 256 << 20, UnzipXMLSizeLimit: 256 << 20, ShortDatePattern: "yyyy-mm-dd"}

// book reads the sheets of a spreadsheet.
func book(p Prepared, size int64, r io.Reader) (Prepared, error) {
	f, err := excelize.OpenReader(r, bookOptions)
	if err != nil {
		return p, fault.Unreadable.New("the spreadsheet cannot be read")
	}
	defer f.Close()
	b := bookReader{file: f, left: maxCells, typed: size <= maxTyped}
	for _, name := range f.GetSheetList() {
		if len(p.Sheets) == maxSheets {
			p.Cut = true
			break
		}
		sheet, err := b.sheet(name)
		if err != nil {
			return p, fault.Unreadable.New("the spreadsheet cannot be read")
		}
		p.Sheets, p.Cut = append(p.Sheets, sheet), p.Cut || sheet.Cut
	}
	return p, nil
}

// maxTyped is the largest spreadsheet, in bytes, whose cells are asked for their type.
const maxTyped = 4 << 20

type bookReader struct {
	file *excelize.File
	// left is how much text of cells is still taken, in bytes.
	left  int
	typed bool
}

// sheet reads one of the sheets as far as there is space. What is no table of cells,
// such as a chart on a sheet of its own, has no rows.
func (b *bookReader) sheet(name string) (Sheet, error) {
	s := Sheet{Name: name, Rows: [][]string{}}
	if visible, err := b.file.GetSheetVisible(name); err == nil {
		s.Hidden = !visible
	}
	rows, err := b.file.Rows(name)
	if err != nil {
		return s, nil //nolint:nilerr // It is shown as empty.
	}
	defer rows.Close()
	for rows.Next() {
		if len(s.Rows) == MaxRows || b.left <= 0 {
			s.Cut = true
			break
		}
		row, err := rows.Columns()
		if err != nil {
			return s, fmt.Errorf("reading a row: %w", err)
		}
		s.Cut = s.Cut || len(row) > MaxColumns
		// A copy, since a row may have been made for thousands of columns.
		row = slices.Clone(row[:min(len(row), MaxColumns)])
		for i, cell := range row {
			row[i] = b.general(name, i+1, len(s.Rows)+1, cell)
			b.left -= len(cell)
		}
		s.Rows = append(s.Rows, row)
	}
	return s, nil
}

// longest is how many characters a number without a format of its own gets in
// spreadsheet programs (ECMA-376, 18.8.30: General).
const longest = 11

// general shortens a number without a format: of 8133.33333333333 nobody wants to
// read more than 8133.333333. Texts that look like numbers stay.
func (b *bookReader) general(sheet string, column, row int, cell string) string {
	if len(cell) <= longest || !b.typed || !strings.ContainsRune(cell, '.') {
		return cell
	}
	number, err := strconv.ParseFloat(cell, 64)
	if err != nil {
		return cell
	}
	name, err := excelize.CoordinatesToCellName(column, row)
	if err != nil {
		return cell
	}
	raw, err := b.file.GetCellValue(sheet, name, excelize.Options{RawCellValue: true})
	if kind, kindErr := b.file.GetCellType(sheet, name); err != nil || kindErr != nil || raw != cell || !isNumeric(kind) {
		return cell
	}
	return strconv.FormatFloat(number, 'G', longest-1, 64)
}

func isNumeric(kind excelize.CellType) bool {
	return kind == excelize.CellTypeUnset || kind == excelize.CellTypeNumber || kind == excelize.CellTypeFormula
}
