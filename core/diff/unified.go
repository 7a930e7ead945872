package diff

import (
	"fmt"
	"strings"
)

// around is how many lines stand around a change.
const around = 3

// Unified writes how b differs from a, in the unified format of POSIX diff -u, as patch
// programs take it. Nothing is written where they are the same. ok is false where they
// are too different to be compared line by line.
func Unified(a, b, nameA, nameB string) (patch string, ok bool) {
	la, lb := Lines(a), Lines(b)
	ids := interned{}
	edits, exact := Sequences(ids.of(la), ids.of(lb), mostLines)
	var out strings.Builder
	for _, h := range hunks(edits) {
		if out.Len() == 0 {
			fmt.Fprintf(&out, "--- %s\n+++ %s\n", patchName("a", nameA), patchName("b", nameB))
		}
		first, last := h[0], h[len(h)-1]
		fmt.Fprintf(&out, "@@ -%s +%s @@\n", span(first.A0, last.A1), span(first.B0, last.B1))
		for _, e := range h {
			switch e.Kind {
			case Same:
				writeLines(&out, " ", la[e.A0:e.A1])
			case Removed:
				writeLines(&out, "-", la[e.A0:e.A1])
			case Added:
				writeLines(&out, "+", lb[e.B0:e.B1])
			}
		}
	}
	return out.String(), exact
}

// patchName is a file's name as a patch says it: a tabulator ends one with spaces.
func patchName(side, name string) string { return side + "/" + name + "\t" }

// span says from which line on, counted from 1, and how many. Of none it is the line
// before.
func span(from, to int) string {
	if from == to {
		return fmt.Sprintf("%d,0", from)
	}
	return fmt.Sprintf("%d,%d", from+1, to-from)
}

func writeLines(out *strings.Builder, sign string, lines []string) {
	for _, l := range lines {
		out.WriteString(sign + l)
		if !strings.HasSuffix(l, "\n") {
			out.WriteString("\n\\ No newline at end of file\n")
		}
	}
}

// hunks gathers changes with the lines around them; those that are near each other are
// one.
func hunks(edits []Edit) (all [][]Edit) {
	var at []Edit
	for i, e := range edits {
		if e.Kind != Same {
			at = append(at, e)
			continue
		}
		n, last := e.A1-e.A0, i == len(edits)-1
		if at != nil && (last || n > 2*around) {
			keep := min(around, n)
			all, at = append(all, append(at, Edit{Same, e.A0, e.A0 + keep, e.B0, e.B0 + keep})), nil
		} else if at != nil {
			at = append(at, e)
		}
		if at == nil && !last {
			keep := min(around, n)
			at = []Edit{{Same, e.A1 - keep, e.A1, e.B1 - keep, e.B1}}
		}
	}
	if at != nil && !(len(at) == 1 && at[0].Kind == Same) {
		all = append(all, at)
	}
	return all
}
