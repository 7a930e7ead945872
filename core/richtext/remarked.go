package richtext

import (
	"maps"
	"slices"
)

// Remarks hold on to their words by a mark with the thread's id, which goes along with what is written. Whoever may say
// something may put such marks; nobody but writers takes them away.

// Unremarked is a node without the marks of remarks.
func (n *Node) Unremarked() *Node { return n.unremarked(func(string) bool { return true }) }

func (n *Node) unremarked(away func(id string) bool) *Node {
	c := *n
	c.Marks = slices.DeleteFunc(slices.Clone(n.Marks), func(m Mark) bool {
		id, _ := m.Attrs["id"].(string)
		return m.Type.Name == "remark" && away(id)
	})
	if len(c.Marks) == 0 {
		c.Marks = nil
	}
	nodes := make([]*Node, len(n.Content.Nodes))
	for i, child := range n.Content.Nodes {
		nodes[i] = child.unremarked(away)
	}
	c.Content = joined(nodes)
	return &c
}

// remarked are the threads that hold on to words of a text.
func remarked(doc *Node) map[string]bool {
	all := map[string]bool{}
	doc.Walk(func(n *Node, _ int) bool {
		for _, m := range n.Marks {
			if id, is := m.Attrs["id"].(string); is && m.Type.Name == "remark" {
				all[id] = true
			}
		}
		return true
	})
	return all
}

// withoutFresh is a text without the marks of remarks that another one has none of.
func withoutFresh(after, before *Node) *Node {
	known, fresh := remarked(before), remarked(after)
	maps.DeleteFunc(fresh, func(id string, _ bool) bool { return known[id] })
	if len(fresh) == 0 {
		return after
	}
	return after.unremarked(func(id string) bool { return !known[id] })
}

// RemarksOnly refuses a change that does more than let remarks hold on to words.
func RemarksOnly(before, after *Node) error {
	if !before.Equal(withoutFresh(after, before)) {
		return moreThanAllowed.New("the text itself would change")
	}
	return nil
}

func unremarkedAll(nodes []*Node) []*Node {
	return (&Node{Type: Written.top, Content: row(nodes...)}).Unremarked().Content.Nodes
}
