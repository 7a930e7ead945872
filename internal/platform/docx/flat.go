package docx

import (
	"encoding/json"

	"tabularis/core/richtext"
)

// block is a line as it is wanted: a node that stands alone, and where.
type block struct {
	node *richtext.Node
	// list is in which kind of list it begins an item, depth how far in it stands, nested how deep a list in it would;
	// number is what it would be counted.
	list          string
	depth, nested int
	number        int
	// counts is in what its list counts, as a file says it; "bullet" where it does not.
	counts string
	// first says that it begins its list.
	first  bool
	quoted bool
	done   bool
	// begins is what is proposed of the break before it, ends of the one after it.
	begins, ends []richtext.Mark
	key          string
}

// flat are the lines of a text.
func flat(doc *richtext.Node) []block {
	var all []block
	for _, n := range doc.Content.Nodes {
		all = flatten(n, block{}, all)
	}
	for i := range all {
		if i+1 < len(all) {
			all[i].ends = all[i+1].begins
		}
		all[i].key = all[i].sum()
	}
	return all
}

// sum is the same for lines that are written alike.
func (b block) sum() string {
	bare := *b.node
	bare.Marks = nil
	raw, _ := json.Marshal(&bare)
	where, _ := json.Marshal(object{"list": b.list, "depth": b.depth, "quoted": b.quoted, "done": b.done, "ends": proposalsOf(b.ends)})
	return string(raw) + string(where)
}

// flatten adds the lines of a block, which stand as at says.
func flatten(n *richtext.Node, at block, all []block) []block {
	at.begins = append(at.begins[:len(at.begins):len(at.begins)], n.Marks...)
	switch {
	case n.Type.Name == "blockquote":
		at.quoted = true
		return flattenAll(n.Content.Nodes, at, all)
	case isList(n):
		return flattenList(n, at, all)
	}
	at.node = n
	return append(all, at)
}

func flattenAll(nodes []*richtext.Node, at block, all []block) []block {
	for i, n := range nodes {
		if i > 0 {
			at.begins = nil
		}
		all = flatten(n, at, all)
	}
	return all
}

func flattenList(n *richtext.Node, at block, all []block) []block {
	start, _ := n.Attrs["start"].(float64)
	counts := "bullet"
	if count, is := n.Attrs["count"].(string); is {
		counts = countings[count]
	}
	depth := at.nested
	for i, item := range n.Content.Nodes {
		one := at
		if i > 0 {
			one.begins = nil
		}
		one.begins = append(one.begins[:len(one.begins):len(one.begins)], item.Marks...)
		one.list, one.depth, one.nested, one.number, one.first, one.counts = n.Type.Name, depth, depth+1, int(start)+i, i == 0, counts
		one.done, _ = item.Attrs["done"].(bool)
		for j, c := range item.Content.Nodes {
			if j > 0 {
				// What follows in an item stands further in, and begins none.
				one = block{quoted: at.quoted, depth: depth + 1, nested: depth + 1}
			}
			all = flatten(c, one, all)
		}
	}
	return all
}

func isList(n *richtext.Node) bool {
	switch n.Type.Name {
	case "bullet_list", "ordered_list", "task_list":
		return true
	}
	return false
}

// proposalsOf are the proposals among marks, as they are compared.
func proposalsOf(all []richtext.Mark) (out [][2]any) {
	for _, m := range all {
		if m.Type.Name == "inserted" || m.Type.Name == "deleted" {
			out = append(out, [2]any{m.Type.Name, m.Attrs["id"]})
		}
	}
	return out
}
