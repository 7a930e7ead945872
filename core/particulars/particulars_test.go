package particulars

import (
	"fmt"
	"math/big"
	"math/rand/v2"
	"strings"
	"testing"

	"tabularis/core/fault"
)

func TestDefinitions(t *testing.T) {
	for _, d := range []Definition{
		{Name: " Survey  date ", Kind: Date}, {Name: "Hull", Kind: Text, DossierKinds: []string{"internal", "client", "client"}},
		{Name: "Draught", Kind: Number, Unit: "m"}, {Name: "Fee", Kind: Money, Unit: "eur"}, {Name: "State", Kind: Choice, Choices: []string{"afloat", " in  dock"}},
	} {
		got, err := Checked(d)
		if err != nil {
			t.Errorf("%+v: %v", d, err)
		}
		again, err := Checked(got)
		if err != nil || fmt.Sprint(again) != fmt.Sprint(got) {
			t.Errorf("%+v is not in normal form: %+v, %v", got, again, err)
		}
	}
	for code, d := range map[string]Definition{
		"name-empty": {Name: " ", Kind: Text}, "particular-kind": {Name: "A", Kind: "spell"}, "particular-currency": {Name: "A", Kind: Money, Unit: "euros"},
		"particular-choices": {Name: "A", Kind: Choice, Choices: []string{"a", "A"}}, "particular-unneeded": {Name: "A", Kind: Text, Unit: "m"},
		"particular-dossiers": {Name: "A", Kind: Text, DossierKinds: []string{"secret"}}, "name-length": {Name: strings.Repeat("a", 61), Kind: Text},
	} {
		if _, err := Checked(d); fault.Of(err).Code != code {
			t.Errorf("%+v is refused by %v, want %s", d, err, code)
		}
	}
	for _, d := range []Definition{{Name: "A", Kind: Choice}, {Name: "A", Kind: Money}, {Name: "A", Kind: Date, Choices: []string{"x"}}, {Name: "A", Kind: Choice, Choices: make([]string, mostChoices+1)}} {
		if _, err := Checked(d); err == nil {
			t.Errorf("%+v is taken", d)
		}
	}
}

func TestValues(t *testing.T) {
	amount, fee, yen := Definition{Name: "Draught", Kind: Number, Unit: "m"}, Definition{Name: "Fee", Kind: Money, Unit: "EUR"}, Definition{Name: "Fee", Kind: Money, Unit: "JPY"}
	day, text, state := Definition{Name: "Due", Kind: Date}, Definition{Name: "Hull", Kind: Text}, Definition{Name: "State", Kind: Choice, Choices: []string{"afloat", "in dock"}}
	for _, c := range []struct {
		d             Definition
		written, want string
	}{
		{amount, "12", "12"}, {amount, " -0.50 ", "-0.5"}, {amount, "-0", "0"}, {amount, "007", "7"}, {amount, "1,5", "1.5"}, {amount, "1.234", "1.234"},
		{amount, "0,125", "0.125"}, {amount, "1234,567", "1234.567"}, {amount, "1.234.567", "1234567"}, {amount, "1,234,567.89", "1234567.89"}, {amount, "1.234.567,89", "1234567.89"},
		{amount, "1 234 567,5", "1234567.5"}, {amount, "1'200.25", "1200.25"}, {amount, "−3", "-3"}, {fee, "1.200,50", "1200.5"}, {yen, "1200", "1200"},
		{day, "2026-02-28", "2026-02-28"}, {day, "1.3.2026", "2026-03-01"}, {text, "  Corran   Lass ", "Corran Lass"}, {state, "IN  dock", "in dock"},
	} {
		v, err := c.d.Read(c.written)
		if err != nil || v.Text != c.want {
			t.Errorf("%s %q: %q, %v; want %q", c.d.Name, c.written, v.Text, err, c.want)
		}
		if again, err := c.d.Read(v.Text); err != nil || again != v {
			t.Errorf("%s %q is not in normal form: %+v, %v", c.d.Name, v.Text, again, err)
		}
	}
	for _, c := range []struct {
		d       Definition
		written string
	}{
		{amount, ""}, {amount, "1,234"}, {amount, "1,23,4"}, {amount, "1.23.4"}, {amount, "1,2345.6"}, {amount, "1,5,5.5"}, {amount, "NaN"}, {amount, "1e9"}, {amount, "0x10"}, {amount, "+-1"}, {amount, "١٢"},
		{amount, strings.Repeat("9", 16)}, {amount, "0.0000001"}, {fee, "1.005"}, {yen, "12.5"}, {day, "2026-02-29"}, {day, "2026-13-01"}, {day, "0000-01-01"}, {day, "yesterday"},
		{text, " "}, {text, "a\x00b"}, {text, strings.Repeat("x", 501)}, {text, "a\u202eb"}, {state, "sunk"}, {state, ""}, {Definition{Name: "By", Kind: Person}, "Ines"},
	} {
		if v, err := c.d.Read(c.written); err == nil {
			t.Errorf("%s takes %.40q as %q", c.d.Name, c.written, v.Text)
		}
	}
	if (Definition{Name: "A", Required: true}).Cleared() == nil || (Definition{Name: "A"}).Cleared() != nil {
		t.Error("what is required can be cleared, or what is not cannot")
	}
}

// Sums are exact, and numbers keep what they are worth in any writing.
func TestSums(t *testing.T) {
	if got := Sum([]string{"0.1", "0.2", "-0.05"}); got != "0.25" {
		t.Errorf("%s", got)
	}
	r := rand.New(rand.NewPCG(15, 33))
	for range 500 {
		total, want := []string{}, new(big.Rat)
		for range r.IntN(20) {
			n := big.NewRat(r.Int64N(1e12)-5e11, 1_000_000)
			want.Add(want, n)
			v, err := (Definition{Name: "n", Kind: Number}).Read(n.FloatString(6))
			if err != nil {
				t.Fatal(err)
			}
			total = append(total, v.Number)
		}
		if got, ok := new(big.Rat).SetString(Sum(total)); !ok || got.Cmp(want) != 0 {
			t.Fatalf("%v add up to %s, want %s", total, got, want.FloatString(6))
		}
	}
}

func FuzzNumbers(f *testing.F) {
	for _, s := range []string{"1,5", "1.234,5", "-1'000", "1,234", "0.000001"} {
		f.Add(s)
	}
	f.Fuzz(func(t *testing.T, s string) {
		n, err := ReadNumber(s)
		if err != nil {
			return
		}
		if again, err := ReadNumber(n); err != nil || again != n {
			t.Errorf("%q became %q, which becomes %q, %v", s, n, again, err)
		}
	})
}
