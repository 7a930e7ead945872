package richtext

import (
	"reflect"
	"slices"
	"strings"
	"unicode/utf8"
)

// Node is a part of a document. Nodes are never changed; a change makes new ones
// and shares what stays.
type Node struct {
	Type    *NodeType
	Attrs   Attrs
	Marks   []Mark
	Content Fragment
	Text    string
	// units is the length of the text in UTF-16 units, in which positions count.
	units int
}

// Mark is put on content: a link, an emphasis, a proposal.
type Mark struct {
	Type  *MarkType
	Attrs Attrs
}

// Fragment is a row of nodes and their size together.
type Fragment struct {
	Nodes []*Node
	Size  int
}

// units counts UTF-16 units.
func units(text string) int {
	n := 0
	for _, r := range text {
		n++
		if r > 0xffff {
			n++
		}
	}
	return n
}

// byteAt is where a UTF-16 offset lies in the text; false within a character.
func byteAt(text string, total, at int) (int, bool) {
	if total == len(text) {
		return at, true
	}
	for i, r := range text {
		switch {
		case at == 0:
			return i, true
		case at < 0:
			return 0, false
		}
		at--
		if r > 0xffff {
			at--
		}
	}
	return len(text), at == 0
}

// Size is how many positions the node takes.
func (n *Node) Size() int {
	switch {
	case n.IsText():
		return n.units
	case n.Type.leaf:
		return 1
	}
	return n.Content.Size + 2
}

// IsText tells text from other nodes.
func (n *Node) IsText() bool { return n.Type.Name == "text" }

func (n *Node) isLeaf() bool { return n.Type.leaf }

func (n *Node) with(content Fragment) *Node {
	c := *n
	c.Content = content
	return &c
}

func (n *Node) marked(marks []Mark) *Node {
	c := *n
	c.Marks = marks
	return &c
}

func (n *Node) text(text string, length int) *Node {
	c := *n
	c.Text, c.units = text, length
	return &c
}

// cut is the node with a part of its content, or of its text.
func (n *Node) cut(from, to int) (*Node, error) {
	if !n.IsText() {
		content, err := n.Content.cut(from, to)
		return n.with(content), err
	}
	if from == 0 && to == n.units {
		return n, nil
	}
	start, ok := byteAt(n.Text, n.units, from)
	end, ok2 := byteAt(n.Text, n.units, to)
	if !ok || !ok2 {
		return nil, refuse("a position lies within a character")
	}
	return n.text(n.Text[start:end], to-from), nil
}

func sameAttrs(a, b Attrs) bool {
	if len(a) != len(b) {
		return false
	}
	for name, value := range a {
		other, ok := b[name]
		if !ok {
			return false
		}
		switch value.(type) {
		case []any, map[string]any:
			if !reflect.DeepEqual(value, other) {
				return false
			}
		default:
			switch other.(type) {
			case []any, map[string]any:
				return false
			}
			if value != other {
				return false
			}
		}
	}
	return true
}

// Equal tells whether two marks say the same.
func (m Mark) Equal(other Mark) bool { return m.Type == other.Type && sameAttrs(m.Attrs, other.Attrs) }

func sameMarks(a, b []Mark) bool { return slices.EqualFunc(a, b, Mark.Equal) }

func (n *Node) sameMarkup(other *Node) bool {
	return n.Type == other.Type && sameAttrs(n.Attrs, other.Attrs) && sameMarks(n.Marks, other.Marks)
}

// Equal tells whether two nodes are alike, with all that they hold.
func (n *Node) Equal(other *Node) bool {
	return n == other || n.sameMarkup(other) && n.Text == other.Text && slices.EqualFunc(n.Content.Nodes, other.Content.Nodes, (*Node).Equal)
}

// addTo is the set with the mark in its place, without those it excludes; the set
// itself where it is excluded, or there already.
func (m Mark) addTo(set []Mark) []Mark {
	var with []Mark
	placed := false
	for _, other := range set {
		switch {
		case m.Equal(other):
			return set
		case slices.Contains(m.Type.excluded, other.Type):
			continue
		case slices.Contains(other.Type.excluded, m.Type):
			return set
		}
		if !placed && other.Type.rank > m.Type.rank {
			with, placed = append(with, m), true
		}
		with = append(with, other)
	}
	if !placed {
		with = append(with, m)
	}
	return with
}

func (m Mark) removeFrom(set []Mark) []Mark {
	at := slices.IndexFunc(set, m.Equal)
	if at < 0 {
		return set
	}
	if len(set) == 1 {
		return nil
	}
	return slices.Delete(slices.Clone(set), at, at+1)
}

// Mark is the node's mark of that name, the first where there are several.
func (n *Node) Mark(name string) (Mark, bool) {
	for _, m := range n.Marks {
		if m.Type.Name == name {
			return m, true
		}
	}
	return Mark{}, false
}

func row(nodes ...*Node) Fragment {
	f := Fragment{Nodes: nodes}
	for _, n := range nodes {
		f.Size += n.Size()
	}
	return f
}

// joined puts nodes beside each other; text that bears the same becomes one.
func joined(nodes []*Node) Fragment {
	var out []*Node
	for _, n := range nodes {
		out = addNode(n, out)
	}
	return row(out...)
}

func addNode(n *Node, to []*Node) []*Node {
	if last := len(to) - 1; last >= 0 && n.IsText() && n.sameMarkup(to[last]) {
		to[last] = to[last].text(to[last].Text+n.Text, to[last].units+n.units)
		return to
	}
	return append(to, n)
}

func (f Fragment) append(other Fragment) Fragment {
	switch {
	case len(other.Nodes) == 0:
		return f
	case len(f.Nodes) == 0:
		return other
	}
	nodes, at := slices.Concat(f.Nodes, other.Nodes), len(f.Nodes)
	if last, first := nodes[at-1], nodes[at]; last.IsText() && last.sameMarkup(first) {
		nodes[at-1] = last.text(last.Text+first.Text, last.units+first.units)
		nodes = slices.Delete(nodes, at, at+1)
	}
	return Fragment{nodes, f.Size + other.Size}
}

func (f Fragment) cut(from, to int) (Fragment, error) {
	if from == 0 && to == f.Size {
		return f, nil
	}
	var out []*Node
	pos := 0
	for _, child := range f.Nodes {
		if pos >= to || to <= from {
			break
		}
		end := pos + child.Size()
		if end > from {
			if pos < from || end > to {
				inside := 1
				if child.IsText() {
					inside = 0
				}
				var err error
				if child, err = child.cut(max(0, from-pos-inside), min(end-pos-2*inside, to-pos-inside)); err != nil {
					return Fragment{}, err
				}
			}
			out = append(out, child)
		}
		pos = end
	}
	return row(out...), nil
}

func (f Fragment) replaced(index int, by *Node) Fragment {
	nodes := slices.Clone(f.Nodes)
	size := f.Size - nodes[index].Size() + by.Size()
	nodes[index] = by
	return Fragment{nodes, size}
}

// find is the child at a position and where it begins; at the end of one, the next.
func (f Fragment) find(at int) (index, offset int, err error) {
	switch {
	case at == 0:
		return 0, 0, nil
	case at == f.Size:
		return len(f.Nodes), at, nil
	case at < 0 || at > f.Size:
		return 0, 0, refuse("position %d lies outside", at)
	}
	pos := 0
	for i, n := range f.Nodes {
		end := pos + n.Size()
		if end >= at {
			if end == at {
				return i + 1, end, nil
			}
			return i, pos, nil
		}
		pos = end
	}
	return 0, 0, refuse("position %d lies outside", at)
}

func (f Fragment) child(index int) *Node {
	if index < len(f.Nodes) {
		return f.Nodes[index]
	}
	return nil
}

// At is the node that begins at a position, or the text it lies in; nil at an end.
func (n *Node) At(at int) (*Node, error) {
	for {
		index, offset, err := n.Content.find(at)
		if err != nil {
			return nil, err
		}
		n = n.Content.child(index)
		if n == nil || offset == at || n.IsText() {
			return n, nil
		}
		at -= offset + 1
	}
}

// Walk calls f for every node below, in their order, with its position; where f
// answers false, what the node holds is left out.
func (n *Node) Walk(f func(n *Node, at int) bool) { n.walk(0, f) }

func (n *Node) walk(at int, f func(n *Node, at int) bool) {
	for _, child := range n.Content.Nodes {
		if f(child, at) {
			child.walk(at+1, f)
		}
		at += child.Size()
	}
}

// Plain is the text, a line for each block.
func (n *Node) Plain() string {
	var b strings.Builder
	n.Walk(func(n *Node, _ int) bool {
		switch {
		case n.IsText():
			b.WriteString(n.Text)
		case n.Type.Name == "hard_break", !n.Type.inline && !n.Type.leaf && n.Content.child(0) != nil && n.Content.Nodes[0].Type.inline && b.Len() > 0:
			b.WriteByte('\n')
		}
		return true
	})
	return b.String()
}

// Bounds of a document: its size, how deep it goes, and how many cells a row has.
const (
	MaxSize    = 4_000_000
	MaxDepth   = 60
	MaxColumns = 200
)

// Check compares a node, and all that it holds, with the schema.
func (n *Node) Check() error { return n.check(0) }

func (n *Node) check(depth int) error {
	if err := n.checkSelf(depth); err != nil {
		return err
	}
	if !n.Type.leaf && !n.Type.valid(n.Content) {
		return refuse("a %s may not hold this", n.Type.Name)
	}
	for _, c := range n.Content.Nodes {
		if err := c.check(depth + 1); err != nil {
			return err
		}
	}
	return nil
}

func (n *Node) checkSelf(depth int) error {
	if depth > MaxDepth {
		return refuse("it goes too deep")
	}
	if n.IsText() && (n.Text == "" || !utf8.ValidString(n.Text)) {
		return refuse("text is empty, or no text")
	}
	var set []Mark
	for _, m := range n.Marks {
		set = m.addTo(set)
	}
	if !sameMarks(set, n.Marks) {
		return refuse("marks of a %s exclude each other, or are out of order", n.Type.Name)
	}
	return nil
}
