package scan

import (
	"regexp"
	"strings"

	"tabularis/core/fault"
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
}

const (
	maxPattern = 500
	// mostOwn bounds how often one pattern is told of in a text.
	mostOwn = 1000
)

// Check refuses patterns that cannot be read, are too long, or would be found
// in every text.
func (p Pattern) Check(field string) error {
	_, err := p.compile()
	if err != nil {
		return fault.Field(field, "pattern-form", "%s", err)
	}
	return nil
}

func (p Pattern) compile() (pattern, error) {
	text := strings.TrimSpace(p.Text)
	if text == "" || len(text) > maxPattern {
		return pattern{}, fault.Field("text", "pattern-form", "a word or pattern has between 1 and %d characters", maxPattern)
	}
	if !p.Expression {
		// A word stands for itself, whatever its case, not in the middle of another.
		words := strings.Fields(text)
		for i, w := range words {
			words[i] = regexp.QuoteMeta(w)
		}
		text = `(?i)(?:^|[^\pL\pN])(` + strings.Join(words, `\s+`) + `)(?:$|[^\pL\pN])`
	}
	re, err := regexp.Compile(text)
	if err != nil {
		return pattern{}, fault.Field("text", "pattern-form", "the pattern cannot be read: %s", err)
	}
	if re.MatchString("") {
		return pattern{}, fault.Field("text", "pattern-form", "the pattern is found in every text")
	}
	name := strings.TrimSpace(p.Name)
	if name == "" {
		name = strings.TrimSpace(p.Text)
	}
	return pattern{name, re}, nil
}

func (p pattern) find(text string) []Finding {
	var out []Finding
	for _, m := range p.re.FindAllStringSubmatchIndex(text, mostOwn) {
		at, end := m[0], m[1]
		if len(m) >= 4 && m[2] >= 0 {
			at, end = m[2], m[3]
		}
		out = append(out, Finding{Kind: Own, Name: p.name, Shown: p.name, At: at, End: end})
	}
	return out
}
