package richtext

import "tabularis/core/fault"

// Step is one change. It fits the state it was made on, and is carried to others.
type Step interface {
	// Apply gives the document after the step, or says why there is none.
	Apply(doc *Node) (*Node, error)
	// Map says how positions move.
	Map() StepMap
	// over is the step as it fits after other steps; nil where nothing is left of it.
	over(m *Mapping) Step
	// json is how it is exchanged.
	json() map[string]any
}

var (
	stepInvalid     = fault.Declare(fault.Invalid, "step-invalid", "a change does not fit the text, or the text would hold afterwards what it may not")
	moreThanAllowed = fault.Declare(fault.Forbidden, "more-than-allowed", "a change does more to the text than its writer may")
	textTooLong     = fault.Declare(fault.TooLarge, "text-too-long", "the text would be longer than a written document may be")
)

// replaceStep puts a slice in the place of a range. A step of structure fails
// where it would take content with it.
type replaceStep struct {
	from, to  int
	slice     Slice
	structure bool
}

func (s replaceStep) Apply(doc *Node) (*Node, error) {
	if s.structure {
		if content, err := contentBetween(doc, s.from, s.to); err != nil || content {
			return nil, orRefuse(err, "a step of structure would take content with it")
		}
	}
	if err := checkedSlice(doc, s.from, s.slice); err != nil {
		return nil, err
	}
	return doc.replace(s.from, s.to, s.slice)
}

func checkedSlice(doc *Node, from int, s Slice) error {
	at, err := doc.place(from)
	if err != nil {
		return err
	}
	return s.check(max(0, at.depth()-s.OpenStart) + 1)
}

func (s replaceStep) Map() StepMap {
	return stepMap(span{s.from, s.to - s.from, s.slice.size()})
}

func stepMap(spans ...span) StepMap { return StepMap{spans: spans} }

func (s replaceStep) over(m *Mapping) Step {
	from, to := m.carry(0, s.from, 1), m.carry(0, s.to, -1)
	if from.gone&goneAcross != 0 && to.gone&goneAcross != 0 {
		return nil
	}
	s.from, s.to = from.at, max(from.at, to.at)
	return s
}

// replaceAroundStep does the same, and keeps a part of the range by moving it into
// the slice: so content is wrapped and unwrapped.
type replaceAroundStep struct {
	from, to, gapFrom, gapTo int
	slice                    Slice
	insert                   int
	structure                bool
}

func (s replaceAroundStep) Apply(doc *Node) (*Node, error) {
	if s.structure {
		for _, r := range [][2]int{{s.from, s.gapFrom}, {s.gapTo, s.to}} {
			if content, err := contentBetween(doc, r[0], r[1]); err != nil || content {
				return nil, orRefuse(err, "a step of structure would take content with it")
			}
		}
	}
	if s.from > s.gapFrom || s.gapFrom > s.gapTo || s.gapTo > s.to {
		return nil, refuse("a gap lies outside its range")
	}
	gap, err := doc.slice(s.gapFrom, s.gapTo)
	if err != nil {
		return nil, err
	}
	if gap.OpenStart > 0 || gap.OpenEnd > 0 {
		return nil, refuse("a gap is not flat")
	}
	inserted, ok, err := s.slice.insertAt(s.insert, gap.Content)
	if err != nil || !ok {
		return nil, orRefuse(err, "content does not fit into the gap")
	}
	if err := checkedSlice(doc, s.from, inserted); err != nil {
		return nil, err
	}
	return doc.replace(s.from, s.to, inserted)
}

func (s replaceAroundStep) Map() StepMap {
	return stepMap(span{s.from, s.gapFrom - s.from, s.insert}, span{s.gapTo, s.to - s.gapTo, s.slice.size() - s.insert})
}

func (s replaceAroundStep) over(m *Mapping) Step {
	from, to := m.carry(0, s.from, 1), m.carry(0, s.to, -1)
	gapFrom, gapTo := from.at, to.at
	if s.gapFrom != s.from {
		gapFrom = m.Map(s.gapFrom, -1)
	}
	if s.gapTo != s.to {
		gapTo = m.Map(s.gapTo, 1)
	}
	if from.gone&goneAcross != 0 && to.gone&goneAcross != 0 || gapFrom < from.at || gapTo > to.at || gapFrom > gapTo {
		return nil
	}
	s.from, s.to, s.gapFrom, s.gapTo = from.at, to.at, gapFrom, gapTo
	return s
}

// contentBetween tells whether a range holds more than ends and beginnings.
func contentBetween(doc *Node, from, to int) (bool, error) {
	at, err := doc.place(from)
	if err != nil {
		return false, err
	}
	left, depth := to-from, at.depth()
	for left > 0 && depth > 0 && at.indexAfter(depth) == len(at.node(depth).Content.Nodes) {
		depth--
		left--
	}
	if left <= 0 {
		return false, nil
	}
	for next := at.node(depth).Content.child(at.indexAfter(depth)); left > 0; left-- {
		if next == nil || next.isLeaf() {
			return true, nil
		}
		next = next.Content.child(0)
	}
	return false, nil
}

// markStep adds a mark to the inline content of a range, or takes it away.
type markStep struct {
	from, to int
	mark     Mark
	remove   bool
}

func (s markStep) Apply(doc *Node) (*Node, error) {
	if s.from > s.to {
		return nil, refuse("a range ends before it begins")
	}
	old, err := doc.slice(s.from, s.to)
	if err != nil {
		return nil, err
	}
	at, err := doc.place(s.from)
	if err != nil {
		return nil, err
	}
	old.Content = s.through(old.Content, at.node(at.shared(s.to)))
	return doc.replace(s.from, s.to, old)
}

func (s markStep) through(f Fragment, parent *Node) Fragment {
	nodes := make([]*Node, 0, len(f.Nodes))
	for _, n := range f.Nodes {
		if n.Content.Size > 0 {
			n = n.with(s.through(n.Content, n))
		}
		switch {
		case !n.Type.inline:
		case s.remove:
			n = n.marked(s.mark.removeFrom(n.Marks))
		case parent.Type.allows(s.mark.Type):
			n = n.marked(s.mark.addTo(n.Marks))
		}
		nodes = append(nodes, n)
	}
	return joined(nodes)
}

func (s markStep) Map() StepMap { return StepMap{} }

func (s markStep) over(m *Mapping) Step {
	s.from, s.to = m.Map(s.from, 1), m.Map(s.to, -1)
	if s.from >= s.to {
		return nil
	}
	return s
}

// markSetStep is several steps of marks that are one: what undoes one of them.
type markSetStep struct{ steps []markStep }

func (s markSetStep) Apply(doc *Node) (_ *Node, err error) {
	for _, one := range s.steps {
		if doc, err = one.Apply(doc); err != nil {
			return nil, err
		}
	}
	return doc, nil
}

func (s markSetStep) Map() StepMap { return StepMap{} }

func (s markSetStep) over(m *Mapping) Step {
	var left markSetStep
	for _, one := range s.steps {
		if carried := one.over(m); carried != nil {
			left.steps = append(left.steps, carried.(markStep))
		}
	}
	if left.steps == nil {
		return nil
	}
	return left
}

// nodeStep changes one node itself: a mark on it, or an attribute.
type nodeStep struct {
	at    int
	kind  string
	mark  Mark
	attr  string
	value any
}

func (s nodeStep) Apply(doc *Node) (*Node, error) {
	n, err := doc.At(s.at)
	if err != nil || n == nil || n.IsText() {
		return nil, orRefuse(err, "there is no node at %d", s.at)
	}
	changed := n.with(Fragment{})
	switch s.kind {
	case "addNodeMark":
		changed.Marks = s.mark.addTo(n.Marks)
	case "removeNodeMark":
		changed.Marks = s.mark.removeFrom(n.Marks)
	default:
		if changed.Attrs, err = withAttr(n, s.attr, s.value); err != nil {
			return nil, err
		}
	}
	open := 1
	if n.isLeaf() {
		open = 0
	}
	return doc.replace(s.at, s.at+1, Slice{row(changed), 0, open})
}

func withAttr(n *Node, name string, value any) (Attrs, error) {
	attrs := map[string]any{}
	for k, v := range n.Attrs {
		attrs[k] = v
	}
	attrs[name] = value
	return computed(n.Type.Name, n.Type.attrs, attrs)
}

func (s nodeStep) Map() StepMap { return StepMap{} }

func (s nodeStep) over(m *Mapping) Step {
	to := m.carry(0, s.at, 1)
	if to.gone&(goneAfter|goneAcross) != 0 {
		return nil
	}
	s.at = to.at
	return s
}

// docStep sets an attribute of the document itself.
type docStep struct {
	attr  string
	value any
}

func (s docStep) Apply(doc *Node) (_ *Node, err error) {
	changed := doc.with(doc.Content)
	changed.Attrs, err = withAttr(doc, s.attr, s.value)
	return changed, err
}

func (s docStep) Map() StepMap       { return StepMap{} }
func (s docStep) over(*Mapping) Step { return s }

// Carry makes steps that follow each other, made where others were made at the
// same time, fit after those: doc is the document after the others, maps are theirs.
// What has lost its place is left out. A client that is told of the others in the
// same portions comes to the same steps, and so to the same document.
func Carry(steps []Step, others []StepMap, doc *Node) (carried []Step, after *Node) {
	m := &Mapping{mirror: map[int]int{}}
	for i := len(steps) - 1; i >= 0; i-- {
		m.add(steps[i].Map().Inverted())
	}
	m.maps = append(m.maps, others...)
	for i, s := range steps {
		own := len(steps) - 1 - i
		fit := s.over(&Mapping{maps: m.maps[own+1:], mirror: shifted(m.mirror, own+1)})
		if fit == nil {
			continue
		}
		next, err := fit.Apply(doc)
		if err != nil {
			continue
		}
		doc = next
		m.add(fit.Map())
		m.mirrored(own, len(m.maps)-1)
		carried = append(carried, fit)
	}
	return carried, doc
}

func shifted(mirror map[int]int, by int) map[int]int {
	out := make(map[int]int, len(mirror))
	for a, b := range mirror {
		out[a-by] = b - by
	}
	return out
}
