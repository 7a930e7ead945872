package diff

import (
	"slices"
	"strings"
)

// Merge brings together what two texts changed of the one from which both were made, line
// by line (three-way merge). Conflicts is in how many places both changed the same lines,
// or lines beside each other, otherwise; then merged is empty: nobody's words are chosen
// from.
func Merge(base, a, b string) (merged string, conflicts int) {
	lines, la, lb := Lines(base), Lines(a), Lines(b)
	ids := interned{}
	nBase, nA, nB := ids.of(lines), ids.of(la), ids.of(lb)
	ours, theirs := changes(nBase, nA), changes(nBase, nB)
	var out []string
	at, i, j := 0, 0, 0
	for i < len(ours) || j < len(theirs) {
		// What is changed next, with all of either that touches it.
		from, to, i1, j1 := reach(ours, theirs, i, j)
		out = append(out, lines[at:from]...)
		left, right := applied(lines, la, ours[i:i1], from, to), applied(lines, lb, theirs[j:j1], from, to)
		switch {
		case i == i1, slices.Equal(left, right):
			out = append(out, right...)
		case j == j1:
			out = append(out, left...)
		default:
			conflicts++
		}
		at, i, j = to, i1, j1
	}
	if conflicts > 0 {
		return "", conflicts
	}
	return strings.Join(append(out, lines[at:]...), ""), 0
}

// changes are what is not the same, each as one run of the first that became one of the
// second.
func changes(a, b []int32) (all []Edit) {
	edits, _ := Sequences(a, b, mostLines)
	for _, e := range edits {
		last := len(all) - 1
		switch {
		case e.Kind == Same:
		case last >= 0 && all[last].A1 == e.A0 && all[last].B1 == e.B0:
			all[last].A1, all[last].B1 = e.A1, e.B1
		default:
			all = append(all, e)
		}
	}
	return all
}

// reach is the next part of the base that something changes, and up to which changes of
// both lie in it or touch it.
func reach(ours, theirs []Edit, i, j int) (from, to, i1, j1 int) {
	i1, j1 = i, j
	if j == len(theirs) || i < len(ours) && ours[i].A0 <= theirs[j].A0 {
		from, to, i1 = ours[i].A0, ours[i].A1, i+1
	} else {
		from, to, j1 = theirs[j].A0, theirs[j].A1, j+1
	}
	for {
		switch {
		case i1 < len(ours) && ours[i1].A0 <= to:
			to, i1 = max(to, ours[i1].A1), i1+1
		case j1 < len(theirs) && theirs[j1].A0 <= to:
			to, j1 = max(to, theirs[j1].A1), j1+1
		default:
			return from, to, i1, j1
		}
	}
}

// applied is a part of the base with changes of one of the texts.
func applied(base, text []string, edits []Edit, from, to int) (out []string) {
	at := from
	for _, e := range edits {
		out = append(out, base[at:e.A0]...)
		out = append(out, text[e.B0:e.B1]...)
		at = e.A1
	}
	return append(out, base[at:to]...)
}
