package richtext

import (
	"encoding/json"
	"errors"
	"math"
	"strconv"
	"unicode/utf8"
)

// refuse is a step refused, with what is wrong for whoever writes a client.
func refuse(format string, a ...any) error {
	return stepInvalid.New(format, a...)
}

func orRefuse(err error, format string, a ...any) error {
	if err != nil {
		return err
	}
	return refuse(format, a...)
}

type nodeJSON struct {
	Type    string         `json:"type"`
	Attrs   map[string]any `json:"attrs,omitempty"`
	Content []*nodeJSON    `json:"content,omitempty"`
	Marks   []markJSON     `json:"marks,omitempty"`
	Text    *string        `json:"text,omitempty"`
}

type markJSON struct {
	Type  string         `json:"type"`
	Attrs map[string]any `json:"attrs,omitempty"`
}

type sliceJSON struct {
	Content   []*nodeJSON `json:"content"`
	OpenStart int         `json:"openStart,omitempty"`
	OpenEnd   int         `json:"openEnd,omitempty"`
}

type stepJSON struct {
	Kind      string          `json:"stepType"`
	From      *float64        `json:"from"`
	To        *float64        `json:"to"`
	GapFrom   *float64        `json:"gapFrom"`
	GapTo     *float64        `json:"gapTo"`
	Insert    *float64        `json:"insert"`
	Pos       *float64        `json:"pos"`
	Structure bool            `json:"structure"`
	Slice     *sliceJSON      `json:"slice"`
	Mark      *markJSON       `json:"mark"`
	Attr      string          `json:"attr"`
	Value     json.RawMessage `json:"value"`
	Steps     []stepJSON      `json:"steps"`
}

func (s *Schema) mark(from markJSON) (Mark, error) {
	t := s.marks[from.Type]
	if t == nil {
		return Mark{}, refuse("there is no mark %q", from.Type)
	}
	attrs, err := computed(t.Name, t.attrs, from.Attrs)
	return Mark{t, attrs}, err
}

func (s *Schema) node(from *nodeJSON, depth int) (*Node, error) {
	if from == nil || depth > MaxDepth {
		return nil, refuse("there is no node, or it goes too deep")
	}
	t := s.nodes[from.Type]
	if t == nil {
		return nil, refuse("there is no node %q", from.Type)
	}
	n := &Node{Type: t}
	var err error
	if n.Attrs, err = computed(t.Name, t.attrs, from.Attrs); err != nil {
		return nil, err
	}
	for _, m := range from.Marks {
		mark, err := s.mark(m)
		if err != nil {
			return nil, err
		}
		n.Marks = append(n.Marks, mark)
	}
	if n.IsText() {
		if from.Text == nil || *from.Text == "" || len(from.Content) > 0 {
			return nil, refuse("text without text")
		}
		n.Text, n.units = *from.Text, units(*from.Text)
		return n, nil
	}
	n.Content, err = s.fragment(from.Content, depth+1)
	return n, err
}

func (s *Schema) fragment(from []*nodeJSON, depth int) (Fragment, error) {
	var nodes []*Node
	for _, c := range from {
		n, err := s.node(c, depth)
		if err != nil {
			return Fragment{}, err
		}
		nodes = append(nodes, n)
	}
	return row(nodes...), nil
}

// Read reads a document from its JSON and compares it with the schema.
func (s *Schema) Read(raw []byte) (*Node, error) {
	var from *nodeJSON
	if err := decode(raw, &from); err != nil {
		return nil, err
	}
	n, err := s.node(from, 0)
	if err != nil {
		return nil, err
	}
	if n.Type != s.top {
		return nil, refuse("a document begins as %s", s.top.Name)
	}
	if n.Content.Size > MaxSize {
		return nil, textTooLong.New("it is longer than %d positions", MaxSize)
	}
	return n, n.Check()
}

// ReadStep reads a step from its JSON.
func (s *Schema) ReadStep(raw []byte) (Step, error) {
	var from stepJSON
	if err := decode(raw, &from); err != nil {
		return nil, err
	}
	return s.step(from)
}

// decode takes JSON whose strings are text: half a character is none.
func decode(raw []byte, into any) error {
	if !utf8.Valid(raw) || halves(raw) {
		return refuse("it holds half a character")
	}
	if err := json.Unmarshal(raw, into); err != nil {
		return refuse("it is no such JSON")
	}
	return nil
}

// halves finds escapes of a surrogate without its other half, which the decoder
// would replace by another character.
func halves(raw []byte) bool {
	first := false // the escape just before is a first half
	for i := 0; i < len(raw); i++ {
		if raw[i] != '\\' {
			if first {
				return true
			}
			continue
		}
		if i++; i+4 >= len(raw) || raw[i] != 'u' {
			if first {
				return true
			}
			continue
		}
		unit, _ := strconv.ParseUint(string(raw[i+1:i+5]), 16, 32)
		i += 4
		if second := unit >= 0xdc00 && unit < 0xe000; second != first {
			return true
		}
		first = unit >= 0xd800 && unit < 0xdc00
	}
	return first
}

func (s *Schema) step(from stepJSON) (Step, error) {
	var problem error
	number := func(n *float64) int {
		if n == nil || *n != math.Trunc(*n) || *n < 0 || *n > 1<<40 {
			problem = refuse("a step without its places")
			return 0
		}
		return int(*n)
	}
	mark := func() (m Mark) {
		if from.Mark == nil {
			problem = refuse("a step without its mark")
			return m
		}
		m, err := s.mark(*from.Mark)
		if err != nil {
			problem = err
		}
		return m
	}
	slice := func() (of Slice) {
		if from.Slice == nil {
			return of
		}
		content, err := s.fragment(from.Slice.Content, 0)
		if err != nil {
			problem = err
		}
		of = Slice{content, from.Slice.OpenStart, from.Slice.OpenEnd}
		if of.OpenStart < 0 || of.OpenEnd < 0 || of.size() < 0 {
			problem = refuse("a slice is open deeper than it goes")
		}
		return of
	}
	var step Step
	switch from.Kind {
	case "replace":
		step = replaceStep{number(from.From), number(from.To), slice(), from.Structure}
	case "replaceAround":
		step = replaceAroundStep{number(from.From), number(from.To), number(from.GapFrom), number(from.GapTo), slice(), number(from.Insert), from.Structure}
	case "addMark", "removeMark":
		step = markStep{number(from.From), number(from.To), mark(), from.Kind == "removeMark"}
	case "markSet":
		set := markSetStep{}
		for _, one := range from.Steps {
			inner, err := s.step(one)
			if err != nil {
				return nil, err
			}
			mark, ok := inner.(markStep)
			if !ok {
				return nil, refuse("a set of marks holds other steps")
			}
			set.steps = append(set.steps, mark)
		}
		step = set
	case "addNodeMark", "removeNodeMark":
		step = nodeStep{at: number(from.Pos), kind: from.Kind, mark: mark()}
	case "attr":
		at := nodeStep{at: number(from.Pos), kind: from.Kind, attr: from.Attr}
		problem = errors.Join(problem, valueOf(from.Value, &at.value))
		step = at
	case "docAttr":
		at := docStep{attr: from.Attr}
		problem = valueOf(from.Value, &at.value)
		step = at
	default:
		return nil, refuse("there is no step %q", from.Kind)
	}
	if problem != nil {
		return nil, problem
	}
	return step, nil
}

func valueOf(raw json.RawMessage, into *any) error {
	if raw == nil {
		return refuse("a step without its value")
	}
	return json.Unmarshal(raw, into)
}

func (m Mark) toJSON() markJSON { return markJSON{m.Type.Name, m.Attrs} }

func (n *Node) toJSON() *nodeJSON {
	out := &nodeJSON{Type: n.Type.Name, Attrs: n.Attrs, Content: n.Content.toJSON()}
	for _, m := range n.Marks {
		out.Marks = append(out.Marks, m.toJSON())
	}
	if n.IsText() {
		out.Text = &n.Text
	}
	return out
}

func (f Fragment) toJSON() (all []*nodeJSON) {
	for _, n := range f.Nodes {
		all = append(all, n.toJSON())
	}
	return all
}

// MarshalJSON writes the node as it is exchanged and kept.
func (n *Node) MarshalJSON() ([]byte, error) { return json.Marshal(n.toJSON()) }

// WriteStep writes a step as it is exchanged and kept.
func WriteStep(s Step) ([]byte, error) { return json.Marshal(s.json()) }

func withSlice(out map[string]any, s Slice, structure bool) map[string]any {
	if len(s.Content.Nodes) > 0 {
		out["slice"] = sliceJSON{s.Content.toJSON(), s.OpenStart, s.OpenEnd}
	}
	if structure {
		out["structure"] = true
	}
	return out
}

func (s replaceStep) json() map[string]any {
	return withSlice(map[string]any{"stepType": "replace", "from": s.from, "to": s.to}, s.slice, s.structure)
}

func (s replaceAroundStep) json() map[string]any {
	return withSlice(map[string]any{"stepType": "replaceAround", "from": s.from, "to": s.to, "gapFrom": s.gapFrom, "gapTo": s.gapTo, "insert": s.insert}, s.slice, s.structure)
}

func (s markStep) json() map[string]any {
	kind := "addMark"
	if s.remove {
		kind = "removeMark"
	}
	return map[string]any{"stepType": kind, "mark": s.mark.toJSON(), "from": s.from, "to": s.to}
}

func (s markSetStep) json() map[string]any {
	var steps []map[string]any
	for _, one := range s.steps {
		steps = append(steps, one.json())
	}
	return map[string]any{"stepType": "markSet", "steps": steps}
}

func (s nodeStep) json() map[string]any {
	if s.kind == "attr" {
		return map[string]any{"stepType": "attr", "pos": s.at, "attr": s.attr, "value": s.value}
	}
	return map[string]any{"stepType": s.kind, "pos": s.at, "mark": s.mark.toJSON()}
}

func (s docStep) json() map[string]any {
	return map[string]any{"stepType": "docAttr", "attr": s.attr, "value": s.value}
}
