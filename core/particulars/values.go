package particulars

import (
	"fmt"
	"math/big"
	"regexp"
	"slices"
	"strings"
	"time"

	"github.com/google/uuid"
	"golang.org/x/text/currency"

	"tabularis/core/fault"
	"tabularis/core/names"
)

const (
	longestText = 500
	// wholeDigits and partDigits are how many digits of a number stand before and after the point.
	wholeDigits, partDigits = 15, 6
)

var (
	errValue    = fault.Declare(fault.Invalid, "particular-value", "that does not fit the particular …")
	errRequired = fault.Declare(fault.Invalid, "particular-required", "the particular … is required")
)

// Value is what stands in a particular of a document, in normal form.
type Value struct {
	// Text is the value: a number with a point, a date as ISO 8601 writes it, a person by their ID.
	Text string
	// Number and Key put values of one particular in order; a number is the exact Text, or empty.
	Number, Key string
}

// Cleared refuses to take the value of a required particular away.
func (d Definition) Cleared() error {
	if d.Required {
		return errRequired.In(d.Name, "%s is required", d.Name)
	}
	return nil
}

// Read returns what was written in normal form, or says why it does not fit.
func (d Definition) Read(written string) (v Value, err error) {
	switch d.Kind {
	case Number, Money:
		v.Number, err = ReadNumber(written)
		v.Text = v.Number
		if err == nil && d.Kind == Money && len(partOf(v.Number)) > d.places() {
			err = fmt.Errorf("%s has at most %d digits after the point", d.Unit, d.places())
		}
	case Date:
		v.Text, err = date(written)
		v.Key = v.Text
	case Choice:
		v.Text, v.Key, err = d.chosen(written)
	case Person:
		var id uuid.UUID
		if id, err = uuid.Parse(written); err != nil {
			err = fmt.Errorf("name a person")
		}
		v.Text, v.Key = id.String(), id.String()
	case Text:
		v.Text, err = names.Named(d.Name, strings.Join(strings.Fields(written), " "), longestText)
		if err != nil {
			return Value{}, err
		}
		v.Key = names.Key(v.Text)
	}
	if err != nil {
		return Value{}, errValue.In(d.Name, "%s: %v", d.Name, err)
	}
	return v, nil
}

// places are the digits after the point in which a currency is counted.
func (d Definition) places() int {
	unit, err := currency.ParseISO(d.Unit)
	if err != nil {
		return 2
	}
	scale, _ := currency.Standard.Rounding(unit)
	return scale
}

func (d Definition) chosen(written string) (text, key string, err error) {
	at := slices.IndexFunc(d.Choices, func(c string) bool { return names.Key(c) == names.Key(strings.Join(strings.Fields(written), " ")) })
	if at < 0 {
		return "", "", fmt.Errorf("%.60q is not among the choices", written)
	}
	return d.Choices[at], fmt.Sprintf("%04d", at), nil
}

var digits = regexp.MustCompile(`^-?[0-9]+(\.[0-9]+)?$`)

// ReadNumber reads digits with a point or a comma before the parts, and with spaces, apostrophes
// or the other of the two between the thousands. What can be read in two ways is refused.
func ReadNumber(written string) (string, error) {
	s := strings.NewReplacer(" ", "", "\u00a0", "", "\u202f", "", "'", "", "’", "", "−", "-").Replace(strings.TrimSpace(written))
	points, commas := strings.Count(s, "."), strings.Count(s, ",")
	switch {
	case points > 0 && commas > 0:
		between, before := ",", "."
		if strings.LastIndex(s, ",") > strings.LastIndex(s, ".") {
			between, before = ".", ","
		}
		if strings.Count(s, before) > 1 || !grouped(s, between, before) {
			return "", fmt.Errorf("%.40q is no number", written)
		}
		s = strings.Replace(strings.ReplaceAll(s, between, ""), before, ".", 1)
	case commas > 1 || points > 1:
		between := map[bool]string{true: ",", false: "."}[commas > 1]
		if !grouped(s, between, "\n") {
			return "", fmt.Errorf("%.40q is no number", written)
		}
		s = strings.ReplaceAll(s, between, "")
	case commas == 1:
		whole, part, _ := strings.Cut(s, ",")
		if len(part) == 3 && len(strings.TrimPrefix(whole, "-")) <= 3 && strings.TrimLeft(whole, "-0") != "" {
			return "", fmt.Errorf("%.40q can be read in two ways; write %s%s or %s.%s", written, whole, part, whole, part)
		}
		s = whole + "." + part
	}
	if !digits.MatchString(s) {
		return "", fmt.Errorf("%.40q is no number", written)
	}
	s = plain(s)
	if whole, part, _ := strings.Cut(strings.TrimPrefix(s, "-"), "."); len(whole) > wholeDigits || len(part) > partDigits {
		return "", fmt.Errorf("a number has at most %d digits before and %d after the point", wholeDigits, partDigits)
	}
	return s, nil
}

// grouped reports whether what stands between the thousands stands where it should.
func grouped(s, between, before string) bool {
	whole, _, _ := strings.Cut(strings.TrimPrefix(s, "-"), before)
	groups := strings.Split(whole, between)
	for i, g := range groups {
		if i > 0 && len(g) != 3 || len(g) == 0 || len(g) > 3 {
			return false
		}
	}
	return true
}

// plain takes what says nothing away: zeros at both ends, and the sign of nothing.
func plain(s string) string {
	digits, negative := strings.CutPrefix(s, "-")
	whole, part, _ := strings.Cut(digits, ".")
	whole, part = strings.TrimLeft(whole, "0"), strings.TrimRight(part, "0")
	if whole == "" {
		whole = "0"
	}
	if part != "" {
		whole += "." + part
	}
	if negative && whole != "0" {
		return "-" + whole
	}
	return whole
}

func partOf(number string) string {
	_, part, _ := strings.Cut(number, ".")
	return part
}

// date reads a day as ISO 8601 writes it, or as day.month.year.
func date(written string) (string, error) {
	for _, layout := range []string{time.DateOnly, "2.1.2006"} {
		if t, err := time.Parse(layout, strings.TrimSpace(written)); err == nil && t.Year() >= 1000 {
			return t.Format(time.DateOnly), nil
		}
	}
	return "", fmt.Errorf("%.40q is no day; write 2026-05-31", written)
}

// Sum adds numbers up exactly.
func Sum(numbers []string) string {
	total := new(big.Rat)
	for _, n := range numbers {
		if r, ok := new(big.Rat).SetString(n); ok {
			total.Add(total, r)
		}
	}
	return plain(total.FloatString(partDigits))
}
