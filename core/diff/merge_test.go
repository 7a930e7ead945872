package diff

import (
	"math/rand/v2"
	"slices"
	"strings"
	"testing"
)

func TestMerging(t *testing.T) {
	base := "one\ntwo\nthree\nfour\nfive\nsix\n"
	for _, c := range []struct {
		name, a, b, want string
		conflicts        int
	}{
		{"nothing", base, base, base, 0},
		{"only the one", "one\nTWO\nthree\nfour\nfive\nsix\n", base, "one\nTWO\nthree\nfour\nfive\nsix\n", 0},
		{"both, apart", "ONE\ntwo\nthree\nfour\nfive\nsix\n", "one\ntwo\nthree\nfour\nfive\nsix\nseven\n", "ONE\ntwo\nthree\nfour\nfive\nsix\nseven\n", 0},
		{"both the same", "one\n2\nthree\nfour\nfive\nsix\n", "one\n2\nthree\nfour\nfive\nsix\n", "one\n2\nthree\nfour\nfive\nsix\n", 0},
		{"one inserts, one removes", "one\ntwo\nnew\nthree\nfour\nfive\nsix\n", "one\ntwo\nthree\nfour\nsix\n", "one\ntwo\nnew\nthree\nfour\nsix\n", 0},
		{"both the same line", "one\n2\nthree\nfour\nfive\nsix\n", "one\nzwei\nthree\nfour\nfive\nsix\n", "", 1},
		{"lines beside each other", "one\n2\nthree\nfour\nfive\nsix\n", "one\ntwo\n3\nfour\nfive\nsix\n", "", 1},
		{"two places", "1\ntwo\nthree\nfour\nfive\n6\n", "I\ntwo\nthree\nfour\nfive\nVI\n", "", 2},
	} {
		got, conflicts := Merge(base, c.a, c.b)
		if got != c.want || conflicts != c.conflicts {
			t.Errorf("%s: %q with %d conflicts, want %q with %d", c.name, got, conflicts, c.want, c.conflicts)
		}
	}
}

// Merged with what did not change, or the same way, a text is itself; which one is named
// first does not matter; and what both changed apart from each other is all there.
func TestMergingIsFair(t *testing.T) {
	for seed := range uint64(400) {
		r := rand.New(rand.NewPCG(seed, 3))
		var base []string
		for range 40 {
			base = append(base, string(rune('a'+r.IntN(26)))+"\n")
		}
		change := func(from, to int) []string {
			out := slices.Clone(base)
			for range 1 + r.IntN(4) {
				at := from + r.IntN(to-from)
				switch r.IntN(3) {
				case 0:
					out[at] = "changed " + out[at]
				case 1:
					out[at] = ""
				default:
					out[at] += "inserted\n"
				}
			}
			return out
		}
		a, b := strings.Join(change(0, 18), ""), strings.Join(change(22, 40), "")
		text := strings.Join(base, "")
		one, n := Merge(text, a, b)
		other, m := Merge(text, b, a)
		if one != other || n != m || n != 0 {
			t.Fatalf("seed %d: %d and %d conflicts", seed, n, m)
		}
		if back, n := Merge(text, a, text); n != 0 || back != a {
			t.Fatalf("seed %d: %d, %q", seed, n, back)
		}
		if same, n := Merge(text, a, a); n != 0 || same != a {
			t.Fatalf("seed %d: %d conflicts with itself", seed, n)
		}
		if strings.Count(one, "changed") != strings.Count(a, "changed")+strings.Count(b, "changed") {
			t.Fatalf("seed %d: something is lost", seed)
		}
	}
}
