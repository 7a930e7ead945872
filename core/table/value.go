package table

import (
	"math"
	"regexp"
	"strconv"
	"strings"
	"time"
)

// Kind is what a cell's text is taken for.
type Kind int

// The kinds of values.
const (
	Empty Kind = iota
	Text
	Number
	Truth
	Date
	Formula
)

// Value is what a cell's text means.
type Value struct {
	Kind Kind
	// Number is that of a number, of a date as days since the last one of 1899 (ECMA-376 part 1, 18.17.4.1),
	// and 1 or 0 of a truth.
	Number float64
	// Text is that of a text, and of a formula without its sign.
	Text string
}

var (
	numeric = regexp.MustCompile(`^-?(?:0|[1-9][0-9]{0,17})(?:\.[0-9]{1,18})?(?:[eE][+-]?[0-9]{1,3})?%?$`)
	isoDate = regexp.MustCompile(`^[0-9]{4}-[0-9]{2}-[0-9]{2}$`)
	dayZero = time.Date(1899, 12, 30, 0, 0, 0, 0, time.UTC)
)

// ValueOf says what a cell's text means, where decimals are written after a point or a comma. What has zeros in front
// is a text: numbers of papers and of telephones are.
func ValueOf(text string, decimal string) Value {
	switch {
	case text == "":
		return Value{}
	case text[0] == '=' && len(text) > 1:
		return Value{Kind: Formula, Text: text[1:]}
	case text[0] == '\'':
		return Value{Kind: Text, Text: text[1:]}
	case text == "TRUE":
		return Value{Kind: Truth, Number: 1}
	case text == "FALSE":
		return Value{Kind: Truth}
	case isoDate.MatchString(text):
		if day, err := time.Parse(time.DateOnly, text); err == nil && day.After(dayZero) {
			return Value{Kind: Date, Number: math.Round(day.Sub(dayZero).Hours() / 24)}
		}
		return Value{Kind: Text, Text: text}
	}
	plain := text
	if decimal == "," {
		if strings.ContainsRune(text, '.') {
			return Value{Kind: Text, Text: text}
		}
		plain = strings.Replace(text, ",", ".", 1)
	}
	if !numeric.MatchString(plain) {
		return Value{Kind: Text, Text: text}
	}
	share := strings.HasSuffix(plain, "%")
	n, err := strconv.ParseFloat(strings.TrimSuffix(plain, "%"), 64)
	if err != nil {
		return Value{Kind: Text, Text: text}
	}
	if share {
		n /= 100
	}
	return Value{Kind: Number, Number: n}
}

// DayOf is a date as it is written in a cell; "" for a number that is none.
func DayOf(n float64) string {
	if n < 1 || n > 2_958_465 || n != math.Trunc(n) {
		return ""
	}
	return dayZero.AddDate(0, 0, int(n)).Format(time.DateOnly)
}

// Written is a number as it stands in a cell.
func Written(n float64, decimal string) string {
	s := strconv.FormatFloat(n, 'f', -1, 64)
	if a := math.Abs(n); a != 0 && (a >= 1e15 || a < 1e-6) {
		s = strconv.FormatFloat(n, 'E', -1, 64)
	}
	if decimal == "," {
		s = strings.Replace(s, ".", ",", 1)
	}
	return s
}

// Quoted is a text as it is written in a cell, so that it stays one.
func Quoted(text, decimal string) string {
	if v := ValueOf(text, decimal); v.Kind == Text && v.Text == text || text == "" {
		return text
	}
	return "'" + text
}
