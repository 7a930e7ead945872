package diff

import (
	"strings"
	"unicode"
	"unicode/utf8"
)

// Piece is a run of text. Moved says that what was removed here was added elsewhere, or
// the other way round.
type Piece struct {
	Kind  Kind
	Moved bool
	Text  string
}

// Text is how a text differs from another: all pieces that are not added are the one, all
// that are not removed the other.
type Text struct {
	Pieces []Piece
	// Removed, Added and Moved count words, Changes the places.
	Removed, Added, Moved, Changes int
	// Exact says that no part was too different to be compared word by word.
	Exact bool
}

const (
	// mostLines and mostWords bound how many edits are looked for in one part.
	mostLines, mostWords = 6000, 1500
	// movedWords is from how many words on something is said to have moved.
	movedWords = 6
)

// Words compares two texts: line by line, and where these differ word by word, which is
// how people read what has changed. Where that would say twice as much as has to be said,
// as when a short line goes past a long one, it is word by word from the start.
func Words(a, b string) Text {
	t := byLines(a, b)
	wa, wb := tokens(a), tokens(b)
	ids := interned{}
	if edits, exact := Sequences(ids.of(wa), ids.of(wb), mostWords); exact {
		plain := Text{Exact: true}
		plain.runs(wa, wb, edits)
		plain.tidy()
		if t.changed() > 2*plain.changed() {
			t = plain
		}
	}
	t.count()
	return t
}

func byLines(a, b string) Text {
	la, lb := Lines(a), Lines(b)
	ids := interned{}
	lines, exact := Sequences(ids.of(la), ids.of(lb), mostLines)
	t := Text{Exact: exact}
	for i := 0; i < len(lines); {
		e := lines[i]
		if e.Kind == Same {
			t.add(Same, strings.Join(la[e.A0:e.A1], ""))
			i++
			continue
		}
		from, to := e, e
		for i++; i < len(lines) && lines[i].Kind != Same; i++ {
			to = lines[i]
		}
		t.block(la[from.A0:to.A1], lb[from.B0:to.B1])
	}
	t.tidy()
	return t
}

// changed counts the words that are not the same.
func (t *Text) changed() (n int) {
	for _, p := range t.Pieces {
		if p.Kind != Same {
			n += wordsIn(p.Text)
		}
	}
	return n
}

// Lines splits a text behind its line ends.
func Lines(text string) []string {
	if text == "" {
		return nil
	}
	lines := strings.SplitAfter(text, "\n")
	if lines[len(lines)-1] == "" {
		lines = lines[:len(lines)-1]
	}
	return lines
}

// interned numbers strings.
type interned map[string]int32

func (in interned) of(all []string) []int32 {
	out := make([]int32, len(all))
	for i, s := range all {
		id, ok := in[s]
		if !ok {
			id = int32(len(in))
			in[s] = id
		}
		out[i] = id
	}
	return out
}

func (t *Text) add(k Kind, text string) {
	if text == "" {
		return
	}
	if last := len(t.Pieces) - 1; last >= 0 && t.Pieces[last].Kind == k {
		t.Pieces[last].Text += text
		return
	}
	t.Pieces = append(t.Pieces, Piece{Kind: k, Text: text})
}

// mostLinePairs bounds how many pairs of lines are looked at to find which became which.
const mostLinePairs = 2500

// block compares a part in which lines differ: those that have most words in common with
// one another word by word, what stands between them as a whole.
func (t *Text) block(a, b []string) {
	if len(a)*len(b) > mostLinePairs {
		t.words(strings.Join(a, ""), strings.Join(b, ""))
		return
	}
	i, j := 0, 0
	for _, p := range append(matchLines(a, b), [2]int{len(a), len(b)}) {
		if p[0] > i && p[1] > j {
			t.words(strings.Join(a[i:p[0]], ""), strings.Join(b[j:p[1]], ""))
		} else {
			t.put(Removed, strings.Join(a[i:p[0]], ""))
			t.put(Added, strings.Join(b[j:p[1]], ""))
		}
		if p[0] < len(a) && p[1] < len(b) {
			t.words(a[p[0]], b[p[1]])
		}
		i, j = p[0]+1, p[1]+1
	}
}

// matchLines pairs lines so that they have the most words in common, in order.
func matchLines(a, b []string) (pairs [][2]int) {
	bags := func(lines []string) []map[string]int {
		out := make([]map[string]int, len(lines))
		for i, l := range lines {
			out[i] = map[string]int{}
			for _, w := range strings.Fields(l) {
				out[i][w]++
			}
		}
		return out
	}
	wa, wb := bags(a), bags(b)
	common := make([][]int, len(a))
	for i := range a {
		common[i] = make([]int, len(b))
		for j := range b {
			n := 0
			for w, k := range wa[i] {
				n += min(k, wb[j][w])
			}
			// Lines of which less than a third is the same are not the same line.
			if 3*n >= max(len(wa[i]), len(wb[j])) {
				common[i][j] = n
			}
		}
	}
	return pairUp(len(a), len(b), func(i, j int) int { return common[i][j] })
}

// pairUp pairs the things of two lists, in order, so that what they have in common is the
// most; those that have nothing in common are not paired.
func pairUp(n, m int, common func(i, j int) int) (pairs [][2]int) {
	best := make([][]int, n+1)
	for i := range best {
		best[i] = make([]int, m+1)
	}
	for i := n - 1; i >= 0; i-- {
		for j := m - 1; j >= 0; j-- {
			best[i][j] = max(best[i+1][j], best[i][j+1])
			if s := common(i, j); s > 0 {
				best[i][j] = max(best[i][j], s+best[i+1][j+1])
			}
		}
	}
	for i, j := 0, 0; i < n && j < m; {
		switch s := common(i, j); {
		case s > 0 && best[i][j] == s+best[i+1][j+1]:
			pairs = append(pairs, [2]int{i, j})
			i++
			j++
		case best[i][j] == best[i+1][j]:
			i++
		default:
			j++
		}
	}
	return pairs
}

// words compares a part in which lines differ.
func (t *Text) words(a, b string) {
	wa, wb := tokens(a), tokens(b)
	ids := interned{}
	edits, exact := Sequences(ids.of(wa), ids.of(wb), mostWords)
	t.Exact = t.Exact && exact
	t.runs(wa, wb, edits)
}

func (t *Text) runs(wa, wb []string, edits []Edit) {
	slide(edits, wa, wb)
	for _, e := range edits {
		if e.Kind == Added {
			t.add(Added, strings.Join(wb[e.B0:e.B1], ""))
		} else {
			t.add(e.Kind, strings.Join(wa[e.A0:e.A1], ""))
		}
	}
}

// tokens splits a text into words, numbers, spaces and single signs.
func tokens(text string) (all []string) {
	class := func(r rune) int {
		switch {
		case unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r) || r == utf8.RuneError:
			return 1
		case r == '\n':
			return 3
		case unicode.IsSpace(r):
			return 2
		}
		return 0
	}
	from, was := 0, -1
	for i, r := range text {
		c := class(r)
		if i > from && (c != was || c == 0 || c == 3) {
			all = append(all, text[from:i])
			from = i
		}
		was = c
	}
	if from < len(text) {
		all = append(all, text[from:])
	}
	return all
}

// tidy joins changes between which only spaces and signs are the same: nobody reads them
// one by one.
func (t *Text) tidy() {
	var out Text
	for i, p := range t.Pieces {
		between := i > 0 && i+1 < len(t.Pieces) && t.Pieces[i-1].Kind != Same && t.Pieces[i+1].Kind != Same
		if p.Kind != Same || !between || len(p.Text) > 3 || strings.ContainsFunc(p.Text, wordly) || strings.Contains(p.Text, "\n") {
			out.put(p.Kind, p.Text)
			continue
		}
		out.put(Removed, p.Text)
		out.put(Added, p.Text)
	}
	t.Pieces = out.Pieces
}

func wordly(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) }

// put appends a piece; between two that are the same, what is removed stands before what
// is added.
func (t *Text) put(k Kind, text string) {
	last := len(t.Pieces) - 1
	if k == Removed && last >= 0 && t.Pieces[last].Kind == Added {
		if last > 0 && t.Pieces[last-1].Kind == Removed {
			t.Pieces[last-1].Text += text
			return
		}
		added := t.Pieces[last]
		t.Pieces[last] = Piece{Kind: Removed, Text: text}
		t.Pieces = append(t.Pieces, added)
		return
	}
	t.add(k, text)
}

// count finds what has moved, and counts words and places.
func (t *Text) count() {
	removed := map[string][]int{}
	for i, p := range t.Pieces {
		if p.Kind == Removed && wordsIn(p.Text) >= movedWords {
			key := strings.TrimSpace(p.Text)
			removed[key] = append(removed[key], i)
		}
	}
	for i, p := range t.Pieces {
		key := strings.TrimSpace(p.Text)
		if from := removed[key]; p.Kind == Added && len(from) > 0 {
			t.Pieces[i].Moved, t.Pieces[from[0]].Moved = true, true
			removed[key] = from[1:]
		}
	}
	for i, p := range t.Pieces {
		n := wordsIn(p.Text)
		switch {
		case p.Kind == Same:
			continue
		case p.Moved && p.Kind == Added:
			t.Moved += n
		case p.Moved:
		case p.Kind == Removed:
			t.Removed += n
		default:
			t.Added += n
		}
		if i == 0 || t.Pieces[i-1].Kind == Same {
			t.Changes++
		}
	}
}

// wordsIn counts words.
func wordsIn(text string) int {
	return len(strings.FieldsFunc(text, func(r rune) bool { return !wordly(r) }))
}
