package signing

import (
	"slices"
	"strings"

	"tabularis/core/templates"
)

// column is what a column of a table fills: a name or an address of one of the asked parties, or a blank.
type column struct {
	person int
	email  bool
	word   string
}

// FromTable reads rows from a table whose first line says what its columns are: names and addresses of the parties who are
// asked for, and the words of blanks. Unknown are headings that mean nothing here; empty lines are left out.
func (f Form) FromTable(table [][]string, blanks []templates.Blank) (rows []Row, unknown []string) {
	if len(table) == 0 {
		return nil, nil
	}
	columns := make([]*column, len(table[0]))
	for i, heading := range table[0] {
		c, known := f.column(heading, blanks)
		switch {
		case known && !slices.ContainsFunc(columns[:i], func(o *column) bool { return o != nil && *o == c }):
			columns[i] = &c
		case strings.TrimSpace(heading) != "":
			unknown = append(unknown, strings.TrimSpace(heading))
		}
	}
	for _, line := range table[1:] {
		if r, any := f.row(line, columns); any {
			rows = append(rows, r)
		}
	}
	return rows, unknown
}

func (f Form) row(line []string, columns []*column) (r Row, any bool) {
	r = Row{People: make([]Party, len(f.Asked())), Values: templates.Values{}}
	for i, c := range columns {
		if c == nil || i >= len(line) {
			continue
		}
		text := strings.TrimSpace(line[i])
		any = any || text != ""
		switch {
		case c.word != "":
			r.Values[c.word] = text
		case c.email:
			r.People[c.person].Email = text
		default:
			r.People[c.person].Name = text
		}
	}
	return r, any
}

// Headings for the only party who is asked for.
var (
	soleName  = []string{"name", "contact", "kontakt"}
	soleEmail = []string{"e-mail", "email", "mail", "address", "adresse"}
)

// column is what a heading means.
func (f Form) column(heading string, blanks []templates.Blank) (c column, known bool) {
	// A table that was saved as text may begin with a mark of its order of bytes (Unicode 15, 23.8).
	key := templates.Key(strings.Trim(strings.TrimPrefix(heading, "\ufeff"), " []"))
	for _, b := range blanks {
		if templates.Key(b.Word) == key {
			return column{word: key}, true
		}
	}
	asked := f.Asked()
	for n, i := range asked {
		name, email := ofParty(i)
		role := templates.Key(f.Plan.Parties[i].Role)
		if len(asked) == 1 {
			name, email = append(name, soleName...), append(email, soleEmail...)
		}
		switch {
		case slices.Contains(name, key), role != "" && role == key:
			return column{person: n}, true
		case slices.Contains(email, key):
			return column{person: n, email: true}, true
		}
	}
	return c, false
}
