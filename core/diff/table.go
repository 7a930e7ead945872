package diff

import "strings"

// Column is a column of either table: where it stands in the one and in the other, or -1.
type Column struct {
	Name string
	A, B int
}

// Row is a row of either table: where it stands in the one and in the other, or -1. Changed
// are the columns whose cells differ.
type Row struct {
	A, B    int
	Changed []int
}

// Kind says what the row is in the second table.
func (r Row) Kind() Kind {
	switch {
	case r.A < 0:
		return Added
	case r.B < 0:
		return Removed
	}
	return Same
}

// Table is how a table differs from another: rows and columns in their order.
type Table struct {
	Columns []Column
	Rows    []Row
	// Cells counts those that differ, ChangedRows the rows they are in.
	Cells, ChangedRows, RemovedRows, AddedRows int
	RemovedColumns, AddedColumns, SameRows     int
	// Exact says that no part was too different to be compared row by row.
	Exact bool
}

// Differs reports whether anything is not the same.
func (t Table) Differs() bool {
	return t.Cells+t.AddedRows+t.RemovedRows+t.AddedColumns+t.RemovedColumns > 0
}

const (
	// mostRows bounds how many edits are looked for, mostPairs how many pairs of rows are
	// looked at to find which became which.
	mostRows, mostPairs = 6000, 60_000
)

// Tables compares tables cell by cell. Columns are matched by their headings, the first
// row; rows by their cells, so that an inserted one does not make all others different.
func Tables(a, b [][]string) Table {
	t := Table{Exact: true}
	t.columns(a, b)
	var shared []Column
	for _, c := range t.Columns {
		if c.A >= 0 && c.B >= 0 {
			shared = append(shared, c)
		}
	}
	ids := interned{}
	edits, exact := Sequences(ids.of(keys(a, shared, true)), ids.of(keys(b, shared, false)), mostRows)
	t.Exact = exact
	for i := 0; i < len(edits); {
		e := edits[i]
		if e.Kind == Same {
			for n := range e.A1 - e.A0 {
				t.pair(a, b, e.A0+n, e.B0+n)
			}
			i++
			continue
		}
		to := e
		for i++; i < len(edits) && edits[i].Kind != Same; i++ {
			to = edits[i]
		}
		t.block(a, b, shared, Edit{A0: e.A0, A1: to.A1, B0: e.B0, B1: to.B1})
	}
	return t
}

// Cell is what stands in a row and column, or nothing where there is none.
func Cell(rows [][]string, row, column int) string {
	if row < 0 || column < 0 || column >= len(rows[row]) {
		return ""
	}
	return rows[row][column]
}

func width(rows [][]string) (n int) {
	for _, r := range rows {
		n = max(n, len(r))
	}
	return n
}

// columns matches columns by their headings, or by their places where these say nothing.
func (t *Table) columns(a, b [][]string) {
	wa, wb := width(a), width(b)
	heading := func(rows [][]string, w int) []string {
		out := make([]string, w)
		for i := range out {
			if len(rows) > 0 {
				out[i] = strings.TrimSpace(Cell(rows, 0, i))
			}
		}
		return out
	}
	ha, hb := heading(a, wa), heading(b, wb)
	ids := interned{}
	edits, _ := Sequences(ids.of(ha), ids.of(hb), wa+wb)
	same := 0
	for _, e := range edits {
		if e.Kind == Same {
			same += e.A1 - e.A0
		}
	}
	if 2*same < min(wa, wb) {
		// The headings tell nothing: column by column.
		both := min(wa, wb)
		edits = []Edit{{Same, 0, both, 0, both}, {Removed, both, wa, both, both}, {Added, wa, wa, both, wb}}
	}
	for _, e := range edits {
		switch e.Kind {
		case Same:
			for n := range e.A1 - e.A0 {
				t.Columns = append(t.Columns, Column{hb[e.B0+n], e.A0 + n, e.B0 + n})
			}
		case Removed:
			for n := e.A0; n < e.A1; n++ {
				t.Columns = append(t.Columns, Column{ha[n], n, -1})
				t.RemovedColumns++
			}
		case Added:
			for n := e.B0; n < e.B1; n++ {
				t.Columns = append(t.Columns, Column{hb[n], -1, n})
				t.AddedColumns++
			}
		}
	}
}

// keys writes each row down by the columns that both tables have.
func keys(rows [][]string, shared []Column, first bool) []string {
	out := make([]string, len(rows))
	var b strings.Builder
	for i := range rows {
		b.Reset()
		for _, c := range shared {
			at := c.B
			if first {
				at = c.A
			}
			b.WriteString(Cell(rows, i, at))
			b.WriteByte(0)
		}
		out[i] = b.String()
	}
	return out
}

// pair notes that a row of the one is a row of the other.
func (t *Table) pair(a, b [][]string, i, j int) {
	row := Row{A: i, B: j}
	for n, c := range t.Columns {
		if c.A >= 0 && c.B >= 0 && Cell(a, i, c.A) != Cell(b, j, c.B) {
			row.Changed = append(row.Changed, n)
		}
	}
	t.Cells += len(row.Changed)
	if len(row.Changed) > 0 {
		t.ChangedRows++
	} else {
		t.SameRows++
	}
	t.Rows = append(t.Rows, row)
}

// block finds in a part that differs which rows became which: those that have most of
// their cells in common, in order.
func (t *Table) block(a, b [][]string, shared []Column, e Edit) {
	n, m := e.A1-e.A0, e.B1-e.B0
	i, j := e.A0, e.B0
	flush := func(toA, toB int) {
		for ; i < toA; i++ {
			t.Rows = append(t.Rows, Row{A: i, B: -1})
			t.RemovedRows++
		}
		for ; j < toB; j++ {
			t.Rows = append(t.Rows, Row{A: -1, B: j})
			t.AddedRows++
		}
	}
	for _, p := range t.matches(a, b, shared, e, n, m) {
		flush(p[0], p[1])
		t.pair(a, b, p[0], p[1])
		i, j = p[0]+1, p[1]+1
	}
	flush(e.A1, e.B1)
}

// matches pairs rows with the greatest sum of cells in common. Of very many that differ
// each is paired with the one at its place.
func (t *Table) matches(a, b [][]string, shared []Column, e Edit, n, m int) (pairs [][2]int) {
	alike := func(i, j int) int {
		same := 0
		for _, c := range shared {
			if Cell(a, i, c.A) == Cell(b, j, c.B) {
				same++
			}
		}
		// A row is the same also by its first cell alone, which often names it.
		named := len(shared) > 0 && Cell(a, i, shared[0].A) != "" && Cell(a, i, shared[0].A) == Cell(b, j, shared[0].B)
		if same == 0 || 2*same < len(shared) && !named {
			return 0
		}
		return same
	}
	if n*m > mostPairs {
		t.Exact = false
		for k := range min(n, m) {
			if alike(e.A0+k, e.B0+k) > 0 {
				pairs = append(pairs, [2]int{e.A0 + k, e.B0 + k})
			}
		}
		return pairs
	}
	for _, p := range pairUp(n, m, func(i, j int) int { return alike(e.A0+i, e.B0+j) }) {
		pairs = append(pairs, [2]int{e.A0 + p[0], e.B0 + p[1]})
	}
	return pairs
}
