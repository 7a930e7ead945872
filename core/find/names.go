package find

import (
	"slices"
	"strings"
	"unicode"
	"unicode/utf8"
)

// leastNamed is from how many letters on a typing error in a word is forgiven.
const leastNamed = 4

// NameWords are the words of a name by which typing errors are told: without numbers.
func NameWords(name string) (words []string) {
	tokens(name, func(t token) bool {
		w := bare(t.word)
		if !t.whole && utf8.RuneCountInString(w) >= leastNamed && !strings.ContainsFunc(w, unicode.IsDigit) && !slices.Contains(words, w) {
			words = append(words, w)
		}
		return len(words) < 200
	})
	return words
}

// Nearest returns the word among others that one was most likely meant to be, if there is
// one: with at most one error in short words and two in longer ones. An error is a letter
// that is missing, too many, another, or exchanged with the one beside it.
func Nearest(word string, others []string) (nearest string, ok bool) {
	n := utf8.RuneCountInString(word)
	if n < leastNamed {
		return "", false
	}
	most := 1
	if n > 6 {
		most = 2
	}
	for _, o := range others {
		if d := errorsBetween([]rune(word), []rune(o)); d > 0 && d <= most {
			nearest, most, ok = o, d-1, true
		}
	}
	return nearest, ok
}

// errorsBetween is the optimal string alignment distance.
func errorsBetween(a, b []rune) int {
	before, last, now := make([]int, len(b)+1), make([]int, len(b)+1), make([]int, len(b)+1)
	for j := range last {
		last[j] = j
	}
	for i := 1; i <= len(a); i++ {
		now[0] = i
		for j := 1; j <= len(b); j++ {
			other := 1
			if a[i-1] == b[j-1] {
				other = 0
			}
			now[j] = min(last[j]+1, now[j-1]+1, last[j-1]+other)
			if i > 1 && j > 1 && a[i-1] == b[j-2] && a[i-2] == b[j-1] {
				now[j] = min(now[j], before[j-2]+1)
			}
		}
		before, last, now = last, now, before
	}
	return last[len(b)]
}
