package richtext_test

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"

	"tabularis/core/richtext"
)

// Who wrote each letter is what somebody says who keeps every letter with its writer.
func TestAuthorsAgainstLetters(t *testing.T) {
	for seed := range 200 {
		r := rand.New(rand.NewPCG(7, uint64(seed)))
		doc := document(t, `[{"type":"paragraph","content":[{"type":"text","text":"begin"}]}]`)
		slow := []int{-1, -1, -1, -1, -1} // whose each letter is
		var all [][]richtext.Step
		for range 40 {
			from := r.IntN(len(slow) + 1)
			to := min(len(slow), from+r.IntN(3))
			n := r.IntN(4)
			slice := ""
			if n > 0 {
				slice = fmt.Sprintf(`,"slice":{"content":[{"type":"text","text":%q}]}`, "abcdef"[:n])
			}
			s, err := richtext.Written.ReadStep([]byte(fmt.Sprintf(`{"stepType":"replace","from":%d,"to":%d%s}`, from+1, to+1, slice)))
			if err != nil {
				t.Fatal(err)
			}
			if doc, err = s.Apply(doc); err != nil {
				t.Fatal(err)
			}
			all = append(all, []richtext.Step{s})
			slow = slices.Concat(slow[:from], slices.Repeat([]int{len(all) - 1}, n), slow[to:])
		}
		got := slices.Repeat([]int{-1}, len(slow))
		for _, p := range richtext.Authors(all) {
			for i := p.From; i < p.To; i++ {
				if i < 1 || i > len(slow) {
					t.Fatalf("seed %d: %+v lies outside of %d letters", seed, p, len(slow))
				}
				got[i-1] = p.By
			}
		}
		if !slices.Equal(got, slow) {
			t.Fatalf("seed %d:\n got %v\nwant %v", seed, got, slow)
		}
	}
}
