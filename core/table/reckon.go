package table

import (
	"maps"
	"slices"
	"strings"
)

// Result is what a formula comes to: a number, a text, or why there is none (an error value, as "#DIV/0!").
type Result struct {
	Number *float64 `json:"n,omitempty"`
	Text   string   `json:"t,omitempty"`
	Error  string   `json:"e,omitempty"`
}

// Shown is the result as a value in a file.
func (r Result) Shown(decimal string) string {
	switch {
	case r.Error != "":
		return r.Error
	case r.Number != nil:
		return Written(*r.Number, decimal)
	}
	return r.Text
}

// Same says that two results are the same.
func (r Result) Same(o Result) bool {
	if (r.Number == nil) != (o.Number == nil) || r.Number != nil && *r.Number != *o.Number {
		return false
	}
	return r.Text == o.Text && r.Error == o.Error
}

// Values are what formulas come to, by where they stand.
type Values map[Place]Result

// Reckoned is what the formula at a place comes to.
type Reckoned struct {
	Place
	Result
}

// Task is what has to be known so that formulas can be reckoned: cells of sheets, and which of them are asked for.
type Task struct {
	Sheets []TaskSheet `json:"sheets"`
	// Ask are the places of formulas, in the order of the answer.
	Ask []Place `json:"ask"`
}

// TaskSheet are the cells of a sheet that formulas refer to, and these themselves.
type TaskSheet struct {
	Name  string     `json:"name"`
	Cells []TaskCell `json:"cells"`
}

// TaskCell is a formula, or a value.
type TaskCell struct {
	Row    int     `json:"r"`
	Column int     `json:"c"`
	Value  Value   `json:"v"`
	Result *Result `json:"k,omitempty"`
}

// Formulas are where formulas stand.
func (b *Book) Formulas() (all []Place) {
	for i, s := range b.Sheets {
		for r, row := range s.Rows {
			for c, cell := range row {
				if cell.IsFormula() {
					all = append(all, Place{i, r, c})
				}
			}
		}
	}
	return all
}

// area is where a reference of a formula leads.
type area struct{ sheet, top, left, bottom, right int }

func (a area) has(p Place) bool {
	return p.Sheet == a.sheet && p.Row >= a.top && p.Row <= a.bottom && p.Column >= a.left && p.Column <= a.right
}

// Leads are where the references of formulas lead, by where these stand.
type Leads map[Place][]area

// Leads says where the references of formulas lead. What is known of those that have not changed is taken over; rows and columns
// that came or went change all.
func (b *Book) Leads(formulas []Place, known Leads, changed map[Place]bool) Leads {
	leads := make(Leads, len(formulas))
	for _, p := range formulas {
		at, there := known[p]
		if !there || changed[p] {
			at = b.areas(p)
		}
		leads[p] = at
	}
	return leads
}

// areas are where the references of a cell's formula lead; those to sheets that are not there lead nowhere.
func (b *Book) areas(p Place) (all []area) {
	each(b.Cell(p).Text, func(r reference) {
		sheet := p.Sheet
		if r.sheet != "" {
			sheet = slices.IndexFunc(b.Sheets, func(s Sheet) bool { return strings.EqualFold(s.Name, r.sheet) })
		}
		if sheet >= 0 {
			all = append(all, area{sheet, min(r.from.Row, r.to.Row), min(r.from.Column, r.to.Column), max(r.from.Row, r.to.Row), max(r.from.Column, r.to.Column)})
		}
	})
	return all
}

// there is what of areas is there.
func (b *Book) there(all []area) []area {
	for i, a := range all {
		s := b.Sheets[a.sheet]
		all[i].bottom, all[i].right = min(a.bottom, len(s.Rows)-1), min(a.right, s.Columns-1)
	}
	return all
}

// changedMost is after how many changed cells every formula is reckoned anew.
const changedMost = 500

// Touched are the formulas that come to something else once cells have changed: those that were written, and those that
// refer to such a cell, or to such a formula, and so on. formulas are all there are.
func Touched(changed map[Place]bool, formulas []Place, leads Leads) []Place {
	if len(changed) > changedMost {
		return formulas
	}
	touched := make([]bool, len(formulas))
	for fresh := maps.Clone(changed); len(fresh) > 0; {
		next := map[Place]bool{}
		for i, p := range formulas {
			if !touched[i] && (fresh[p] || leadsTo(leads[p], fresh)) {
				touched[i], next[p] = true, true
			}
		}
		if fresh = next; len(fresh) > changedMost {
			return formulas
		}
	}
	var all []Place
	for i, p := range formulas {
		if touched[i] {
			all = append(all, p)
		}
	}
	return all
}

func leadsTo(areas []area, places map[Place]bool) bool {
	for _, a := range areas {
		if (a.bottom-a.top+1)*(a.right-a.left+1) <= 4 {
			for r := a.top; r <= a.bottom; r++ {
				for c := a.left; c <= a.right; c++ {
					if places[Place{a.sheet, r, c}] {
						return true
					}
				}
			}
			continue
		}
		for p := range places {
			if a.has(p) {
				return true
			}
		}
	}
	return false
}

// visitsMost is how many cells are looked at to gather a task; formulas that refer to more are not reckoned.
const visitsMost = 4_000_000

// Task gathers what is needed to reckon some formulas. What other formulas came to is taken as it is known. ok is false
// where they refer to more than can be gathered.
func (b *Book) Task(ask []Place, known Values) (t Task, ok bool) {
	t.Ask = ask
	gathered, visited, left := map[Place]bool{}, map[area]bool{}, visitsMost
	for _, p := range ask {
		gathered[p] = true
	}
	t.Sheets = make([]TaskSheet, len(b.Sheets))
	for i, s := range b.Sheets {
		t.Sheets[i] = TaskSheet{Name: s.Name, Cells: []TaskCell{}}
	}
	decimal := b.Decimal()
	add := func(p Place, result *Result) {
		s := &t.Sheets[p.Sheet]
		s.Cells = append(s.Cells, TaskCell{p.Row, p.Column, ValueOf(b.Cell(p).Text, decimal), result})
	}
	// What is asked for is a formula, and so is what is not known yet.
	for queue := slices.Clone(ask); len(queue) > 0; {
		p := queue[0]
		queue = queue[1:]
		add(p, nil)
		for _, a := range b.there(b.areas(p)) {
			if visited[a] {
				continue
			}
			visited[a] = true
			rows := b.Sheets[a.sheet].Rows
			for r := max(0, a.top); r <= a.bottom; r++ {
				row := rows[r]
				if left -= 1 + min(len(row), a.right+1) - min(len(row), a.left); left < 0 {
					return t, false
				}
				for c := a.left; c <= a.right && c < len(row); c++ {
					at := Place{a.sheet, r, c}
					if row[c].Text == "" || gathered[at] {
						continue
					}
					gathered[at] = true
					if !row[c].IsFormula() {
						add(at, nil)
					} else if known, there := known[at]; there {
						add(at, &known)
					} else {
						queue = append(queue, at)
					}
				}
			}
		}
	}
	return t, true
}

// Circular are those of some formulas that refer to themselves, or to such. ok is false where they refer to more than can be
// looked at.
func (b *Book) Circular(formulas []Place) (all map[Place]bool, ok bool) {
	columns := map[[2]int][]int{}
	for _, p := range formulas {
		at := [2]int{p.Sheet, p.Column}
		columns[at] = append(columns[at], p.Row)
	}
	waits, ahead, left := map[Place]int{}, map[Place][]Place{}, visitsMost
	for _, p := range formulas {
		for _, a := range b.there(b.areas(p)) {
			for c := a.left; c <= a.right; c++ {
				rows := columns[[2]int{a.sheet, c}]
				from, _ := slices.BinarySearch(rows, a.top)
				for _, r := range rows[from:] {
					if left--; r > a.bottom || left < 0 {
						break
					}
					waits[p]++
					ahead[Place{a.sheet, r, c}] = append(ahead[Place{a.sheet, r, c}], p)
				}
			}
		}
	}
	var free []Place
	all = map[Place]bool{}
	for _, p := range formulas {
		if all[p] = true; waits[p] == 0 {
			free = append(free, p)
		}
	}
	for len(free) > 0 {
		p := free[len(free)-1]
		free = free[:len(free)-1]
		delete(all, p)
		for _, q := range ahead[p] {
			if waits[q]--; waits[q] == 0 {
				free = append(free, q)
			}
		}
	}
	return all, left >= 0
}

// Moved are values where their formulas stand after rows or columns came or went.
func (v Values) Moved(s Step) Values {
	if !s.Moves() {
		return v
	}
	moved := make(Values, len(v))
	for p, r := range v {
		if !p.goes(s) {
			moved[p.moved(s)] = r
		}
	}
	return moved
}
