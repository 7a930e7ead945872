package terms

import (
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"tabularis/core/linkgate"
	"tabularis/core/names"
)

// Typed is what somebody typed of the terms of a link, in words of either language,
// whichever comes to them: "3 days, once, password" or "bis Freitag, fünf Downloads".
// What is nil was not spoken of.
type Typed struct {
	Until, NotBefore *time.Time
	Openings         *int
	Downloads        *int
	Files            *int
	Bytes            *int64
	Password         bool
	ViewOnly, Newest *bool
	Remarks          *bool
	Kind, Name       string
	Identify         *linkgate.Identity
	// Level and Onward are of access for people, as is that it is to have no end.
	Level            string
	Onward           *bool
	NoEnd            bool
	Allowed, Endings []string
	Pieces           []Piece
	// Completions are how the last word could go on, in the voice's language.
	Completions []string
}

// Piece is a run of what was typed, and the term that it was taken for; all pieces,
// joined, are the whole. Why says that it was taken for nothing.
type Piece struct {
	Text string
	Term Term
	Why  Why
}

// Why is why words were taken for nothing.
type Why string

const (
	// Unknown words mean nothing here. Twice is a term that was spoken of before, Past
	// a moment that has gone by, Range a number that is too small or too large.
	Unknown Why = "unknown"
	Twice   Why = "twice"
	Past    Why = "past"
	Range   Why = "range"
)

// token is a word, with its place in what was typed.
type token struct {
	key      string
	from, to int
	// quoted is a name between quotation marks; apart stands after a comma.
	quoted, apart bool
}

// rule reads what begins at a word: how many words it takes, which term they are, and
// how it is set.
type rule func(*reader, int) (int, Term, func() Why)

// reader reads words one after the other.
type reader struct {
	rules   []rule
	phrases vocabulary
	text    string
	voice   Voice
	tokens  []token
	out     Typed
	said    map[Term]bool
	// own are names that the practice gave to terms, base what was meant by one.
	own      vocabulary
	ownNames []string
	base     Typed
}

// Read reads what was typed of a link's terms. Nothing is guessed: what is not
// understood is a piece that says so, and sets nothing.
func Read(text string, v Voice) Typed { return linkReader(text, v).read() }

func linkReader(text string, v Voice) *reader {
	return &reader{text: text, voice: v, phrases: phrases,
		rules: []rule{(*reader).name, (*reader).moment, (*reader).count, (*reader).phrase, (*reader).people, (*reader).endings}}
}

// ReadAccess reads what was typed of the terms of access for people, like Read: a
// level, until when, and whether it may be passed on.
func ReadAccess(text string, v Voice) Typed {
	return (&reader{text: text, voice: v, phrases: accessPhrases, rules: []rule{(*reader).moment, (*reader).phrase}}).read()
}

func (r *reader) read() Typed {
	text := r.text
	r.tokens, r.said = tokens(text), map[Term]bool{}
	end := 0
	for i := 0; i < len(r.tokens); {
		n, term, why := r.next(i)
		from, to := r.tokens[i].from, r.tokens[i+n-1].to
		if last := len(r.out.Pieces) - 1; why == Unknown && last >= 0 && r.out.Pieces[last].Why == Unknown && r.goesOn(i) {
			// Words that mean nothing beside each other are one piece.
			r.out.Pieces[last].Text += text[end:to]
		} else {
			r.plain(end, from)
			r.out.Pieces = append(r.out.Pieces, Piece{text[from:to], term, why})
		}
		end = to
		i += n
	}
	r.plain(end, len(text))
	r.complete()
	return r.out
}

// Understood says that nothing was typed that means nothing.
func (t Typed) Understood() bool {
	return !slices.ContainsFunc(t.Pieces, func(p Piece) bool { return p.Why != "" })
}

func (r *reader) plain(from, to int) {
	if from < to {
		r.out.Pieces = append(r.out.Pieces, Piece{Text: r.text[from:to]})
	}
}

// next reads what begins at a word: how many words it takes, which term they are, and
// why they mean nothing.
func (r *reader) next(i int) (n int, term Term, why Why) {
	for _, rule := range r.rules {
		n, term, set := rule(r, i)
		if n == 0 {
			continue
		}
		if r.said[term] {
			return n, term, Twice
		}
		if why := set(); why != "" {
			return n, term, why
		}
		r.said[term] = true
		return n, term, ""
	}
	if fillers[r.tokens[i].key] {
		return 1, Plain, ""
	}
	return 1, Plain, Unknown
}

// key is a word's key, or none after the last.
func (r *reader) key(i int) string {
	if i < 0 || i >= len(r.tokens) {
		return ""
	}
	return r.tokens[i].key
}

// goesOn reports whether a word goes on with the one before, without a comma.
func (r *reader) goesOn(i int) bool { return i < len(r.tokens) && !r.tokens[i].apart }

// skip is the first word from i on that is not one of those.
func (r *reader) skip(i int, words ...string) int {
	for i < len(r.tokens) && slices.Contains(words, r.tokens[i].key) {
		i++
	}
	return i
}

// tokens splits at spaces and commas, and keeps what stands between quotation marks.
func tokens(text string) (all []token) {
	add := func(t token) {
		if last := len(all) - 1; last >= 0 {
			t.apart = strings.ContainsAny(text[all[last].to:t.from], ",;")
		}
		all = append(all, t)
	}
	for i := 0; i < len(text); {
		c, size := utf8.DecodeRuneInString(text[i:])
		switch {
		case strings.ContainsRune(`"„“”`, c):
			from := i + size
			length := strings.IndexAny(text[from:], `"“”`)
			if length < 0 {
				add(token{key: text[i:], from: i, to: len(text)})
				return all
			}
			_, last := utf8.DecodeRuneInString(text[from+length:])
			add(token{key: strings.TrimSpace(text[from : from+length]), from: i, to: from + length + last, quoted: true})
			i = from + length + last
		case between(text, i, c):
			i += size
		default:
			from := i
			for i < len(text) {
				c, size := utf8.DecodeRuneInString(text[i:])
				if between(text, i, c) {
					break
				}
				i += size
			}
			key := strings.TrimRight(names.Key(text[from:i]), ".!?")
			if key == "" {
				key = text[from:i]
			}
			add(token{key: key, from: from, to: i})
		}
	}
	return all
}

// between says that a word ends here: at a space or comma, but not at the comma within
// a number.
func between(text string, i int, c rune) bool {
	if c == ',' && i > 0 && i+1 < len(text) && digit(text[i-1]) && digit(text[i+1]) {
		return false
	}
	return c == ',' || c == ';' || unicode.IsSpace(c)
}

func digit(c byte) bool { return c >= '0' && c <= '9' }

// set is a term that always can be set.
func set(fn func()) func() Why {
	return func() Why { fn(); return "" }
}

// name reads what stands between quotation marks.
func (r *reader) name(i int) (int, Term, func() Why) {
	if !r.tokens[i].quoted {
		return 0, "", nil
	}
	return 1, Named, func() Why {
		name, err := names.Check("name", r.tokens[i].key)
		if err != nil {
			return Range
		}
		r.out.Name = name
		return ""
	}
}

// phrase reads the fixed words of the vocabulary, the longest that fit.
func (r *reader) phrase(i int) (int, Term, func() Why) {
	return r.among(r.phrases, i)
}

// among reads the fixed words of a vocabulary.
func (r *reader) among(fixed vocabulary, i int) (int, Term, func() Why) {
	for n := min(fixed.longest, len(r.tokens)-i); n > 0; n-- {
		if p, ok := fixed.said[r.joined(i, n)]; ok {
			return n, p.term, set(func() { p.set(&r.out) })
		}
	}
	return 0, "", nil
}

func (r *reader) joined(i, n int) string {
	keys := make([]string, n)
	for k := range n {
		if r.tokens[i+k].quoted {
			return ""
		}
		keys[k] = r.tokens[i+k].key
	}
	return strings.Join(keys, " ")
}

// people reads for whom alone it is: addresses and domains, perhaps with words before
// and between them.
func (r *reader) people(i int) (int, Term, func() Why) {
	at := r.skip(i, "only", "nur", "for", "für", "at", "bei", "from", "von", "an", "to", "jemand", "somebody", "if", "they", "are")
	var all []string
	end := at
	for at < len(r.tokens) {
		one, err := linkgate.Allowed("", []string{r.key(at)})
		if err != nil || !strings.Contains(r.key(at), ".") {
			break
		}
		all = append(all, one...)
		at++
		end = at
		at = r.skip(at, "and", "und", "or", "oder", "at", "bei")
	}
	if len(all) == 0 {
		return 0, "", nil
	}
	return end - i, Allowed, func() Why {
		list, err := linkgate.Allowed("", all)
		if err != nil {
			return Range
		}
		r.out.Allowed = list
		return ""
	}
}

// endings reads of which kinds files are taken in: .pdf, or a known one without its dot.
func (r *reader) endings(i int) (int, Term, func() Why) {
	at := r.skip(i, "only", "nur")
	var all []string
	end := at
	for at < len(r.tokens) {
		raw := r.key(at)
		word := strings.TrimPrefix(raw, ".")
		if word == raw && !slices.Contains(knownEndings, word) || !ending.MatchString(word) {
			break
		}
		if !slices.Contains(all, word) {
			all = append(all, word)
		}
		at++
		end = at
		at = r.skip(at, "and", "und", "or", "oder")
	}
	if len(all) == 0 {
		return 0, "", nil
	}
	return end - i, IntakeEndings, set(func() { r.out.Endings = all })
}

// complete finds how the last words could go on, where they mean nothing as they are.
func (r *reader) complete() {
	if len(r.tokens) == 0 || len(r.out.Pieces) == 0 {
		return
	}
	last := r.out.Pieces[len(r.out.Pieces)-1]
	if last.Why != Unknown {
		return
	}
	begun := r.tokens[len(r.tokens)-1].key
	if begun == "" {
		return
	}
	for _, w := range slices.Concat(r.ownNames, offered[pick(r.voice.Language == "de", "de", "en")]) {
		if strings.HasPrefix(names.Key(w), begun) && len(r.out.Completions) < 5 {
			r.out.Completions = append(r.out.Completions, w)
		}
	}
}

// Terms are what was typed as terms of a link: what was not spoken of is as it is where
// nobody says anything. A link that is only for some asks at least who comes.
func (t Typed) Terms() linkgate.Terms {
	out := linkgate.Terms{Kind: pick(t.Kind == "", linkgate.HandOut, t.Kind), Until: t.Until, NotBefore: t.NotBefore, Openings: t.Openings, Downloads: t.Downloads, Password: t.Password,
		MayDownload: t.ViewOnly == nil || !*t.ViewOnly, Newest: t.Newest != nil && *t.Newest, Remarks: t.Remarks != nil && *t.Remarks, Allowed: t.Allowed, Tell: linkgate.TellNever}
	out.Limits.Files, out.Limits.Bytes, out.Limits.Endings = t.Files, t.Bytes, t.Endings
	switch {
	case t.Identify != nil:
		out.Identify = *t.Identify
	case len(t.Allowed) > 0:
		out.Identify = linkgate.Confirmed
	}
	return out
}
