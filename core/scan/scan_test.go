package scan

import (
	"fmt"
	"math/rand/v2"
	"strings"
	"testing"
	"unicode/utf8"

	"tabularis/core/fault"
)

func scanner(t testing.TB, own ...Pattern) *Scanner {
	t.Helper()
	s, err := New(Countries(), own)
	if err != nil {
		t.Fatal(err)
	}
	return s
}

func TestFind(t *testing.T) {
	s := scanner(t, Pattern{Text: "Project Kestrel"}, Pattern{Name: "claim number", Text: `CL-\d{6}`, Expression: true})
	for text, want := range map[string]string{
		"4111 1111 1111 1111":                    "card",
		"card 4111-1111-1111-1111, thanks":       "card",
		"4111111111111111":                       "card",
		"5555555555554444":                       "card",
		"3714 496353 98431":                      "card",
		"no. 4111 1111 1111 1112":                "",
		"4111.1111.1111.1111":                    "",
		"0000 0000 0000 0000":                    "",
		"9111 1111 1111 1111 x":                  "",
		"GB82 WEST 1234 5698 7654 32":            "iban GB",
		"iban: de89370400440532013000.":          "iban DE",
		"NL91ABNA0417164300":                     "iban NL",
		"DE88 3704 0044 0532 0130 00":            "",
		"XX89370400440532013000":                 "",
		"tax id 86095742719":                     "national DE",
		"86 095 742 719":                         "national DE",
		"86095742718":                            "",
		"2 55 08 14 168 025 38":                  "national FR",
		"255081416802539":                        "",
		"AB 12 34 56 C":                          "national GB",
		"AB123456C":                              "national GB",
		"ab123456c":                              "",
		"AB12 3456 C":                            "",
		"QQ 12 34 56 C":                          "",
		"BG123456A":                              "",
		"12345678Z":                              "national ES",
		"12345678-Z":                             "national ES",
		"X1234567L":                              "national ES",
		"12345678A":                              "",
		"811218-9876":                            "national SE",
		"8112189876":                             "",
		"811318-9876":                            "",
		"bsn 111222333":                          "national NL",
		"123456789":                              "",
		"see project  kestrel, p. 2":             "own Project Kestrel",
		"Project Kestrels":                       "",
		"about CL-123456":                        "own claim number",
		"call 07700 900110 or +44 7700 900110":   "",
		"IMO 9074729, frame 31, 10.0 mm, 8.1 mm": "",
		"order 2026-11-23-000417 of 23.11.2026":  "",
		"MER-24/017 and MER-24/018":              "",
		"the hash e3b0c44298fc1c149afbf4c8996fb92427ae41e4": "",
		"a 4111 1111 1111 1111 b GB82WEST12345698765432":    "card; iban GB",
	} {
		var got []string
		for _, f := range s.Find(text) {
			got = append(got, strings.TrimSpace(string(f.Kind)+" "+f.Name))
		}
		if strings.Join(got, "; ") != want {
			t.Errorf("%q: %q, want %q", text, strings.Join(got, "; "), want)
		}
	}
}

func TestFindingsTellTheirPlaceAndHideTheNumber(t *testing.T) {
	got := scanner(t).Find("Dear Ines,\n\npay to DE89 3704 0044 0532 0130 00\nor 4111 1111 1111 1111.\n")
	if len(got) != 2 || got[0].Line != 3 || got[1].Line != 4 || !strings.HasSuffix(got[0].Shown, "·3000") || strings.Count(got[1].Shown, "1") != 4 {
		t.Errorf("%+v", got)
	}
}

func TestPatternsThatAreRefused(t *testing.T) {
	for _, p := range []Pattern{{Text: " "}, {Text: "(", Expression: true}, {Text: "a*", Expression: true}, {Text: `\b`, Expression: true}, {Text: strings.Repeat("x", maxPattern+1)}, {Text: `(?=x)`, Expression: true}} {
		if err := p.Check("patterns"); !fault.Is(err, fault.Invalid) {
			t.Errorf("%+v: %v", p, err)
		}
		if _, err := New(nil, []Pattern{p}); err == nil {
			t.Errorf("%+v is scanned for", p)
		}
	}
}

func FuzzFind(f *testing.F) {
	for _, s := range []string{"4111 1111 1111 1111", "GB82 WEST 1234 5698 7654 32", "AB 12 34 56 C\n\u00a0811218-9876", "é4111 1111", strings.Repeat("1 ", 300)} {
		f.Add(s)
	}
	s := scanner(f, Pattern{Text: "kestrel"})
	f.Fuzz(func(t *testing.T, text string) {
		end := 0
		for _, x := range s.Find(text) {
			if x.At < end || x.End <= x.At || x.End > len(text) || x.Line != 1+strings.Count(text[:x.At], "\n") {
				t.Fatalf("%q: %+v", text, x)
			}
			end = x.End
			if x.Kind != Own && strings.Contains(x.Shown, text[x.At:x.End]) {
				t.Fatalf("%q: the number is shown: %+v", text, x)
			}
		}
	})
}

// Whatever pattern is taken, it finds what it says and stays in the text.
func FuzzPattern(f *testing.F) {
	f.Add("kestrel", false, "the Kestrel")
	f.Add(`\bHR-\d{2}-\d{4}\b`, true, "HR-26-0117")
	f.Add(`(a|b)*`, true, "abab")
	f.Add(`(?:x{9}){9}`, true, strings.Repeat("x", 90))
	f.Add(`\pL{1000}`, true, "é")
	f.Fuzz(func(t *testing.T, pattern string, expression bool, text string) {
		own := Pattern{Text: pattern, Expression: expression}
		if own.Check("patterns") != nil {
			return
		}
		s := scanner(t, own)
		for _, x := range s.Find(text) {
			if x.At < 0 || x.End <= x.At || x.End > len(text) || x.Kind != Own {
				t.Fatalf("%q in %q: %+v", pattern, text, x)
			}
			found, asked := strings.Join(strings.Fields(text[x.At:x.End]), " "), strings.Join(strings.Fields(pattern), " ")
			if !expression && !strings.EqualFold(found, asked) && utf8.ValidString(text) {
				t.Fatalf("%q finds %q", asked, found)
			}
		}
	})
}

// checkDigits appends what makes a number valid, found by trying.
func checkDigits(valid func(string) bool, stem string, n int) (string, bool) {
	for i := range pow10(n) {
		if s := stem + fmt.Sprintf("%0*d", n, i); valid(s) {
			return s, true
		}
	}
	return "", false
}

func pow10(n int) int {
	p := 1
	for range n {
		p *= 10
	}
	return p
}

// sample is a text with what stands in it.
type sample struct {
	text string
	kind Kind
}

// corpus generates sentences with numbers of all kinds, and hard negatives: order,
// telephone, hull and register numbers, dates, sums, readings, hashes.
func corpus(r *rand.Rand, n int) (all []sample) {
	some := func(n int) string {
		b := make([]byte, n)
		for i := range b {
			b[i] = byte('0' + r.IntN(10))
		}
		return string(b)
	}
	groups := func(s, separator string, size int) string {
		var out []string
		for len(s) > size {
			out, s = append(out, s[:size]), s[size:]
		}
		return strings.Join(append(out, s), separator)
	}
	frame := []string{"Please pay to %s by Friday.", "%s", "Reference: %s\n", "(%s)", "The master gave %s; see below.", "a;b;%s;c"}
	put := func(kind Kind, number string) {
		all = append(all, sample{fmt.Sprintf(frame[r.IntN(len(frame))], number), kind})
	}
	separators := []string{"", " ", "-"}
	for range n {
		if p, ok := checkDigits(luhn, []string{"4", "51", "55", "2221"}[r.IntN(4)]+some(15)[:15-len([]string{"4", "51", "55", "2221"}[0])], 1); ok && len(p) == 16 {
			put(Card, groups(p, separators[r.IntN(3)], 4))
		}
		country := []string{"DE", "FR", "NO", "AT", "BE"}[r.IntN(5)]
		if p, ok := checkDigits(func(s string) bool { return isIBAN(s[:2] + s[len(s)-2:] + s[2:len(s)-2]) }, country+some(ibanLength[country]-4), 2); ok {
			put(IBAN, groups(p[:2]+p[len(p)-2:]+p[2:len(p)-2], separators[r.IntN(2)], 4))
		}
		day := fmt.Sprintf("%02d%02d%02d", 1+r.IntN(28), 1+r.IntN(12), r.IntN(100))
		if p, ok := checkDigits(func(s string) bool { return (norwegian{}).Is(s, s) }, day+some(3), 2); ok {
			put(National, p)
		}
		born := fmt.Sprintf("%02d%02d%02d", r.IntN(100), 1+r.IntN(12), 1+r.IntN(28))
		if p, ok := checkDigits(func(s string) bool { return luhn(s) }, born+some(3), 1); ok {
			put(National, p[:6]+"-"+p[6:])
		}
		for _, hard := range []string{
			"order " + some(10), "order 20" + some(2) + "-" + some(4) + "-" + some(6), "tel. 0" + some(4) + " " + some(6), "+44 7" + some(3) + " " + some(6), "IMO " + some(7), "hull no. " + some(5) + "-" + some(3),
			"MER-24/" + some(3), fmt.Sprintf("%02d.%02d.2026", 1+r.IntN(28), 1+r.IntN(12)), "EUR " + some(3) + "." + some(3) + ",00", some(2) + ".1;" + some(2) + ".4;" + some(1) + ".9;" + some(2) + ".0", "policy " + some(12), "container HRKU " + some(6) + " " + some(1),
			"invoice " + some(8), "serial SN" + some(9), "0x" + some(16), some(4) + " " + some(4),
		} {
			put("", hard)
		}
	}
	return all
}

// measure counts, by kind, how much of a corpus is found and how much of what is
// found is there.
func measure(s *Scanner, all []sample) (recall map[Kind]float64, precision float64) {
	there, found := map[Kind]int{}, map[Kind]int{}
	right, told := 0, 0
	for _, x := range all {
		if x.kind != "" {
			there[x.kind]++
		}
		for i, f := range s.Find(x.text) {
			told++
			if f.Kind == x.kind && i == 0 {
				right++
				found[x.kind]++
			}
		}
	}
	recall = map[Kind]float64{}
	for k, n := range there {
		recall[k] = float64(found[k]) / float64(n)
	}
	return recall, float64(right) / float64(told)
}

// Everything that is a number of its kind is found, and hard negatives seldom
// are taken for one: a check digit lets one in ten or eleven through by chance,
// so that the form has to keep them out.
func TestPrecisionAndRecall(t *testing.T) {
	recall, precision := measure(scanner(t), corpus(rand.New(rand.NewPCG(5, 9)), 2000))
	t.Logf("recall %v, precision %.4f", recall, precision)
	for kind, r := range recall {
		if r < 0.995 {
			t.Errorf("only %.3f of %s are found", r, kind)
		}
	}
	if precision < 0.97 {
		t.Errorf("only %.3f of what is found is there", precision)
	}
}

func BenchmarkFind(b *testing.B) {
	s, all := scanner(b), corpus(rand.New(rand.NewPCG(5, 9)), 500)
	var text strings.Builder
	for _, x := range all {
		text.WriteString(x.text + " and further on the words of a report about the shell plating between frames 30 and 34.\n")
	}
	b.SetBytes(int64(text.Len()))
	for b.Loop() {
		s.Find(text.String())
	}
}

// Patterns that would take minutes for a long text are refused when they are written;
// those that a practice has use for are not.
func TestCostlyPatternsAreRefused(t *testing.T) {
	for text, costly := range map[string]bool{
		`(.{0,300}x){3}`: true, `(a{0,100}b{0,100}){5}`: true, `((a|b){0,50}){20}`: true, `(?:x?){300}x`: true,
		`\b[A-Z]{2}\d{6,12}\b`: false, `(?i)policy\s*(no|number)?\.?\s*\d{4,10}`: false, `DM-\d+`: false, strings.Repeat("a", 400): false,
	} {
		err := Pattern{Text: text, Expression: true}.Check("patterns")
		if (err != nil) != costly {
			t.Errorf("%.40s: %v", text, err)
		}
	}
}
