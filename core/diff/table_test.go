package diff

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

func rowsOf(text string) (rows [][]string) {
	for line := range strings.SplitSeq(text, "|") {
		rows = append(rows, strings.Split(line, " "))
	}
	return rows
}

func tabled(t Table) string {
	var out []string
	for _, r := range t.Rows {
		s := map[Kind]string{Same: "", Added: "+", Removed: "-"}[r.Kind()]
		if r.Kind() == Added {
			s += fmt.Sprint(r.B)
		} else {
			s += fmt.Sprint(r.A)
		}
		if len(r.Changed) > 0 {
			s += fmt.Sprint(r.Changed)
		}
		out = append(out, s)
	}
	return strings.Join(out, " ")
}

func TestTables(t *testing.T) {
	const readings = "Frame Original Measured|30 10.0 8.1|31 10.0 7.2|32 10.0 7.4"
	for name, c := range map[string]struct {
		a, b, want string
		added      int
	}{
		"the same":          {readings, readings, "0 1 2 3", 0},
		"a reading changed": {readings, strings.Replace(readings, "7.2", "6.9", 1), "0 1 2[2] 3", 0},
		"a row inserted":    {readings, strings.Replace(readings, "|31", "|31 10.0 7.0|31", 1), "0 1 +2 2 3", 0},
		"a row removed":     {readings, strings.Replace(readings, "|31 10.0 7.2", "", 1), "0 1 -2 3", 0},
		"a column inserted": {"F M|30 8.1|31 7.2", "F S M|30 G 8.1|31 G 7.2", "0 1 2", 1},
		"both":              {"F M|30 8.1|31 7.2", "F S M|30 G 8.1|31 G 6.9|32 G 7.0", "0 1 2[2] +3", 1},
		"all different":     {"a b|1 2", "c d|3 4", "-0 -1 +0 +1", 0},
	} {
		got := Tables(rowsOf(c.a), rowsOf(c.b))
		if tabled(got) != c.want || got.AddedColumns != c.added {
			t.Errorf("%s: %s, %d columns added, want %s, %d", name, tabled(got), got.AddedColumns, c.want, c.added)
		}
	}
	if got := Tables(nil, rowsOf("a b")); got.AddedRows != 1 || len(got.Columns) != 2 {
		t.Errorf("%+v", got)
	}
}

// Every row and column of both stands in what is found once, in its order, and all cells
// that are not said to differ are the same.
func TestTablesHoldBoth(t *testing.T) {
	r := rand.New(rand.NewPCG(2, 7))
	make := func(rows, columns int) [][]string {
		out := [][]string{}
		for range rows {
			row := []string{}
			for range columns {
				row = append(row, fmt.Sprint(r.IntN(5)))
			}
			out = append(out, row[:r.IntN(columns+1)])
		}
		return out
	}
	for range 5000 {
		a, b := make(r.IntN(9), 1+r.IntN(5)), make(r.IntN(9), 1+r.IntN(5))
		got := Tables(a, b)
		var ra, rb, ca, cb []int
		for _, row := range got.Rows {
			if row.A >= 0 {
				ra = append(ra, row.A)
			}
			if row.B >= 0 {
				rb = append(rb, row.B)
			}
			for n, c := range got.Columns {
				if row.Kind() == Same && c.A >= 0 && c.B >= 0 && (Cell(a, row.A, c.A) != Cell(b, row.B, c.B)) != slices.Contains(row.Changed, n) {
					t.Fatalf("%v and %v: row %+v, column %+v", a, b, row, c)
				}
			}
		}
		for _, c := range got.Columns {
			if c.A >= 0 {
				ca = append(ca, c.A)
			}
			if c.B >= 0 {
				cb = append(cb, c.B)
			}
		}
		for _, all := range []struct {
			got  []int
			want int
		}{{ra, len(a)}, {rb, len(b)}, {ca, width(a)}, {cb, width(b)}} {
			if len(all.got) != all.want || !slices.IsSorted(all.got) {
				t.Fatalf("%v and %v: %v of %d; %+v", a, b, all.got, all.want, got)
			}
		}
	}
}
