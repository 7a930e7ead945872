package versions

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
	"time"
)

var noon = time.Date(2026, 11, 30, 12, 0, 0, 0, time.UTC)

// saved are versions of ages in days, the first the oldest.
func saved(days ...int) (all []Version) {
	for i, d := range days {
		all = append(all, Version{Number: i + 1, At: noon.AddDate(0, 0, -d)})
	}
	return all
}

func TestWhatARuleRemoves(t *testing.T) {
	year := saved(400, 399, 398, 120, 100, 99, 31, 5, 0)
	for _, c := range []struct {
		name string
		rule Rule
		all  []Version
		want []int
	}{
		{"every version for ever", Rule{0, None, 0}, year, nil},
		{"for three months", Rule{3, None, 0}, year, []int{1, 2, 3, 4, 5, 6}},
		{"for three months, the last five in any case", Rule{3, None, 5}, year, []int{1, 2, 3, 4}},
		{"for a month, then one a month", Rule{1, Monthly, 0}, year, []int{1, 2, 4, 5}},
		{"for a month, then one a week", Rule{1, Weekly, 0}, year, []int{2, 5}},
		{"for a month, then one a day", Rule{1, Daily, 0}, year, nil},
		{"only one there is", Rule{1, None, 0}, saved(1000), nil},
	} {
		if got := c.rule.Superfluous(c.all, noon, time.UTC); !slices.Equal(got, c.want) {
			t.Errorf("%s: %v, want %v", c.name, got, c.want)
		}
	}
	kept := saved(400, 399, 398, 397, 0)
	kept[0].Named, kept[1].Noted, kept[2].Held, kept[3].Removed = true, true, true, true
	if got := (Rule{1, None, 0}).Superfluous(kept, noon, time.UTC); got != nil {
		t.Errorf("what is kept always: %v", got)
	}
	rule := Rule{12, None, 0}
	if next, ok := rule.Next(saved(100, 0), noon, time.UTC); !ok || !next.Equal(noon.AddDate(0, 0, -100).AddDate(0, 12, 0)) {
		t.Errorf("nothing goes before %v, %v", next, ok)
	}
	if _, ok := rule.Next(saved(0), noon, time.UTC); ok {
		t.Error("the only version goes")
	}
}

// Whatever the rule, the version that counts stays; what was removed once is not missed:
// removing and asking again removes nothing more at the same moment; and a day before it
// was said nothing goes.
func TestRulesAreSteady(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon")
	if err != nil {
		t.Fatal(err)
	}
	for seed := range uint64(300) {
		r := rand.New(rand.NewPCG(seed, 1))
		rule := Rule{r.IntN(24), []Then{None, Daily, Weekly, Monthly}[r.IntN(4)], r.IntN(6)}
		var all []Version
		at := noon.AddDate(-3, 0, 0)
		for n := 1; n <= 1+r.IntN(60); n++ {
			at = at.Add(time.Duration(r.IntN(40*24)) * time.Hour)
			all = append(all, Version{Number: n, At: at, Named: r.IntN(9) == 0, Removed: r.IntN(9) == 0})
		}
		name := fmt.Sprintf("seed %d, %+v", seed, rule)
		gone := rule.Superfluous(all, noon, zone)
		if slices.Contains(gone, Counting(all)) {
			t.Errorf("%s: the version that counts goes", name)
		}
		for i, v := range all {
			if slices.Contains(gone, v.Number) {
				if v.Named || v.Removed || v.At.After(noon.AddDate(0, 0, 1).AddDate(0, -rule.Months, 0)) {
					t.Errorf("%s: version %d goes", name, v.Number)
				}
				all[i].Removed = true
			}
		}
		if again := rule.Superfluous(all, noon, zone); len(again) != 0 {
			t.Errorf("%s: %v go, too, once the others went", name, again)
		}
		if next, ok := rule.Next(all, noon, zone); ok && len(rule.Superfluous(all, next.Add(-time.Second), zone)) != 0 {
			t.Errorf("%s: something goes before %v", name, next)
		} else if ok && len(rule.Superfluous(all, next, zone)) == 0 {
			t.Errorf("%s: nothing goes at %v", name, next)
		}
	}
}

func TestRulesThatAreNone(t *testing.T) {
	for rule, code := range map[Rule]string{{-1, None, 0}: "keep-months", {601, None, 0}: "keep-months", {1, None, -1}: "keep-last", {1, None, 1001}: "keep-last", {1, "", 0}: "keep-then", {1, "hourly", 0}: "keep-then"} {
		if err := rule.Check("versions"); err == nil || errorCode(err) != code {
			t.Errorf("%+v: %v", rule, err)
		}
	}
	for _, s := range []Sitting{0, -5, 24*60 + 1} {
		if err := s.Check("sitting"); err == nil || errorCode(err) != "sitting-range" {
			t.Errorf("%d: %v", s, err)
		}
	}
}

func TestSittingsFold(t *testing.T) {
	save := func(n, minute int, by string) Version {
		return Version{Number: n, At: noon.Add(time.Duration(minute) * time.Minute), By: by, Saved: true}
	}
	all := []Version{
		{Number: 1, At: noon}, save(2, 1, "a"), save(3, 4, "a"), save(4, 30, "a"), // one sitting
		save(5, 61, "a"),                   // after a pause
		save(6, 62, "b"), save(7, 63, "b"), // another person
		save(8, 64, "b"), // named below
		save(9, 65, "b"),
		{Number: 10, At: noon.Add(66 * time.Minute), By: "b"}, save(11, 67, "b"), save(12, 68, "b"),
	}
	all[7].Named = true
	want := map[int]int{2: 4, 3: 4, 6: 7, 11: 12}
	got := Fold(all, 30)
	if fmt.Sprint(got) != fmt.Sprint(want) {
		t.Errorf("%v, want %v", got, want)
	}
	slices.Reverse(all)
	if fmt.Sprint(Fold(all, 30)) != fmt.Sprint(want) {
		t.Error("the order in which they are listed matters")
	}
}
