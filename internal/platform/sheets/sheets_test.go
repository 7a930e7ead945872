package sheets_test

import (
	"bytes"
	"testing"

	"github.com/xuri/excelize/v2"

	"tabularis/core/table"
	"tabularis/internal/platform/sheets"
)

// book is a spreadsheet with what a table shows and with what it does not.
func book(t *testing.T) []byte {
	t.Helper()
	f := excelize.NewFile()
	defer f.Close()
	fail := func(err error) {
		t.Helper()
		if err != nil {
			t.Fatal(err)
		}
	}
	fail(f.SetSheetRow("Sheet1", "A1", &[]any{"Frame", "Original", "Measured", "Diminution", "Gauged", "Paper"}))
	fail(f.SetSheetRow("Sheet1", "A2", &[]any{12, 10.0, 8.9, nil, nil, "007"}))
	fail(f.SetSheetRow("Sheet1", "A3", &[]any{15, 10.0, 8.7, nil, nil, "12"}))
	fail(f.SetCellFormula("Sheet1", "D2", "(B2-C2)/B2"))
	fail(f.SetCellFormula("Sheet1", "D3", "(B3-C3)/B3"))
	fail(f.SetCellFloat("Sheet1", "E2", 46356, -1, 64))
	share, day := "0.0%", "dd/mm/yyyy"
	style, err := f.NewStyle(&excelize.Style{CustomNumFmt: &share, Font: &excelize.Font{Bold: true}})
	fail(err)
	fail(f.SetCellStyle("Sheet1", "D2", "D3", style))
	style, err = f.NewStyle(&excelize.Style{CustomNumFmt: &day})
	fail(err)
	fail(f.SetCellStyle("Sheet1", "E2", "E2", style))
	fail(f.AddChart("Sheet1", "H2", &excelize.Chart{Type: excelize.Col, Series: []excelize.ChartSeries{{Name: "Sheet1!$C$1", Categories: "Sheet1!$A$2:$A$3", Values: "Sheet1!$C$2:$C$3"}}}))
	var out bytes.Buffer
	fail(f.Write(&out))
	return out.Bytes()
}

func TestASpreadsheetIsATable(t *testing.T) {
	raw := book(t)
	b, err := sheets.Open(raw)
	if err != nil {
		t.Fatal(err)
	}
	s := b.Sheets[0]
	for _, c := range []struct {
		row, column  int
		text, format string
	}{{0, 0, "Frame", ""}, {1, 2, "8.9", ""}, {1, 3, "=(B2-C2)/B2", "0.0%"}, {1, 4, "2026-11-30", "dd/mm/yyyy"}, {1, 5, "007", ""}, {2, 5, "'12", ""}} {
		if got := s.Rows[c.row][c.column]; got.Text != c.text || got.Format != c.format {
			t.Errorf("%d/%d is %+v", c.row, c.column, got)
		}
	}
	if s.Head != 1 || len(b.Stays) != 1 || b.Stays[0] != "charts" {
		t.Errorf("headings %d, what stays %v", s.Head, b.Stays)
	}
	for name, raw := range map[string][]byte{"nothing": nil, "text": []byte("a,b"), "half": raw[:len(raw)/2]} {
		if _, err := sheets.Open(raw); err == nil {
			t.Errorf("%s is read", name)
		}
	}
}

// A file is written back with all that the table does not know of, where its rows have gone.
func TestAFileIsWrittenBack(t *testing.T) {
	raw := book(t)
	b, err := sheets.Open(raw)
	if err != nil {
		t.Fatal(err)
	}
	steps := []table.Step{{Op: table.Rows, At: 1, Add: 1},
		{Op: table.Setting, Cells: []table.Entry{{Row: 1, Column: 0, Text: "9"}, {Row: 1, Column: 4, Text: "2026-12-01"}, {Row: 2, Column: 2, Text: "8.5"}, {Row: 3, Column: 0, Text: ""}, {Row: 4, Column: 3, Text: "=SUM(D3:D4)"}, {Row: 1, Column: 1, Text: "25%"}, {Row: 2, Column: 1, Text: "2.5%"}}}}
	for _, s := range steps {
		if b, err = b.Apply(s); err != nil {
			t.Fatal(err)
		}
	}
	n := .15
	out, err := sheets.File(raw, b, sheets.Order{Moves: steps[:1], Values: []table.Reckoned{{Place: table.Place{Row: 2, Column: 3}, Result: table.Result{Number: &n}}}})
	if err != nil {
		t.Fatal(err)
	}
	f, err := excelize.OpenReader(bytes.NewReader(out))
	if err != nil {
		t.Fatal(err)
	}
	defer f.Close()
	for at, want := range map[string]string{"A2": "9", "B2": "25%", "B3": "2.5%", "C3": "8.5", "A4": "", "D3": "15.0%", "E3": "30/11/2026", "E2": "2026-12-01", "F4": "12"} {
		if got, err := f.GetCellValue("Sheet1", at); got != want || err != nil {
			t.Errorf("%s is %q, not %q (%v)", at, got, want, err)
		}
	}
	for at, want := range map[string]string{"D3": "(B3-C3)/B3", "D5": "SUM(D3:D4)"} {
		if got, _ := f.GetCellFormula("Sheet1", at); got != want {
			t.Errorf("%s is %q", at, got)
		}
	}
	style, _ := f.GetCellStyle("Sheet1", "D3")
	if s, err := f.GetStyle(style); err != nil || s.Font == nil || !s.Font.Bold {
		t.Error("how a cell looks is lost")
	}
	again, err := sheets.Open(out)
	if err != nil || len(again.Stays) != 1 {
		t.Errorf("the chart is lost: %v, %v", again.Stays, err)
	}
	if merged, ok := table.Merged(b, again, b, nil); !ok || len(merged) > 0 {
		t.Errorf("what is read again differs: %+v", merged)
	}
	fresh, err := sheets.File(nil, table.New(false), sheets.Order{})
	if err != nil {
		t.Fatal(err)
	}
	if b, err := sheets.Open(fresh); err != nil || len(b.Sheets) != 1 {
		t.Errorf("a new one cannot be read: %v", err)
	}
}

func TestReckoning(t *testing.T) {
	b, err := table.ReadSeparated("a,b,c\n10,8.9,\n10,x,\n0,1,\n,,\n")
	if err != nil {
		t.Fatal(err)
	}
	formulas := []string{"=(A2-B2)/A2", "=A3-B3", "=B4/A4", "=SUM(A2:A4)", "=IF(C2>0.1,\"watch\",\"\")", "=C8", "=C7", "=NOSUCH(1)", "=1+", "=((((", "=REPT(\"x\",3)", "=#REF!+1"}
	step := table.Step{Op: table.Setting}
	for i, text := range formulas {
		step.Cells = append(step.Cells, table.Entry{Row: 1 + i, Column: 2, Text: text})
	}
	if b, err = b.Apply(step); err != nil {
		t.Fatal(err)
	}
	task, ok := b.Task(b.Formulas(), nil)
	if !ok {
		t.Fatal("it cannot be gathered")
	}
	got, err := sheets.Reckon(task)
	if err != nil {
		t.Fatal(err)
	}
	for i, r := range got {
		t.Log(formulas[i], r.Shown("."))
	}
	for i, want := range map[int]string{0: "0.11", 1: "#VALUE!", 2: "#DIV/0!", 3: "20", 4: "watch", 10: "xxx"} {
		if s := got[i].Shown("."); len(s) < len(want) || s[:len(want)] != want {
			t.Errorf("%s comes to %q", formulas[i], s)
		}
	}
	for _, i := range []int{7, 8, 9, 11} {
		if got[i].Error == "" {
			t.Errorf("%s comes to %+v", formulas[i], got[i])
		}
	}
}
