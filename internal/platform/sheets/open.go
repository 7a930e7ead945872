// Package sheets reads and writes spreadsheets (ECMA-376) as tables that are written together, and reckons
// their formulas. It parses what comes from outside: it runs in cells alone.
package sheets

import (
	"archive/zip"
	"bytes"
	"errors"
	"path"
	"slices"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"tabularis/core/table"
)

// ErrUnreadable says that content is no spreadsheet that can be written here.
var ErrUnreadable = errors.New("the spreadsheet cannot be read")

var options = excelize.Options{UnzipSizeLimit: 256 << 20, UnzipXMLSizeLimit: 256 << 20, ShortDatePattern: "yyyy-mm-dd"}

// Open reads a spreadsheet.
func Open(raw []byte) (*table.Book, error) {
	stays, err := held(raw)
	if err != nil {
		return nil, ErrUnreadable
	}
	f, err := excelize.OpenReader(bytes.NewReader(raw), options)
	if err != nil {
		return nil, ErrUnreadable
	}
	defer f.Close()
	o := newOpener(f)
	b := &table.Book{Stays: stays}
	for _, name := range f.GetSheetList() {
		if len(b.Sheets) == table.MostSheets {
			return nil, b.Check()
		}
		sheet, err := o.sheet(name)
		if err != nil {
			return nil, err
		}
		b.Sheets = append(b.Sheets, sheet)
	}
	return b, b.Check()
}

// held names what a spreadsheet holds that is neither shown nor changed as a table, by its parts (ECMA-376 part 2).
func held(raw []byte) (stays []string, err error) {
	z, err := zip.NewReader(bytes.NewReader(raw), int64(len(raw)))
	if err != nil {
		return nil, err
	}
	for _, f := range z.File {
		what := ""
		switch dir := path.Dir(f.Name); {
		case dir == "xl/charts" || dir == "xl/chartsheets":
			what = "charts"
		case dir == "xl/media":
			what = "pictures"
		case dir == "xl/pivotTables":
			what = "pivots"
		case dir == "xl/externalLinks":
			what = "elsewhere"
		case strings.HasPrefix(f.Name, "xl/comments") || dir == "xl/threadedComments":
			what = "remarks"
		case path.Base(f.Name) == "vbaProject.bin":
			what = "macros"
		}
		if what != "" && !slices.Contains(stays, what) {
			stays = append(stays, what)
		}
	}
	slices.Sort(stays)
	return stays, nil
}

// opener reads sheets, one after the other.
type opener struct {
	file    *excelize.File
	formats map[int]string
	// came is what formulas came to when the file was written, by row and column of the last sheet.
	came map[[2]int]string
}

func newOpener(f *excelize.File) opener {
	return opener{file: f, formats: map[int]string{}, came: map[[2]int]string{}}
}

func (o opener) sheet(name string) (s table.Sheet, err error) {
	s.Name, s.Columns = name, 1
	clear(o.came)
	rows, err := o.file.Rows(name)
	if err != nil {
		return s, nil //nolint:nilerr // A chart on a sheet of its own has no rows.
	}
	defer rows.Close()
	for rows.Next() {
		columns, err := rows.Columns(excelize.Options{RawCellValue: true})
		if err != nil {
			return s, ErrUnreadable
		}
		if len(columns) > table.MostColumns || len(s.Rows) == table.MostRows {
			return s, table.SheetTooLarge()
		}
		row := make([]table.Cell, len(columns))
		for c, value := range columns {
			if row[c], err = o.cell(name, c, len(s.Rows), value); err != nil {
				return s, err
			}
		}
		row = table.Trimmed(row)
		s.Rows = append(s.Rows, row)
		s.Columns = max(s.Columns, len(row))
	}
	if panes, err := o.file.GetPanes(name); err == nil && panes.Freeze {
		s.Head = min(max(panes.YSplit, 0), len(s.Rows), 5)
	}
	if s.Head == 0 {
		s.Head = table.HeadOf(s.Rows, ".")
	}
	return s, nil
}

func (o opener) cell(sheet string, column, row int, value string) (c table.Cell, err error) {
	at, err := excelize.CoordinatesToCellName(column+1, row+1)
	if err != nil {
		return c, ErrUnreadable
	}
	formula, err := o.file.GetCellFormula(sheet, at)
	if err != nil {
		return c, ErrUnreadable
	}
	if value == "" && formula == "" {
		return c, nil
	}
	style, err := o.file.GetCellStyle(sheet, at)
	if err != nil {
		return c, ErrUnreadable
	}
	c.Format = o.format(style)
	if formula != "" {
		c.Text = "=" + strings.TrimPrefix(formula, "=")
		o.came[[2]int{row, column}] = value
		return c, nil
	}
	kind, err := o.file.GetCellType(sheet, at)
	if err != nil {
		return c, ErrUnreadable
	}
	switch kind {
	case excelize.CellTypeBool:
		c.Text = map[string]string{"1": "TRUE", "TRUE": "TRUE"}[value]
		if c.Text == "" {
			c.Text = "FALSE"
		}
	case excelize.CellTypeUnset, excelize.CellTypeNumber, excelize.CellTypeDate:
		c.Text = numbered(value, c.Format)
	default:
		c.Text = table.Quoted(table.Clean(value), ".")
	}
	return c, nil
}

// numbered is a number of a file as it stands in a cell; a day as its date.
func numbered(value, format string) string {
	n, err := strconv.ParseFloat(value, 64)
	if err != nil {
		return table.Quoted(table.Clean(value), ".")
	}
	if isDate(format) {
		if day := table.DayOf(n); day != "" {
			return day
		}
	}
	if strings.HasSuffix(format, "%") {
		return table.Written(rounded(n*100), ".") + "%"
	}
	return table.Written(n, ".")
}

// builtin are the formats that a file names by number (ECMA-376 part 1, 18.8.30), as far as they matter here.
var builtin = map[int]string{1: "0", 2: "0.00", 3: "#,##0", 4: "#,##0.00", 9: "0%", 10: "0.00%", 11: "0.00E+00",
	14: "yyyy-mm-dd", 15: "d-mmm-yy", 16: "d-mmm", 17: "mmm-yy", 18: "h:mm AM/PM", 19: "h:mm:ss AM/PM", 20: "h:mm", 21: "h:mm:ss", 22: "yyyy-mm-dd h:mm", 49: "@"}

func (o opener) format(style int) string {
	if code, known := o.formats[style]; known {
		return code
	}
	code := ""
	if s, err := o.file.GetStyle(style); err == nil && s != nil {
		if code = builtin[s.NumFmt]; s.CustomNumFmt != nil {
			code = *s.CustomNumFmt
		}
	}
	if len(code) > 120 {
		code = ""
	}
	o.formats[style] = table.Clean(code)
	return o.formats[style]
}

// isDate says that a format shows a day: it has days or years outside of what is quoted.
func isDate(format string) bool {
	inText := false
	for i := 0; i < len(format); i++ {
		switch c := format[i]; {
		case c == '"':
			inText = !inText
		case inText:
		case c == '\\' || c == '_' || c == '*':
			i++
		case c == '[':
			if end := strings.IndexByte(format[i:], ']'); end > 0 {
				i += end
			}
		case strings.ContainsRune("ydYD", rune(c)):
			return true
		}
	}
	return false
}
