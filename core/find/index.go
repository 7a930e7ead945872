package find

import (
	"sort"
	"strconv"
	"strings"
)

// Text is what a document is found by.
type Text struct {
	Name string
	// Beside are words that stand with it: its tags, what was said of it.
	Beside []string
	Pages  []string
}

// Vector is what is kept of a text: its words and where they stand, as PostgreSQL reads a
// tsvector (chapter 8.11.1).
type Vector struct {
	Literal  string
	Language Language
	// Cut says that the text holds more words than are kept: phrases behind them are not found.
	Cut bool
}

const (
	// lastPosition and positionsEach are as far as PostgreSQL tells positions apart.
	lastPosition, positionsEach = 16383, 255
	// mostBytes is about what a vector may take; PostgreSQL refuses more than 1 MiB.
	mostBytes = 900_000
	// apart keeps phrases from reaching from a name into its text.
	apart = 20
	// long is a word of which no text consists: it stands in vectors whose text goes on behind
	// the last position.
	long = "\x01long"
)

// builder gathers the words of a vector.
type builder struct {
	stemmer *stemmer
	skipped map[string]bool
	at      map[string]*strings.Builder
	n       map[string]int
	bytes   int
	next    int
	cut     bool
}

// Index makes a vector of a text. Words of the name weigh most, what stands beside it next.
func Index(t Text) Vector {
	language := LanguageOf(beginning(t))
	b := builder{stemmer: newStemmer(language), skipped: everywhere[language], at: map[string]*strings.Builder{}, n: map[string]int{}, next: 1}
	b.add(t.Name, "A")
	for _, text := range t.Beside {
		b.add(text, "B")
	}
	for i, page := range t.Pages {
		if i > 0 {
			// A phrase may go over the end of a page.
			b.next -= apart
		}
		b.add(page, "")
	}
	if b.next-apart > lastPosition {
		b.cut = true
		b.put(long, "", 0)
	}
	return Vector{b.literal(), language, b.cut}
}

// LanguageOfPages tells the language of a text in pages, as Index does.
func LanguageOfPages(pages []string) Language { return LanguageOf(beginning(Text{Pages: pages})) }

// beginning is as much of a text as its language is told by.
func beginning(t Text) string {
	var b strings.Builder
	for _, page := range t.Pages {
		if b.WriteString(page + " "); b.Len() > 20_000 {
			return b.String()
		}
	}
	b.WriteString(t.Name)
	for _, text := range t.Beside {
		b.WriteString(" " + text)
	}
	return b.String()
}

func (b *builder) add(text, weight string) {
	tokens(text, func(t token) bool {
		if !b.skipped[t.word] {
			b.put(b.stemmer.form(t), weight, b.next)
		}
		if !t.whole {
			b.next++
		}
		return b.bytes < mostBytes
	})
	b.cut = b.cut || b.bytes >= mostBytes
	b.next += apart
}

// put adds a word at a position, if there is still a place for it.
func (b *builder) put(word, weight string, position int) {
	places := b.at[word]
	if places == nil {
		places = &strings.Builder{}
		b.at[word] = places
		b.bytes += len(word) + 8
	}
	if position == 0 || position > lastPosition || b.n[word] == positionsEach {
		return
	}
	if b.n[word]++; b.n[word] > 1 {
		places.WriteByte(',')
	}
	places.WriteString(strconv.Itoa(position) + weight)
	b.bytes += 2
}

func (b *builder) literal() string {
	words := make([]string, 0, len(b.at))
	for w := range b.at {
		words = append(words, w)
	}
	sort.Strings(words)
	var out strings.Builder
	for i, w := range words {
		if i > 0 {
			out.WriteByte(' ')
		}
		out.WriteString(quoted(w))
		if places := b.at[w].String(); places != "" {
			out.WriteString(":" + places)
		}
	}
	return out.String()
}

// quoted writes a word as PostgreSQL reads one in vectors and questions.
func quoted(word string) string {
	return "'" + strings.NewReplacer(`'`, `''`, `\`, `\\`).Replace(word) + "'"
}
