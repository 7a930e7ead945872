package particulars

import (
	"context"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/access"
	"tabularis/core/address"
	"tabularis/core/fault"
	"tabularis/core/items"
	"tabularis/core/names"
	"tabularis/core/particulars"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/accounts"
	"tabularis/internal/app/act"
)

// Table is what is to stand in particulars of a dossier's documents, which are named by
// their register numbers. An empty cell changes nothing; people are named by name or address.
type Table struct {
	Columns []uuid.UUID
	Rows    []TableRow
}

// TableRow is a document's.
type TableRow struct {
	Number int
	Cells  []string
}

// Outcome says what a table changes, or why it cannot be taken: then nothing of it is.
type Outcome struct {
	Documents, Values int
	Wrong             []Wrong
}

// Wrong is a row that cannot be taken, and in which column, where it is one.
type Wrong struct {
	Row        int
	Particular uuid.UUID
	Why        *fault.Error
}

// mostWrong is how many rows are named that cannot be taken.
const mostWrong = 100

// Take writes a table into the documents of a dossier, all of it or nothing; trying it writes nothing.
func (s *Service) Take(ctx context.Context, code string, t Table, try bool) (out Outcome, err error) {
	known, err := s.Known(ctx)
	if err != nil {
		return out, err
	}
	return out, s.Acts.Do(ctx, func(tx *act.Tx) error {
		r := reading{s: s, tx: tx, table: t, known: known}
		if err := r.begin(ctx, code); err != nil {
			return err
		}
		for i := range t.Rows {
			if err := r.row(ctx, i); err != nil {
				return err
			}
		}
		out = r.out
		if try || len(out.Wrong) > 0 {
			return nil
		}
		return r.write(ctx)
	})
}

func (t Table) sound() error {
	if len(t.Rows) == 0 || len(t.Rows) > particulars.MostDocuments || len(t.Columns) == 0 {
		return errRows.In("rows", "a table has between 1 and %d rows, and a column", particulars.MostDocuments)
	}
	for i, r := range t.Rows {
		if len(r.Cells) != len(t.Columns) {
			return errRows.In("rows", "row %d has %d cells for %d columns", i+1, len(r.Cells), len(t.Columns))
		}
	}
	return nil
}

// reading is a table while it is read.
type reading struct {
	s       *Service
	tx      *act.Tx
	table   Table
	known   []accounts.Person
	kind    string
	columns []particulars.Definition
	ids     map[int]uuid.UUID
	sights  []guard.Sight
	values  []cell
	out     Outcome
}

// cell is a value for a document.
type cell struct {
	written
	column   int
	document uuid.UUID
}

func (r *reading) begin(ctx context.Context, code string) error {
	d, err := r.s.Access.ByCode(ctx, r.tx, code, r.tx.Now)
	if err != nil {
		return err
	}
	if err := r.table.sound(); err != nil {
		return err
	}
	r.kind = d.Kind
	defined, err := held(ctx, r.tx)
	if err != nil {
		return err
	}
	for _, id := range r.table.Columns {
		at := slices.IndexFunc(defined, func(d particulars.Definition) bool { return d.ID == id })
		if at < 0 {
			return errNotThere.In("columns", "there is no such particular")
		}
		r.columns = append(r.columns, defined[at])
	}
	numbers := make([]int, len(r.table.Rows))
	for i, row := range r.table.Rows {
		numbers[i] = row.Number
	}
	r.ids, err = numbered(ctx, r.tx, d.ID, numbers)
	return err
}

// row reads one row; what cannot be taken of it is noted.
func (r *reading) row(ctx context.Context, i int) error {
	row := r.table.Rows[i]
	id, there := r.ids[row.Number]
	if !there {
		r.wrong(i, uuid.Nil, fault.Missing())
		return nil
	}
	if slices.ContainsFunc(r.sights, func(s guard.Sight) bool { return s.ID == id }) {
		r.wrong(i, uuid.Nil, errTwice.New("document %d stands in the table twice", row.Number))
		return nil
	}
	sight, err := r.s.Access.Kind(ctx, r.tx, id, items.Document, access.See|access.Change, r.tx.Now)
	if err != nil {
		why := fault.Of(err)
		if why.Kind == fault.Internal {
			return err
		}
		r.wrong(i, uuid.Nil, why)
		return nil
	}
	r.sights = append(r.sights, sight)
	before := len(r.values)
	for at, text := range row.Cells {
		if text == "" {
			continue
		}
		if err := r.cell(at, text, id); err != nil {
			r.wrong(i, r.columns[at].ID, fault.Of(err))
		}
	}
	if len(r.values) > before {
		r.out.Documents++
		r.out.Values = len(r.values)
	}
	return nil
}

func (r *reading) wrong(row int, particular uuid.UUID, why *fault.Error) {
	if len(r.out.Wrong) < mostWrong {
		r.out.Wrong = append(r.out.Wrong, Wrong{row, particular, why})
	}
}

func (r *reading) cell(at int, text string, document uuid.UUID) error {
	d := r.columns[at]
	if !d.Applies(r.kind) {
		return errNotThere.In(d.Name, "%s does not stand in this dossier", d.Name)
	}
	if d.Kind == particulars.Person {
		text = r.personNamed(text)
	}
	w, err := meant(d, text, r.known)
	if err == nil {
		r.values = append(r.values, cell{w, at, document})
	}
	return err
}

// personNamed is the id of whoever alone is called so, or has the address; what names nobody stays as it is.
func (r *reading) personNamed(text string) string {
	text = strings.Join(strings.Fields(text), " ")
	found := ""
	for _, p := range r.known {
		if p.Inside() && (names.Key(p.Name) == names.Key(text) || p.EmailKey == address.Key(text)) {
			if found != "" {
				return text
			}
			found = p.ID.String()
		}
	}
	if found == "" {
		return text
	}
	return found
}

// write puts the values where they belong, equal ones together.
func (r *reading) write(ctx context.Context) error {
	said := map[uuid.UUID][]string{}
	type same struct {
		column int
		text   string
	}
	together, order := map[same][]uuid.UUID{}, []cell{}
	for _, v := range r.values {
		key := same{v.column, v.Text}
		if len(together[key]) == 0 {
			order = append(order, v)
		}
		together[key] = append(together[key], v.document)
	}
	for _, v := range order {
		d := r.columns[v.column]
		changed, err := put(ctx, r.tx, d.ID, together[same{v.column, v.Text}], v.Value, v.person, r.tx.Actor.Person.ID, r.tx.Now)
		if err != nil {
			return err
		}
		note(said, changed, d.Name+": "+v.words)
	}
	return tell(ctx, r.tx, r.sights, said)
}
