package scan

import (
	"strings"
	"time"
)

func digits(s string) bool {
	for i := range len(s) {
		if s[i] < '0' || s[i] > '9' {
			return false
		}
	}
	return s != ""
}

// isCard reports whether this is a payment-card number: 13 to 19 digits with a
// Luhn check digit (ISO/IEC 7812-1, annex B), a first digit that issuers of
// payment cards have, written in one piece or in groups of at least two digits
// that a blank or a dash separates.
func isCard(plain, written string) bool {
	if len(plain) < 13 || len(plain) > 19 || !digits(plain) || !issued(plain) || strings.ContainsAny(written, "./") {
		return false
	}
	return grouped(written, 2) && !alike(plain) && luhn(plain)
}

// issued reports whether the number begins like those of payment cards, with
// their lengths.
func issued(p string) bool {
	n := len(p)
	switch {
	case p[0] == '4':
		return n == 13 || n == 16 || n == 19
	case p[:2] >= "51" && p[:2] <= "55", p[:4] >= "2221" && p[:4] <= "2720":
		return n == 16
	case p[:2] == "34" || p[:2] == "37":
		return n == 15
	case p[:4] == "6011" || p[:2] == "65" || p[:3] >= "644" && p[:3] <= "649":
		return n >= 16
	case p[:2] == "36" || p[:2] == "38" || p[:3] >= "300" && p[:3] <= "305":
		return n == 14
	case p[:4] >= "3528" && p[:4] <= "3589":
		return n >= 16
	}
	return false
}

// grouped reports whether no group is shorter than least.
func grouped(written string, least int) bool {
	n := 0
	for i := range len(written) {
		switch c := written[i]; {
		case c >= '0' && c <= '9' || c >= 'A' && c <= 'Z' || c >= 'a' && c <= 'z':
			n++
		case n > 0:
			if n < least {
				return false
			}
			n = 0
		}
	}
	return n >= least
}

// alike reports whether all digits are the same: a place holder.
func alike(p string) bool { return strings.Count(p, p[:1]) == len(p) }

func luhn(p string) bool {
	sum := 0
	for i := range len(p) {
		d := int(p[len(p)-1-i] - '0')
		if i%2 == 1 {
			if d *= 2; d > 9 {
				d -= 9
			}
		}
		sum += d
	}
	return sum%10 == 0
}

// ibanLength is the length of a bank account by country (ISO 13616, registry).
var ibanLength = map[string]int{
	"AD": 24, "AT": 20, "BE": 16, "BG": 22, "CH": 21, "CY": 28, "CZ": 24, "DE": 22, "DK": 18, "EE": 20, "ES": 24, "FI": 18, "FO": 18, "FR": 27, "GB": 22, "GI": 23,
	"GL": 18, "GR": 27, "HR": 21, "HU": 28, "IE": 22, "IS": 26, "IT": 27, "LI": 21, "LT": 20, "LU": 20, "LV": 21, "MC": 27, "MT": 31, "NL": 18, "NO": 15, "PL": 28,
	"PT": 25, "RO": 24, "RS": 22, "SE": 24, "SI": 19, "SK": 24, "SM": 27, "TR": 26, "UA": 29, "VA": 22,
}

// isIBAN reports whether this is a bank account: a country with its length, and
// a remainder of one (ISO 13616, ISO/IEC 7064 MOD 97-10).
func isIBAN(p string) bool {
	if len(p) < 15 || ibanLength[p[:2]] != len(p) || !digits(p[2:4]) {
		return false
	}
	rest := 0
	for _, c := range p[4:] + p[:4] {
		switch {
		case c >= '0' && c <= '9':
			rest = (rest*10 + int(c-'0')) % 97
		default:
			rest = (rest*100 + int(c-'A') + 10) % 97
		}
	}
	return rest == 1
}

// Number is a country's national number.
type Number interface {
	Country() string
	// Is reports whether a run of capitals and digits is one; written is how it
	// stands in the text, with its separators.
	Is(plain, written string) bool
}

// Countries are the national numbers that are known, by country.
func Countries() []Number {
	return []Number{german{}, french{}, british{}, norwegian{}, dutch{}, spanish{}, swedish{}}
}

// german is the tax identification number: eleven digits, of which the first ten
// repeat one, with a check digit (ISO/IEC 7064 MOD 11,10).
type german struct{}

func (german) Country() string { return "DE" }

func (german) Is(p, written string) bool {
	if len(p) != 11 || !digits(p) || p[0] == '0' || strings.ContainsAny(written, "./-") {
		return false
	}
	count := map[byte]int{}
	most := 0
	for i := range 10 {
		count[p[i]]++
		most = max(most, count[p[i]])
	}
	// One digit stands two or three times, and at least one does not stand at all.
	if most != 2 && most != 3 || most == 2 && len(count) != 9 || most == 3 && len(count) != 8 {
		return false
	}
	product := 10
	for i := range 10 {
		sum := (int(p[i]-'0') + product) % 10
		if sum == 0 {
			sum = 10
		}
		product = sum * 2 % 11
	}
	return (11-product)%10 == int(p[10]-'0')
}

// french is the number of the social security: sex, year and month of birth,
// place, order, and a key of two digits.
type french struct{}

func (french) Country() string { return "FR" }

func (french) Is(p, written string) bool {
	if len(p) != 15 || strings.ContainsAny(written, "./-") || p[0] != '1' && p[0] != '2' {
		return false
	}
	// Corsica's departments are counted as 19 and 18.
	number := strings.NewReplacer("2A", "19", "2B", "18").Replace(p[5:7])
	number = p[:5] + number + p[7:]
	if !digits(number) || p[3:5] < "01" || p[3:5] > "12" && p[3:5] < "20" {
		return false
	}
	rest, key := 0, int(number[13]-'0')*10+int(number[14]-'0')
	for _, c := range number[:13] {
		rest = (rest*10 + int(c-'0')) % 97
	}
	return 97-rest == key
}

// british is the National Insurance number: two letters, six digits and a letter
// of A to D. It has no check digit, so that it is taken only as it is written: in
// one piece or in pairs.
type british struct{}

func (british) Country() string { return "GB" }

func (british) Is(p, written string) bool {
	if len(p) != 9 || !digits(p[2:8]) || p[8] < 'A' || p[8] > 'D' || strings.ContainsAny(written, "./-") {
		return false
	}
	for _, c := range p[:2] {
		if c < 'A' || c > 'Z' || strings.ContainsRune("DFIQUV", c) {
			return false
		}
	}
	if p[1] == 'O' || strings.Contains("BG GB NK KN TN NT ZZ", p[:2]) || written != strings.ToUpper(written) {
		return false
	}
	pairs := strings.Split(strings.Join(strings.Fields(written), " "), " ")
	return len(pairs) == 1 || len(pairs) == 5 && len(pairs[0]) == 2
}

// norwegian is the birth number: a day of birth, three digits, and two check
// digits (weights, modulo 11).
type norwegian struct{}

func (norwegian) Country() string { return "NO" }

func (norwegian) Is(p, written string) bool {
	if len(p) != 11 || !digits(p) || strings.ContainsAny(written, "./-") || !day(p[:2], p[2:4]) {
		return false
	}
	return weighted(p[:10], 3, 7, 6, 1, 8, 9, 4, 5, 2, 1) && weighted(p, 5, 4, 3, 2, 7, 6, 5, 4, 3, 2, 1)
}

// weighted reports whether the weighted sum of digits is divided by eleven.
func weighted(p string, weights ...int) bool {
	sum := 0
	for i, w := range weights {
		sum += int(p[i]-'0') * w
	}
	return sum%11 == 0
}

// day reports whether there is such a day in some year; a leap day is one.
func day(d, m string) bool {
	_, err := time.Parse("02 01 2006", d+" "+m+" 2024")
	return err == nil
}

// dutch is the citizen service number: nine digits with the test of eleven,
// which is weak; it is taken only in one piece.
type dutch struct{}

func (dutch) Country() string { return "NL" }

func (dutch) Is(p, written string) bool {
	return len(p) == 9 && digits(p) && written == p && p[:2] != "00" && !alike(p) && weighted(p, 9, 8, 7, 6, 5, 4, 3, 2, -1) && named(p)
}

// named keeps numbers out that are mostly one digit or count up.
func named(p string) bool {
	return strings.Count(p, p[:1]) < 6 && p != "123456789" && p != "987654321"
}

// spanish is the identity number of nationals and foreigners: eight digits, or
// X, Y or Z and seven, and a letter by the remainder of 23.
type spanish struct{}

func (spanish) Country() string { return "ES" }

func (spanish) Is(p, written string) bool {
	if len(p) != 9 || strings.ContainsAny(written, "/ ") {
		return false
	}
	number := p[:8]
	if at := strings.IndexByte("XYZ", p[0]); at >= 0 {
		number = string(rune('0'+at)) + p[1:8]
	}
	if !digits(number) || alike(number) {
		return false
	}
	rest := 0
	for _, c := range number {
		rest = (rest*10 + int(c-'0')) % 23
	}
	return p[8] == "TRWAGMYFPDXBNJZSQVHLCKE"[rest]
}

// swedish is the personal number: a day of birth, a dash, three digits and a
// Luhn check digit. Without the dash it would be any number of ten digits.
type swedish struct{}

func (swedish) Country() string { return "SE" }

func (swedish) Is(p, written string) bool {
	if len(p) != 10 && len(p) != 12 || !digits(p) || len(written) != len(p)+1 || written[len(written)-5] != '-' {
		return false
	}
	p = p[len(p)-10:]
	return day(p[4:6], p[2:4]) && luhn(p)
}
