package demo

import (
	"context"
	"encoding/json"
	"fmt"

	"tabularis/core/table"
)

// gauged is one point of the side shell: where it is, how thick it was and is, who measured it when, and what was noted.
type gauged struct {
	frame   int
	strake  string
	was, is string
	day     int
	note    string
}

var gaugings = []gauged{
	{12, "D", "10.0", "8.9", 9, ""}, {15, "D", "10.0", "8.7", 9, ""}, {18, "D", "10.0", "8.4", 9, ""}, {21, "D", "10.0", "8.1", 9, ""},
	{24, "D", "10.0", "7.6", 10, ""}, {27, "D", "10.0", "7.7", 10, ""}, {29, "C", "10.0", "7.4", 10, "indent 14 mm"}, {30, "D", "10.0", "7.3", 20, ""},
	{31, "D", "10.0", "6.9", 20, "under the doubler"}, {32, "D", "10.0", "7.3", 20, ""}, {33, "D", "10.0", "8.2", 10, "indent 22 mm"},
	{35, "D", "10.0", "7.9", 10, ""}, {36, "D", "10.0", "8.0", 10, ""}, {38, "D", "10.0", "8.1", 10, ""}, {40, "D", "9.5", "8.3", 10, ""}, {42, "D", "9.5", "8.0", 10, ""}, {44, "D", "9.5", "8.0", 10, ""},
}

// gaugingCells are the table of the gaugings, with what is worked out from them.
func gaugingCells() (cells []table.Entry) {
	add := func(row int, texts ...string) {
		for c, text := range texts {
			if text != "" {
				cells = append(cells, table.Entry{Row: row, Column: c, Text: text})
			}
		}
	}
	add(0, "Frame", "Strake", "Original, mm", "Measured, mm", "Diminution", "Allowed", "Finding", "Gauged", "Note")
	for i, g := range gaugings {
		n := i + 2
		add(i+1, fmt.Sprint(g.frame), g.strake, g.was, g.is, fmt.Sprintf("=(C%d-D%d)/C%d", n, n, n), "25%",
			fmt.Sprintf(`=IF(E%d>F%d,"renew",IF(E%d>0.2,"watch",""))`, n, n, n), fmt.Sprintf("2026-11-%02d", g.day), g.note)
	}
	return cells
}

// gauge lets a table of readings be written by two, who write in one cell at the same moment.
func (l *loader) gauge() {
	l.plan(when(l.now, 1, "16:20"), func(ctx context.Context) error {
		asInes := l.as(ctx, "ines")
		made, err := l.Writing.Make(asInes, l.item("MER-24", "Reports"), "Gaugings, side shell port.xlsx", "table")
		if err != nil {
			return fmt.Errorf("beginning a table: %w", err)
		}
		l.documents["MER-24 "+made.Name] = made.ID
		ines, o, err := l.Writing.Join(asInes, made.ID, "the surveyor's desk", 0, 0)
		if err != nil {
			return fmt.Errorf("opening a table: %w", err)
		}
		defer ines.Leave()
		asLuca := l.as(ctx, "luca")
		luca, _, err := l.Writing.Join(asLuca, made.ID, "the boat alongside", 0, 0)
		if err != nil {
			return fmt.Errorf("opening a table: %w", err)
		}
		defer luca.Leave()
		shown := func(column int, code string) table.Step {
			return table.Step{Op: table.Formated, Area: &table.Area{Row: 1, Column: column, Rows: len(gaugings), Columns: 1}, Format: code}
		}
		one := func(row int, text string) table.Step {
			return table.Step{Op: table.Setting, Cells: []table.Entry{{Row: row, Column: 3, Text: text}}}
		}
		taken, err := ines.Send(asInes, o.Version, changes(table.Step{Op: table.Setting, Cells: gaugingCells()}, shown(2, "0.0"), shown(3, "0.0"), shown(4, "0.0%")))
		if err != nil {
			return fmt.Errorf("writing a table: %w", err)
		}
		// Both are at frame 33, and neither has seen the other's.
		if _, err := ines.Send(asInes, taken.Version, changes(one(8, "7.2"), one(11, "7.8"))); err != nil {
			return err
		}
		_, err = luca.Send(asLuca, taken.Version, changes(one(15, "8.1"), one(11, "7.9")))
		return err
	})
}

// changes are steps as a page sends them.
func changes(steps ...table.Step) (all []json.RawMessage) {
	for _, s := range steps {
		raw, err := json.Marshal(s)
		if err != nil {
			panic(err)
		}
		all = append(all, raw)
	}
	return all
}
