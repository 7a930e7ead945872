package diff

// slide moves what is removed or added alone to where a line or a word begins, where it
// says the same there: "As agreed.⏎" is added, not ".⏎As agreed".
func slide(edits []Edit, a, b []string) {
	for i := 1; i+1 < len(edits); i++ {
		before, e, after := &edits[i-1], &edits[i], &edits[i+1]
		if e.Kind == Same || before.Kind != Same || after.Kind != Same {
			continue
		}
		all, from, to := a, e.A0, e.A1
		if e.Kind == Added {
			all, from, to = b, e.B0, e.B1
		}
		by := best(all, from, to, before.A1-before.A0, after.A1-after.A0)
		before.A1, before.B1 = before.A1+by, before.B1+by
		e.A0, e.A1, e.B0, e.B1 = e.A0+by, e.A1+by, e.B0+by, e.B1+by
		after.A0, after.B0 = after.A0+by, after.B0+by
	}
}

// best finds by how many tokens a run can go back, at most so many, or on, so that it
// begins where people would say it does.
func best(all []string, from, to, back, on int) (by int) {
	most := begins(all, from)
	for k := 1; k <= back && all[from-k] == all[to-k]; k++ {
		if score := begins(all, from-k); score > most {
			by, most = -k, score
		}
	}
	for k := 1; k <= on && all[from+k-1] == all[to+k-1]; k++ {
		if score := begins(all, from+k); score > most {
			by, most = k, score
		}
	}
	return by
}

// begins says how well something can begin at a token: best at a line's beginning, well
// at a word's.
func begins(all []string, at int) int {
	switch {
	case at == 0 || all[at-1] == "\n":
		return 2
	case all[at-1] == " ":
		return 1
	}
	return 0
}
