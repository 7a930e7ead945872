package table_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"

	"tabularis/core/fault"
	"tabularis/core/table"
)

func of(t *testing.T, csv string) *table.Book {
	t.Helper()
	b, err := table.ReadSeparated(csv)
	if err != nil {
		t.Fatal(err)
	}
	return b
}

func done(t *testing.T, b *table.Book, steps ...table.Step) *table.Book {
	t.Helper()
	for _, s := range steps {
		after, err := b.Apply(s)
		if err != nil {
			t.Fatalf("%+v: %v", s, err)
		}
		b = after
	}
	return b
}

func nobody(table.Place) string { return "" }

func set(row, column int, text string) table.Step {
	return table.Step{Op: table.Setting, Cells: []table.Entry{{Row: row, Column: column, Text: text}}}
}

func TestFormulasFollow(t *testing.T) {
	rowsIn := func(at, n int) table.Step { return table.Step{Op: table.Rows, At: at, Add: n} }
	rowsOut := func(at, n int) table.Step { return table.Step{Op: table.Rows, At: at, Drop: n} }
	columnsIn := func(at, n int) table.Step { return table.Step{Op: table.Columns, At: at, Add: n} }
	names := []string{"Hull", "Year's end"}
	for _, c := range []struct {
		formula string
		own     int
		step    table.Step
		want    string
	}{
		{"=A1+B2", 0, rowsIn(1, 2), "=A1+B4"},
		{"=$A$2*b2", 0, rowsIn(1, 1), "=$A$3*B3"},
		{"=SUM(A1:A4)", 0, rowsIn(2, 3), "=SUM(A1:A7)"},
		{"=SUM(A1:A4)", 0, rowsOut(1, 2), "=SUM(A1:A2)"},
		{"=SUM(A2:A3)", 0, rowsOut(1, 2), "=SUM(#REF!)"},
		{"=A3", 0, rowsOut(2, 1), "=#REF!"},
		{"=C1&\"A9\"&A9", 0, columnsIn(1, 1), "=D1&\"A9\"&A9"},
		{"=SUM(B:C)", 0, columnsIn(2, 1), "=SUM(B:D)"},
		{"=SUM(B:C)", 0, rowsIn(0, 1), "=SUM(B:C)"},
		{"=SUM(2:3)", 0, rowsIn(0, 1), "=SUM(3:4)"},
		{"=LOG10(A2)", 0, rowsIn(0, 1), "=LOG10(A3)"},
		{"=RATE2.A2+A2", 0, rowsIn(0, 1), "=RATE2.A2+A3"},
		{"=Hull!A2+A2", 1, rowsIn(0, 1), "=Hull!A3+A2"},
		{"='Year''s end'!A2+A2", 0, table.Step{Op: table.Rows, Sheet: 1, Add: 1}, "='Year''s end'!A3+A2"},
		{"A2", 0, rowsIn(0, 1), "A2"},
		{"=A0+A2", 0, rowsIn(0, 1), "=A0+A3"},
	} {
		if got := table.Followed(c.formula, names, c.own, c.step); got != c.want {
			t.Errorf("%s after %+v is %s, not %s", c.formula, c.step, got, c.want)
		}
	}
}

func TestValues(t *testing.T) {
	for _, c := range []struct {
		text, decimal string
		kind          table.Kind
		number        float64
	}{
		{"8.9", ".", table.Number, 8.9}, {"8,9", ",", table.Number, 8.9}, {"8.9", ",", table.Text, 0}, {"007", ".", table.Text, 0}, {"12%", ".", table.Number, .12},
		{"'12", ".", table.Text, 0}, {"2026-11-30", ".", table.Date, 46356}, {"2026-02-30", ".", table.Text, 0}, {"=A1", ".", table.Formula, 0}, {"=", ".", table.Text, 0},
		{"TRUE", ".", table.Truth, 1}, {"-0.5", ".", table.Number, -.5}, {"1e3", ".", table.Number, 1000}, {"", ".", table.Empty, 0}, {"1e999", ".", table.Text, 0}, {"+49 30 1234", ".", table.Text, 0},
	} {
		if v := table.ValueOf(c.text, c.decimal); v.Kind != c.kind || v.Number != c.number {
			t.Errorf("%q is %+v", c.text, v)
		}
	}
	if table.DayOf(46356) != "2026-11-30" || table.DayOf(0.5) != "" || table.Quoted("12", ".") != "'12" || table.Quoted("a", ".") != "a" || table.Quoted("'a", ".") != "''a" {
		t.Error("days or texts are written otherwise")
	}
}

// Where two write at one place at the same moment, the later one stands and says so; whoever has seen both decides.
func TestTwoInOneCell(t *testing.T) {
	b := of(t, "Frame,Measured\n33,8.2\n")
	theirs := b.Noted(table.Step{Op: table.Setting, By: "ines", Cells: []table.Entry{{Row: 1, Column: 1, Text: "7.8"}}}, nobody)
	mine := set(1, 1, "7.9")
	mine.By = "luca"
	carried := table.Carry([]table.Step{mine}, []table.Step{theirs}, b.Names())
	b = done(t, b, append([]table.Step{theirs}, carried...)...)
	at := table.Place{Row: 1, Column: 1}
	c := b.Cell(at)
	if c.Text != "7.9" || c.Doubt == nil || c.Doubt.Was != "8.2" || c.Doubt.By != "luca" || len(c.Doubt.Others) != 1 || c.Doubt.Others[0] != (table.Said{Text: "7.8", By: "ines"}) {
		t.Fatalf("the cell holds %+v, %+v", c, c.Doubt)
	}
	if c = done(t, b, set(1, 1, "7.8")).Cell(at); c.Doubt != nil || c.Text != "7.8" {
		t.Errorf("it stays in doubt once decided: %+v", c)
	}
	// The same written twice, or by the same person, is no doubt.
	for _, by := range []string{"ines", "luca"} {
		again := set(1, 1, map[string]string{"ines": "7.7", "luca": "7.8"}[by])
		again.By = by
		if c := table.Carry([]table.Step{again}, []table.Step{theirs}, b.Names()); c[0].Cells[0].Doubt != nil {
			t.Errorf("%s doubts", by)
		}
	}
}

// Who was not connected carries what they wrote themselves: what they saw says that they did not know of the other's.
func TestWhatOneSawSaysThatItIsInDoubt(t *testing.T) {
	b := of(t, "Frame,Measured\n33,7.8\n")
	saw := func(text string) table.Step {
		s := set(1, 1, "7.9")
		s.By, s.Cells[0].Seen = "luca", &text
		return b.Noted(s, func(p table.Place) string { return "ines" })
	}
	e := saw("8.2").Cells[0]
	if e.Doubt == nil || e.Doubt.Was != "8.2" || e.Doubt.Others[0] != (table.Said{Text: "7.8", By: "ines"}) || e.Seen != nil || e.Was != "7.8" {
		t.Errorf("what was not seen: %+v", e)
	}
	if e := saw("7.8").Cells[0]; e.Doubt != nil {
		t.Errorf("what was seen is in doubt: %+v", e.Doubt)
	}
	formula := "=A2"
	s := table.Carry([]table.Step{{Op: table.Setting, Cells: []table.Entry{{Row: 1, Column: 1, Text: "x", Seen: &formula}}}}, []table.Step{{Op: table.Rows, Add: 1}}, b.Names())
	if got := *s[0].Cells[0].Seen; got != "=A3" {
		t.Errorf("what was seen is now %q", got)
	}
}

func TestWhatNoTableMayHold(t *testing.T) {
	b := of(t, "a,b\n1,2\n")
	for name, c := range map[string]struct {
		step table.Step
		kind fault.Kind
	}{
		"no such sheet":       {table.Step{Op: table.Setting, Sheet: 1, Cells: []table.Entry{{Text: "x"}}}, fault.Invalid},
		"before the first":    {set(-1, 0, "x"), fault.Invalid},
		"behind the last":     {set(table.MostRows, 0, "x"), fault.TooLarge},
		"too wide":            {set(0, table.MostColumns, "x"), fault.TooLarge},
		"too long":            {set(0, 0, strings.Repeat("x", 32_768)), fault.TooLarge},
		"a long formula":      {set(0, 0, "="+strings.Repeat("1+", 5000)+"1"), fault.TooLarge},
		"control":             {set(0, 0, "a\x00b"), fault.Invalid},
		"half a letter":       {set(0, 0, "a\xffb"), fault.Invalid},
		"nothing":             {table.Step{Op: table.Setting}, fault.Invalid},
		"no such change":      {table.Step{Op: "paint"}, fault.Invalid},
		"rows that never are": {table.Step{Op: table.Rows, At: table.MostRows + 1, Add: 1}, fault.Invalid},
		"in and out":          {table.Step{Op: table.Rows, Add: 1, Drop: 1}, fault.Invalid},
		"neither":             {table.Step{Op: table.Columns}, fault.Invalid},
		"too many rows":       {table.Step{Op: table.Rows, Add: table.MostRows}, fault.TooLarge},
		"overflowing":         {table.Step{Op: table.Rows, At: 1, Drop: int(^uint(0) >> 1)}, fault.Invalid},
		"a format for naught": {table.Step{Op: table.Formated, Area: &table.Area{Columns: 1}}, fault.Invalid},
		"no area":             {table.Step{Op: table.Formated, Format: "0"}, fault.Invalid},
	} {
		if _, err := b.Apply(c.step); err == nil || fault.Of(err).Kind != c.kind {
			t.Errorf("%s: %v", name, err)
		}
	}
	vast := int(^uint(0) >> 1)
	for _, s := range []table.Step{{Op: table.Formated, Format: "0", Area: &table.Area{Row: 1, Rows: vast, Columns: vast}}, {Op: table.Formated, Area: &table.Area{Row: vast, Rows: vast, Columns: 1}},
		{Op: table.Rows, At: 1, Drop: 9}, {Op: table.Columns, At: 9, Drop: 9}, {Op: table.Rows, At: 99, Add: 1}} {
		if err := done(t, b, s).Check(); err != nil {
			t.Errorf("%+v: %v", s, err)
		}
	}
	for _, raw := range []string{`{"op":"set","cells":[{"r":0,"c":0,"t":"x","w":"was"}]}`, `{"op":"set","cells":[{"r":0,"c":0,"t":"x","d":{"was":"","by":"a","others":[]}}]}`, `{"op":"set","cells":[{"r":0,"c":0,"t":"x","s":"a\u0000"}]}`, `{"op":"set","more":1}`, `[]`, `{`} {
		if _, err := table.Read([]json.RawMessage{json.RawMessage(raw)}); !fault.Is(err, fault.Invalid) {
			t.Errorf("%s is taken: %v", raw, err)
		}
	}
}

func TestSeparatedValues(t *testing.T) {
	for name, raw := range map[string]string{
		"plain": "Frame,Strake\n12,D\n15,\"D, port\"\n", "German": "Spant;Maß\r\n12;8,9\r\n15;8,7\r\n", "marked": "\ufeffa,b\n1,2\n", "tabs": "a\tb\n007\t=1+1\n", "ragged": "a,b,c\n1\n",
	} {
		b := of(t, raw)
		got, err := b.WriteSeparated(nil)
		if want := strings.ReplaceAll(raw, "\n1\n", "\n1,,\n"); err != nil || got != want {
			t.Errorf("%s: %q becomes %q, %v", name, raw, got, err)
		}
		state, err := json.Marshal(b)
		if err != nil {
			t.Fatal(err)
		}
		if again, err := table.ReadBook(state); err != nil || again.Size() != b.Size() || again.Manner != b.Manner {
			t.Errorf("%s: the state is read otherwise: %v", name, err)
		}
	}
	if b := of(t, "Spant;Maß\n12;8,9\n"); b.Decimal() != "," || b.Sheets[0].Head != 1 {
		t.Errorf("decimals and headings are %q, %d", b.Decimal(), b.Sheets[0].Head)
	}
	if _, err := table.ReadSeparated(strings.Repeat("x,", 1000) + "\n"); !fault.Is(err, fault.TooLarge) {
		t.Errorf("1,000 columns: %v", err)
	}
	if _, err := table.ReadSeparated(strings.Repeat("x\n", table.MostRows+1)); !fault.Is(err, fault.TooLarge) {
		t.Errorf("too many rows: %v", err)
	}
	b := done(t, of(t, "a,b\n1,2\n"), set(1, 1, "=A2*2"))
	three := 2.0
	if got, _ := b.WriteSeparated(table.Values{{Row: 1, Column: 1}: {Number: &three}}); got != "a,b\n1,2\n" {
		t.Errorf("a formula is written as %q", got)
	}
}

func TestWhatComesInIsMerged(t *testing.T) {
	old := of(t, "Frame,Measured\n12,8.9\n15,8.7\n")
	came := of(t, "Frame,Measured\n12,8.9\n15,8.6\n")
	steps := []table.Step{{Op: table.Rows, At: 1, Add: 1}, set(1, 0, "9"), set(2, 1, "8.8")}
	now := done(t, old, steps...)
	merged, ok := table.Merged(old, came, now, steps)
	if now = done(t, now, merged...); !ok || now.Cell(table.Place{Row: 3, Column: 1}).Text != "8.6" || now.Cell(table.Place{Row: 2, Column: 1}).Text != "8.8" {
		t.Errorf("it is merged: %v, %+v", ok, merged)
	}
	both := []table.Step{old.Noted(set(2, 1, "8.5"), nobody)}
	both[0].By = "luca"
	if _, ok := table.Merged(old, came, done(t, old, both...), both); ok {
		t.Error("a place that both changed is merged")
	}
	if _, ok := table.Merged(old, of(t, "Frame,Measured\n12,8.9\n"), old, nil); ok {
		t.Error("rows that went are merged")
	}
}

func TestOnlyWhatIsTouchedIsReckoned(t *testing.T) {
	b := of(t, "a,b,c\n1,2,\n3,4,\n")
	b = done(t, b, set(1, 2, "=A2+B2"), set(2, 2, "=A3+B3"), set(3, 2, "=SUM(C2:C3)"), set(4, 2, "=C4*2"))
	all := b.Formulas()
	leads := b.Leads(all, nil, nil)
	touched := table.Touched(map[table.Place]bool{{Row: 1, Column: 0}: true}, all, leads)
	if fmt.Sprint(touched) != "[{0 1 2} {0 3 2} {0 4 2}]" {
		t.Fatalf("touched are %v", touched)
	}
	// A formula that is written anew leads elsewhere; what is known of the others is taken over.
	b = done(t, b, set(1, 2, "=A3"))
	changed := map[table.Place]bool{{Row: 1, Column: 2}: true}
	if leads = b.Leads(all, leads, changed); fmt.Sprint(table.Touched(map[table.Place]bool{{Row: 1, Column: 0}: true}, all, leads)) != "[]" {
		t.Error("a formula still leads where it did")
	}
	b = done(t, b, set(1, 2, "=A2+B2"))
	seven := 7.0
	task, ok := b.Task(touched, table.Values{{Row: 2, Column: 2}: {Number: &seven}})
	if !ok || len(task.Sheets[0].Cells) != 6 {
		t.Errorf("the task is %+v", task)
	}
	for _, c := range task.Sheets[0].Cells {
		if known := c.Row == 2 && c.Column == 2; known != (c.Result != nil) {
			t.Errorf("%d/%d is given as %+v", c.Row, c.Column, c)
		}
	}
}

func TestFormulasThatReferToThemselves(t *testing.T) {
	b := done(t, of(t, "a,b\n1,2\n"), set(2, 0, "=A3"), set(3, 0, "=SUM(A2:A5)"), set(4, 0, "=A4"), set(5, 0, "=A5+1"), set(6, 0, "=A2"), set(7, 0, "=A7"))
	circular, ok := b.Circular(b.Formulas())
	if !ok || len(circular) != 4 || circular[table.Place{Row: 6}] || circular[table.Place{Row: 7}] {
		t.Errorf("circular are %v", circular)
	}
}

// random is a change of a table that may be made.
func random(r *rand.Rand, b *table.Book, by string) table.Step {
	s := b.Sheets[0]
	switch n := r.IntN(12); {
	case n < 5 || len(s.Rows) < 3 || s.Columns < 3:
		text := fmt.Sprint(r.IntN(100))
		if r.IntN(3) == 0 {
			text = fmt.Sprintf("=%s%d+SUM(A%d:B%d)", table.Letters(r.IntN(s.Columns)), 1+r.IntN(len(s.Rows)+1), 1+r.IntN(3), 3+r.IntN(4))
		}
		return table.Step{Op: table.Setting, By: by, Cells: []table.Entry{{Row: r.IntN(len(s.Rows) + 1), Column: r.IntN(s.Columns), Text: text}}}
	case n < 7:
		return table.Step{Op: table.Rows, By: by, At: r.IntN(len(s.Rows) + 1), Add: 1 + r.IntN(3)}
	case n < 9:
		at := r.IntN(len(s.Rows))
		return table.Step{Op: table.Rows, By: by, At: at, Drop: 1 + r.IntN(min(3, len(s.Rows)-at))}
	case n < 10:
		return table.Step{Op: table.Columns, By: by, At: r.IntN(s.Columns + 1), Add: 1}
	case n < 11:
		return table.Step{Op: table.Columns, By: by, At: r.IntN(s.Columns), Drop: 1}
	}
	row := r.IntN(len(s.Rows))
	return table.Step{Op: table.Formated, By: by, Area: &table.Area{Row: row, Column: 0, Rows: len(s.Rows) - row, Columns: 1 + r.IntN(s.Columns)}, Format: "0.0"}
}

// What two do at the same moment fits after each other whatever it is, and texts come out the same whoever is carried.
func TestCarriedStepsAlwaysFit(t *testing.T) {
	for seed := range uint64(400) {
		r := rand.New(rand.NewPCG(seed, 19))
		b := of(t, "a,b,c,d\n1,2,3,4\n5,6,7,8\n9,10,11,12\n13,14,15,16\n")
		series := func(by string) (steps []table.Step) {
			for at := b; len(steps) < 4; {
				s := at.Noted(random(r, at, by), nobody)
				if after, err := at.Apply(s); err == nil {
					at, steps = after, append(steps, s)
				}
			}
			return steps
		}
		mine, theirs := series("mine"), series("theirs")
		after := done(t, b, theirs...)
		for _, s := range table.Carry(mine, theirs, b.Names()) {
			next, err := after.Apply(s)
			if err != nil {
				t.Fatalf("seed %d: %+v does not fit: %v\nmine %+v\ntheirs %+v", seed, s, err, mine, theirs)
			}
			after = next
		}
		if err := after.Check(); err != nil {
			t.Fatalf("seed %d: %v", seed, err)
		}
	}
}

// Whatever comes as a change is refused or applied, and what was counted stays right.
func FuzzSteps(f *testing.F) {
	f.Add(`{"op":"set","cells":[{"r":1,"c":1,"t":"=A1:B"}]}`)
	f.Add(`{"op":"rows","at":1,"drop":1}`)
	f.Add(`{"op":"format","area":{"row":0,"column":0,"rows":1,"columns":1},"format":"0.0"}`)
	f.Fuzz(func(t *testing.T, raw string) {
		b := of(t, "a,b\n1,2\n3,4\n")
		b = done(t, b, set(1, 2, "='A b'!$A1+SUM(1:2)&\"x\""))
		steps, err := table.Read([]json.RawMessage{json.RawMessage(raw)})
		if err != nil {
			return
		}
		after, err := b.Apply(steps[0])
		if err != nil {
			return
		}
		counted := after.Size()
		if err := after.Check(); err != nil || after.Size() != counted {
			t.Fatalf("%s: %v, %d bytes counted, %d there", raw, err, counted, after.Size())
		}
	})
}

// What several wrote at one place is kept once for each, and counts to what a table holds.
func TestDoubtsDoNotGrow(t *testing.T) {
	b := of(t, "a,b\n1,2\n")
	last := b.Noted(table.Step{Op: table.Setting, By: "p0", Cells: []table.Entry{{Row: 1, Text: "0"}}}, nobody)
	for i := range 40 {
		s := table.Step{Op: table.Setting, By: fmt.Sprint("p", i%20), Cells: []table.Entry{{Row: 1, Text: fmt.Sprint(i, strings.Repeat("x", 100))}}}
		s = b.Noted(table.Carry([]table.Step{s}, []table.Step{last}, b.Names())[0], nobody)
		b, last = done(t, b, s), s
	}
	d := b.Cell(table.Place{Row: 1}).Doubt
	if d == nil || len(d.Others) != 8 {
		t.Fatalf("in doubt: %+v", d)
	}
	if before := b.Size(); before < 800 {
		t.Errorf("it counts as %d", before)
	} else if err := b.Check(); err != nil || b.Size() != before {
		t.Errorf("it was counted as %d, and is %d: %v", before, b.Size(), err)
	}
	var err error
	formatted := table.Step{Op: table.Formated, Area: &table.Area{Rows: 2, Columns: 2}, Format: "0.0"}
	if b, err = b.Apply(formatted); err != nil {
		t.Fatal(err)
	}
	if before := b.Size(); b.Check() != nil || b.Size() != before {
		t.Errorf("formats were counted as %d, and are %d", before, b.Size())
	}
}
