package api_test

import (
	"bytes"
	"context"
	"encoding/json"
	"fmt"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/xuri/excelize/v2"

	"tabularis/core/access"
	"tabularis/core/table"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/testkit"
)

// puts is a change of cells, as a page sends it: places as in "B2", each with a text.
func puts(pairs ...string) map[string]any {
	var cells []map[string]any
	for i := 0; i < len(pairs); i += 2 {
		c, r, err := excelize.CellNameToCoordinates(pairs[i])
		if err != nil {
			panic(err)
		}
		cells = append(cells, map[string]any{"r": r - 1, "c": c - 1, "t": pairs[i+1]})
	}
	return map[string]any{"op": "set", "sheet": 0, "cells": cells}
}

// book is the table as whoever opens it anew finds it.
func (w *writer) book() *table.Book {
	w.t.Helper()
	b, err := table.ReadBook(*w.open().Table)
	if err != nil {
		w.t.Fatal(err)
	}
	return b
}

func (w *writer) cell(at string) table.Cell {
	w.t.Helper()
	c, r, err := excelize.CellNameToCoordinates(at)
	if err != nil {
		w.t.Fatal(err)
	}
	return w.book().Cell(table.Place{Row: r - 1, Column: c - 1})
}

// results are what formulas come to, once they come to as many as are waited for.
func (w *writer) results(until func(map[string]string) bool) map[string]string {
	w.t.Helper()
	got := map[string]string{}
	waitFor(w.t, func() bool {
		clear(got)
		m := testkit.Get[contract.WritingMessage](w.Client, w.at+"?page="+w.page)
		if m.Results != nil {
			for _, r := range *m.Results {
				at, _ := excelize.CoordinatesToCellName(r.Column+1, r.Row+1)
				switch {
				case r.Number != nil:
					got[at] = fmt.Sprint(*r.Number)
				case r.Error != nil:
					got[at] = *r.Error
				case r.Text != nil:
					got[at] = *r.Text
				default:
					got[at] = ""
				}
			}
		}
		return until(got)
	})
	return got
}

func (w *writer) takes(steps ...map[string]any) {
	w.t.Helper()
	w.version = w.open().Version
	if a := w.send(steps...); a.Status != 200 {
		w.t.Fatalf("%v: %d %s", steps, a.Status, a.Body)
	}
}

// Two write in one cell at once: both are kept and shown until one decides; rows that came meanwhile carry what is written along.
func TestATableIsWrittenTogether(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "Gaugings.csv", []byte("Frame;Measured\r\n12;8,9\r\n33;8,2\r\n")).Document.Id
	luca, hanne := writes(t, o.luca, doc), writes(t, o.hanne, doc)
	for _, a := range []testkit.Answer{
		hanne.send(map[string]any{"op": "rows", "sheet": 0, "at": 1, "add": 1}, puts("B4", "7,8")),
		luca.send(puts("B3", "7,9")),
	} {
		if a.Status != 200 {
			t.Fatalf("%d %s", a.Status, a.Body)
		}
	}
	c := luca.cell("B4")
	if c.Text != "7,9" || c.Doubt == nil || c.Doubt.Was != "8,2" || c.Doubt.By != o.People["luca"].ID.String() || len(c.Doubt.Others) != 1 || c.Doubt.Others[0].Text != "7,8" {
		t.Fatalf("the cell holds %+v, %+v", c, c.Doubt)
	}
	if opening := hanne.open(); opening.Authors == nil || len(*opening.Authors) != 2 {
		t.Errorf("those in doubt are %+v", opening.Authors)
	}
	hanne.takes(puts("B4", "7,8"))
	if c := luca.cell("B4"); c.Text != "7,8" || c.Doubt != nil {
		t.Errorf("decided, it holds %+v", c)
	}
	hanne.takes(puts("A2", "9", "B2", "9,5", "C2", "=B2*2"))
	luca.results(func(got map[string]string) bool { return got["C2"] == "19" })
	changed := testkit.Get[contract.CellChanges](o.luca, luca.at+"/changes")
	var said []string
	for _, c := range changed.Changes {
		said = append(said, fmt.Sprintf("%d/%d %s>%s %t", c.Row, c.Column, c.Was, c.Text, c.By == o.People["luca"].ID.String()))
	}
	if got := strings.Join(said, ", "); got != "1/2 >=B2*2 false, 1/1 >9,5 false, 1/0 >9 false, 3/1 7,9>7,8 false, 3/1 7,8>7,9 true, 3/1 8,2>7,8 false" || len(changed.Authors) != 2 {
		t.Errorf("changed: %s by %+v", got, changed.Authors)
	}
	testkit.Post[contract.WritingKept](o.luca, 200, luca.at+"/version", contract.WrittenVersion{})
	file := "/api/documents/" + doc.String() + "/content"
	if got := string(o.hanne.Want(200, "GET", file, nil).Body); got != "Frame;Measured;\r\n9;9,5;19\r\n12;8,9;\r\n33;7,8;\r\n" {
		t.Errorf("the file is %q", got)
	}
	// The formula is there again when it is opened, though its file knows only what it came to.
	if c := luca.cell("C2"); c.Text != "=B2*2" {
		t.Errorf("the formula is %q", c.Text)
	}
}

// What is uploaded while people write is merged with it where both changed other cells.
func TestAnUploadIsMergedIntoATable(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "merged.csv", []byte("Frame,Measured\n12,8.9\n33,8.2\n")).Document.Id
	luca := writes(t, o.luca, doc)
	luca.takes(puts("B2", "8.8"))
	o.hanne.Upload(o.reports, "", "merged.csv", []byte("Frame,Measured\n12,8.9\n33,7.7\n"))
	waitFor(t, func() bool { return luca.cell("B3").Text == "7.7" && luca.cell("B2").Text == "8.8" })
	luca.takes(puts("B3", "7.6"))
	o.hanne.Upload(o.reports, "", "merged.csv", []byte("Frame,Measured\n12,8.8\n33,7.1\n"))
	apart := func() (all []string) {
		for _, v := range testkit.Get[contract.Document](o.luca, "/api/documents/"+doc.String()).Versions {
			all = append(all, v.Origin)
		}
		return all
	}
	waitFor(t, func() bool { return apart()[0] == "written" && apart()[1] == "uploaded" })
	if c := luca.cell("B3"); c.Text != "7.6" {
		t.Errorf("what was written is %q", c.Text)
	}
}

// A spreadsheet is written and stays one: formulas, formats, and a chart that nobody sees here.
func TestASpreadsheetIsWritten(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	f := excelize.NewFile()
	defer f.Close()
	for _, err := range []error{
		f.SetSheetRow("Sheet1", "A1", &[]any{"Frame", "Was", "Is", "Loss"}), f.SetSheetRow("Sheet1", "A2", &[]any{12, 10, 8}), f.SetCellFormula("Sheet1", "D2", "(B2-C2)/B2"),
		f.AddChart("Sheet1", "G2", &excelize.Chart{Type: excelize.Col, Series: []excelize.ChartSeries{{Values: "Sheet1!$C$2:$C$3"}}}),
	} {
		if err != nil {
			t.Fatal(err)
		}
	}
	var raw bytes.Buffer
	if err := f.Write(&raw); err != nil {
		t.Fatal(err)
	}
	doc := o.luca.Upload(o.reports, "", "Loss.xlsx", raw.Bytes()).Document.Id
	luca := writes(t, o.luca, doc)
	if b := luca.book(); len(b.Stays) != 1 || b.Stays[0] != "charts" {
		t.Errorf("what stays: %v", b.Stays)
	}
	luca.takes(map[string]any{"op": "rows", "sheet": 0, "at": 1, "add": 1}, puts("A2", "9", "B2", "10", "C2", "7", "D2", "=(B2-C2)/B2", "E2", "=E2+1", "E3", "=NOSUCH(1)"))
	luca.results(func(got map[string]string) bool {
		return strings.HasPrefix(got["D2"], "0.3") && got["D3"] == "0.2" && got["E2"] == "#REF!" && got["E3"] != ""
	})
	testkit.Post[contract.WritingKept](o.luca, 200, luca.at+"/version", contract.WrittenVersion{})
	got, err := excelize.OpenReader(bytes.NewReader(o.luca.Want(200, "GET", "/api/documents/"+doc.String()+"/content", nil).Body))
	if err != nil {
		t.Fatal(err)
	}
	defer got.Close()
	formula, _ := got.GetCellFormula("Sheet1", "D3")
	value, _ := got.GetCellValue("Sheet1", "D3")
	if formula != "(B3-C3)/B3" || value != "0.2" {
		t.Errorf("the file holds %q, which came to %q", formula, value)
	}
	if chart, ok := got.Pkg.Load("xl/charts/chart1.xml"); !ok || !strings.Contains(string(chart.([]byte)), "c:chartSpace") && len(chart.([]byte)) == 0 {
		t.Error("the chart is gone")
	}
	made := testkit.Post[contract.Place](o.luca, 201, "/api/folders/"+o.reports.String()+"/written", contract.WrittenWish{Name: "Readings", Kind: ptr(contract.WrittenTableKind)})
	if made.Name != "Readings.xlsx" {
		t.Errorf("it is called %q", made.Name)
	}
	fresh := writes(t, o.luca, made.Id)
	fresh.takes(puts("A1", "Frame"))
	if separated := testkit.Post[contract.Place](o.luca, 201, "/api/folders/"+o.reports.String()+"/written", contract.WrittenWish{Name: "Readings.csv", Kind: ptr(contract.WrittenTableKind)}); separated.Name != "Readings.csv" {
		t.Errorf("it is called %q", separated.Name)
	}
}

// Formulas that run for ever, or take all memory, come to an error, and nobody else's wait for them.
func TestAFormulaThatTakesTooMuch(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "Bomb.csv", []byte("a,b\n1,2\n")).Document.Id
	luca := writes(t, o.luca, doc)
	luca.takes(puts("C1", `=REPT(REPT("x",32767),32767)`, "C2", "=A2+B2", "D1", "=C1&C1"))
	luca.results(func(got map[string]string) bool { return got["C2"] == "3" && got["C1"] != "" })
	luca.takes(puts("A2", "5"))
	luca.results(func(got map[string]string) bool { return got["C2"] == "7" })
}

func TestWhatNoTableTakes(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "Levels.csv", []byte("a,b\n1,2\n")).Document.Id
	o.Give("hanne", doc, "tomasz", access.LevelPropose)
	luca, tomasz, priya := writes(t, o.luca, doc), writes(t, o.tomasz, doc), writes(t, o.priya, doc)
	long := strings.Repeat("x", 40_000)
	for name, c := range map[string]struct {
		by   *writer
		step map[string]any
		code string
	}{
		"a proposer writes":     {tomasz, puts("A1", "x"), "more-than-allowed"},
		"a reader writes":       {priya, puts("A1", "x"), "more-than-allowed"},
		"too long":              {luca, puts("A1", long), "table-too-large"},
		"a doubt of one's own":  {luca, map[string]any{"op": "set", "cells": []any{map[string]any{"r": 0, "c": 0, "t": "x", "d": map[string]any{"was": "y", "by": o.People["hanne"].ID, "others": []any{}}}}}, "change-invalid"},
		"in another's name":     {luca, map[string]any{"op": "set", "by": o.People["hanne"].ID, "cells": []any{map[string]any{"r": 0, "c": 0, "t": "x"}}}, "change-invalid"},
		"a step of a text":      {luca, inserting(1, "x"), "change-invalid"},
		"far away":              {luca, map[string]any{"op": "set", "cells": []any{map[string]any{"r": 50_000, "c": 0, "t": "x"}}}, "table-too-large"},
		"a thousand columns":    {luca, map[string]any{"op": "columns", "at": 0, "add": 1000}, "table-too-large"},
		"no such sheet":         {luca, map[string]any{"op": "rows", "sheet": 3, "at": 0, "add": 1}, "change-invalid"},
		"a version to come":     {&writer{o.luca, t, luca.at, uuid.NewString(), 50}, puts("A1", "x"), "text-went-on"},
		"numbers out of bounds": {luca, map[string]any{"op": "rows", "at": 1e30, "add": 1}, "change-invalid"},
	} {
		if a := c.by.send(c.step); a.Code() != c.code {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	if got := priya.cell("A1").Text; got != "a" {
		t.Errorf("A1 is %q", got)
	}
	for name, raw := range map[string]string{"wide.csv": strings.Repeat("x,", 1000) + "\n", "long.csv": strings.Repeat("x\n", table.MostRows+1)} {
		wide := o.luca.Upload(o.reports, "", name, []byte(raw)).Document.Id
		if a := o.luca.Do("GET", "/api/documents/"+wide.String()+"/writing?page="+uuid.NewString(), nil); a.Code() != "table-too-large" {
			t.Errorf("%s: %d %s", name, a.Status, a.Body)
		}
	}
	broken := o.luca.Upload(o.reports, "", "broken.xlsx", append([]byte("PK\x03\x04"), bytes.Repeat([]byte("x"), 300)...)).Document.Id
	if a := o.luca.Do("GET", "/api/documents/"+broken.String()+"/writing?page="+uuid.NewString(), nil); a.Status < 400 || a.Status >= 500 {
		t.Errorf("a broken spreadsheet: %d %s", a.Status, a.Body)
	}
	text := o.luca.Upload(o.reports, "", "text.md", []byte("x\n")).Document.Id
	if a := o.luca.Do("GET", "/api/documents/"+text.String()+"/writing/changes", nil); a.Code() != "not-written" {
		t.Errorf("changes of a text: %d %s", a.Status, a.Body)
	}
	if a := o.luca.Do("GET", luca.at+"/authors", nil); a.Code() != "not-written" {
		t.Errorf("parts of a table: %d %s", a.Status, a.Body)
	}
}

// Many write in a table at once by sockets, each in cells of their own: every one stands.
func TestManyWriteInATable(t *testing.T) {
	t.Parallel()
	o := newOffice(t)
	doc := o.luca.Upload(o.reports, "", "Many.csv", []byte("a,b\n1,2\n")).Document.Id
	ctx, end := context.WithTimeout(t.Context(), time.Minute)
	defer end()
	const people, each = 6, 15
	done := make(chan error)
	for i := range people {
		go func() {
			s := o.sits(ctx, t, []*testkit.Client{o.luca, o.hanne}[i%2], doc, 0)
			for n := 1; n <= each && s.err == nil; n++ {
				at, _ := excelize.CoordinatesToCellName(i+1, n+2)
				s.send(puts(at, fmt.Sprint(i, "-", n)))
				for s.err == nil && (s.taken < n || s.version < s.stands) {
					s.hear()
				}
			}
			done <- s.err
		}()
	}
	for range people {
		if err := <-done; err != nil {
			t.Error(err)
		}
	}
	b := writes(t, o.luca, doc).book()
	for i := range people {
		for n := 1; n <= each; n++ {
			if got := b.Cell(table.Place{Row: n + 1, Column: i}).Text; got != fmt.Sprint(i, "-", n) {
				t.Errorf("%d/%d holds %q", n, i, got)
			}
		}
	}
	if raw, err := json.Marshal(b); err != nil || len(raw) == 0 {
		t.Error(err)
	}
}
