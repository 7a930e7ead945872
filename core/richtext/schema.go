// Package richtext is the document that several people write at once: a tree of
// nodes with marks, the steps by which it changes, and how a step made on an
// older state is carried to a newer one.
//
// The model is that of the editor in the page (ProseMirror's model, transform and
// collab modules): positions count UTF-16 units and the sides of nodes, steps and
// documents are exchanged as its JSON, and every step gives here exactly the
// document that it gives there. Both sides read one schema, schema.json. Here more
// is refused: content the schema forbids, attributes out of their range, addresses
// that would run something, positions within a character.
package richtext

import (
	"bytes"
	_ "embed"
	"encoding/json"
	"fmt"
	"math"
	"net/url"
	"slices"
	"strings"
)

//go:embed schema.json
var schemaJSON []byte

// Schema says which nodes and marks there are, and what may stand in what.
type Schema struct {
	nodes map[string]*NodeType
	marks map[string]*MarkType
	top   *NodeType
}

// NodeType is a kind of node.
type NodeType struct {
	Name   string
	inline bool
	leaf   bool
	groups []string
	attrs  []attribute
	match  *match
	// anyMark is true where content may bear every mark; else those in marks.
	anyMark bool
	marks   []*MarkType
}

// MarkType is a kind of mark; marks are kept in the order of their rank.
type MarkType struct {
	Name     string
	rank     int
	groups   []string
	attrs    []attribute
	excluded []*MarkType
}

type attribute struct {
	name     string
	optional bool
	usual    any
	types    []string
	within   *[2]float64
	among    []string
	atMost   int
	address  string
	widths   bool
}

// Written is the schema of written documents.
var Written = mustRead(schemaJSON)

func mustRead(raw []byte) *Schema {
	s, err := readSchema(raw)
	if err != nil {
		panic(err)
	}
	return s
}

type attributeJSON struct {
	Default  json.RawMessage `json:"default"`
	Validate string          `json:"validate"`
	Within   *[2]float64     `json:"within"`
	Among    []string        `json:"among"`
	AtMost   int             `json:"atMost"`
	Address  string          `json:"address"`
	Widths   bool            `json:"widths"`
}

type nodeTypeJSON struct {
	Content string  `json:"content"`
	Group   string  `json:"group"`
	Marks   *string `json:"marks"`
	Inline  bool    `json:"inline"`
	Attrs   ordered[attributeJSON]
}

type markTypeJSON struct {
	Group    string  `json:"group"`
	Excludes *string `json:"excludes"`
	Attrs    ordered[attributeJSON]
}

// ordered is a JSON object whose order matters: marks rank by it.
type ordered[T any] struct {
	names  []string
	values []T
}

func (o *ordered[T]) UnmarshalJSON(raw []byte) error {
	d := json.NewDecoder(bytes.NewReader(raw))
	if _, err := d.Token(); err != nil {
		return err
	}
	for d.More() {
		name, err := d.Token()
		if err != nil {
			return err
		}
		var value T
		if err := d.Decode(&value); err != nil {
			return err
		}
		o.names, o.values = append(o.names, name.(string)), append(o.values, value)
	}
	return nil
}

func readSchema(raw []byte) (*Schema, error) {
	var from struct {
		TopNode string                `json:"topNode"`
		Nodes   ordered[nodeTypeJSON] `json:"nodes"`
		Marks   ordered[markTypeJSON] `json:"marks"`
	}
	if err := json.Unmarshal(raw, &from); err != nil {
		return nil, err
	}
	s := &Schema{nodes: map[string]*NodeType{}, marks: map[string]*MarkType{}}
	var inOrder []*MarkType
	for i, name := range from.Marks.names {
		attrs, err := readAttributes(from.Marks.values[i].Attrs)
		if err != nil {
			return nil, fmt.Errorf("mark %s: %w", name, err)
		}
		m := &MarkType{Name: name, rank: i, groups: strings.Fields(from.Marks.values[i].Group), attrs: attrs}
		s.marks[name] = m
		inOrder = append(inOrder, m)
	}
	for i, m := range inOrder {
		m.excluded = []*MarkType{m}
		if excludes := from.Marks.values[i].Excludes; excludes != nil {
			m.excluded = gather(inOrder, *excludes)
		}
	}
	var types []*NodeType
	for i, name := range from.Nodes.names {
		as := from.Nodes.values[i]
		attrs, err := readAttributes(as.Attrs)
		if err != nil {
			return nil, fmt.Errorf("node %s: %w", name, err)
		}
		n := &NodeType{Name: name, inline: as.Inline || name == "text", leaf: as.Content == "", groups: strings.Fields(as.Group), attrs: attrs}
		s.nodes[name] = n
		types = append(types, n)
	}
	for i, n := range types {
		as := from.Nodes.values[i]
		var err error
		if n.match, err = readContent(as.Content, types); err != nil {
			return nil, fmt.Errorf("node %s: %w", n.Name, err)
		}
		inlineContent := len(n.match.next) > 0 && n.match.next[0].on.inline
		switch {
		case as.Marks != nil:
			n.marks = gather(inOrder, *as.Marks)
		default:
			n.anyMark = inlineContent
		}
	}
	s.top = s.nodes[from.TopNode]
	return s, nil
}

func gather(all []*MarkType, names string) (found []*MarkType) {
	for _, name := range strings.Fields(names) {
		for _, m := range all {
			if m.Name == name || slices.Contains(m.groups, name) {
				found = append(found, m)
			}
		}
	}
	return found
}

func readAttributes(from ordered[attributeJSON]) (all []attribute, err error) {
	for i, name := range from.names {
		as := from.values[i]
		a := attribute{name: name, types: strings.Split(as.Validate, "|"), within: as.Within, among: as.Among, atMost: as.AtMost, address: as.Address, widths: as.Widths}
		if as.Default != nil {
			a.optional = true
			if err := json.Unmarshal(as.Default, &a.usual); err != nil {
				return nil, err
			}
		}
		all = append(all, a)
	}
	return all, nil
}

// Attrs are the values of a node's or mark's attributes: all that its type has.
type Attrs map[string]any

// computed fills in what is usual, leaves out what the type does not know, and
// refuses what does not fit.
func computed(of string, attrs []attribute, given map[string]any) (Attrs, error) {
	if len(attrs) == 0 {
		return nil, nil
	}
	built := make(Attrs, len(attrs))
	for i := range attrs {
		a := &attrs[i]
		value, there := given[a.name]
		if !there {
			if !a.optional {
				return nil, refuse("no value of %s for %s", a.name, of)
			}
			value = a.usual
		} else if problem := a.check(value); problem != "" {
			return nil, refuse("%s of %s %s", a.name, of, problem)
		}
		built[a.name] = value
	}
	return built, nil
}

func (a *attribute) check(value any) string {
	kind := "object"
	switch value.(type) {
	case nil:
		kind = "null"
	case string:
		kind = "string"
	case float64:
		kind = "number"
	case bool:
		kind = "boolean"
	}
	if !slices.Contains(a.types, kind) {
		return "is a " + kind
	}
	switch v := value.(type) {
	case string:
		switch {
		case a.atMost > 0 && len(v) > a.atMost:
			return "is too long"
		case a.among != nil && !slices.Contains(a.among, v):
			return "is none of those there are"
		case a.address != "" && !Leads(v, a.address == "picture"):
			return "leads nowhere it may"
		}
	case float64:
		if v != math.Trunc(v) || a.within != nil && (v < a.within[0] || v > a.within[1]) {
			return "is out of range"
		}
	case []any:
		if !a.widths || len(v) > 200 || slices.ContainsFunc(v, func(w any) bool {
			n, ok := w.(float64)
			return !ok || n < 0 || n > 10000 || n != math.Trunc(n)
		}) {
			return "is no list of widths"
		}
	case map[string]any:
		return "is no list of widths"
	}
	return ""
}

// Leads tells whether an address may stand in a document: web, mail and telephone,
// and places of the document itself; for a picture also one kept with the document,
// or a file beside it. Nothing that runs. A page shows no picture but those kept
// with the document, so that nothing is fetched by looking at it.
func Leads(address string, picture bool) bool {
	if address == "" || strings.ContainsFunc(address, func(r rune) bool { return r <= 0x20 || r == 0x7f }) {
		return false
	}
	u, err := url.Parse(address)
	if err != nil {
		return false
	}
	switch strings.ToLower(u.Scheme) {
	case "http", "https":
		return u.Host != ""
	case "mailto", "tel":
		return !picture
	case "picture":
		return picture && u.Opaque != ""
	case "":
		return u.Host == "" && (picture || strings.HasPrefix(address, "#"))
	}
	return false
}

// Beside is the name of the file that lies beside a text and is the picture at an address; "" where that lies elsewhere.
func Beside(address string) string {
	u, err := url.Parse(address)
	if err != nil || !Leads(address, true) || u.Scheme != "" || u.RawQuery != "" || u.Fragment != "" || strings.Contains(u.Path, "/") {
		return ""
	}
	return u.Path
}

// PicturesBeside are the names of the pictures that lie beside a text and stand in it, in the order in which they do.
func PicturesBeside(doc *Node) (names []string) {
	doc.Walk(func(n *Node, _ int) bool {
		if src, is := n.Attrs["src"].(string); is && n.Type.Name == "picture" {
			if name := Beside(src); name != "" && !slices.Contains(names, name) {
				names = append(names, name)
			}
		}
		return true
	})
	return names
}

// allows tells whether content of this type may bear a mark.
func (t *NodeType) allows(m *MarkType) bool { return t.anyMark || slices.Contains(t.marks, m) }

func (t *NodeType) allowsAll(marks []Mark) bool {
	return t.anyMark || !slices.ContainsFunc(marks, func(m Mark) bool { return !slices.Contains(t.marks, m.Type) })
}

// valid tells whether content may stand in a node of this type.
func (t *NodeType) valid(content Fragment) bool {
	end := t.match.all(content.Nodes)
	if end == nil || !end.end || t.Name == "table_row" && len(content.Nodes) > MaxColumns {
		return false
	}
	return !slices.ContainsFunc(content.Nodes, func(n *Node) bool { return !t.allowsAll(n.Marks) })
}

func (t *NodeType) is(name string) bool { return t.Name == name || slices.Contains(t.groups, name) }
