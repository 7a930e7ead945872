package comparison

import (
	"tabularis/core/diff"
	"tabularis/internal/app/comparison"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/present"
)

func compared(c comparison.Compared) contract.Comparison {
	out := contract.Comparison{From: side(c.A), To: side(c.B), Same: c.Same, Patch: present.Some(c.Lines())}
	if t := c.Text; t != nil {
		out.Text = &contract.ComparedText{Removed: t.Removed, Added: t.Added, Moved: t.Moved, Changes: t.Changes, Exact: t.Exact,
			Pieces: present.Each(t.Pieces, func(p diff.Piece) contract.ComparedPiece {
				return contract.ComparedPiece{Kind: contract.ComparedPieceKind(kinds[p.Kind]), Moved: present.Some(p.Moved), Text: p.Text}
			})}
		if c.PagesB > 0 {
			out.Text.Pages, out.Text.PagesBefore, out.Text.PagesNow = &c.Pages, &c.PagesA, &c.PagesB
		}
	}
	if c.Table != nil {
		out.Table = table(*c.Table)
	}
	return out
}

var kinds = map[diff.Kind]string{diff.Same: "same", diff.Removed: "removed", diff.Added: "added"}

// Of rows that are the same one is shown beside each that is not, and in all so many.
const beside, mostRows = 1, 3000

func table(t comparison.Table) *contract.ComparedTable {
	out := &contract.ComparedTable{Cells: t.Cells, ChangedRows: t.ChangedRows, RemovedRows: t.RemovedRows, AddedRows: t.AddedRows, SameRows: t.SameRows, Exact: t.Exact, Cut: t.Cut,
		Sheet: present.Some(t.Sheet), Rows: []contract.ComparedRow{}, Columns: present.Each(t.Columns, func(c diff.Column) contract.ComparedColumn {
			column := contract.ComparedColumn{Name: c.Name}
			switch {
			case c.A < 0:
				column.Change = present.Some(contract.ComparedColumnChangeAdded)
			case c.B < 0:
				column.Change = present.Some(contract.ComparedColumnChangeRemoved)
			}
			return column
		})}
	if len(t.Others) > 0 {
		out.Others = &t.Others
	}
	shown := near(t.Rows)
	skipped := 0
	for i, row := range t.Rows {
		if !shown[i] || len(out.Rows) >= mostRows {
			skipped++
			continue
		}
		if skipped > 0 {
			out.Rows, skipped = append(out.Rows, contract.ComparedRow{Skipped: &[]int{skipped}[0]}), 0
		}
		out.Rows = append(out.Rows, rowOf(t, row))
	}
	if skipped > 0 {
		out.Rows = append(out.Rows, contract.ComparedRow{Skipped: &skipped})
	}
	return out
}

// near says which rows are shown: the heading, those that differ, and those beside them.
func near(rows []diff.Row) []bool {
	shown := make([]bool, len(rows))
	for i, r := range rows {
		if i > 0 && r.Kind() == diff.Same && len(r.Changed) == 0 {
			continue
		}
		for k := max(0, i-beside); k <= min(len(rows)-1, i+beside); k++ {
			shown[k] = true
		}
	}
	return shown
}

func rowOf(t comparison.Table, r diff.Row) contract.ComparedRow {
	kind := kinds[r.Kind()]
	if len(r.Changed) > 0 {
		kind = "changed"
	}
	out := contract.ComparedRow{Kind: present.Some(contract.ComparedRowKind(kind))}
	if r.A >= 0 {
		n := r.A + 1
		out.Before = &n
	}
	if r.B >= 0 {
		n := r.B + 1
		out.Now = &n
	}
	cells := make([]contract.ComparedCell, len(t.Columns))
	for i, c := range t.Columns {
		cells[i] = contract.ComparedCell{Before: present.Some(diff.Cell(t.A, r.A, c.A)), Now: present.Some(diff.Cell(t.B, r.B, c.B))}
	}
	for _, n := range r.Changed {
		cells[n].Changed = present.Some(true)
	}
	out.Cells = &cells
	return out
}
