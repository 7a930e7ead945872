// Package looks keeps which pages of a document somebody had before their eyes.
package looks

import (
	"fmt"
	"slices"
	"strconv"
	"strings"
)

// Pages are page numbers from 1, in order and once each.
type Pages []int

// Most is how many pages are kept of one document.
const Most = 2000

// With adds pages. Numbers below 1, and more than Most, are left out.
func (p Pages) With(more []int) Pages {
	all := slices.Concat(p, more)
	all = slices.DeleteFunc(all, func(n int) bool { return n < 1 })
	slices.Sort(all)
	all = slices.Compact(all)
	return all[:min(len(all), Most)]
}

// String writes runs of pages: "1-4, 7".
func (p Pages) String() string {
	var runs []string
	for i := 0; i < len(p); {
		j := i
		for j+1 < len(p) && p[j+1] == p[j]+1 {
			j++
		}
		if i == j {
			runs = append(runs, strconv.Itoa(p[i]))
		} else {
			runs = append(runs, fmt.Sprintf("%d-%d", p[i], p[j]))
		}
		i = j + 1
	}
	return strings.Join(runs, ", ")
}

// Parse reads what String writes. What is not understood is left out.
func Parse(s string) Pages {
	var all []int
	for run := range strings.SplitSeq(s, ",") {
		first, last, ok := strings.Cut(strings.TrimSpace(run), "-")
		if !ok {
			last = first
		}
		from, err1 := strconv.Atoi(first)
		to, err2 := strconv.Atoi(last)
		if err1 != nil || err2 != nil || to-from >= Most {
			continue
		}
		for n := from; n <= to; n++ {
			all = append(all, n)
		}
	}
	return Pages(nil).With(all)
}
