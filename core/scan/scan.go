// Package scan finds sensitive content in text: payment-card numbers, bank
// accounts, national numbers, and a practice's own words and patterns.
//
// A run of digits is taken for a number only if it has the form and the check
// digits of one: most order, telephone and hull numbers have not. What is found
// is told by kind and place; the number itself is never repeated whole.
package scan

import (
	"bytes"
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Kind is a kind of sensitive content.
type Kind string

const (
	Card     Kind = "card"
	IBAN     Kind = "iban"
	National Kind = "national"
	// Own are the practice's words and patterns.
	Own Kind = "own"
)

// Finding is one place where something sensitive stands.
type Finding struct {
	Kind Kind
	// Name is the country of a national number, or the practice's word or pattern.
	Name string
	// Shown is what was found, with all but its end hidden.
	Shown string
	// Line is where it stands, beginning at 1.
	Line int
	// At and End are byte positions in the text.
	At, End int
}

// Scanner finds the usual kinds, and what a practice adds.
type Scanner struct {
	numbers []Number
	own     []pattern
}

// New makes a scanner with national numbers of these schemes and the practice's
// own patterns.
func New(numbers []Number, own []Pattern) (*Scanner, error) {
	s := &Scanner{numbers: numbers}
	for _, p := range own {
		made, err := p.compile()
		if err != nil {
			return nil, err
		}
		s.own = append(s.own, made)
	}
	return s, nil
}

// Find lists what is sensitive in a text, in order. Of findings that overlap the
// longest counts.
func (s *Scanner) Find(text string) []Finding {
	var all []Finding
	for _, c := range candidates(text) {
		all = append(all, s.inRun(text, c)...)
	}
	for _, p := range s.own {
		all = append(all, p.find(text)...)
	}
	return placed(text, longest(all))
}

// longest drops findings that lie in longer ones.
func longest(all []Finding) []Finding {
	slices.SortStableFunc(all, func(a, b Finding) int {
		if a.At != b.At {
			return a.At - b.At
		}
		return b.End - a.End
	})
	var out []Finding
	for _, f := range all {
		if n := len(out); n > 0 && f.At < out[n-1].End {
			continue
		}
		out = append(out, f)
	}
	return out
}

// placed adds the line of each finding.
func placed(text string, all []Finding) []Finding {
	line, at := 1, 0
	for i, f := range all {
		line += strings.Count(text[at:f.At], "\n")
		at = f.At
		all[i].Line = line
	}
	return all
}

// run is letters and digits that may be one number, with blanks and dashes
// between its groups.
type run struct {
	// plain is the run in capitals, without what separates its groups; starts are
	// the positions of its characters in the text, which are one byte each.
	plain  []byte
	starts []int
	// breaks says at which characters of plain a group begins.
	breaks []bool
}

// longestNumber is how many characters a number has at most.
const longestNumber = 34

// candidates are the runs of letters and digits in a text. A run ends at
// anything but a single separator.
func candidates(text string) []run {
	var out []run
	var r run
	begin := true
	flush := func() {
		if len(r.plain) >= 7 && bytes.ContainsAny(r.plain, "0123456789") {
			out = append(out, run{slices.Clone(r.plain), slices.Clone(r.starts), slices.Clone(r.breaks)})
		}
		r, begin = run{r.plain[:0], r.starts[:0], r.breaks[:0]}, true
	}
	separators := 0
	for i := 0; i < len(text); {
		c, n := utf8.DecodeRuneInString(text[i:])
		switch {
		case c < utf8.RuneSelf && (unicode.IsDigit(c) || unicode.IsLetter(c)):
			r.plain = append(r.plain, byte(unicode.ToUpper(c)))
			r.starts, r.breaks = append(r.starts, i), append(r.breaks, begin)
			begin, separators = false, 0
		case separators == 0 && len(r.plain) > 0 && (c == ' ' || c == '-' || c == '\u00a0' || c == '\u202f' || c == '.' || c == '/'):
			begin, separators = true, 1
		case unicode.IsLetter(c) || unicode.IsDigit(c):
			// Letters of other scripts belong to words, not to numbers.
			flush()
			begin = true
		default:
			flush()
			separators = 0
		}
		if len(r.plain) > 400 {
			flush()
		}
		i += n
	}
	flush()
	return out
}

// inRun looks for numbers in a run: at the beginnings of its groups, the longest
// first.
func (s *Scanner) inRun(text string, r run) (all []Finding) {
	for from := 0; from < len(r.plain); from++ {
		if !r.breaks[from] || !bytes.ContainsAny(r.plain[from:min(from+4, len(r.plain))], "0123456789") {
			continue
		}
		if f, length := s.longestAt(text, r, from); length > 0 {
			all = append(all, f)
			from += length - 1
		}
	}
	return all
}

// longestAt finds the longest number that begins with a group, and how many
// characters of the run it takes.
func (s *Scanner) longestAt(text string, r run, from int) (Finding, int) {
	for length := min(longestNumber, len(r.plain)-from); length >= 7; length-- {
		to := from + length
		if to < len(r.plain) && !r.breaks[to] {
			continue
		}
		at, end := r.starts[from], r.starts[to-1]+1
		plain := string(r.plain[from:to])
		if kind, name, ok := s.kind(plain, text[at:end]); ok {
			return Finding{Kind: kind, Name: name, Shown: hidden(plain), At: at, End: end}, length
		}
	}
	return Finding{}, 0
}

// kind says what a number is. written is how it stands in the text.
func (s *Scanner) kind(plain, written string) (Kind, string, bool) {
	switch {
	case isIBAN(plain):
		return IBAN, plain[:2], true
	case isCard(plain, written):
		return Card, "", true
	}
	for _, n := range s.numbers {
		if n.Is(plain, written) {
			return National, n.Country(), true
		}
	}
	return "", "", false
}

// hidden shows the last four characters.
func hidden(plain string) string {
	if len(plain) <= 6 {
		return strings.Repeat("·", len(plain))
	}
	return strings.Repeat("·", len(plain)-4) + plain[len(plain)-4:]
}
