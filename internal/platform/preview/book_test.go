package preview

import (
	"bytes"
	"testing"
	"time"

	"github.com/xuri/excelize/v2"
)

// written makes a spreadsheet and reads it as it would be shown.
func written(t *testing.T, make func(f *excelize.File) error) Prepared {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	if err := make(f); err != nil {
		t.Fatal(err)
	}
	var b bytes.Buffer
	if err := f.Write(&b); err != nil {
		t.Fatal(err)
	}
	p, err := Prepare(Spreadsheet, int64(b.Len()), &b)
	if err != nil {
		t.Fatal(err)
	}
	return p
}

func TestCellsAreShownAsTheFileFormatsThem(t *testing.T) {
	for want, c := range map[string]struct {
		value  any
		format string
	}{
		"8133.333333":       {8133.33333333333, ""},
		"8,133.33 €":        {8133.33333333333, `#,##0.00 "€"`},
		"12.34%":            {0.1234, "0.00%"},
		"-12.5":             {-12.5, "0.0;[Red]-0.0"},
		"2026-11-28":        {time.Date(2026, 11, 28, 0, 0, 0, 0, time.UTC), ""},
		"28. November 2026": {46354.0, "[$-407]d. mmmm yyyy"},
		"0 3/4":             {0.75, "# ?/?"},
		"TRUE":              {true, ""},
		"1.2345678901234":   {"1.2345678901234", ""}, // a text stays
		"31/029":            {"31/029", ""},
		"8133.33333333":     {8133.33333333333, "0.00000000"},
	} {
		p := written(t, func(f *excelize.File) error {
			if err := f.SetCellValue("Sheet1", "A1", c.value); err != nil || c.format == "" {
				return err
			}
			style, err := f.NewStyle(&excelize.Style{CustomNumFmt: &c.format})
			if err != nil {
				return err
			}
			return f.SetCellStyle("Sheet1", "A1", "A1", style)
		})
		if got := p.Sheets[0].Rows[0][0]; got != want {
			t.Errorf("%v as %q is shown as %q, not %q", c.value, c.format, got, want)
		}
	}
	// A format that is none spoils nothing.
	broken := "bro\"ken [["
	p := written(t, func(f *excelize.File) error {
		style, err := f.NewStyle(&excelize.Style{CustomNumFmt: &broken})
		if err != nil {
			return err
		}
		if err := f.SetCellStyle("Sheet1", "A1", "A1", style); err != nil {
			return err
		}
		return f.SetSheetRow("Sheet1", "A1", &[]any{1.5, "beside"})
	})
	if p.Sheets[0].Rows[0][1] != "beside" {
		t.Errorf("with a broken format: %v", p.Sheets)
	}
}

func TestAllSheetsOfABook(t *testing.T) {
	p := written(t, func(f *excelize.File) error {
		for _, name := range []string{"Labour", "Steel", "Rates"} {
			if _, err := f.NewSheet(name); err != nil {
				return err
			}
		}
		if err := f.SetCellValue("Steel", "C3", "plate"); err != nil {
			return err
		}
		return f.SetSheetVisible("Rates", false)
	})
	if len(p.Sheets) != 4 || p.Sheets[2].Name != "Steel" || p.Sheets[2].Rows[2][2] != "plate" || p.Sheets[2].Hidden || !p.Sheets[3].Hidden {
		t.Errorf("%+v", p.Sheets)
	}
}

// Of a million cells the beginning is shown, and that it is one.
func TestAMillionCells(t *testing.T) {
	p := written(t, func(f *excelize.File) error {
		w, err := f.NewStreamWriter("Sheet1")
		if err != nil {
			return err
		}
		row := make([]any, 50)
		for i := range row {
			row[i] = 1234.5678
		}
		for n := range 20_000 {
			cell, _ := excelize.CoordinatesToCellName(1, n+1)
			if err := w.SetRow(cell, row); err != nil {
				return err
			}
		}
		return w.Flush()
	})
	if s := p.Sheets[0]; !p.Cut || !s.Cut || len(s.Rows) < 9000 || len(s.Rows) > MaxRows || s.Rows[len(s.Rows)-1][49] != "1234.5678" {
		t.Errorf("%d rows, cut %v", len(s.Rows), p.Cut)
	}
}
