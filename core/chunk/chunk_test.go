package chunk

import (
	"bytes"
	"fmt"
	"math/rand/v2"
	"slices"
	"testing"
)

func noise(r *rand.Rand, n int) []byte {
	b := make([]byte, n)
	for i := range b {
		b[i] = byte(r.Uint32())
	}
	return b
}

// rebuilt puts a content together from an earlier one and its parts.
func rebuilt(t *testing.T, earlier, later []byte, parts []Part) (own int64) {
	t.Helper()
	var got []byte
	for _, p := range parts {
		if p.Length <= 0 {
			t.Fatalf("an empty part: %+v", parts)
		}
		if p.From < 0 {
			got = append(got, later[len(got):len(got)+int(p.Length)]...)
			own += p.Length
			continue
		}
		got = append(got, earlier[p.From:p.From+p.Length]...)
	}
	if !bytes.Equal(got, later) {
		t.Fatal("the parts do not make the content")
	}
	return own
}

// However a content is changed, its parts make it again, and what is its own is what was
// changed, to a few bytes.
func TestOnlyWhatChangedIsItsOwn(t *testing.T) {
	for seed := range uint64(40) {
		r := rand.New(rand.NewPCG(seed, 31))
		earlier := noise(r, 400_000)
		later := slices.Clone(earlier)
		changed := 0
		for range 1 + r.IntN(6) {
			at, n := r.IntN(len(later)-5000), 1+r.IntN(3000)
			switch r.IntN(3) {
			case 0:
				later = slices.Insert(later, at, noise(r, n)...)
				changed += n
			case 1:
				later = slices.Delete(later, at, at+n)
			default:
				copy(later[at:], noise(r, n))
				changed += n
			}
		}
		parts, err := Cover(bytes.NewReader(earlier), int64(len(earlier)), bytes.NewReader(later), int64(len(later)))
		if err != nil {
			t.Fatal(err)
		}
		// A chunk between two changes that lie close together may not be found again.
		if own := rebuilt(t, earlier, later, parts); own > int64(changed)+6*mostChunk/4 {
			t.Errorf("seed %d: %d bytes are its own, %d were changed", seed, own, changed)
		}
	}
	one := noise(rand.New(rand.NewPCG(1, 1)), 300_000)
	other := slices.Clone(one)
	other[150_000] ^= 1
	parts, err := Cover(bytes.NewReader(one), int64(len(one)), bytes.NewReader(other), int64(len(other)))
	if want := []Part{{0, 150_000}, {-1, 1}, {150_001, 149_999}}; err != nil || !slices.Equal(parts, want) {
		t.Errorf("one byte changed: %v, %v", parts, err)
	}
}

func TestWhatIsAwkwardIsCovered(t *testing.T) {
	r := rand.New(rand.NewPCG(7, 7))
	long := noise(r, 200_000)
	for name, c := range map[string][2][]byte{
		"nothing before": {nil, long}, "nothing after": {long, nil}, "the same": {long, long}, "all zeros": {make([]byte, 300_000), make([]byte, 500_001)},
		"twice": {long, append(slices.Clone(long), long...)}, "half of it": {append(slices.Clone(long), long...), long}, "small": {[]byte("a"), []byte("b")},
		"turned round": {append(slices.Clone(long[:90_000]), long[90_000:]...), append(slices.Clone(long[90_000:]), long[:90_000]...)},
	} {
		parts, err := Cover(bytes.NewReader(c[0]), int64(len(c[0])), bytes.NewReader(c[1]), int64(len(c[1])))
		if err != nil {
			t.Fatalf("%s: %v", name, err)
		}
		own := rebuilt(t, c[0], c[1], parts)
		if name == "the same" && (own != 0 || len(parts) != 1) || name == "turned round" && own > 2*mostChunk {
			t.Errorf("%s: %d bytes of its own in %d parts", name, own, len(parts))
		}
	}
}

// A version of a version of a version is made of what each of them added, and reads as it
// was.
func TestRecipesGoThroughEarlierOnes(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 3))
	now := noise(r, 300_000)
	sources := map[string][]byte{"0": now}
	recipe, names := Recipe{{0, 0, int64(len(now))}}, []string{"0"}
	for v := 1; v < 30; v++ {
		later := slices.Clone(now)
		at := r.IntN(len(later) - 400)
		later = slices.Insert(slices.Delete(later, at, at+r.IntN(300)), at, noise(r, 1+r.IntN(300))...)
		parts, err := Cover(bytes.NewReader(now), int64(len(now)), bytes.NewReader(later), int64(len(later)))
		if err != nil {
			t.Fatal(err)
		}
		mine := []string{fmt.Sprint(v)}
		next := Through(parts, recipe, func(source int) int {
			i := slices.Index(mine, names[source])
			if i < 0 {
				i, mine = len(mine), append(mine, names[source])
			}
			return i
		})
		var kept []Part
		next, kept = Gather(next, func(source int) bool { return v%10 == 0 && mine[source] != "0" })
		var own []byte
		for _, p := range kept {
			own = append(own, later[p.From:p.From+p.Length]...)
		}
		sources[mine[0]] = own
		if next, err = Decode(next.Encode(), len(mine)-1, int64(len(later))); err != nil {
			t.Fatal(err)
		}
		var got []byte
		for _, run := range next {
			got = append(got, sources[mine[run.Source]][run.At:run.At+run.Length]...)
		}
		if !bytes.Equal(got, later) || next.Own() != int64(len(own)) || next.Size() != int64(len(later)) {
			t.Fatalf("version %d is not what it was", v)
		}
		now, recipe, names = later, next, mine
	}
}

// What was not written as a recipe is refused, and never more than a content's bytes.
func FuzzRecipe(f *testing.F) {
	f.Add(Recipe{{0, 0, 5}, {1, 7, 9}}.Encode(), 1, int64(14))
	f.Add([]byte{0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 0xff, 1, 0, 0}, 3, int64(1))
	f.Fuzz(func(t *testing.T, raw []byte, sources int, size int64) {
		r, err := Decode(raw, sources, size)
		if err != nil {
			return
		}
		if r.Size() != size {
			t.Errorf("%d bytes instead of %d", r.Size(), size)
		}
		for _, run := range r {
			if run.Source < 0 || run.Source > sources || run.At < 0 || run.Length <= 0 {
				t.Errorf("an impossible run: %+v", run)
			}
		}
	})
}
