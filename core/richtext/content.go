package richtext

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
)

// match is a state of the automaton that a content expression describes, such as
// "paragraph block*" or "(table_cell | table_header)*".
type match struct {
	end  bool
	next []edge
}

type edge struct {
	on *NodeType
	to *match
}

func (m *match) after(t *NodeType) *match {
	for _, e := range m.next {
		if e.on == t {
			return e.to
		}
	}
	return nil
}

func (m *match) all(nodes []*Node) *match {
	for _, n := range nodes {
		if m = m.after(n.Type); m == nil {
			return nil
		}
	}
	return m
}

// compatible tells whether anything may begin both.
func (m *match) compatible(other *match) bool {
	return slices.ContainsFunc(m.next, func(e edge) bool { return other.after(e.on) != nil })
}

// expression is a part of an automaton: from its entry one comes to its exit. Edges
// without a type are taken for nothing.
type arrow struct {
	on *NodeType
	to int
}

type contentReader struct {
	words  []string
	types  []*NodeType
	states [][]arrow
}

var contentWords = regexp.MustCompile(`\w+|[^\w\s]`)

// readContent makes the automaton of an expression: names of nodes and groups,
// sequences, choices by |, and +, * and ? behind a part.
func readContent(expression string, types []*NodeType) (*match, error) {
	r := &contentReader{words: contentWords.FindAllString(expression, -1), types: types, states: [][]arrow{nil}}
	if len(r.words) == 0 {
		return &match{end: true}, nil
	}
	exit, err := r.choice(0)
	if err == nil && len(r.words) > 0 {
		err = fmt.Errorf("unexpected %q", r.words[0])
	}
	if err != nil {
		return nil, fmt.Errorf("content %q: %w", expression, err)
	}
	return r.determined([]int{0}, exit, map[string]*match{}), nil
}

func (r *contentReader) state() int {
	r.states = append(r.states, nil)
	return len(r.states) - 1
}

func (r *contentReader) join(from, to int, on *NodeType) {
	r.states[from] = append(r.states[from], arrow{on, to})
}

func (r *contentReader) take(word string) bool {
	if len(r.words) > 0 && r.words[0] == word {
		r.words = r.words[1:]
		return true
	}
	return false
}

func (r *contentReader) choice(from int) (int, error) {
	exit := r.state()
	for {
		end, err := r.sequence(from)
		if err != nil {
			return 0, err
		}
		r.join(end, exit, nil)
		if !r.take("|") {
			return exit, nil
		}
	}
}

func (r *contentReader) sequence(from int) (at int, err error) {
	at = from
	for {
		if at, err = r.repeated(at); err != nil {
			return 0, err
		}
		if len(r.words) == 0 || r.words[0] == ")" || r.words[0] == "|" {
			return at, nil
		}
	}
}

func (r *contentReader) repeated(from int) (int, error) {
	entry := r.state()
	r.join(from, entry, nil)
	exit, err := r.one(entry)
	if err != nil {
		return 0, err
	}
	switch {
	case r.take("+"):
		r.join(exit, entry, nil)
	case r.take("*"):
		r.join(exit, entry, nil)
		out := r.state()
		r.join(entry, out, nil)
		return out, nil
	case r.take("?"):
		r.join(entry, exit, nil)
	}
	return exit, nil
}

func (r *contentReader) one(from int) (int, error) {
	if r.take("(") {
		exit, err := r.choice(from)
		if err == nil && !r.take(")") {
			err = fmt.Errorf("a bracket is not closed")
		}
		return exit, err
	}
	if len(r.words) == 0 {
		return 0, fmt.Errorf("it ends too early")
	}
	exit, name, found := r.state(), r.words[0], false
	r.words = r.words[1:]
	for _, t := range r.types {
		if t.is(name) {
			r.join(from, exit, t)
			found = true
		}
	}
	if !found {
		return 0, fmt.Errorf("nothing is called %q", name)
	}
	return exit, nil
}

// reached are the states to which one comes for nothing.
func (r *contentReader) reached(states []int) []int {
	all := slices.Clone(states)
	for i := 0; i < len(all); i++ {
		for _, a := range r.states[all[i]] {
			if a.on == nil && !slices.Contains(all, a.to) {
				all = append(all, a.to)
			}
		}
	}
	slices.Sort(all)
	return all
}

func (r *contentReader) determined(states []int, exit int, made map[string]*match) *match {
	states = r.reached(states)
	key := strings.Trim(fmt.Sprint(states), "[]")
	if m := made[key]; m != nil {
		return m
	}
	m := &match{end: slices.Contains(states, exit)}
	made[key] = m
	var on []*NodeType
	to := map[*NodeType][]int{}
	for _, s := range states {
		for _, a := range r.states[s] {
			if a.on == nil {
				continue
			}
			if to[a.on] == nil {
				on = append(on, a.on)
			}
			to[a.on] = append(to[a.on], a.to)
		}
	}
	for _, t := range on {
		m.next = append(m.next, edge{t, r.determined(to[t], exit, made)})
	}
	return m
}
