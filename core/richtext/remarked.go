package richtext

import (
	"maps"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
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

// Held are the words that a remark holds on to, and which of the places where they stand that is, counted from 0.
type Held struct {
	Words string `json:"words"`
	Nth   int    `json:"nth"`
}

// HeldBy are the words that remarks hold on to in a text, by the threads.
func HeldBy(doc *Node) map[string]Held {
	var said Spaced
	type span struct{ from, to int }
	spans := map[string]span{}
	doc.Walk(func(n *Node, _ int) bool {
		from := said.Len()
		switch {
		case n.IsText():
			said.Add(n.Text)
		case !n.Type.leaf && n.Content.child(0) != nil && n.Content.Nodes[0].Type.inline, n.Type.Name == "hard_break":
			said.Add("\n")
		}
		for _, m := range n.Marks {
			id, is := m.Attrs["id"].(string)
			if !is || m.Type.Name != "remark" || said.Len() == from {
				continue
			}
			if s, known := spans[id]; known {
				from = s.from
			}
			spans[id] = span{from, said.Len()}
		}
		return true
	})
	all := map[string]Held{}
	for id, s := range spans {
		words := strings.TrimSpace(said.String()[s.from:s.to])
		if words == "" {
			continue
		}
		from, nth := s.from+strings.Index(said.String()[s.from:], words), 0
		said.each(words, func(at int) bool {
			nth++
			return at < from
		})
		all[id] = Held{words, nth - 1}
	}
	return all
}

// Spaced is a text with one space wherever there are any, so that words are found again however lines break.
type Spaced struct {
	strings.Builder
	spaced bool
}

// Add adds to it; how long it is before and after says where what was added stands.
func (s *Spaced) Add(text string) {
	for _, c := range text {
		if unicode.IsSpace(c) {
			s.spaced = true
			continue
		}
		if s.spaced && s.Len() > 0 {
			s.WriteByte(' ')
		}
		s.spaced = false
		s.WriteRune(c)
	}
}

// Find is where words stand for the nth time, counted from 0; -1 where they do not so often.
func (s *Spaced) Find(words string, nth int) int {
	found := -1
	s.each(words, func(at int) bool {
		if nth--; nth < 0 {
			found = at
		}
		return found < 0
	})
	return found
}

// each goes through the places where words stand, until there are no more or f says so.
func (s *Spaced) each(words string, f func(at int) bool) {
	_, size := utf8.DecodeRuneInString(words)
	for text, at := s.String(), 0; size > 0; at += size {
		next := strings.Index(text[at:], words)
		if next < 0 || !f(at+next) {
			return
		}
		at += next
	}
}
