package diff

import (
	"math/rand/v2"
	"slices"
	"testing"
)

// replay checks that edits, applied to the one, give the other.
func replay(t *testing.T, a, b []int32, edits []Edit) (changed int) {
	t.Helper()
	var fromA, fromB []int32
	i, j := 0, 0
	for n, e := range edits {
		if e.A0 != i || e.B0 != j {
			t.Fatalf("edit %d begins at %d, %d, not at %d, %d: %+v", n, e.A0, e.B0, i, j, edits)
		}
		i, j = e.A1, e.B1
		switch e.Kind {
		case Same:
			if !slices.Equal(a[e.A0:e.A1], b[e.B0:e.B1]) {
				t.Fatalf("edit %d is not the same: %+v", n, e)
			}
			fromA, fromB = append(fromA, a[e.A0:e.A1]...), append(fromB, b[e.B0:e.B1]...)
		case Removed:
			fromA = append(fromA, a[e.A0:e.A1]...)
			changed += e.A1 - e.A0
		case Added:
			fromB = append(fromB, b[e.B0:e.B1]...)
			changed += e.B1 - e.B0
		}
	}
	if !slices.Equal(fromA, a) || !slices.Equal(fromB, b) {
		t.Fatalf("%v and %v by %+v", a, b, edits)
	}
	return changed
}

// least is the least number of edits, the slow way.
func least(a, b []int32) int {
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := range a {
		before := row[0]
		row[0] = i + 1
		for j := range b {
			was := row[j+1]
			if a[i] == b[j] {
				row[j+1] = before
			} else {
				row[j+1] = 1 + min(row[j], was)
			}
			before = was
		}
	}
	return row[len(b)]
}

// Whatever is compared, the edits give the other, and there are as few as can be.
func TestSequencesAreLeast(t *testing.T) {
	r := rand.New(rand.NewPCG(3, 5))
	for range 30_000 {
		letters := int32(1 + r.IntN(6))
		make := func() []int32 {
			s := make([]int32, r.IntN(24))
			for i := range s {
				s[i] = r.Int32N(letters)
			}
			return s
		}
		a, b := make(), make()
		edits, exact := Sequences(a, b, 1<<20)
		if got, want := replay(t, a, b, edits), least(a, b); got != want || !exact {
			t.Fatalf("%v and %v: %d edits, %d are enough, exact %v: %+v", a, b, got, want, exact, edits)
		}
	}
}

// What is too different is replaced as a whole, and that is said.
func TestSequencesGiveUp(t *testing.T) {
	r := rand.New(rand.NewPCG(8, 8))
	a, b := make([]int32, 3000), make([]int32, 3000)
	for i := range a {
		a[i], b[i] = r.Int32N(500), r.Int32N(500)
	}
	edits, exact := Sequences(a, b, 50)
	if exact {
		t.Error("nothing was given up")
	}
	replay(t, a, b, edits)
}

func FuzzSequences(f *testing.F) {
	f.Add([]byte("frame 31"), []byte("frame 13"), 3)
	f.Fuzz(func(t *testing.T, x, y []byte, most int) {
		a, b := make([]int32, len(x)), make([]int32, len(y))
		for i, c := range x {
			a[i] = int32(c)
		}
		for i, c := range y {
			b[i] = int32(c)
		}
		edits, _ := Sequences(a, b, most)
		replay(t, a, b, edits)
	})
}
