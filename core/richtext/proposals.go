package richtext

import (
	"maps"
	"slices"
)

// Mode is what somebody may do to a document that is written.
type Mode string

// The modes: writing, proposing what others decide on, filling fields, reading.
const (
	Write   Mode = "write"
	Propose Mode = "propose"
	Fill    Mode = "fill"
	Look    Mode = "look"
	// Remark lets remarks hold on to words.
	Remark Mode = "remark"
)

// Allow refuses a change that does more than its writer may. Writers bear their own
// name under what they propose as well.
func (m Mode) Allow(before, after *Node, by string) error {
	switch m {
	case Write:
		return nil
	case Propose:
		return ProposesOnly(before, after, by)
	case Fill:
		return FillsOnly(before, after)
	case Remark:
		return RemarksOnly(before, after)
	}
	return moreThanAllowed.New("the text may only be read")
}

// Proposing is done with two marks, each with an id and who proposes: text and
// blocks that are inserted, and such as are to go. On a block they stand for the
// break before it. What a proposer leaves is the document as it was, once what they
// propose is taken away.

// Without is the document without what somebody proposes; without what anybody
// does where by is empty.
func Without(doc *Node, by string) (*Node, error) {
	content, err := without(doc.Content, func(m Mark) bool { return by == "" || m.Attrs["by"] == by })
	if err != nil {
		return nil, err
	}
	return doc.with(content), nil
}

func without(f Fragment, theirs func(Mark) bool) (Fragment, error) {
	var out []*Node
	for _, n := range f.Nodes {
		inserted := slices.ContainsFunc(n.Marks, func(m Mark) bool { return m.Type.Name == "inserted" && theirs(m) })
		if inserted && n.Type.inline {
			continue
		}
		n = n.marked(slices.DeleteFunc(slices.Clone(n.Marks), func(m Mark) bool {
			return (m.Type.Name == "inserted" || m.Type.Name == "deleted") && theirs(m)
		}))
		if n.Marks != nil && len(n.Marks) == 0 {
			n.Marks = nil
		}
		content, err := without(n.Content, theirs)
		if err != nil {
			return Fragment{}, err
		}
		n = n.with(content)
		switch {
		case !inserted:
			out = addNode(n, out)
		case empty(n):
		case len(out) == 0:
			return Fragment{}, refuse("a block is proposed that would take what was there with it")
		default:
			last := len(out) - 1
			joined, err := rejoined(out[last], n)
			if err != nil {
				return Fragment{}, err
			}
			out[last] = joined
		}
	}
	return row(out...), nil
}

// empty tells whether a node holds nothing that could be read.
func empty(n *Node) bool {
	if n.Type.leaf {
		return false
	}
	return !slices.ContainsFunc(n.Content.Nodes, func(c *Node) bool { return !empty(c) })
}

// rejoined undoes a break: what the second holds goes on in the first.
func rejoined(a, b *Node) (*Node, error) {
	if a.Type.leaf || b.Type.leaf || joins(a, b) != nil {
		return nil, refuse("a break is proposed where nothing could be joined again")
	}
	nodes := slices.Clone(a.Content.Nodes)
	rest := b.Content.Nodes
	if len(nodes) > 0 && len(rest) > 0 && !rest[0].Type.inline && nodes[len(nodes)-1].Type == rest[0].Type {
		inner, err := rejoined(nodes[len(nodes)-1], rest[0])
		if err != nil {
			return nil, err
		}
		nodes[len(nodes)-1], rest = inner, rest[1:]
	}
	return a.with(joined(slices.Concat(nodes, rest))), nil
}

// ProposesOnly refuses a change that does more than propose in somebody's name.
func ProposesOnly(before, after *Node, by string) error {
	was, err := Without(before, by)
	if err != nil {
		return err
	}
	is, err := Without(withoutFresh(after, before), by)
	if err != nil {
		return err
	}
	if !was.Equal(is) {
		return moreThanAllowed.New("the text itself would change, or what somebody else proposes")
	}
	return nil
}

// Proposals are whose each proposal in a text is, by their ids.
func Proposals(doc *Node) map[string]string {
	all := map[string]string{}
	doc.proposals(all)
	return all
}

func (n *Node) proposals(into map[string]string) {
	note(n.Marks, into)
	for _, c := range n.Content.Nodes {
		c.proposals(into)
	}
}

func note(marks []Mark, into map[string]string) {
	for _, m := range marks {
		if m.Type.Name == "inserted" || m.Type.Name == "deleted" {
			id, _ := m.Attrs["id"].(string)
			into[id], _ = m.Attrs["by"].(string)
		}
	}
}

// Brings are the proposals that a step would bring into a text, by their ids.
func Brings(s Step) map[string]string {
	all := map[string]string{}
	brings(s, all)
	return all
}

func brings(s Step, into map[string]string) {
	switch s := s.(type) {
	case replaceStep:
		(&Node{Content: s.slice.Content}).proposals(into)
	case replaceAroundStep:
		(&Node{Content: s.slice.Content}).proposals(into)
	case markStep:
		if !s.remove {
			note([]Mark{s.mark}, into)
		}
	case markSetStep:
		for _, one := range s.steps {
			brings(one, into)
		}
	case nodeStep:
		if s.kind == "addNodeMark" {
			note([]Mark{s.mark}, into)
		}
	}
}

// InOwnName refuses a step that brings proposals in another's name which were never made: known are those that were,
// so that what was decided can be taken back.
func InOwnName(s Step, by string, known map[string]string) error {
	for id, whose := range Brings(s) {
		if was, there := known[id]; whose != by && (!there || was != whose) || there && was != whose {
			return moreThanAllowed.New("a proposal bears another's name")
		}
	}
	return nil
}

// FillsOnly refuses a change that does more than give fields their values.
func FillsOnly(before, after *Node) error {
	if !unfilled(before).Equal(unfilled(after)) {
		return moreThanAllowed.New("more than the values of fields would change")
	}
	return nil
}

// Ticked is the value of a field that is a tick, and set.
const Ticked = "yes"

func unfilled(n *Node) *Node {
	return n.Refilled(func(attrs Attrs) { attrs["value"] = "" })
}

// Refilled is the node with the attributes of its fields, and of all below it, changed by a function.
func (n *Node) Refilled(change func(attrs Attrs)) *Node {
	if n.Type.Name == "field" {
		c := *n
		c.Attrs = Attrs(maps.Clone(map[string]any(n.Attrs)))
		change(c.Attrs)
		return &c
	}
	nodes := make([]*Node, len(n.Content.Nodes))
	for i, c := range n.Content.Nodes {
		nodes[i] = c.Refilled(change)
	}
	return n.with(Fragment{nodes, n.Content.Size})
}

// IsTextblock tells what holds a line of text from what holds blocks.
func (n *Node) IsTextblock() bool {
	return !n.Type.inline && n.Content.child(0) != nil && n.Content.Nodes[0].Type.inline
}
