package docx

import (
	"encoding/json"
	"slices"

	"tabularis/core/diff"
	"tabularis/core/richtext"
)

// slot is where something stands in the grid of a table: a cell, or the part of one that goes on from above.
type slot struct {
	node         *richtext.Node
	column, span int
	goesOn       bool
	down         int
}

// grid are the slots of each row.
func grid(table *richtext.Node) (rows [][]slot, width int) {
	type open struct{ column, span, left int }
	var above []open
	for _, r := range table.Content.Nodes {
		var slots []slot
		column := 0
		var next []open
		goOn := func() {
			for i := 0; i < len(above); i++ {
				if o := above[i]; o.column == column {
					slots = append(slots, slot{column: column, span: o.span, goesOn: true})
					column += o.span
					if o.left > 1 {
						next = append(next, open{o.column, o.span, o.left - 1})
					}
					i = -1
				}
			}
		}
		goOn()
		for _, c := range r.Content.Nodes {
			across, _ := c.Attrs["colspan"].(float64)
			down, _ := c.Attrs["rowspan"].(float64)
			slots = append(slots, slot{node: c, column: column, span: int(across), down: int(down)})
			if down > 1 {
				next = append(next, open{column, int(across), int(down) - 1})
			}
			column += int(across)
			goOn()
		}
		rows, width, above = append(rows, slots), max(width, column), next
	}
	return rows, width
}

func rowKeys(table *richtext.Node) (keys []string) {
	for _, r := range table.Content.Nodes {
		raw, _ := json.Marshal(r)
		keys = append(keys, string(raw))
	}
	return keys
}

// table writes a table; rows that stood there are copied.
func (w *writer) table(node *richtext.Node, was *line, had *richtext.Node) {
	slots, width := grid(node)
	t := tableAt{writer: w, width: width, slots: slots}
	props := w.tableProps()
	var edits []diff.Edit
	if was != nil {
		t.was = was
		t.hadSlots, t.hadWidth = grid(had)
		if kept := was.at.kid("w:tblPr"); kept != nil {
			props = string(w.of(kept))
		}
		edits = compared(rowKeys(had), rowKeys(node), mostEdits)
	} else {
		edits = []diff.Edit{{Kind: diff.Added, B1: len(slots)}}
	}
	w.out.WriteString("<" + w.w + ":tbl>" + props + t.gridOf())
	for _, e := range gaps(edits) {
		for j := e.B0; j < e.B1; j++ {
			from := e.A0 + j - e.B0
			if from >= e.A1 {
				from = -1
			}
			t.row(from, j, e.Kind == diff.Same)
		}
	}
	w.out.WriteString("</" + w.w + ":tbl>")
}

// tableProps are those of a new table.
func (w *writer) tableProps() string {
	props := []child{w.tag("tblW", "w", "5000", "type", "pct")}
	if named := w.styles.named("table grid", false); named != "" {
		props = append([]child{w.tag("tblStyle", "val", named)}, props...)
	} else {
		var lines []child
		for _, side := range []string{"top", "left", "bottom", "right", "insideH", "insideV"} {
			lines = append(lines, w.tag(side, "val", "single", "sz", "4", "space", "0", "color", "auto"))
		}
		props = append(props, child{"w:tblBorders", w.around("tblBorders", lines)})
	}
	return w.around("tblPr", props)
}

// tableAt is a table that is being written.
type tableAt struct {
	*writer
	width, hadWidth int
	slots, hadSlots [][]slot
	was             *line
}

// pageWide is how wide a table is where nothing says it, in twentieths of a point.
const pageWide = 9000

func (t *tableAt) gridOf() string {
	if t.was != nil && t.width == t.hadWidth && t.was.at.kid("w:tblGrid") != nil {
		return string(t.of(t.was.at.kid("w:tblGrid")))
	}
	var columns []child
	for range t.width {
		columns = append(columns, t.tag("gridCol", "w", itoa(pageWide/max(1, t.width))))
	}
	return t.around("tblGrid", columns)
}

// row writes a row: that which stood there where it is the same, else each of its cells.
func (t *tableAt) row(from, to int, same bool) {
	if same && t.width == t.hadWidth && slices.EqualFunc(t.hadSlots[from], t.slots[to], func(a, b slot) bool {
		return a.column == b.column && a.span == b.span && a.goesOn == b.goesOn && a.down == b.down
	}) {
		t.out.Write(t.of(t.was.rows[from].at))
		return
	}
	var old []slot
	var cells []cell
	var props []child
	if from >= 0 {
		old, cells = t.hadSlots[from], t.was.rows[from].cells
		props = t.childrenOf(t.was.rows[from].at.kid("w:trPr"))
	}
	props = without(props, "w:tblHeader")
	slots := t.slots[to]
	if len(slots) > 0 && !slices.ContainsFunc(slots, func(s slot) bool { return s.node == nil || s.node.Type.Name != "table_header" }) {
		props = append(props, t.tag("tblHeader"))
	}
	t.out.WriteString("<" + t.w + ":tr>" + t.around("trPr", props))
	pairs := pairedCells(old, slots)
	for i, s := range slots {
		var was *cell
		var had *richtext.Node
		if k := pairs[i]; k >= 0 && k < len(cells) {
			was, had = &cells[k], old[k].node
		}
		t.cell(s, was, had)
	}
	t.out.WriteString("</" + t.w + ":tr>")
}

// pairedCells says which cell each was: by what they hold, else by where they stand.
func pairedCells(old, slots []slot) []int {
	keys := func(all []slot) (out []string) {
		for _, s := range all {
			raw, _ := json.Marshal(s.node)
			out = append(out, string(raw))
		}
		return out
	}
	pairs := make([]int, len(slots))
	for i := range pairs {
		pairs[i] = -1
		if len(old) == len(slots) {
			pairs[i] = i
		}
	}
	if len(old) == len(slots) {
		return pairs
	}
	for _, e := range compared(keys(old), keys(slots), mostEdits) {
		for k := e.A0; e.Kind == diff.Same && k < e.A1; k++ {
			pairs[e.B0+k-e.A0] = k
		}
	}
	return pairs
}

func (t *tableAt) cell(s slot, was *cell, had *richtext.Node) {
	var props []child
	if was != nil {
		props = without(t.childrenOf(was.at.kid("w:tcPr")), "w:gridSpan", "w:vMerge")
	}
	if was == nil || t.width != t.hadWidth {
		props = with(without(props, "w:tcW"), cellOrder, t.tag("tcW", "w", itoa(pageWide/max(1, t.width)*s.span), "type", "dxa"))
	}
	if s.span > 1 {
		props = with(props, cellOrder, t.tag("gridSpan", "val", itoa(s.span)))
	}
	switch {
	case s.goesOn:
		props = with(props, cellOrder, t.tag("vMerge"))
	case s.down > 1:
		props = with(props, cellOrder, t.tag("vMerge", "val", "restart"))
	}
	t.out.WriteString("<" + t.w + ":tc>" + t.around("tcPr", props))
	switch {
	case s.goesOn || s.node == nil:
		t.out.WriteString(t.tag("p").raw)
	case was == nil || was.goesOn || had == nil:
		t.lines(nil, nil, flat(s.node))
	default:
		t.lines(was.lines, flat(had), flat(s.node))
	}
	t.out.WriteString("</" + t.w + ":tc>")
}
