package scan

import (
	"regexp"
	"regexp/syntax"
	"strings"
)

// Pattern is a word of the practice's own, or a regular expression (RE2).
type Pattern struct {
	Name string
	// Text is the word or the expression.
	Text       string
	Expression bool
}

type pattern struct {
	name string
	re   *regexp.Regexp
	// word is the group of the word itself in what re finds; 0 is all of it.
	word int
}

const (
	maxPattern = 500
	// mostOwn bounds how often one pattern is told of in a text.
	mostOwn = 1000
	// maxBranches is how many places of a pattern may go on in two ways. At each
	// character of a text all of them may have to be followed.
	maxBranches = 200
)

// branches counts the places of a pattern that go on in two ways.
func branches(text string) (n int) {
	parsed, err := syntax.Parse(text, syntax.Perl)
	if err != nil {
		return 0
	}
	program, err := syntax.Compile(parsed.Simplify())
	if err != nil {
		return 0
	}
	for _, i := range program.Inst {
		if i.Op == syntax.InstAlt || i.Op == syntax.InstAltMatch {
			n++
		}
	}
	return n
}

// Check refuses patterns that cannot be read, are too long, would be found in every
// text, or take too long to be looked for.
func (p Pattern) Check(field string) error {
	_, err := p.compile()
	if err != nil {
		return errPatternForm.In(field, "%s", err)
	}
	if p.Expression && branches(p.Text) > maxBranches {
		return errPatternCostly.In(field, "the pattern leaves too much open; say how often within narrower bounds")
	}
	return nil
}

func (p Pattern) compile() (pattern, error) {
	text := strings.TrimSpace(p.Text)
	if text == "" || len(text) > maxPattern {
		return pattern{}, errPatternForm.In("text", "a word or pattern has between 1 and %d characters", maxPattern)
	}
	word := 0
	if !p.Expression {
		word = 1
		// A word stands for itself, whatever its case, not in the middle of another.
		words := strings.Fields(text)
		for i, w := range words {
			words[i] = regexp.QuoteMeta(w)
		}
		text = `(?i)(?:^|[^\pL\pN])(` + strings.Join(words, `\s+`) + `)(?:$|[^\pL\pN])`
	}
	re, err := regexp.Compile(text)
	if err != nil {
		return pattern{}, errPatternForm.In("text", "the pattern cannot be read: %s", err)
	}
	if re.MatchString("") || findsNothing(re) {
		return pattern{}, errPatternForm.In("text", "the pattern is found in every text")
	}
	name := strings.TrimSpace(p.Name)
	if name == "" {
		name = strings.TrimSpace(p.Text)
	}
	return pattern{name, re, word}, nil
}

// findsNothing reports whether a pattern is found where there is nothing, as the
// edge of any word is.
func findsNothing(re *regexp.Regexp) bool {
	at := re.FindStringIndex("a 1")
	return at != nil && at[0] == at[1]
}

func (p pattern) find(text string) []Finding {
	var out []Finding
	for _, m := range p.re.FindAllStringSubmatchIndex(text, mostOwn) {
		at, end := m[2*p.word], m[2*p.word+1]
		if at == end {
			continue
		}
		out = append(out, Finding{Kind: Own, Name: p.name, Shown: p.name, At: at, End: end})
	}
	return out
}
