package chunk

import (
	"bytes"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

func prose(seed uint64, words int) []string {
	r := rand.New(rand.NewPCG(seed, 5))
	out := make([]string, words)
	for i := range out {
		out[i] = fmt.Sprint("word", r.IntN(4000))
	}
	return out
}

// A text that was worked on is alike, another one is not, and how alike is told well
// enough.
func TestTextsAreAlike(t *testing.T) {
	a := prose(1, 3000)
	worked := slices.Concat(a[:500], prose(9, 100), a[600:])
	half := slices.Concat(a[:1500], prose(7, 1500))
	sketch := func(words []string) Sketch { return SketchText(strings.Join(words, " ")) }
	for name, c := range map[string]struct {
		b    []string
		want float64
	}{"itself": {a, 1}, "worked on": {worked, 0.93}, "half of it": {half, 0.33}, "another": {prose(2, 3000), 0}, "a few words": {a[:10], 0}} {
		if got := sketch(a).Alike(sketch(c.b)); math.Abs(got-c.want) > 0.17 {
			t.Errorf("%s: %.2f, want about %.2f", name, got, c.want)
		}
	}
	if SketchText("Frame 31: the Plate, gauged").Alike(SketchText("")) != 0 {
		t.Error("nothing is alike")
	}
	s := sketch(a)
	if got := DecodeSketch(s.Encode()); !slices.Equal(got, s) {
		t.Error("a sketch reads otherwise than it was written")
	}
}

func TestContentIsAlike(t *testing.T) {
	r := rand.New(rand.NewPCG(4, 4))
	a := noise(r, 900_000)
	edited := slices.Concat(a[:300_000], noise(r, 500), a[300_100:])
	sketch := func(b []byte) Sketch {
		s, err := SketchContent(bytes.NewReader(b))
		if err != nil {
			t.Fatal(err)
		}
		return s
	}
	if got := sketch(a).Alike(sketch(edited)); got < 0.9 {
		t.Errorf("edited: %.2f", got)
	}
	if got := sketch(a).Alike(sketch(noise(r, 900_000))); got != 0 {
		t.Errorf("another: %.2f", got)
	}
}
