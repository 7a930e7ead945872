// Package find holds how documents are found by what is written in them: how a text is cut
// into words, which of their forms count as the same, how a question is read, and where in
// a text its answer stands. What is kept for finding, what is asked, and what is shown of a
// hit go by the same words.
package find

import (
	"strings"
	"unicode"
	"unicode/utf8"

	"golang.org/x/text/cases"
	"golang.org/x/text/unicode/norm"
)

// token is a word of a text: as it is compared, folded in case and normal form, and where
// it stands in the text, in bytes.
type token struct {
	word     string
	from, to int
	// whole marks a number with what joins its parts, such as "HR-2019/004512": it stands
	// at the place of its first part.
	whole bool
}

// mostRunes is the longest word that is told from a longer one with the same beginning.
const mostRunes = 64

// joins are the characters by which numbers hang together.
const joins = "-/.,:_"

// tokens cuts a text and hands each word over, until take says that it is enough.
func tokens(text string, take func(token) bool) {
	c := cutter{text: text, fold: cases.Fold(), take: take}
	for at := 0; at < len(text); {
		r, size := utf8.DecodeRuneInString(text[at:])
		if !inWord(r) {
			at += size
			continue
		}
		var ok bool
		if at, ok = c.run(at); !ok {
			return
		}
	}
}

type cutter struct {
	text string
	fold cases.Caser
	take func(token) bool
}

func inWord(r rune) bool { return unicode.IsLetter(r) || unicode.IsDigit(r) || unicode.IsMark(r) }

// run takes the words that hang together from a place on, and returns where they end.
func (c *cutter) run(from int) (end int, more bool) {
	var parts [][2]int
	digit := false
	for at := from; ; {
		word, hasDigit := wordEnd(c.text, at)
		digit = digit || hasDigit
		parts, end = append(parts, [2]int{at, word}), word
		if word >= len(c.text) || !strings.ContainsRune(joins, rune(c.text[word])) || len(parts) == 12 {
			break
		}
		if next, _ := utf8.DecodeRuneInString(c.text[word+1:]); !inWord(next) {
			break
		}
		at = word + 1
	}
	if digit && len(parts) > 1 {
		var whole strings.Builder
		for _, p := range parts {
			whole.WriteString(c.text[p[0]:p[1]])
		}
		if !c.take(token{c.folded(whole.String()), from, end, true}) {
			return end, false
		}
	}
	for _, p := range parts {
		if !c.take(token{c.folded(c.text[p[0]:p[1]]), p[0], p[1], false}) {
			return end, false
		}
	}
	return end, true
}

// wordEnd is where the word that begins at a place ends, and whether it holds a digit.
func wordEnd(text string, at int) (end int, digit bool) {
	for end = at; end < len(text); {
		r, size := utf8.DecodeRuneInString(text[end:])
		if !inWord(r) {
			break
		}
		digit = digit || unicode.IsDigit(r)
		end += size
	}
	return end, digit
}

// folded is a word as it is compared.
func (c *cutter) folded(word string) string {
	ascii := true
	for i := range len(word) {
		ascii = ascii && word[i] < utf8.RuneSelf
	}
	if ascii {
		word = strings.ToLower(word)
	} else {
		word = norm.NFKC.String(c.fold.String(norm.NFKC.String(word)))
	}
	n := 0
	for i := range word {
		if n++; n > mostRunes {
			return word[:i]
		}
	}
	return word
}

// bare is a word without the marks on its letters.
func bare(word string) string {
	for i := range len(word) {
		if word[i] >= utf8.RuneSelf {
			return norm.NFC.String(strings.Map(func(r rune) rune {
				if unicode.IsMark(r) {
					return -1
				}
				return r
			}, norm.NFD.String(word)))
		}
	}
	return word
}
