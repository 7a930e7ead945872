package table

import (
	"encoding/json"
	"slices"
	"strings"
)

// The changes that can be made.
const (
	Setting  = "set"
	Rows     = "rows"
	Columns  = "columns"
	Formated = "format"
)

// Step is one change of a sheet. It fits the state it was made on, and is carried to others.
type Step struct {
	Op    string `json:"op"`
	Sheet int    `json:"sheet"`
	// Cells are what is written where, of a set.
	Cells []Entry `json:"cells,omitempty"`
	// At is before which row or column so many are added, or from which on so many are taken away.
	At   int `json:"at,omitempty"`
	Add  int `json:"add,omitempty"`
	Drop int `json:"drop,omitempty"`
	// Area is what a format is given to.
	Area   *Area  `json:"area,omitempty"`
	Format string `json:"format,omitempty"`
	// By is who made it. It is not exchanged: whoever sends steps is known.
	By string `json:"-"`
}

// Moves says that rows or columns come or go.
func (s Step) Moves() bool { return s.Op == Rows || s.Op == Columns }

// Area is a rectangle of cells.
type Area struct {
	Row     int `json:"row"`
	Column  int `json:"column"`
	Rows    int `json:"rows"`
	Columns int `json:"columns"`
}

// Entry is what is written at one place.
type Entry struct {
	Row    int    `json:"r"`
	Column int    `json:"c"`
	Text   string `json:"t"`
	// Seen is what whoever wrote saw there; nil says nothing. It is not kept.
	Seen *string `json:"s,omitempty"`
	// Was is what stood there before.
	Was   string `json:"w,omitempty"`
	Doubt *Doubt `json:"d,omitempty"`
}

// Read reads steps as somebody sends them. What only the authority says of them is refused.
func Read(raw []json.RawMessage) ([]Step, error) {
	steps, err := ReadStanding(raw)
	for _, s := range steps {
		for _, e := range s.Cells {
			if e.Doubt != nil || e.Was != "" {
				return nil, stepInvalid.New("what stood there before is not the page's to say")
			}
			if e.Seen != nil {
				if err := checkText(*e.Seen, ""); err != nil {
					return nil, err
				}
			}
		}
	}
	return steps, err
}

// ReadStanding reads steps that were taken.
func ReadStanding(raw []json.RawMessage) ([]Step, error) {
	steps := make([]Step, len(raw))
	for i, one := range raw {
		d := json.NewDecoder(strings.NewReader(string(one)))
		d.DisallowUnknownFields()
		if err := d.Decode(&steps[i]); err != nil {
			return nil, stepInvalid.New("a change is not written as one")
		}
	}
	return steps, nil
}

// Apply gives the table after a step, or says why there is none.
func (b *Book) Apply(s Step) (*Book, error) {
	if s.Sheet < 0 || s.Sheet >= len(b.Sheets) {
		return nil, stepInvalid.New("there is no such sheet")
	}
	after := &Book{Sheets: slices.Clone(b.Sheets), Manner: b.Manner, Stays: b.Stays, bytes: b.bytes}
	sheet := &after.Sheets[s.Sheet]
	var err error
	switch s.Op {
	case Setting:
		err = after.set(sheet, s)
	case Formated:
		err = after.format(sheet, s)
	case Rows, Columns:
		err = after.move(sheet, s)
	default:
		err = stepInvalid.New("there is no such change")
	}
	if err != nil {
		return nil, err
	}
	return after, after.within(after.cells())
}

// set writes cells. The sheet grows to hold them.
func (b *Book) set(sheet *Sheet, s Step) error {
	if len(s.Cells) == 0 {
		return stepInvalid.New("nothing is written")
	}
	sheet.Rows = slices.Clone(sheet.Rows)
	for _, e := range s.Cells {
		if e.Row < 0 || e.Column < 0 {
			return stepInvalid.New("a cell lies before the first one")
		}
		if e.Row >= MostRows || e.Column >= MostColumns {
			return SheetTooLarge()
		}
		if err := checkText(e.Text, ""); err != nil {
			return err
		}
		for len(sheet.Rows) <= e.Row {
			sheet.Rows = append(sheet.Rows, nil)
		}
		sheet.Columns = max(sheet.Columns, e.Column+1)
		was := sheet.At(e.Row, e.Column)
		is := Cell{e.Text, was.Format, e.Doubt}
		b.bytes += is.length() - was.length()
		sheet.Rows[e.Row] = put(sheet.Rows[e.Row], e.Column, is)
	}
	return nil
}

// format gives cells a format, as far as they are there: what grew the sheet may have gone.
func (b *Book) format(sheet *Sheet, s Step) error {
	if s.Area == nil || s.Area.Row < 0 || s.Area.Column < 0 || s.Area.Rows < 1 || s.Area.Columns < 1 {
		return stepInvalid.New("a format is given to cells that are not there")
	}
	a := *s.Area
	a.Rows, a.Columns = min(a.Rows, len(sheet.Rows)-a.Row), min(a.Columns, sheet.Columns-a.Column)
	if err := checkText("", s.Format); err != nil {
		return err
	}
	sheet.Rows = slices.Clone(sheet.Rows)
	for r := a.Row; r < a.Row+a.Rows; r++ {
		for c := a.Column; c < a.Column+a.Columns; c++ {
			cell := sheet.At(r, c)
			b.bytes += len(s.Format) - len(cell.Format)
			cell.Format = s.Format
			sheet.Rows[r] = put(sheet.Rows[r], c, cell)
		}
	}
	return nil
}

// move adds rows or columns, or takes some away, as far as they are there. Formulas everywhere follow.
func (b *Book) move(sheet *Sheet, s Step) error {
	long, most := len(sheet.Rows), MostRows
	if s.Op == Columns {
		long, most = sheet.Columns, MostColumns
	}
	switch {
	case s.At < 0 || s.Add < 0 || s.Drop < 0 || (s.Add > 0) == (s.Drop > 0) || s.At > most || s.Drop > most:
		return stepInvalid.New("rows or columns are not there")
	case s.Add > most-long:
		return SheetTooLarge()
	}
	s.At = min(s.At, long)
	s.Drop = min(s.Drop, long-s.At)
	if s.Add == 0 && s.Drop == 0 {
		return nil
	}
	if s.Op == Rows {
		b.moveRows(sheet, s)
	} else {
		b.moveColumns(sheet, s)
	}
	b.follow(s)
	return nil
}

func (b *Book) moveRows(sheet *Sheet, s Step) {
	if s.Add > 0 {
		sheet.Rows = slices.Concat(sheet.Rows[:s.At], make([][]Cell, s.Add), sheet.Rows[s.At:])
		if s.At < sheet.Head {
			sheet.Head += s.Add
		}
		return
	}
	for _, row := range sheet.Rows[s.At : s.At+s.Drop] {
		b.bytes -= lengthOf(row)
	}
	sheet.Rows = slices.Concat(sheet.Rows[:s.At], sheet.Rows[s.At+s.Drop:])
	if s.At < sheet.Head {
		sheet.Head = max(s.At, sheet.Head-s.Drop)
	}
}

func lengthOf(row []Cell) (n int) {
	for _, c := range row {
		n += c.length()
	}
	return n
}

func (b *Book) moveColumns(sheet *Sheet, s Step) {
	sheet.Columns += s.Add - s.Drop
	sheet.Rows = slices.Clone(sheet.Rows)
	for i, row := range sheet.Rows {
		switch {
		case len(row) <= s.At:
		case s.Add > 0:
			sheet.Rows[i] = slices.Concat(row[:s.At], make([]Cell, s.Add), row[s.At:])
		default:
			upto := min(len(row), s.At+s.Drop)
			b.bytes -= lengthOf(row[s.At:upto])
			sheet.Rows[i] = Trimmed(slices.Concat(row[:s.At], row[upto:]))
		}
	}
}

// follow lets formulas refer to what has moved.
func (b *Book) follow(s Step) {
	names := b.Names()
	for i := range b.Sheets {
		sheet := &b.Sheets[i]
		cloned := false
		for r, row := range sheet.Rows {
			for c, cell := range row {
				if !cell.IsFormula() {
					continue
				}
				text := Followed(cell.Text, names, i, s)
				if text == cell.Text {
					continue
				}
				if !cloned {
					sheet.Rows, cloned = slices.Clone(sheet.Rows), true
				}
				b.bytes += len(text) - len(cell.Text)
				cell.Text = text
				sheet.Rows[r] = put(sheet.Rows[r], c, cell)
			}
		}
	}
}

// Names are those of its sheets.
func (b *Book) Names() []string {
	names := make([]string, len(b.Sheets))
	for i, s := range b.Sheets {
		names[i] = s.Name
	}
	return names
}

// Noted is a step that says what stood at each place before. Where that is not what its writer saw, the place is in doubt; by
// whom it was written is asked for.
func (b *Book) Noted(s Step, whose func(Place) string) Step {
	if s.Op != Setting {
		return s
	}
	s.Cells = slices.Clone(s.Cells)
	for i, e := range s.Cells {
		at := Place{s.Sheet, e.Row, e.Column}
		is := b.Cell(at)
		if e.Doubt == nil && e.Seen != nil && *e.Seen != is.Text && is.Text != e.Text {
			if by := whose(at); by != s.By {
				s.Cells[i].Doubt = &Doubt{Was: *e.Seen, By: s.By, Others: []Said{{is.Text, by}}}
			}
		}
		s.Cells[i].Was, s.Cells[i].Seen = is.Text, nil
	}
	return s
}
