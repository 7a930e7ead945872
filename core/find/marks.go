package find

import (
	"slices"
	"sort"
	"strings"
	"unicode/utf8"
)

// Marker finds the words of a question in texts of a language. It is for one goroutine.
type Marker struct {
	q       Question
	stemmer *stemmer
	// begin are the first letters of what is looked for: other words need no stem.
	begin map[string]bool
	any   bool
}

// Marker makes a marker for texts of a language.
func (q Question) Marker(l Language) *Marker {
	m := &Marker{q: q, stemmer: newStemmer(l), begin: map[string]bool{}}
	for _, t := range append(q.terms(), q.without...) {
		for _, w := range t.words {
			for _, f := range append([]string{w.typed}, w.forms...) {
				if len(f) < 2 {
					m.any = true
				} else {
					m.begin[f[:2]] = true
				}
			}
		}
	}
	return m
}

// terms are those of which some stand in what is found.
func (q Question) terms() (all []term) {
	for _, g := range q.groups {
		all = append(all, g...)
	}
	return all
}

// Span is a piece of a text, in bytes.
type Span struct{ From, To int }

// hit is a span in which a term of a group stands.
type hit struct {
	Span
	group int
}

// placed is a word of a text as it is kept, and its position.
type placed struct {
	Span
	form, bare string
	position   int
}

// hits finds where the terms of a question stand in a text.
func (m *Marker) hits(text string) (all []hit) {
	words := m.words(text)
	for g, group := range m.q.groups {
		for _, t := range group {
			for i := range words {
				if end, ok := t.at(words, i); ok {
					all = append(all, hit{Span{words[i].From, end}, g})
				}
			}
		}
	}
	sort.SliceStable(all, func(i, j int) bool { return all[i].From < all[j].From })
	return all
}

// words are those words of a text that may be looked for.
func (m *Marker) words(text string) (out []placed) {
	position := 1
	tokens(text, func(t token) bool {
		plain := bare(t.word)
		if m.any || len(plain) >= 2 && m.begin[plain[:2]] {
			out = append(out, placed{Span{t.from, t.to}, m.stemmer.form(t), plain, position})
		}
		if !t.whole {
			position++
		}
		return true
	})
	return out
}

// at reports whether a term stands at a word, and where it ends.
func (t term) at(words []placed, i int) (end int, ok bool) {
	position := 0
	for n, w := range t.words {
		if n > 0 {
			position += w.after
		} else {
			position = words[i].position
		}
		last := n == len(t.words)-1
		found := false
		for j := i; j < len(words) && words[j].position <= position && !found; j++ {
			if words[j].position == position && w.is(words[j], t.begins && last, t.typing && last) {
				found, end = true, words[j].To
			}
		}
		if !found {
			return 0, false
		}
	}
	return end, true
}

func (w asked) is(p placed, begins, typing bool) bool {
	if (begins || typing) && strings.HasPrefix(p.form, w.typed) {
		return true
	}
	if begins {
		return false
	}
	for _, f := range w.forms {
		if f == p.form {
			return true
		}
	}
	return false
}

// Marks are the pieces of a text in which what is looked for stands, in order, none within
// another.
func (m *Marker) Marks(text string) (out []Span) {
	for _, h := range m.hits(text) {
		if n := len(out); n > 0 && h.From < out[n-1].To {
			out[n-1].To = max(out[n-1].To, h.To)
			continue
		}
		out = append(out, h.Span)
	}
	return out
}

// Snippet is a piece of a text in which what is looked for stands.
type Snippet struct {
	// Page is on which page it stands, counted from 0.
	Page int
	Text string
	// Marks are where in it.
	Marks []Span
	// Before and After say that something stands before it, and behind it.
	Before, After bool
}

// snippetBytes is about how long a snippet is.
const snippetBytes = 220

// Snippet finds the piece of a text's pages in which most of a question stands; the first
// of several.
func (m *Marker) Snippet(pages []string) (best Snippet, ok bool) {
	bestGroups, from, to := 0, 0, 0
	for i, page := range pages {
		all := m.hits(page)
		for first, h := range all {
			groups, end := map[int]bool{}, h.To
			for _, other := range all[first:] {
				if other.To-h.From > snippetBytes*3/4 && other != h {
					break
				}
				groups[other.group], end = true, max(end, other.To)
			}
			if len(groups) > bestGroups {
				bestGroups, best.Page, from, to = len(groups), i, h.From, end
			}
		}
		if bestGroups == len(m.q.groups) {
			break
		}
	}
	if bestGroups == 0 {
		return best, false
	}
	m.cut(&best, pages[best.Page], from, to)
	return best, true
}

// cut takes a piece around a span out of a page, on one line, at the ends of words where
// they end soon.
func (m *Marker) cut(s *Snippet, page string, from, to int) {
	beside := max(0, snippetBytes-(to-from)) / 2
	from, to = max(0, from-beside), min(len(page), to+beside)
	for least := from - mostMore; from > 0 && (!utf8.RuneStart(page[from]) || from > least && !blank(page[from-1])); {
		from--
	}
	for most := to + mostMore; to < len(page) && (!utf8.RuneStart(page[to]) || to < most && !blank(page[to])); {
		to++
	}
	s.Before, s.After = strings.TrimSpace(page[:from]) != "", strings.TrimSpace(page[to:]) != ""
	s.Text = strings.Join(strings.Fields(strings.ToValidUTF8(page[from:to], "")), " ")
	s.Marks = m.Marks(s.Text)
}

// mostMore is how far the end of a word is looked for.
const mostMore = 60

func blank(b byte) bool { return b == ' ' || b == '\n' || b == '\t' || b == '\r' || b == '\f' }

// Holds reports whether a text answers the question: also what a vector cannot tell, since
// the words stand too far behind.
func (m *Marker) Holds(t Text) bool {
	var texts [][]placed
	for _, text := range append(append([]string{t.Name}, t.Beside...), strings.Join(t.Pages, " ")) {
		texts = append(texts, m.words(text))
	}
	stands := func(t term) bool {
		return slices.ContainsFunc(texts, func(words []placed) bool {
			for i := range words {
				if _, ok := t.at(words, i); ok {
					return true
				}
			}
			return false
		})
	}
	for _, group := range m.q.groups {
		if !slices.ContainsFunc(group, stands) {
			return false
		}
	}
	return !slices.ContainsFunc(m.q.without, stands)
}

// Stands reports whether a text that was found by its vector answers the question: of what is
// too long for positions the vector knows only that the words of a phrase stand somewhere.
func (m *Marker) Stands(t Text) bool {
	phrase := slices.ContainsFunc(append(m.q.terms(), m.q.without...), func(t term) bool { return len(t.words) > 1 })
	bytes := 0
	for _, p := range t.Pages {
		bytes += len(p)
	}
	// Words have two letters and more between blanks.
	return !phrase || bytes < 2*lastPosition || m.Holds(t)
}
