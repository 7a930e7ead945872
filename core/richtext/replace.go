package richtext

// Slice is a part of a document cut out of it: so many nodes at its start and end
// are open, and join with those around the place where it is put.
type Slice struct {
	Content            Fragment
	OpenStart, OpenEnd int
}

func (s Slice) size() int { return s.Content.Size - s.OpenStart - s.OpenEnd }

// place is a position, and the way down to it.
type place struct {
	at     int
	offset int // within the innermost node
	way    []level
}

type level struct {
	node   *Node
	index  int
	before int // where the child at index begins
}

func (n *Node) place(at int) (*place, error) {
	p := &place{at: at, way: make([]level, 0, 8)}
	start, offset := 0, at
	for node := n; ; {
		index, begins, err := node.Content.find(offset)
		if err != nil {
			return nil, err
		}
		p.way = append(p.way, level{node, index, start + begins})
		p.offset = offset
		rest := offset - begins
		if rest == 0 {
			return p, nil
		}
		node = node.Content.Nodes[index]
		if node.IsText() {
			return p, nil
		}
		if node.isLeaf() {
			return nil, refuse("position %d lies outside", at)
		}
		offset = rest - 1
		start += begins + 1
	}
}

func (p *place) depth() int               { return len(p.way) - 1 }
func (p *place) node(depth int) *Node     { return p.way[depth].node }
func (p *place) index(depth int) int      { return p.way[depth].index }
func (p *place) withinText() int          { return p.at - p.way[p.depth()].before }
func (p *place) contentEnd(depth int) int { return p.contentStart(depth) + p.node(depth).Content.Size }

func (p *place) contentStart(depth int) int {
	if depth == 0 {
		return 0
	}
	return p.way[depth-1].before + 1
}

func (p *place) indexAfter(depth int) int {
	if depth == p.depth() && p.withinText() == 0 {
		return p.index(depth)
	}
	return p.index(depth) + 1
}

// shared is the depth of the innermost node that holds both.
func (p *place) shared(at int) int {
	for d := p.depth(); d > 0; d-- {
		if p.contentStart(d) <= at && p.contentEnd(d) >= at {
			return d
		}
	}
	return 0
}

func (p *place) innermost() *Node { return p.node(p.depth()) }

// rest is the part of the text behind the position, begun the part before it.
func (p *place) rest() (*Node, error) {
	n := p.innermost().Content.Nodes[p.index(p.depth())]
	return n.cut(p.withinText(), n.units)
}

func (p *place) begun() (*Node, error) {
	return p.innermost().Content.Nodes[p.index(p.depth())].cut(0, p.withinText())
}

// slice cuts a part out.
func (n *Node) slice(from, to int) (Slice, error) {
	if from == to {
		return Slice{}, nil
	}
	a, err := n.place(from)
	if err != nil {
		return Slice{}, err
	}
	b, err := n.place(to)
	if err != nil {
		return Slice{}, err
	}
	depth := a.shared(to)
	start := a.contentStart(depth)
	content, err := a.node(depth).Content.cut(from-start, to-start)
	return Slice{content, a.depth() - depth, b.depth() - depth}, err
}

// replace puts a slice in the place of a range. The sides must fit each other, and
// every node must hold afterwards what the schema lets it hold.
func (n *Node) replace(from, to int, s Slice) (*Node, error) {
	if from > to {
		return nil, refuse("a range ends before it begins")
	}
	a, err := n.place(from)
	if err != nil {
		return nil, err
	}
	b, err := n.place(to)
	if err != nil {
		return nil, err
	}
	if s.OpenStart > a.depth() || a.depth()-s.OpenStart != b.depth()-s.OpenEnd {
		return nil, refuse("a slice does not fit where it is put")
	}
	done, err := replaceAt(a, b, s, 0)
	if err == nil && done.Content.Size > MaxSize {
		return nil, textTooLong.New("it is longer than %d positions", MaxSize)
	}
	return done, err
}

func replaceAt(a, b *place, s Slice, depth int) (*Node, error) {
	index, node := a.index(depth), a.node(depth)
	switch {
	case index == b.index(depth) && depth < a.depth()-s.OpenStart:
		inner, err := replaceAt(a, b, s, depth+1)
		if err != nil {
			return nil, err
		}
		return node.with(node.Content.replaced(index, inner)), nil
	case len(s.Content.Nodes) == 0:
		return closed(node)(twoWay(a, b, depth))
	case s.OpenStart == 0 && s.OpenEnd == 0 && a.depth() == depth && b.depth() == depth:
		before, err := node.Content.cut(0, a.offset)
		if err != nil {
			return nil, err
		}
		after, err := node.Content.cut(b.offset, node.Content.Size)
		if err != nil {
			return nil, err
		}
		return closed(node)(before.append(s.Content).append(after), nil)
	}
	start, end, err := along(s, a)
	if err != nil {
		return nil, err
	}
	return closed(node)(threeWay(a, start, end, b, depth))
}

// closed puts content into a node like the given one, where it may stand there.
func closed(node *Node) func(Fragment, error) (*Node, error) {
	return func(content Fragment, err error) (*Node, error) {
		if err == nil && !node.Type.valid(content) {
			err = refuse("a %s may not hold this", node.Type.Name)
		}
		if err != nil {
			return nil, err
		}
		return node.with(content), nil
	}
}

// along puts the slice as deep as the place it goes to, and says where its content
// begins and ends.
func along(s Slice, a *place) (start, end *place, err error) {
	extra := a.depth() - s.OpenStart
	node := a.node(extra).with(s.Content)
	for i := extra - 1; i >= 0; i-- {
		node = a.node(i).with(row(node))
	}
	if start, err = node.place(s.OpenStart + extra); err != nil {
		return nil, nil, err
	}
	end, err = node.place(node.Content.Size - s.OpenEnd - extra)
	return start, end, err
}

func joins(main, sub *Node) error {
	if sub.Type != main.Type && !sub.Type.match.compatible(main.Type.match) {
		return refuse("a %s cannot go on as a %s", main.Type.Name, sub.Type.Name)
	}
	return nil
}

// goesOn is the node at that depth that begins on one side and ends on the other.
func goesOn(before, after *place, depth int) (*Node, error) {
	if depth > before.depth() || depth > after.depth() {
		return nil, refuse("a slice does not fit where it is put")
	}
	return before.node(depth), joins(before.node(depth), after.node(depth))
}

func addRange(start, end *place, depth int, to []*Node) ([]*Node, error) {
	of := end
	if of == nil {
		of = start
	}
	node, from := of.node(depth), 0
	until := len(node.Content.Nodes)
	if end != nil {
		until = end.index(depth)
	}
	if start != nil {
		from = start.index(depth)
		if start.depth() > depth {
			from++
		} else if start.withinText() > 0 {
			rest, err := start.rest()
			if err != nil {
				return nil, err
			}
			to = addNode(rest, to)
			from++
		}
	}
	for i := from; i < until; i++ {
		to = addNode(node.Content.Nodes[i], to)
	}
	if end != nil && end.depth() == depth && end.withinText() > 0 {
		begun, err := end.begun()
		if err != nil {
			return nil, err
		}
		to = addNode(begun, to)
	}
	return to, nil
}

func threeWay(a, start, end, b *place, depth int) (Fragment, error) {
	var opened, ended *Node
	var err error
	if a.depth() > depth {
		if opened, err = goesOn(a, start, depth+1); err != nil {
			return Fragment{}, err
		}
	}
	if b.depth() > depth {
		if ended, err = goesOn(end, b, depth+1); err != nil {
			return Fragment{}, err
		}
	}
	content, err := addRange(nil, a, depth, nil)
	if err != nil {
		return Fragment{}, err
	}
	add := func(n *Node, err error) error {
		if err == nil {
			content = addNode(n, content)
		}
		return err
	}
	if opened != nil && ended != nil && start.index(depth) == end.index(depth) {
		if err := joins(opened, ended); err != nil {
			return Fragment{}, err
		}
		if err := add(closed(opened)(threeWay(a, start, end, b, depth+1))); err != nil {
			return Fragment{}, err
		}
	} else {
		if opened != nil {
			if err := add(closed(opened)(twoWay(a, start, depth+1))); err != nil {
				return Fragment{}, err
			}
		}
		if content, err = addRange(start, end, depth, content); err != nil {
			return Fragment{}, err
		}
		if ended != nil {
			if err := add(closed(ended)(twoWay(end, b, depth+1))); err != nil {
				return Fragment{}, err
			}
		}
	}
	content, err = addRange(b, nil, depth, content)
	return row(content...), err
}

func twoWay(a, b *place, depth int) (Fragment, error) {
	content, err := addRange(nil, a, depth, nil)
	if err != nil {
		return Fragment{}, err
	}
	if a.depth() > depth {
		node, err := goesOn(a, b, depth+1)
		if err != nil {
			return Fragment{}, err
		}
		inner, err := closed(node)(twoWay(a, b, depth+1))
		if err != nil {
			return Fragment{}, err
		}
		content = addNode(inner, content)
	}
	content, err = addRange(b, nil, depth, content)
	return row(content...), err
}

// insertAt puts content into the slice; false where it may not stand there.
func (s Slice) insertAt(at int, content Fragment) (Slice, bool, error) {
	into, ok, err := insertInto(s.Content, at+s.OpenStart, content, s.OpenStart+1, s.OpenEnd+1, nil)
	return Slice{into, s.OpenStart, s.OpenEnd}, ok, err
}

func insertInto(f Fragment, at int, content Fragment, openStart, openEnd int, parent *Node) (Fragment, bool, error) {
	index, offset, err := f.find(at)
	if err != nil {
		return f, false, err
	}
	child := f.child(index)
	if offset == at || child.IsText() {
		if parent != nil && openStart <= 0 && openEnd <= 0 && !parent.canHold(index, content) {
			return f, false, nil
		}
		before, err := f.cut(0, at)
		if err != nil {
			return f, false, err
		}
		after, err := f.cut(at, f.Size)
		return before.append(content).append(after), err == nil, err
	}
	if index > 0 {
		openStart = 1
	}
	if index < len(f.Nodes)-1 {
		openEnd = 1
	}
	inner, ok, err := insertInto(child.Content, at-offset-1, content, openStart-1, openEnd-1, child)
	if err != nil || !ok {
		return f, false, err
	}
	return f.replaced(index, child.with(inner)), true, nil
}

func (n *Node) canHold(index int, content Fragment) bool {
	m := n.Type.match.all(n.Content.Nodes[:index])
	if m != nil {
		m = m.all(content.Nodes)
	}
	if m != nil {
		m = m.all(n.Content.Nodes[index:])
	}
	if m == nil || !m.end {
		return false
	}
	for _, c := range content.Nodes {
		if !n.Type.allowsAll(c.Marks) {
			return false
		}
	}
	return true
}

// check compares what a slice brings with the schema; nodes open at its sides are
// compared when it is put somewhere.
func (s Slice) check(depth int) error {
	if s.OpenStart < 0 || s.OpenEnd < 0 {
		return refuse("a slice is open less than not at all")
	}
	return checkOpen(s.Content, s.OpenStart, s.OpenEnd, depth)
}

func checkOpen(f Fragment, openStart, openEnd, depth int) error {
	if (openStart > 0 || openEnd > 0) && len(f.Nodes) == 0 {
		return refuse("a slice is open deeper than it goes")
	}
	for i, n := range f.Nodes {
		var start, end int
		if i == 0 {
			start = openStart
		}
		if i == len(f.Nodes)-1 {
			end = openEnd
		}
		var err error
		switch {
		case start == 0 && end == 0:
			err = n.check(depth)
		case n.isLeaf():
			err = refuse("a slice is open deeper than it goes")
		default:
			if err = n.checkSelf(depth); err == nil {
				err = checkOpen(n.Content, max(0, start-1), max(0, end-1), depth+1)
			}
		}
		if err != nil {
			return err
		}
	}
	return nil
}
