package route

import (
	"math/big"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"

	"tabularis/core/names"
	"tabularis/core/particulars"
)

// cell is a part of what a subject can be, throughout which all tests that are made of it say the same.
type cell struct {
	// value is one that lies in it, set says that there is one.
	value string
	set   bool
	// from and below are its bounds, where it is a span of an order.
	from, below string
	// holds are the texts that are contained in it, beside its value.
	holds []string
}

func (c cell) answers(t Test) bool {
	if t.Is == Contains && c.set && c.value == other {
		return slices.Contains(c.holds, names.Key(t.Value))
	}
	return t.compare(c.value, c.set)
}

// other is a value that is none of those which are named.
const other = "\x00other"

// subject is what tests are about, as a key.
func (t Test) subject() string {
	switch {
	case t.Particular != nil:
		return string(t.Of) + t.Particular.String()
	case t.Tag != nil:
		return string(t.Of) + t.Tag.String()
	case t.Of == OfAuthor:
		// Somebody can be in several groups: each is a question of its own.
		return string(t.Of) + t.Value
	}
	return string(t.Of)
}

// domain is what a subject can be, as far as tests tell it apart.
type domain struct {
	subject string
	cells   []cell
}

// domains lists the subjects of tests with their cells; false where they are too many to be looked
// through one by one.
func (c *checker) domains(tests []Test) ([]domain, bool) {
	by, order := map[string][]Test{}, []string(nil)
	for _, t := range tests {
		key := t.subject()
		if by[key] == nil {
			order = append(order, key)
		}
		by[key] = append(by[key], t)
	}
	var all []domain
	n := 1
	for _, key := range order {
		d := domain{key, c.cells(by[key])}
		all = append(all, d)
		if n *= len(d.cells); n > mostCombinations {
			return nil, false
		}
	}
	return all, true
}

func (c *checker) cells(tests []Test) (all []cell) {
	d, _ := c.particular(tests[0].Particular)
	if tests[0].Of == OfParticular {
		all = append(all, cell{})
	}
	switch {
	case tests[0].Of == OfTag:
		return []cell{{}, {set: true}}
	case tests[0].Of == OfSize || d.Kind == particulars.Number || d.Kind == particulars.Money || d.Kind == particulars.Date:
		return append(all, spans(tests, tests[0].Of == OfSize, d.Kind == particulars.Date)...)
	}
	return append(all, named(tests, d)...)
}

// named are the values that tests name, each a cell, and all others together.
func named(tests []Test, d particulars.Definition) (all []cell) {
	keys := map[string]bool{}
	add := func(value string) {
		if !keys[names.Key(value)] {
			keys[names.Key(value)] = true
			all = append(all, cell{value: value, set: true})
		}
	}
	var held []string
	for _, t := range tests {
		switch t.Is {
		case Is, IsNot:
			add(t.Value)
		case Contains:
			if key := names.Key(t.Value); !has(held, key) {
				held = append(held, key)
			}
		}
	}
	switch {
	case tests[0].Of == OfDossier:
		for _, kind := range []string{"client", "internal", "desk"} {
			add(kind)
		}
		return all
	case tests[0].Of == OfReach:
		for _, reach := range []string{"closed", "named", "open"} {
			add(reach)
		}
		return all
	case d.Kind == particulars.Choice:
		for _, choice := range d.Choices {
			add(choice)
		}
		return all
	}
	held = held[:min(len(held), 10)]
	for set := range 1 << len(held) {
		one := cell{value: other, set: true}
		for i, text := range held {
			if set&(1<<i) != 0 {
				one.holds = append(one.holds, text)
			}
		}
		if closed(one.holds, held) {
			all = append(all, one)
		}
	}
	return all
}

// closed reports whether what is contained contains nothing that is said not to be.
func closed(in, all []string) bool {
	for _, text := range all {
		if !has(in, text) && slices.ContainsFunc(in, func(longer string) bool { return strings.Contains(longer, text) }) {
			return false
		}
	}
	return true
}

// spans are the values that tests name, and the spans between them.
func spans(tests []Test, whole, days bool) (all []cell) {
	var values []string
	for _, t := range tests {
		if t.Is != IsSet && t.Is != NotSet && !slices.ContainsFunc(values, func(v string) bool { return order(v, t.Value) == 0 }) {
			values = append(values, t.Value)
		}
	}
	slices.SortFunc(values, order)
	if len(values) == 0 {
		return []cell{{value: "0", set: true}}
	}
	add := func(from, below string, value string, ok bool) {
		if ok {
			all = append(all, cell{value: value, set: true, from: from, below: below})
		}
	}
	for i, v := range values {
		if i == 0 {
			low, ok := between("", v, whole, days)
			add("", v, low, ok)
		}
		add(v, "", v, true)
		next := ""
		if i+1 < len(values) {
			next = values[i+1]
		}
		mid, ok := between(v, next, whole, days)
		add(v, next, mid, ok)
	}
	return all
}

// between is a value between two, of which one may be open; false where there is none.
func between(from, below string, whole, days bool) (string, bool) {
	if days {
		return dayBetween(from, below)
	}
	lo, hasLo := rational(from)
	hi, hasHi := rational(below)
	switch {
	case !hasLo && whole && hi.Sign() <= 0:
		return "", false
	case !hasLo:
		return new(big.Rat).Sub(hi, big.NewRat(1, 1)).FloatString(6), true
	case !hasHi:
		return new(big.Rat).Add(lo, big.NewRat(1, 1)).FloatString(6), true
	}
	mid := new(big.Rat).Mul(new(big.Rat).Add(lo, hi), big.NewRat(1, 2))
	if whole && new(big.Rat).Sub(hi, lo).Cmp(big.NewRat(1, 1)) <= 0 {
		return "", false
	}
	return mid.FloatString(8), true
}

func dayBetween(from, below string) (string, bool) {
	if from == "" {
		hi, err := time.Parse(time.DateOnly, below)
		return hi.AddDate(0, 0, -1).Format(time.DateOnly), err == nil
	}
	lo, err := time.Parse(time.DateOnly, from)
	next := lo.AddDate(0, 0, 1).Format(time.DateOnly)
	return next, err == nil && (below == "" || next < below)
}

// each calls fn with every combination of cells, until it returns false.
func each(all []domain, fn func(pick []int) bool) {
	pick := make([]int, len(all))
	for {
		if !fn(pick) {
			return
		}
		i := len(pick) - 1
		for ; i >= 0; i-- {
			if pick[i]++; pick[i] < len(all[i].cells) {
				break
			}
			pick[i] = 0
		}
		if i < 0 {
			return
		}
	}
}

// answer says how a test is answered in a combination of cells.
func answer(all []domain, pick []int) func(t Test) bool {
	return func(t Test) bool {
		key := t.subject()
		for i, d := range all {
			if d.subject == key {
				return d.cells[pick[i]].answers(t)
			}
		}
		return false
	}
}

func gather(conditions ...*Condition) (all []Test) {
	for _, c := range conditions {
		c.tests("", func(_ string, t *Test) { all = append(all, *t) })
	}
	return all
}

// never says where a condition holds for no document at all.
func (c *checker) never(at string, cond *Condition) {
	all, ok := c.domains(gather(cond))
	if !ok {
		c.say(at, TooComplex)
		return
	}
	holds := false
	each(all, func(pick []int) bool {
		holds = cond.holds(answer(all, pick))
		return !holds
	})
	if !holds {
		c.say(at, NeverHolds)
	}
}

// cases says where two cases of a stop hold for the same document, where one never does, and for which
// documents none does.
func (c *checker) cases(at string, s Stop) {
	conditions := []*Condition{c.d.If, s.Only}
	for i := range s.Cases {
		conditions = append(conditions, s.Cases[i].When)
	}
	all, ok := c.domains(gather(conditions...))
	if !ok {
		c.say(at, TooComplex)
		return
	}
	reached, overlaps := make([]bool, len(s.Cases)), make([]bool, len(s.Cases))
	var gap []int
	each(all, func(pick []int) bool {
		test := answer(all, pick)
		if c.d.If != nil && !c.d.If.holds(test) || s.Only != nil && !s.Only.holds(test) {
			return true
		}
		hit := -1
		for j, one := range s.Cases {
			if one.When != nil && !one.When.holds(test) || one.When == nil && hit >= 0 {
				continue
			}
			if hit >= 0 {
				overlaps[j] = true
				continue
			}
			hit, reached[j] = j, true
		}
		if hit < 0 && gap == nil {
			gap = slices.Clone(pick)
		}
		return true
	})
	for j := range s.Cases {
		switch path := step(at, "cases", j) + "/when"; {
		case !reached[j]:
			c.say(path, NeverHolds)
		case overlaps[j]:
			c.say(path, Overlaps)
		}
	}
	if gap != nil {
		c.gap(at, s, all, gap)
	}
	for j, one := range s.Cases {
		if one.Do == Hold && (len(s.Cases) == 1 || one.When == nil && len(all) == 0) {
			c.say(step(at, "cases", j)+"/do", NothingAsked)
		}
	}
}

// gap says for which documents no case of a stop holds: of an order from where to where, and which word
// would close it.
func (c *checker) gap(at string, s Stop, all []domain, pick []int) {
	p := Problem{At: at + "/cases", Code: Gap}
	if len(all) == 1 && all[0].cells[pick[0]].set {
		cells := all[0].cells
		first, last := pick[0], pick[0]
		open := func(i int) bool {
			test := answer(all, []int{i})
			return !slices.ContainsFunc(s.Cases, func(one Case) bool { return one.When.holds(test) })
		}
		for last+1 < len(cells) && open(last+1) {
			last++
		}
		p.From, p.To = cells[first].from, cells[last].below
		if cells[last].below == "" && last+1 < len(cells) {
			p.To = cells[last].from
		}
		c.close(&p, at, s)
	} else if len(all) == 1 {
		p.From = "not-set"
	}
	c.problems = append(c.problems, p)
}

// close finds the word below a gap that would close it if it went up to the gap's end.
func (c *checker) close(p *Problem, at string, s Stop) {
	if p.From == "" || p.To == "" {
		return
	}
	for j, one := range s.Cases {
		if t := one.When; t != nil && t.Test != nil && t.Test.Is == Under && order(t.Test.Value, p.From) == 0 {
			p.At, p.Fix = step(at, "cases", j)+"/when/test/value", p.To
		}
	}
}

// loops says where a route would start itself again without a person having been asked before.
func (c *checker) loops() {
	for i, s := range c.d.Stops {
		for j, one := range s.Cases {
			if c.startsItself(one.Action) {
				c.say(step(step("", "stops", i), "cases", j)+"/do", Loops)
			} else if one.Do == StartRoute && c.returnsTo(*one.Route, map[uuid.UUID]bool{}) && !c.askedBefore(i) {
				c.say(step(step("", "stops", i), "cases", j)+"/route", Loops)
			}
		}
	}
}

func (c *checker) askedBefore(stop int) bool {
	return slices.ContainsFunc(c.d.Stops[:stop], Stop.asksSomebody)
}

func (s Stop) asksSomebody() bool {
	return s.Only == nil && !slices.ContainsFunc(s.Cases, func(one Case) bool { return !one.AsksPeople() })
}

// startsItself reports whether what is done by itself is what starts the route.
func (c *checker) startsItself(a Action) bool {
	return slices.ContainsFunc(c.d.Starts, func(s Start) bool {
		switch a.Do {
		case Move, Copy:
			on := s.On == MovedIn && a.Do == Move || s.On == Arrives
			return on && s.Folder != nil && slices.Contains(c.k.Folders[*a.Folder].Above, *s.Folder)
		case SetParticular:
			return s.On == Set && *s.Particular == *a.Particular && (s.Crosses == nil || s.Crosses.compare(a.Value, a.Value != ""))
		case PutTag:
			return s.On == Tagged && *s.Tag == *a.Tag
		case StartRoute:
			return *a.Route == c.k.Own
		}
		return false
	})
}

// returnsTo reports whether a route leads back to this one without asking anybody.
func (c *checker) returnsTo(route uuid.UUID, seen map[uuid.UUID]bool) bool {
	if route == c.k.Own {
		return true
	}
	d, known := c.k.Routes[route]
	if !known || seen[route] {
		return false
	}
	seen[route] = true
	for _, s := range d.Stops {
		if s.asksSomebody() {
			return false
		}
		for _, one := range s.Cases {
			if one.Do == StartRoute && c.returnsTo(*one.Route, seen) {
				return true
			}
		}
	}
	return false
}
