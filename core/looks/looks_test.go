package looks

import (
	"slices"
	"testing"
)

func TestPages(t *testing.T) {
	for want, given := range map[string][]int{"": nil, "1": {1}, "1-4, 7": {7, 2, 1, 3, 4, 3}, "2, 4, 6-7": {7, 6, 4, 2, 0, -3}} {
		p := Pages(nil).With(given)
		if p.String() != want || !slices.Equal(Parse(want), p) {
			t.Errorf("%v is %q and %v", given, p, Parse(want))
		}
	}
	if p := Parse("x, 3-1, 5-999999999, 2-, -4, 9"); p.String() != "9" {
		t.Errorf("%q", p)
	}
}

func FuzzParse(f *testing.F) {
	f.Add("1-4, 7")
	f.Fuzz(func(t *testing.T, s string) {
		p := Parse(s)
		if len(p) > Most || !slices.Equal(Parse(p.String()), p) {
			t.Errorf("%q is %v", s, p)
		}
	})
}
