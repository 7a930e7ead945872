package sheets

import (
	"archive/zip"
	"bytes"
	"cmp"
	"encoding/xml"
	"fmt"
	"io"
	"maps"
	"path"
	"regexp"
	"slices"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"tabularis/core/table"
)

// Order is what a file is to become: rows and columns come and go as they did, then each cell holds what it holds
// in the table. What the table does not know of is left as it is.
type Order struct {
	Moves  []table.Step     `json:"moves"`
	Values []table.Reckoned `json:"values"`
}

// File writes a table into the spreadsheet it came from; without one, into a new one.
func File(original []byte, book *table.Book, o Order) ([]byte, error) {
	f, err := opened(original, book)
	if err != nil {
		return nil, err
	}
	defer f.Close()
	names := f.GetSheetList()
	if len(names) != len(book.Sheets) {
		return nil, ErrUnreadable
	}
	for _, m := range o.Moves {
		if err := moved(f, names, m); err != nil {
			return nil, err
		}
	}
	values := table.Values{}
	for _, v := range o.Values {
		values[v.Place] = v.Result
	}
	w := &writer{File: f, opener: newOpener(f), styles: map[styled]int{}, point: book.Decimal()}
	for i, name := range names {
		if err := w.sheet(i, name, book.Sheets[i], values); err != nil {
			return nil, err
		}
	}
	var out bytes.Buffer
	if err := f.Write(&out); err != nil {
		return nil, err
	}
	return w.finished(out.Bytes())
}

func opened(original []byte, book *table.Book) (*excelize.File, error) {
	if len(original) > 0 {
		f, err := excelize.OpenReader(bytes.NewReader(original), options)
		if err != nil {
			return nil, ErrUnreadable
		}
		return f, nil
	}
	f := excelize.NewFile()
	names, err := addSheets(f, book.Names())
	if err != nil {
		return nil, err
	}
	for i, s := range book.Sheets {
		if s.Head > 0 {
			at, _ := excelize.CoordinatesToCellName(1, s.Head+1)
			if err := f.SetPanes(names[i], &excelize.Panes{Freeze: true, YSplit: s.Head, TopLeftCell: at, ActivePane: "bottomLeft"}); err != nil {
				return nil, err
			}
		}
	}
	return f, nil
}

// addSheets gives a new file its sheets; one without a name gets one.
func addSheets(f *excelize.File, wanted []string) (names []string, err error) {
	for i, name := range wanted {
		name = cmp.Or(name, "Table")
		if i == 0 {
			err = f.SetSheetName("Sheet1", name)
		} else {
			_, err = f.NewSheet(name)
		}
		if err != nil {
			return nil, fmt.Errorf("%w: %w", ErrUnreadable, err)
		}
		names = append(names, name)
	}
	return names, nil
}

// moved lets rows or columns come and go in the file as they did in the table.
func moved(f *excelize.File, names []string, m table.Step) error {
	if m.Sheet < 0 || m.Sheet >= len(names) {
		return ErrUnreadable
	}
	name := names[m.Sheet]
	switch {
	case m.Op == table.Rows && m.Add > 0:
		return f.InsertRows(name, m.At+1, m.Add)
	case m.Op == table.Columns && m.Add > 0:
		return f.InsertCols(name, table.Letters(m.At), m.Add)
	}
	for range m.Drop {
		var err error
		if m.Op == table.Rows {
			err = f.RemoveRow(name, m.At+1)
		} else {
			err = f.RemoveCol(name, table.Letters(m.At))
		}
		if err != nil {
			return err
		}
	}
	return nil
}

type styled struct {
	style  int
	format string
}

type writer struct {
	*excelize.File
	opener opener
	styles map[styled]int
	point  string
	// anew says that all formulas of the sheet are written.
	anew bool
	// came is what the formulas come to that were written, in this order.
	came []table.Result
}

// sheet writes what differs from what the file holds.
func (w *writer) sheet(n int, name string, s table.Sheet, values table.Values) error {
	had, err := w.opener.sheet(name)
	if err != nil {
		return err
	}
	came := maps.Clone(w.opener.came)
	w.anew = false
	each := func(do func(r, c int, is, was table.Cell, value table.Result) error) error {
		for r := range max(len(s.Rows), len(had.Rows)) {
			for c := range max(s.Columns, had.Columns) {
				if err := do(r, c, s.At(r, c), had.At(r, c), values[table.Place{Sheet: n, Row: r, Column: c}]); err != nil {
					return err
				}
			}
		}
		return nil
	}
	// Formulas can be written once for many cells: where one of a sheet changes, all are written.
	_ = each(func(r, c int, is, was table.Cell, value table.Result) error {
		w.anew = w.anew || is.Text != was.Text && (is.IsFormula() || was.IsFormula()) || is.IsFormula() && !cameTo(value, came[[2]int{r, c}])
		return nil
	})
	return each(func(r, c int, is, was table.Cell, value table.Result) error {
		if is.Text == was.Text && is.Format == was.Format && (!w.anew || !is.IsFormula()) {
			return nil
		}
		at, err := excelize.CoordinatesToCellName(c+1, r+1)
		if err != nil {
			return err
		}
		return w.cell(name, at, is, was, value)
	})
}

func (w *writer) cell(sheet, at string, is, was table.Cell, value table.Result) error {
	v := table.ValueOf(is.Text, w.point)
	if v.Kind == table.Formula {
		if !w.anew {
			return w.format(sheet, at, is.Format)
		}
		if err := w.formula(sheet, at, v.Text, value); err != nil {
			return err
		}
	} else if is.Text != was.Text {
		if err := w.SetCellFormula(sheet, at, ""); err != nil {
			return err
		}
		if v.Kind == table.Empty {
			if err := w.SetCellValue(sheet, at, nil); err != nil {
				return err
			}
		} else if err := setValue(w.File, sheet, at, v); err != nil {
			return err
		}
	}
	format := is.Format
	switch {
	case v.Kind == table.Date && !isDate(format):
		format = "yyyy-mm-dd"
	case format == "" && strings.HasSuffix(is.Text, "%") && v.Kind == table.Number:
		// Written as a share, it is shown as one.
		format = "0%"
		if strings.Contains(is.Text, ".") {
			format = "0.0%"
		}
	}
	if format == was.Format {
		return nil
	}
	return w.format(sheet, at, format)
}

// cameTo says that a formula comes to what the file says already.
func cameTo(r table.Result, came string) bool {
	if r.Number != nil {
		n, err := strconv.ParseFloat(came, 64)
		return err == nil && n == *r.Number
	}
	return r.Shown(".") == came
}

// markFrom is the first of the numbers that stand for what formulas come to while a file is written: the library takes
// a result for a text, or drops it.
const markFrom = 700_000_000_000_000

// formula writes one with what it came to, which programs show that do not reckon.
func (w *writer) formula(sheet, at, formula string, value table.Result) error {
	if err := w.SetCellDefault(sheet, at, strconv.Itoa(markFrom+len(w.came))); err != nil {
		return err
	}
	w.came = append(w.came, value)
	return w.SetCellFormula(sheet, at, formula)
}

var marked = regexp.MustCompile(` t="str"(><f[^>]*>[^<]*</f><v>)([0-9]+)</v>`)

// results puts what formulas came to where they were marked (ECMA-376 part 1, 18.18.11).
func (w *writer) results(raw []byte) []byte {
	return marked.ReplaceAllFunc(raw, func(found []byte) []byte {
		part := marked.FindSubmatch(found)
		n, err := strconv.Atoi(string(part[2]))
		if n -= markFrom; err != nil || n < 0 || n >= len(w.came) {
			return found
		}
		came, kind := w.came[n], ` t="str"`
		switch {
		case came.Error != "":
			kind = ` t="e"`
		case came.Number != nil:
			kind = ""
		}
		var text bytes.Buffer
		if err := xml.EscapeText(&text, []byte(came.Shown("."))); err != nil {
			return found
		}
		return slices.Concat([]byte(kind), part[1], text.Bytes(), []byte("</v>"))
	})
}

// finished is a file with the results of its formulas in place.
func (w *writer) finished(file []byte) ([]byte, error) {
	z, err := zip.NewReader(bytes.NewReader(file), int64(len(file)))
	if err != nil {
		return nil, err
	}
	var out bytes.Buffer
	to := zip.NewWriter(&out)
	for _, f := range z.File {
		if path.Dir(f.Name) != "xl/worksheets" {
			if err := to.Copy(f); err != nil {
				return nil, err
			}
			continue
		}
		if err := w.part(to, f); err != nil {
			return nil, err
		}
	}
	err = to.Close()
	return out.Bytes(), err
}

func (w *writer) part(z *zip.Writer, f *zip.File) error {
	r, err := f.Open()
	if err != nil {
		return err
	}
	defer r.Close()
	raw, err := io.ReadAll(r)
	if err != nil {
		return err
	}
	to, err := z.Create(f.Name)
	if err != nil {
		return err
	}
	_, err = to.Write(w.results(raw))
	return err
}

// format gives a cell another way to show numbers; how it looks otherwise stays.
func (w *writer) format(sheet, at, format string) error {
	style, err := w.GetCellStyle(sheet, at)
	if err != nil {
		return err
	}
	key := styled{style, format}
	made, known := w.styles[key]
	if !known {
		is, err := w.GetStyle(style)
		if err != nil {
			return err
		}
		is.NumFmt, is.CustomNumFmt = 0, nil
		if format != "" {
			is.CustomNumFmt = &format
		}
		if made, err = w.NewStyle(is); err != nil {
			return err
		}
		w.styles[key] = made
	}
	return w.SetCellStyle(sheet, at, at, made)
}
