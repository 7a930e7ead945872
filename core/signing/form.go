package signing

import (
	"cmp"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/google/uuid"

	"tabularis/core/address"
	"tabularis/core/templates"
)

// Form is a paper that is signed again and again: its parties by what they are, and its places. Parties who are named already
// are the same each time.
type Form struct {
	Plan Plan `json:"plan"`
	// Days is how long a request of it lasts, 0 as usual.
	Days    int    `json:"days"`
	Message string `json:"message"`
	// Told says that a password is told separately each time.
	Told bool `json:"told"`
	// FileIn is where signed papers of it are moved.
	FileIn *uuid.UUID `json:"fileIn,omitempty"`
}

// Limits of forms, and of sending one to many.
const (
	MostName        = 120
	MostDescription = 1000
	MostRows        = 1000
)

// Further flaws, of forms and of sending them.
const (
	NoRows      Flaw = "no-rows"
	ManyRows    Flaw = "many-rows"
	Unfilled    Flaw = "unfilled"
	NoSuchDays  Flaw = "no-such-days"
	WrongFilled Flaw = "wrong-filled"
	// NotReached is an address to which the practice lets nothing out.
	NotReached Flaw = "not-reached"
)

// Check finds what is wrong with a form for a paper of so many pages.
func (f Form) Check(pages int) []Problem {
	all := Check(f.Plan, pages, false)
	if f.Days < 0 || f.Days > 366 {
		all = append(all, Problem{At: "days", Flaw: NoSuchDays})
	}
	if long(f.Message, 4000) {
		all = append(all, Problem{At: "message", Flaw: LongWords})
	}
	return all
}

// Fixed says that a party is the same each time.
func (p Party) Fixed() bool { return p.Person != nil || p.Email != "" }

// Asked are the parties who are named each time.
func (f Form) Asked() (all []int) {
	for i, p := range f.Plan.Parties {
		if !p.Fixed() {
			all = append(all, i)
		}
	}
	return all
}

// ofParty are the words of blanks that a party fills, as "name B".
func ofParty(i int) (name, email []string) {
	letter := strings.ToLower(Letter(i))
	return []string{"name " + letter}, []string{"address " + letter, "adresse " + letter, "e-mail " + letter, "email " + letter}
}

// Blanks are the blanks of a form: those of its paper, of its message, and those in what is filled in beforehand. What parties fill is not among them.
func (f Form) Blanks(paper []templates.Blank) (all []templates.Blank) {
	take := func(more []templates.Blank) {
		for _, b := range more {
			if key := templates.Key(b.Word); !f.byParty(key) && !slices.ContainsFunc(all, func(o templates.Blank) bool { return templates.Key(o.Word) == key }) {
				all = append(all, b)
			}
		}
	}
	take(paper)
	take(templates.Blanks(f.Message))
	for _, p := range f.Plan.Places {
		if p.Kind == Fixed {
			take(templates.Blanks(p.Value))
		}
	}
	return all
}

func (f Form) byParty(key string) bool {
	for i := range f.Plan.Parties {
		name, email := ofParty(i)
		if slices.Contains(name, key) || slices.Contains(email, key) {
			return true
		}
	}
	return false
}

// Row is one sending of a form: who the parties are who are named each time, in their order, and what stands in blanks.
type Row struct {
	People []Party          `json:"people"`
	Values templates.Values `json:"values"`
}

// At is a plan of a form for somebody: its parties named and its blanks filled; and what stands in all blanks.
func (f Form) At(r Row) (p Plan, values templates.Values) {
	p = f.Plan
	p.Parties, p.Places, p.Copies = slices.Clone(p.Parties), slices.Clone(p.Places), slices.Clone(p.Copies)
	for n, i := range f.Asked() {
		if n < len(r.People) {
			at, who := &p.Parties[i], r.People[n]
			at.Person, at.Name, at.Email = who.Person, strings.TrimSpace(who.Name), strings.TrimSpace(who.Email)
		}
	}
	values = templates.Values{}
	for word, v := range r.Values {
		values[templates.Key(word)] = v
	}
	for i, party := range p.Parties {
		name, email := ofParty(i)
		for _, key := range name {
			values[key] = cmp.Or(party.Name, party.Role)
		}
		for _, key := range email {
			values[key] = party.Email
		}
	}
	for i := range p.Places {
		if at := &p.Places[i]; at.Kind == Fixed {
			at.Value = values.Fill(at.Value, func(s string) string { return s })
		}
	}
	return p, values
}

// Rows finds what is missing or wrong in what a form is sent with; At of a problem begins with the row: "3/people/0", "3/values/port".
func (f Form) Rows(rows []Row, blanks []templates.Blank) (all []Problem) {
	switch {
	case len(rows) == 0:
		return []Problem{{At: "rows", Flaw: NoRows}}
	case len(rows) > MostRows:
		return []Problem{{At: "rows", Flaw: ManyRows}}
	}
	asked, seen := f.Asked(), map[string]int{}
	for n, r := range rows {
		c := &checker{p: f.Plan}
		known := map[string]int{}
		for i, party := range f.Plan.Parties {
			if party.Fixed() {
				known[keyOf(party)] = i
			}
		}
		for k, i := range asked {
			var who Party
			if k < len(r.People) {
				who = r.People[k]
			}
			c.names(fmt.Sprintf("%d/people/%d", n, k), i, who, known)
			if who.unsaid() {
				c.say(fmt.Sprintf("%d/people/%d", n, k), LongWords, 0)
			}
		}
		if len(r.People) > len(asked) {
			c.say(fmt.Sprintf("%d/people/%d", n, len(asked)), ManyParties, 0)
		}
		c.values(n, r, blanks)
		if key := f.rowKey(r); key != "" {
			if other, twice := seen[key]; twice {
				c.say(fmt.Sprintf("%d/people/0", n), SameAddress, other)
			}
			seen[key] = n
		}
		all = append(all, c.all...)
	}
	return all
}

func (c *checker) values(n int, r Row, blanks []templates.Blank) {
	_, values := Form{Plan: c.p}.At(r)
	for _, key := range slices.Sorted(maps.Keys(values)) {
		// What is filled in must not mark a place itself.
		if strings.Contains(values[key], "[[") {
			c.say(fmt.Sprintf("%d/values/%s", n, key), WrongFilled, 0)
		}
	}
	for _, b := range blanks {
		key := templates.Key(b.Word)
		at := fmt.Sprintf("%d/values/%s", n, key)
		switch err := (templates.Values{key: values[key]}).Check(nil); {
		case err != nil:
			c.say(at, WrongFilled, 0)
		case strings.TrimSpace(values[key]) == "":
			c.say(at, Unfilled, 0)
		}
	}
}

// rowKey is by what two rows are for the same people with the same words.
func (f Form) rowKey(r Row) string {
	if len(r.People) == 0 {
		return ""
	}
	var parts []string
	for _, who := range r.People {
		parts = append(parts, keyOf(who))
	}
	if slices.Contains(parts, "") {
		return ""
	}
	for _, key := range slices.Sorted(maps.Keys(r.Values)) {
		parts = append(parts, templates.Key(key), r.Values[key])
	}
	return strings.Join(parts, "\x00")
}

func keyOf(p Party) string {
	if p.Person != nil {
		return p.Person.String()
	}
	return address.Key(p.Email)
}

// With is a form with places that its paper marks itself.
func (f Form) With(marked []Place) Form {
	f.Plan = f.Plan.with(marked)
	return f
}

func (p Plan) with(more []Place) Plan {
	next := 0
	for _, at := range p.Places {
		next = max(next, at.ID)
	}
	p.Places = slices.Clone(p.Places)
	for _, at := range more {
		next++
		at.ID = next
		p.Places = append(p.Places, at)
	}
	return p
}
