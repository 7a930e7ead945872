package find

import (
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"
)

// Question is what somebody looks for: a text answers it that holds one term of each group,
// and none of what it is to be without.
type Question struct {
	groups  [][]term
	without []term
}

// term is a word, the beginning of one, or several words that stand in this order.
type term struct {
	words []asked
	// begins says that the last word is the beginning of one; typing, that it may be a whole
	// one as well.
	begins, typing bool
}

// asked is a word of a term, and how many words after the one before it stands.
type asked struct {
	forms []string
	typed string
	after int
}

const (
	// MostRunes is the longest question.
	MostRunes = 1000
	// mostTerms bounds what one question may cost.
	mostTerms = 32
	// leastBegun is from how many letters on the beginning of a word is looked for.
	leastBegun = 3
)

// Read reads a question: words; "several words" in this order; -without; one OR another (also
// ODER, or |); the begin* of a word. Words that stand in nearly every text are left out where
// others are left. What is not closed ends with the question. Refused are questions of over
// MostRunes characters, over 32 terms, without a word, and such that only say without what.
func Read(text string) (Question, error) { return read(text, false) }

// ReadTyped is Read while somebody is still typing: the last word may go on.
func ReadTyped(text string) (Question, error) { return read(text, true) }

func read(text string, typing bool) (Question, error) {
	if utf8.RuneCountInString(text) > MostRunes || !utf8.ValidString(text) {
		return Question{}, errQuestionLong.In("q", "a question has at most %d characters", MostRunes)
	}
	r := reader{stemmers: []*stemmer{newStemmer(English), newStemmer(German)}}
	pieces := split(text)
	if !slices.ContainsFunc(pieces, func(p piece) bool { return !p.or && r.says(p.text) }) {
		r.keepAll = true
	}
	either := false
	for i, p := range pieces {
		if p.or {
			either = len(r.q.groups) > 0
			continue
		}
		t, ok := r.term(p, typing && i == len(pieces)-1)
		switch {
		case !ok:
			// Between words that mean nothing there is nothing to choose.
		case p.without:
			r.q.without = append(r.q.without, t)
		case either:
			last := len(r.q.groups) - 1
			r.q.groups[last] = append(r.q.groups[last], t)
		default:
			r.q.groups = append(r.q.groups, []term{t})
		}
		either = false
		if r.terms++; r.terms > mostTerms {
			return Question{}, errQuestionLong.In("q", "a question has at most %d terms", mostTerms)
		}
	}
	if len(r.q.groups) == 0 {
		return Question{}, errQuestionEmpty.In("q", "the question names no word to look for")
	}
	return r.q, nil
}

// piece is what stands between blanks or quotation marks.
type piece struct {
	text                string
	without, or, quoted bool
}

const opening, closing = "\"\u201c\u201e\u00ab\u201d\u00bb", "\"\u201d\u201c\u00bb\u00ab"

func split(text string) (pieces []piece) {
	for {
		text = strings.TrimLeftFunc(text, func(r rune) bool { return unicode.IsSpace(r) || unicode.IsControl(r) })
		if text == "" {
			return pieces
		}
		var p piece
		if rest, ok := strings.CutPrefix(text, "-"); ok && rest != "" && !unicode.IsSpace(rune(rest[0])) {
			p.without, text = true, rest
		}
		first, size := utf8.DecodeRuneInString(text)
		if strings.ContainsRune(opening, first) {
			p.quoted = true
			text = text[size:]
			end := strings.IndexAny(text, closing)
			if end < 0 {
				end = len(text)
			}
			p.text, text = text[:end], text[end:]
			if text != "" {
				_, size = utf8.DecodeRuneInString(text)
				text = text[size:]
			}
		} else {
			end := strings.IndexFunc(text, func(r rune) bool { return unicode.IsSpace(r) || strings.ContainsRune(opening, r) })
			if end < 0 {
				end = len(text)
			}
			p.text, text = text[:end], text[end:]
			p.or = !p.without && (p.text == "OR" || p.text == "ODER" || p.text == "|")
		}
		pieces = append(pieces, p)
	}
}

type reader struct {
	q        Question
	stemmers []*stemmer
	// keepAll says that there are none but words that stand everywhere.
	keepAll bool
	terms   int
}

// says reports whether a text holds a word that does not stand everywhere.
func (r *reader) says(text string) (ok bool) {
	tokens(text, func(t token) bool {
		ok = ok || !skipped(t.word)
		return !ok
	})
	return ok
}

func skipped(word string) bool { return everywhere[English][word] || everywhere[German][word] }

// term makes a term of a piece. There is none where no word is left.
func (r *reader) term(p piece, typing bool) (t term, ok bool) {
	text, begins := p.text, false
	if !p.quoted {
		text, begins = strings.CutSuffix(text, "*")
	}
	at, before, within := 0, 0, 0
	tokens(text, func(w token) bool {
		if !w.whole {
			at++
		}
		switch {
		case !w.whole && w.to <= within:
			// A number as it is says more than its parts one after the other.
		case w.whole:
			within = w.to
			t.words = append(t.words, asked{[]string{bare(w.word)}, bare(w.word), at + 1 - before})
			before = at + 1
		case r.keepAll || !skipped(w.word):
			t.words = append(t.words, asked{r.forms(w.word), bare(w.word), at - before})
			before = at
		}
		return len(t.words) < mostTerms
	})
	if len(t.words) == 0 {
		return t, false
	}
	long := utf8.RuneCountInString(t.words[len(t.words)-1].typed) >= leastBegun
	t.begins, t.typing = begins && long, typing && !begins && long && !p.quoted
	return t, true
}

// forms are the stems of a word in each language, also of one whose marks are written with
// an e: "Schaeden".
func (r *reader) forms(word string) (forms []string) {
	add := func(w string) {
		for i, s := range r.stemmers {
			if r.keepAll && everywhere[languages[i]][w] {
				continue
			}
			if f := s.stem(w); !slices.Contains(forms, f) {
				forms = append(forms, f)
			}
		}
	}
	add(word)
	if spelled := strings.NewReplacer("ae", "ä", "oe", "ö", "ue", "ü").Replace(word); spelled != word {
		add(spelled)
	}
	if len(forms) == 0 {
		forms = []string{bare(word)}
	}
	return forms
}

// TSQuery is the question as PostgreSQL reads a tsquery (chapter 8.11.2).
func (q Question) TSQuery() string {
	var all []string
	for _, group := range q.groups {
		var either []string
		for _, t := range group {
			either = append(either, t.query())
		}
		all = append(all, "("+strings.Join(either, " | ")+")")
	}
	for _, t := range q.without {
		all = append(all, "!"+t.query())
	}
	return strings.Join(all, " & ")
}

func (t term) query() string {
	last := len(t.words) - 1
	var phrase strings.Builder
	var each []string
	for i, w := range t.words {
		one := w.query(t.begins && i == last, t.typing && i == last)
		each = append(each, one)
		if i > 0 {
			phrase.WriteString(" <" + strconv.Itoa(w.after) + "> ")
		}
		phrase.WriteString(one)
	}
	if last == 0 {
		return phrase.String()
	}
	// In what is too long for positions the words alone must do.
	return "((" + phrase.String() + ") | (" + strings.Join(each, " & ") + " & " + quoted(long) + "))"
}

func (w asked) query(begins, typing bool) string {
	var forms []string
	if !begins {
		for _, f := range w.forms {
			forms = append(forms, quoted(f))
		}
	}
	if begins || typing {
		forms = append(forms, quoted(w.typed)+":*")
	}
	return "(" + strings.Join(forms, " | ") + ")"
}
