// Package templates knows the blanks of documents from which others are made: words in double
// brackets, as in "Dear [[client]]", which are filled from the dossier or by whoever makes one.
package templates

import (
	"fmt"
	"regexp"
	"slices"
	"strings"
	"time"
	"unicode"

	"tabularis/core/fault"
)

// Most is how many different blanks of a document are filled, Longest how long what is filled
// in may be, in bytes.
const (
	Most    = 200
	Longest = 2000
)

var (
	errValue   = fault.Declare(fault.Invalid, "blank-value", "what is filled in is text of up to 2000 characters")
	errNothing = fault.Declare(fault.Invalid, "blank-unfilled", "… is not filled in")
)

// form is that of a blank. A colon within is kept for marks that mean something else.
var form = regexp.MustCompile(`\[\[\s*([\p{L}\p{N}][\p{L}\p{N} ._'’-]{0,59}?)\s*\]\]`)

// What dossiers, people and days fill.
const (
	Code     = "code"
	Dossier  = "dossier"
	Client   = "client"
	Subject  = "subject"
	Number   = "number"
	Today    = "today"
	Me       = "me"
	Address  = "my address"
	Practice = "practice"
)

// known are the words, in either language, for what is filled by itself.
var known = map[string]string{
	"code": Code, "kürzel": Code,
	"dossier": Dossier, "name": Dossier,
	"client": Client, "kunde": Client, "kundin": Client, "mandant": Client, "mandantin": Client,
	"subject": Subject, "betreff": Subject,
	"number": Number, "nummer": Number,
	"today": Today, "date": Today, "heute": Today, "datum": Today,
	"me": Me, "ich": Me,
	"my address": Address, "meine adresse": Address,
	"practice": Practice, "praxis": Practice, "büro": Practice,
}

// Blank is a word to be filled in.
type Blank struct {
	Word string
	// Of is what fills it by itself, one of the constants; empty is for somebody to say.
	Of string
}

// Key is by what blanks are the same: "Client" is "client".
func Key(word string) string { return strings.ToLower(strings.Join(strings.Fields(word), " ")) }

// Blanks are those of a text, in the order in which they first stand, up to Most.
func Blanks(text string) (all []Blank) {
	for _, m := range form.FindAllStringSubmatch(text, -1) {
		if len(all) < Most && !slices.ContainsFunc(all, func(b Blank) bool { return Key(b.Word) == Key(m[1]) }) {
			all = append(all, Blank{m[1], known[Key(m[1])]})
		}
	}
	return all
}

// Values are what is filled in, by the keys of blanks.
type Values map[string]string

// Check refuses what cannot be filled in, and blanks for which there is nothing.
func (v Values) Check(all []Blank) error {
	for key, value := range v {
		if len(value) > Longest || strings.ContainsFunc(value, func(r rune) bool {
			return unicode.IsControl(r) && r != '\n' && r != '\t' || r == unicode.ReplacementChar
		}) {
			return errValue.In(key, "what is filled in is text of up to %d characters", Longest)
		}
	}
	for _, b := range all {
		if v[Key(b.Word)] == "" {
			return errNothing.In(b.Word, "%s is not filled in", b.Word)
		}
	}
	return nil
}

// Span is a blank within a text, from one byte to another, with what stands there instead.
type Span struct {
	From, To int
	Value    string
}

// Spans are where values stand in a text, in order. Blanks without a value stay as they are.
func (v Values) Spans(text string) (all []Span) {
	for _, m := range form.FindAllStringSubmatchIndex(text, -1) {
		if value, ok := v[Key(text[m[2]:m[3]])]; ok {
			all = append(all, Span{m[0], m[1], value})
		}
	}
	return all
}

// Filler says what stands in a text instead of what is there.
type Filler interface {
	// Spans are where, in order, none over another.
	Spans(text string) []Span
}

// Fill returns a text with its blanks filled, each value as write writes it.
func (v Values) Fill(text string, write func(value string) string) string {
	return Fill(v, text, write)
}

// Fill returns a text filled by a filler, each value as write writes it.
func Fill(f Filler, text string, write func(value string) string) string {
	var b strings.Builder
	at := 0
	for _, s := range f.Spans(text) {
		b.WriteString(text[at:s.From])
		b.WriteString(write(s.Value))
		at = s.To
	}
	b.WriteString(text[at:])
	return b.String()
}

var germanMonths = []string{"Januar", "Februar", "März", "April", "Mai", "Juni", "Juli", "August", "September", "Oktober", "November", "Dezember"}

// Day is a day as letters of a language write it.
func Day(at time.Time, language string) string {
	if language == "de" {
		return fmt.Sprintf("%d. %s %d", at.Day(), germanMonths[at.Month()-1], at.Year())
	}
	return at.Format("2 January 2006")
}
