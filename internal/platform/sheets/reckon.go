package sheets

import (
	"math"
	"regexp"
	"strconv"
	"strings"

	"github.com/xuri/excelize/v2"

	"tabularis/core/table"
)

// Reckon says what formulas come to, in the order in which they are asked for.
func Reckon(t table.Task) ([]table.Result, error) {
	f := excelize.NewFile()
	defer f.Close()
	names, err := lay(f, t.Sheets)
	if err != nil {
		return nil, err
	}
	results := make([]table.Result, len(t.Ask))
	for i, p := range t.Ask {
		if p.Sheet < 0 || p.Sheet >= len(names) {
			return nil, ErrUnreadable
		}
		at, err := excelize.CoordinatesToCellName(p.Column+1, p.Row+1)
		if err != nil {
			return nil, ErrUnreadable
		}
		results[i] = reckoned(f, names[p.Sheet], at)
	}
	return results, nil
}

// lay puts cells where formulas find them.
func lay(f *excelize.File, all []table.TaskSheet) (names []string, err error) {
	var wanted []string
	for _, s := range all {
		wanted = append(wanted, s.Name)
	}
	if names, err = addSheets(f, wanted); err != nil {
		return nil, err
	}
	for i, s := range all {
		for _, c := range s.Cells {
			at, err := excelize.CoordinatesToCellName(c.Column+1, c.Row+1)
			if err != nil {
				return nil, ErrUnreadable
			}
			if err := laid(f, names[i], at, c); err != nil {
				return nil, err
			}
		}
	}
	return names, nil
}

func laid(f *excelize.File, sheet, at string, c table.TaskCell) error {
	switch {
	case c.Result != nil && c.Result.Error != "":
		return f.SetCellFormula(sheet, at, "NA()")
	case c.Result != nil && c.Result.Number != nil:
		return f.SetCellFloat(sheet, at, *c.Result.Number, -1, 64)
	case c.Result != nil:
		return f.SetCellStr(sheet, at, c.Result.Text)
	}
	return setValue(f, sheet, at, c.Value)
}

func setValue(f *excelize.File, sheet, at string, v table.Value) error {
	switch v.Kind {
	case table.Formula:
		return f.SetCellFormula(sheet, at, v.Text)
	case table.Number, table.Date:
		return f.SetCellFloat(sheet, at, v.Number, -1, 64)
	case table.Truth:
		return f.SetCellBool(sheet, at, v.Number != 0)
	case table.Text:
		return f.SetCellStr(sheet, at, v.Text)
	}
	return nil
}

// rounded leaves out what is beyond the fifteen digits that are certain: nobody means 10.999999999999998.
func rounded(n float64) float64 {
	r, err := strconv.ParseFloat(strconv.FormatFloat(n, 'g', 15, 64), 64)
	if err != nil {
		return n
	}
	return r
}

var isNumber = regexp.MustCompile(`^-?[0-9][0-9.]*(?:[eE][+-]?[0-9]+)?$`)

// reckoned is what one formula comes to; what brings the engine down comes to an error as well.
func reckoned(f *excelize.File, sheet, at string) (r table.Result) {
	defer func() {
		if recover() != nil {
			r = table.Result{Error: "#VALUE!"}
		}
	}()
	got, err := f.CalcCellValue(sheet, at, excelize.Options{RawCellValue: true})
	switch {
	case err != nil && strings.HasPrefix(got, "#"):
		return table.Result{Error: got}
	case err != nil:
		return table.Result{Error: "#NAME?"}
	case strings.HasPrefix(got, "#") && strings.HasSuffix(got, "!"):
		return table.Result{Error: got}
	}
	if n, err := strconv.ParseFloat(got, 64); err == nil && isNumber.MatchString(got) && !math.IsInf(n, 0) {
		n = rounded(n)
		return table.Result{Number: &n}
	}
	return table.Result{Text: table.Clean(got)}
}
