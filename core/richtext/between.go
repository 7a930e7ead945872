package richtext

import "slices"

// Hunk is what differs between two texts: a range of the first one, and what stands there in the second.
type Hunk struct {
	From, To int
	slice    Slice
}

// mostBlocks bounds how many blocks that differ are told apart; above, they are one hunk.
const mostBlocks = 2000

// Between is what differs between two texts, block by block; within a paragraph that was changed, only what was.
func Between(a, b *Node) []Hunk {
	x, y := a.Content.Nodes, b.Content.Nodes
	start := 0
	for start < len(x) && start < len(y) && x[start].Equal(y[start]) {
		start++
	}
	end := 0
	for end < len(x)-start && end < len(y)-start && x[len(x)-1-end].Equal(y[len(y)-1-end]) {
		end++
	}
	at := 0
	for _, n := range x[:start] {
		at += n.Size()
	}
	return hunks(x[start:len(x)-end], y[start:len(y)-end], at)
}

func hunks(x, y []*Node, at int) (all []Hunk) {
	pairs := common(x, y)
	i, j := 0, 0
	for _, p := range append(pairs, [2]int{len(x), len(y)}) {
		gone, came := x[i:p[0]], y[j:p[1]]
		size := row(gone...).Size
		if len(gone) > 0 || len(came) > 0 {
			all = append(all, hunk(gone, came, at, size))
		}
		at += size
		if p[0] < len(x) {
			at += x[p[0]].Size()
		}
		i, j = p[0]+1, p[1]+1
	}
	return all
}

// hunk is one difference; of a single paragraph that stays one, what differs within it.
func hunk(gone, came []*Node, at, size int) Hunk {
	if len(gone) == 1 && len(came) == 1 && gone[0].sameMarkup(came[0]) && inlineOnly(gone[0]) && inlineOnly(came[0]) {
		a, b := gone[0].Content, came[0].Content
		first := 0
		for first < len(a.Nodes) && first < len(b.Nodes) && a.Nodes[first].Equal(b.Nodes[first]) {
			first++
		}
		last := 0
		for last < len(a.Nodes)-first && last < len(b.Nodes)-first && a.Nodes[len(a.Nodes)-1-last].Equal(b.Nodes[len(b.Nodes)-1-last]) {
			last++
		}
		before, after := row(a.Nodes[:first]...).Size, row(a.Nodes[len(a.Nodes)-last:]...).Size
		return Hunk{at + 1 + before, at + size - 1 - after, Slice{Content: row(b.Nodes[first : len(b.Nodes)-last]...)}}
	}
	return Hunk{at, at + size, Slice{Content: row(came...)}}
}

func inlineOnly(n *Node) bool {
	return !n.Type.leaf && !slices.ContainsFunc(n.Content.Nodes, func(c *Node) bool { return !c.Type.inline })
}

// common are pairs of equal blocks, as many as can be in one order.
func common(x, y []*Node) (pairs [][2]int) {
	if len(x)*len(y) > mostBlocks*mostBlocks {
		return nil
	}
	best := make([][]int32, len(x)+1)
	for i := range best {
		best[i] = make([]int32, len(y)+1)
	}
	for i := len(x) - 1; i >= 0; i-- {
		for j := len(y) - 1; j >= 0; j-- {
			best[i][j] = max(best[i+1][j], best[i][j+1])
			if x[i].Equal(y[j]) {
				best[i][j] = max(best[i][j], best[i+1][j+1]+1)
			}
		}
	}
	for i, j := 0, 0; i < len(x) && j < len(y); {
		switch {
		case x[i].Equal(y[j]) && best[i][j] == best[i+1][j+1]+1:
			pairs = append(pairs, [2]int{i, j})
			i, j = i+1, j+1
		case best[i+1][j] >= best[i][j+1]:
			i++
		default:
			j++
		}
	}
	return pairs
}

// Merged are the steps that put what came of an old text into a newer one, to which the maps lead; false where both
// changed the same.
func Merged(old, came, now *Node, since []StepMap) (steps []Step, ok bool) {
	over := Over(since...)
	doc, old := now, old.Unremarked()
	// From the end on, so that what comes first stays where it is.
	for _, h := range slices.Backward(Between(old, came)) {
		from, to := over.Map(h.From, 1), over.Map(h.To, -1)
		if h.From == h.To {
			to = from
		}
		was, err := old.slice(h.From, h.To)
		if err != nil || from > to {
			return nil, false
		}
		is, err := now.slice(from, to)
		if err != nil || !slices.EqualFunc(was.Content.Nodes, unremarkedAll(is.Content.Nodes), (*Node).Equal) {
			return nil, false
		}
		step := replaceStep{from: from, to: to, slice: h.slice}
		if doc, err = step.Apply(doc); err != nil {
			return nil, false
		}
		steps = append(steps, step)
	}
	return steps, true
}
