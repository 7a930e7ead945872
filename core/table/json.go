package table

import (
	"bytes"
	"encoding/json"
)

// A cell that is nothing but text is written as that; others as objects.
type cellJSON struct {
	Text   string `json:"t,omitempty"`
	Format string `json:"f,omitempty"`
	Doubt  *Doubt `json:"d,omitempty"`
}

// MarshalJSON writes the cell.
func (c Cell) MarshalJSON() ([]byte, error) {
	if c.Format == "" && c.Doubt == nil {
		return json.Marshal(c.Text)
	}
	return json.Marshal(cellJSON(c))
}

// UnmarshalJSON reads the cell.
func (c *Cell) UnmarshalJSON(raw []byte) error {
	if len(raw) > 0 && raw[0] == '"' {
		*c = Cell{}
		return json.Unmarshal(raw, &c.Text)
	}
	var j cellJSON
	err := json.Unmarshal(raw, &j)
	*c = Cell(j)
	return err
}

type sheetJSON struct {
	Name    string   `json:"name"`
	Head    int      `json:"head"`
	Columns int      `json:"columns"`
	Rows    [][]Cell `json:"rows"`
}

type bookJSON struct {
	Sheets []sheetJSON `json:"sheets"`
	Manner *Manner     `json:"manner,omitempty"`
	Stays  []string    `json:"stays,omitempty"`
}

// MarshalJSON writes the table.
func (b *Book) MarshalJSON() ([]byte, error) {
	j := bookJSON{Stays: b.Stays}
	if b.Manner != (Manner{}) {
		j.Manner = &b.Manner
	}
	for _, s := range b.Sheets {
		rows := make([][]Cell, len(s.Rows))
		for i, row := range s.Rows {
			if rows[i] = row; row == nil {
				rows[i] = []Cell{}
			}
		}
		j.Sheets = append(j.Sheets, sheetJSON{s.Name, s.Head, s.Columns, rows})
	}
	return json.Marshal(j)
}

// ReadBook reads a table as it was written by MarshalJSON, and checks it.
func ReadBook(raw []byte) (*Book, error) {
	var j bookJSON
	d := json.NewDecoder(bytes.NewReader(raw))
	d.DisallowUnknownFields()
	if err := d.Decode(&j); err != nil {
		return nil, stepInvalid.New("this is not a table")
	}
	b := &Book{Stays: j.Stays}
	if j.Manner != nil {
		b.Manner = *j.Manner
	}
	for _, s := range j.Sheets {
		b.Sheets = append(b.Sheets, Sheet(s))
	}
	return b, b.Check()
}
