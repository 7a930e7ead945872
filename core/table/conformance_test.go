package table_test

import (
	"bufio"
	"encoding/json"
	"fmt"
	"os/exec"
	"strings"
	"testing"

	"tabularis/core/table"
)

// said is a case as the page says it.
type said struct {
	Start, After, Both, Undone json.RawMessage
	Mine, Theirs, Carried      []table.Step
	Step                       table.Step
	Text                       string
	Value                      struct {
		Kind   string
		Number float64
		Text   string
	}
	Copies []string
}

var kinds = map[table.Kind]string{table.Empty: "empty", table.Text: "text", table.Number: "number", table.Truth: "truth", table.Date: "date", table.Formula: "formula"}

// The page applies and carries changes, and takes texts for values, as this package does.
func TestConformanceWithThePage(t *testing.T) {
	const cases = 600
	page := exec.Command("node", "testdata/page.mjs", "../../web", "19", fmt.Sprint(cases))
	var complaints strings.Builder
	page.Stderr = &complaints
	out, err := page.Output()
	if err != nil {
		t.Fatalf("%v: %s", err, complaints.String())
	}
	lines := bufio.NewScanner(strings.NewReader(string(out)))
	lines.Buffer(nil, 10<<20)
	n := 0
	for lines.Scan() {
		var l said
		if err := json.Unmarshal(lines.Bytes(), &l); err != nil {
			t.Fatal(err)
		}
		if l.Copies != nil {
			if want := "[=B3+$B$2+D$2 =SUM(C:C) =#REF! A1]"; fmt.Sprint(l.Copies) != want {
				t.Errorf("copied are %v", l.Copies)
			}
			continue
		}
		n++
		l.compare(t)
	}
	if n != cases {
		t.Errorf("%d cases", n)
	}
}

func (l said) compare(t *testing.T) {
	t.Helper()
	start, err := table.ReadBook(l.Start)
	if err != nil {
		t.Fatal(err)
	}
	after := done(t, start, l.Theirs...)
	same(t, "after theirs", after, l.After)
	carried := table.Carry(l.Mine, l.Theirs, start.Names())
	ours, _ := json.Marshal(carried)
	page, _ := json.Marshal(l.Carried)
	if string(ours) != string(page) && len(carried)+len(l.Carried) > 0 {
		t.Fatalf("%s\nis carried over %+v as\n%s, by the page as\n%s", mustJSON(l.Mine), l.Theirs, ours, page)
	}
	same(t, "after both", done(t, after, carried...), l.Both)
	v := table.ValueOf(l.Text, ".")
	if kinds[v.Kind] != l.Value.Kind || (v.Kind == table.Number || v.Kind == table.Date || v.Kind == table.Truth) && v.Number != l.Value.Number || v.Kind == table.Text && v.Text != l.Value.Text {
		t.Errorf("%q is %+v, for the page %+v", l.Text, v, l.Value)
	}
	undone, err := table.ReadBook(l.Undone)
	if err != nil {
		t.Fatal(err)
	}
	for i, s := range start.Sheets {
		for r, row := range s.Rows {
			for c, cell := range row {
				if got := undone.Cell(table.Place{Sheet: i, Row: r, Column: c}); got.Text != cell.Text || got.Format != cell.Format {
					t.Fatalf("%+v undone leaves %d/%d/%d as %+v, not %+v", l.Step, i, r, c, got, cell)
				}
			}
		}
	}
}

func mustJSON(v any) string {
	raw, err := json.Marshal(v)
	if err != nil {
		panic(err)
	}
	return string(raw)
}

func same(t *testing.T, when string, b *table.Book, page json.RawMessage) {
	t.Helper()
	theirs, err := table.ReadBook(page)
	if err != nil {
		t.Fatal(err)
	}
	if ours, page := mustJSON(b), mustJSON(theirs); ours != page {
		t.Fatalf("%s there is\n%s\nfor the page\n%s", when, ours, page)
	}
}
