package docx

import (
	"slices"

	"tabularis/core/richtext"
)

// row is a row of a table, cell one of its cells.
type row struct {
	at     *element
	header bool
	cells  []cell
}

type cell struct {
	at *element
	// column is where in the grid it begins, span over how many columns it goes; goesOn says that it belongs to the one above.
	column, span int
	goesOn       bool
	lines        []line
}

// table reads a table. One that holds more than paragraphs in rows and columns is kept as it is.
func (f *file) table(t *element) line {
	l := line{from: t.from, to: t.to, at: t, kind: "table"}
	for _, k := range t.kids {
		switch k.name {
		case "w:tblPr", "w:tblGrid":
		case "w:tr":
			r, plain := f.row(k)
			if !plain {
				return f.kept(t.from, t.to, "table", t)
			}
			l.rows = append(l.rows, r)
		default:
			return f.kept(t.from, t.to, "table", t)
		}
	}
	if len(l.rows) == 0 || !l.even() {
		return f.kept(t.from, t.to, "table", t)
	}
	var rows []object
	for y := range l.rows {
		rows = append(rows, object{"type": "table_row", "content": l.cellsOf(y)})
	}
	l.node = object{"type": "table", "content": rows}
	return l
}

func (f *file) row(tr *element) (r row, plain bool) {
	props := tr.kid("w:trPr")
	for _, odd := range []string{"w:ins", "w:del", "w:gridBefore", "w:gridAfter"} {
		if props.kid(odd) != nil {
			return r, false
		}
	}
	r = row{at: tr, header: props.toggled("w:tblHeader")}
	column := 0
	for _, k := range tr.kids {
		switch k.name {
		case "w:trPr", "w:tblPrEx":
		case "w:tc":
			c, plain := f.cell(k)
			if !plain {
				return r, false
			}
			c.column = column
			column += c.span
			r.cells = append(r.cells, c)
		default:
			return r, false
		}
	}
	return r, column > 0 && column <= richtext.MaxColumns
}

func (f *file) cell(tc *element) (c cell, plain bool) {
	props := tc.kid("w:tcPr")
	c = cell{at: tc, span: max(1, props.number("w:gridSpan", 1))}
	if merge, there := props.value("w:vMerge"); there {
		c.goesOn = merge != "restart"
	}
	if props.kid("w:hMerge") != nil {
		return c, false
	}
	last := &proposed{}
	for _, k := range tc.kids {
		switch {
		case k.name == "w:tcPr":
		case k.name == "w:p" && k.opens() == 0:
			l := f.paragraph(k, counters{}, last)
			l.kind, l.list, l.num, l.depth, l.level = "paragraph", "", "", 0, 0
			l.node["type"] = "paragraph"
			delete(l.node, "attrs")
			if len(c.lines) > 0 {
				l.begin(c.lines[len(c.lines)-1])
			}
			c.lines = append(c.lines, l)
		default:
			return c, false
		}
	}
	return c, len(c.lines) > 0
}

// even says that all rows have as many columns, and that what goes on downwards is as wide as what it belongs to.
func (l line) even() bool {
	width := func(r row) int { return r.cells[len(r.cells)-1].column + r.cells[len(r.cells)-1].span }
	for y, r := range l.rows {
		if width(r) != width(l.rows[0]) {
			return false
		}
		for _, c := range r.cells {
			if !c.goesOn {
				continue
			}
			if y == 0 || !slices.ContainsFunc(l.rows[y-1].cells, func(above cell) bool { return above.column == c.column && above.span == c.span }) {
				return false
			}
		}
	}
	return true
}

// cellsOf are the nodes of a row's cells; those that go on are part of the ones above.
func (l line) cellsOf(y int) []object {
	cells := []object{}
	for _, c := range l.rows[y].cells {
		if c.goesOn {
			continue
		}
		down := 1
		for y+down < len(l.rows) && slices.ContainsFunc(l.rows[y+down].cells, func(below cell) bool { return below.column == c.column && below.goesOn }) {
			down++
		}
		kind := "table_cell"
		if l.rows[y].header {
			kind = "table_header"
		}
		cells = append(cells, object{"type": kind, "attrs": object{"colspan": c.span, "rowspan": down}, "content": grouped(c.lines)})
	}
	return cells
}
