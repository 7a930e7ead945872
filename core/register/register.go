// Package register holds dossier codes and register numbers: the permanent
// references of documents, which people quote on the phone.
package register

import (
	"fmt"
	"regexp"
	"strconv"
	"strings"
)

var (
	codePattern  = regexp.MustCompile(`^[A-Z][A-Z0-9]{1,5}(-[0-9]{1,4})?$`)
	typedPattern = regexp.MustCompile(`^(?:(?:([A-Z][A-Z0-9]{1,5}(?:-[0-9]{1,4})?)[ \t]*/|/)[ \t]*)?([0-9]{1,12})$`)
)

// Code returns a dossier code in capitals, or refuses it. A code is two to six
// letters and digits, beginning with a letter, and optionally a dash and a
// number of at most four digits: MER-24.
func Code(field, s string) (string, error) {
	s = strings.ToUpper(strings.TrimSpace(s))
	if !codePattern.MatchString(s) {
		return "", errCodeForm.In(field, "a code looks like MER-24: letters, a dash, a number")
	}
	return s, nil
}

// Ref is a register number: a dossier's code and a running number, never used
// again.
type Ref struct {
	Code   string
	Number int
}

// String writes the reference with at least three digits: MER-24/017.
func (r Ref) String() string { return fmt.Sprintf("%s/%03d", r.Code, r.Number) }

// Parse reads a reference as people write it: any case, digits with or without
// leading zeros.
func Parse(s string) (Ref, error) {
	code, digits, found := strings.Cut(s, "/")
	if !found {
		return Ref{}, errRefForm.In("ref", "a register number looks like MER-24/017")
	}
	c, err := Code("ref", code)
	if err != nil {
		return Ref{}, err
	}
	n, err := strconv.ParseUint(strings.TrimSpace(digits), 10, 31)
	if err != nil || n == 0 {
		return Ref{}, errRefForm.In("ref", "a register number looks like MER-24/017")
	}
	return Ref{Code: c, Number: int(n)}, nil
}

// Typed reads a register number as somebody types it to find a document: with its
// code, or, where the dossier goes without saying, as a number alone: MER-24/029,
// mer-24/29, /29 and 029. It reports whether it is one.
func Typed(s string) (Ref, bool) {
	m := typedPattern.FindStringSubmatch(strings.ToUpper(strings.TrimSpace(s)))
	if m == nil {
		return Ref{}, false
	}
	n, err := strconv.ParseUint(m[2], 10, 31)
	return Ref{Code: m[1], Number: int(n)}, err == nil && n > 0
}
