package chunk

import (
	"cmp"
	"encoding/binary"
	"errors"
	"slices"
)

// Run is a piece of a content: Length bytes that stand at At in a source. Source 0 is what
// is kept of the content itself, others are counted from 1.
type Run struct {
	Source     int
	At, Length int64
}

// Recipe are the runs of which a content is made, one after the other.
type Recipe []Run

// Own is how many bytes are kept of the content itself.
func (r Recipe) Own() (n int64) {
	for _, run := range r {
		if run.Source == 0 {
			n += run.Length
		}
	}
	return n
}

// Size is how many bytes the content has.
func (r Recipe) Size() (n int64) {
	for _, run := range r {
		n += run.Length
	}
	return n
}

// errRecipe says that what was stored as a recipe is none.
var errRecipe = errors.New("what says of which runs a content is made is damaged")

// Encode writes a recipe as unsigned varints: source, place and length of each run.
func (r Recipe) Encode() []byte {
	out := make([]byte, 0, 10*len(r))
	for _, run := range r {
		out = binary.AppendUvarint(out, uint64(run.Source))
		out = binary.AppendUvarint(out, uint64(run.At))
		out = binary.AppendUvarint(out, uint64(run.Length))
	}
	return out
}

// Decode reads what Encode wrote, for a content of size bytes with so many sources.
// Anything else is an error.
func Decode(raw []byte, sources int, size int64) (Recipe, error) {
	var r Recipe
	for len(raw) > 0 {
		var three [3]int64
		for i := range three {
			v, n := binary.Uvarint(raw)
			if n <= 0 || v > 1<<62 {
				return nil, errRecipe
			}
			three[i], raw = int64(v), raw[n:]
		}
		run := Run{int(three[0]), three[1], three[2]}
		if three[0] > int64(sources) || run.Length == 0 || run.Length > size {
			return nil, errRecipe
		}
		if size -= run.Length; size < 0 {
			return nil, errRecipe
		}
		r = append(r, run)
	}
	if size != 0 {
		return nil, errRecipe
	}
	return r, nil
}

// Through turns parts of an earlier content into runs of what that is made of itself: its
// runs, where it has a recipe. Sources are numbered by name, a function that knows which
// source of the earlier content is which of the later; source 0 of the earlier is itself.
func Through(parts []Part, earlier Recipe, name func(source int) int) Recipe {
	var out Recipe
	own := int64(0)
	add := func(run Run) {
		if last := len(out) - 1; last >= 0 && out[last].Source == run.Source && out[last].At+out[last].Length == run.At {
			out[last].Length += run.Length
			return
		}
		out = append(out, run)
	}
	starts := make([]int64, len(earlier)+1)
	for i, run := range earlier {
		starts[i+1] = starts[i] + run.Length
	}
	for _, p := range parts {
		if p.From < 0 {
			add(Run{0, own, p.Length})
			own += p.Length
			continue
		}
		i, exact := slices.BinarySearch(starts, p.From)
		if !exact {
			i--
		}
		for from, left := p.From, p.Length; left > 0; i++ {
			within := from - starts[i]
			n := min(left, earlier[i].Length-within)
			add(Run{name(earlier[i].Source), earlier[i].At + within, n})
			from, left = from+n, left-n
		}
	}
	return out
}

// Gather takes runs of sources for which few says so into what is kept of the content
// itself: a content of very many sources is slow to read. It returns the recipe, and the
// places of the content, as starts and lengths, of which the own bytes are now made, in
// their order.
func Gather(r Recipe, few func(source int) bool) (Recipe, []Part) {
	var out Recipe
	var kept []Part
	own, at := int64(0), int64(0)
	for _, run := range r {
		if run.Source == 0 || few(run.Source) {
			kept = append(kept, Part{From: at, Length: run.Length})
			at += run.Length
			if last := len(out) - 1; last >= 0 && out[last].Source == 0 {
				out[last].Length += run.Length
			} else {
				out = append(out, Run{0, own, run.Length})
			}
			own += run.Length
			continue
		}
		at += run.Length
		out = append(out, run)
	}
	return out, kept
}

// Union puts spans in order, as starts and lengths, and those together that overlap or
// touch.
func Union(spans []Part) []Part {
	spans = slices.Clone(spans)
	slices.SortFunc(spans, func(a, b Part) int { return cmp.Compare(a.From, b.From) })
	var out []Part
	for _, s := range spans {
		last := len(out) - 1
		if last < 0 || out[last].From+out[last].Length < s.From {
			out = append(out, s)
			continue
		}
		out[last].Length = max(out[last].Length, s.From+s.Length-out[last].From)
	}
	return out
}

// Within is where a place lies that is in one of the spans once nothing but they is left,
// one after the other.
func Within(spans []Part, place int64) int64 {
	before := int64(0)
	for _, s := range spans {
		if place < s.From+s.Length {
			return before + place - s.From
		}
		before += s.Length
	}
	return before
}
