package fillings

import (
	"math/big"
	"slices"
	"strings"
	"time"
	"unicode"
	"unicode/utf8"

	"tabularis/core/fault"
	"tabularis/core/names"
	"tabularis/core/particulars"
	"tabularis/core/richtext"
	"tabularis/core/working"
)

// Answers are what was answered, by the names of fields.
type Answers map[string]string

// Ticked is the answer of a tick that is set.
const Ticked = richtext.Ticked

// LongestAnswer bounds one, in characters.
const LongestAnswer = 4000

// Reason says why an answer does not stand.
type Reason string

// The reasons.
const (
	Missing   Reason = "missing"
	NoNumber  Reason = "no-number"
	NoDay     Reason = "no-day"
	NoChoice  Reason = "no-choice"
	TooLittle Reason = "too-little"
	TooMuch   Reason = "too-much"
	TooEarly  Reason = "too-early"
	TooLate   Reason = "too-late"
	TooLong   Reason = "too-long"
)

// Problem is why the answer to a field does not stand. Bound is what it would have to keep to.
type Problem struct {
	Field  string
	Reason Reason
	Bound  string
}

var (
	// ErrUnanswered is refused where a form is handed in that is not answered.
	ErrUnanswered = fault.Declare(fault.Invalid, "form-unanswered", "… is still to be answered, or does not fit")
	errField      = fault.Declare(fault.Invalid, "field-unknown", "the form asks nothing of the name …")
	errLong       = fault.Declare(fault.Invalid, "answer-long", "an answer has at most … characters, and no control characters")
)

// Clock is the day on which a form is filled in, and when the practice works.
type Clock struct {
	Now      time.Time
	Calendar working.Calendar
}

// Put puts answers to some fields in place of those before, in normal form where they have one: what somebody
// is in the middle of writing is kept as it is. Answers to what is not asked are refused.
func (f Form) Put(have, more Answers) (Answers, error) {
	out := Answers{}
	fields := f.Fields()
	for _, field := range fields {
		if value, answered := have[field.ID]; answered {
			out[field.ID] = value
		}
	}
	for id, value := range more {
		at := slices.IndexFunc(fields, func(field Field) bool { return field.ID == id })
		if at < 0 {
			return nil, errField.In("answers", "the form asks nothing of the name %.40q", id)
		}
		value = strings.ReplaceAll(value, "\r\n", "\n")
		if !names.Storable(value) || utf8.RuneCountInString(value) > LongestAnswer || strings.ContainsFunc(value, controls) {
			return nil, errLong.In("answers", "an answer has at most %d characters", LongestAnswer)
		}
		out[id] = fields[at].normal(value)
	}
	return out, nil
}

func controls(r rune) bool { return unicode.IsControl(r) && r != '\n' && r != '\t' }

// normal is an answer as it is kept; one that does not fit is kept as it was written.
func (f Field) normal(value string) string {
	trimmed := strings.TrimSpace(value)
	switch f.Kind {
	case Number:
		if n, err := particulars.ReadNumber(trimmed); err == nil {
			return n
		}
	case Tick:
		if trimmed != "" {
			return Ticked
		}
	case Text:
		return strings.TrimRight(value, " \n\t")
	}
	return trimmed
}

// Answer is the answer to a field: what was answered, or what is usual where nothing was.
func (a Answers) Answer(f Field) string {
	if value, answered := a[f.ID]; answered {
		return value
	}
	return f.normal(f.Usual)
}

// has reports whether something was said to a field, if only that it is not so.
func (a Answers) has(f Field) bool {
	_, answered := a[f.ID]
	return answered
}

// Problems are the answers that do not stand, in the order of the fields.
func (f Form) Problems(a Answers, c Clock) (all []Problem) {
	for _, field := range f.Fields() {
		if p, wrong := field.Problem(a.Answer(field), c); wrong {
			all = append(all, p)
		}
	}
	return all
}

// Problem says whether an answer does not stand, and why.
func (f Field) Problem(value string, c Clock) (p Problem, wrong bool) {
	p.Field = f.ID
	if value == "" {
		p.Reason = Missing
		return p, f.Must
	}
	switch f.Kind {
	case Number:
		p.Reason, p.Bound = f.number(value)
	case Day:
		p.Reason, p.Bound = f.day(value, c)
	case Choice:
		if !slices.Contains(f.Choices, value) {
			p.Reason = NoChoice
		}
	default:
		if utf8.RuneCountInString(value) > LongestAnswer {
			p.Reason = TooLong
		}
	}
	return p, p.Reason != ""
}

func (f Field) number(value string) (Reason, string) {
	n, err := particulars.ReadNumber(value)
	if err != nil {
		return NoNumber, ""
	}
	if least, err := particulars.ReadNumber(f.Least); err == nil && compare(n, least) < 0 {
		return TooLittle, least
	}
	if most, err := particulars.ReadNumber(f.Most); err == nil && compare(n, most) > 0 {
		return TooMuch, most
	}
	return "", ""
}

func compare(a, b string) int {
	x, _ := new(big.Rat).SetString(a)
	y, _ := new(big.Rat).SetString(b)
	return x.Cmp(y)
}

func (f Field) day(value string, c Clock) (Reason, string) {
	if _, err := time.Parse(time.DateOnly, value); err != nil || len(value) != len(time.DateOnly) {
		return NoDay, ""
	}
	first, last := f.Days(c)
	if first != "" && value < first {
		return TooEarly, first
	}
	if last != "" && value > last {
		return TooLate, last
	}
	return "", ""
}

// Days are the first and the last day that can be chosen, as ISO 8601 writes them; empty where there is no bound.
func (f Field) Days(c Clock) (first, last string) { return dayBound(f.Least, c), dayBound(f.Most, c) }

// mostAhead is how many working days ahead a bound lies.
const mostAhead = working.MostDays

func dayBound(bound string, c Clock) string {
	if _, err := time.Parse(time.DateOnly, bound); err == nil && len(bound) == len(time.DateOnly) {
		return bound
	}
	ahead, relative := strings.CutPrefix(bound, "+")
	if !relative {
		return ""
	}
	n := 0
	for _, r := range ahead {
		if r < '0' || r > '9' || n > mostAhead {
			return ""
		}
		n = n*10 + int(r-'0')
	}
	switch {
	case ahead == "" || n > mostAhead:
		return ""
	case n == 0:
		return c.Calendar.Date(c.Now)
	}
	// Whatever the hour, the first of them is the day after.
	tomorrow, _ := c.Calendar.Begins(c.Calendar.Date(c.Now), 1)
	return c.Calendar.Date(c.Calendar.Add(tomorrow, working.Span{N: n, Unit: working.InDays}))
}

// Standing is how far a form is answered: how many fields are, of how many, and which that must be are not, or do not fit.
type Standing struct {
	Answered, Of int
	Open         []Problem
}

// Standing counts answers.
func (f Form) Standing(a Answers, c Clock) (s Standing) {
	for _, field := range f.Fields() {
		s.Of++
		p, wrong := field.Problem(a.Answer(field), c)
		switch {
		case wrong:
			s.Open = append(s.Open, p)
		case a.Answer(field) != "" || field.Kind == Tick && a.has(field):
			s.Answered++
		}
	}
	return s
}

// HandIn gives all answers in the order of the fields, or refuses what is not answered.
func (f Form) HandIn(a Answers, c Clock) (Answers, error) {
	if len(f.Fields()) == 0 {
		return nil, ErrNone.New("the document has no fields")
	}
	out := Answers{}
	for _, field := range f.Fields() {
		if p, wrong := field.Problem(a.Answer(field), c); wrong {
			return nil, ErrUnanswered.In("answers", "%s is still to be answered, or does not fit (%s)", field.Label, p.Reason)
		}
		out[field.ID] = a.Answer(field)
	}
	return out, nil
}

// Answered is an answer with what was asked, as it was handed in.
type Answered struct {
	ID    string `json:"id"`
	Label string `json:"label"`
	Kind  Kind   `json:"kind"`
	Value string `json:"value"`
}

// Answered are all answers with what was asked, in the order of the fields.
func (f Form) Answered(a Answers) (all []Answered) {
	for _, field := range f.Fields() {
		all = append(all, Answered{field.ID, field.Label, field.Kind, a[field.ID]})
	}
	return all
}
