package diff

import (
	"math/rand/v2"
	"slices"
	"testing"
)

func plain(width, height int, shade byte) Picture {
	return Picture{width, height, slices.Repeat([]byte{shade, shade, shade, 255}, width*height)}
}

// paint makes a part of a picture another colour.
func (p Picture) paint(b Box, shade byte) Picture {
	p.Points = slices.Clone(p.Points)
	for y := b.Y; y < b.Y+b.Height; y++ {
		for x := b.X; x < b.X+b.Width; x++ {
			p.Points[4*(y*p.Width+x)] = shade
		}
	}
	return p
}

// Every point that differs lies in one of the places, no two of which overlap, and each
// place holds one that does.
func TestPlacesInWhichPicturesDiffer(t *testing.T) {
	for seed := range uint64(60) {
		r := rand.New(rand.NewPCG(seed, 24))
		a := plain(100+r.IntN(200), 100+r.IntN(200), 200)
		b := a
		for range r.IntN(7) {
			w, h := 1+r.IntN(40), 1+r.IntN(40)
			b = b.paint(Box{r.IntN(b.Width - w), r.IntN(b.Height - h), w, h}, 10)
		}
		boxes := Pictures(a, b)
		used := make([]bool, len(boxes))
		for y := range a.Height {
			for x := range a.Width {
				in := slices.IndexFunc(boxes, func(b Box) bool { return b.overlaps(Box{x, y, 1, 1}) })
				if !a.like(b, x, y) {
					if in < 0 {
						t.Fatalf("seed %d: %d, %d differs and lies nowhere", seed, x, y)
					}
					used[in] = true
				}
			}
		}
		for i, box := range boxes {
			if !used[i] || box.X+box.Width > a.Width || box.Y+box.Height > a.Height {
				t.Errorf("seed %d: %+v", seed, box)
			}
			for _, other := range boxes[i+1:] {
				if box.overlaps(other) {
					t.Errorf("seed %d: %+v and %+v", seed, box, other)
				}
			}
		}
	}
}

func TestPicturesOfOtherSizesAndNoise(t *testing.T) {
	a := plain(120, 120, 100)
	if got := Pictures(a, plain(120, 120, 120)); len(got) != 0 {
		t.Errorf("a little lighter: %v", got)
	}
	if got := Pictures(a, plain(120, 180, 100)); len(got) != 1 || got[0] != (Box{0, 120, 120, 60}) {
		t.Errorf("longer: %v", got)
	}
	if got := Pictures(a, Picture{}); len(got) != 1 || got[0] != (Box{0, 0, 120, 120}) {
		t.Errorf("nothing beside it: %v", got)
	}
	if got := Pictures(Picture{}, Picture{}); len(got) != 0 {
		t.Errorf("nothing at all: %v", got)
	}
	b := plain(2000, 2000, 100)
	for i := range 300 {
		b = b.paint(Box{100 * (i % 20), 130 * (i / 20), 2, 2}, 0)
	}
	if got := Pictures(plain(2000, 2000, 100), b); len(got) != 1 {
		t.Errorf("very many: %d", len(got))
	}
}

func TestPairsOfPages(t *testing.T) {
	for _, c := range []struct {
		a, b []int32
		want []Pair
	}{
		{[]int32{1, 2, 3}, []int32{1, 9, 3}, []Pair{{0, 0}, {1, 1}, {2, 2}}},
		{[]int32{1, 2}, []int32{1, 7, 8, 2}, []Pair{{0, 0}, {-1, 1}, {-1, 2}, {1, 3}}},
		{[]int32{1, 2, 3}, []int32{3}, []Pair{{0, -1}, {1, -1}, {2, 0}}},
		{nil, []int32{4}, []Pair{{-1, 0}}},
	} {
		if got := Pairs(c.a, c.b); !slices.Equal(got, c.want) {
			t.Errorf("%v and %v: %v, want %v", c.a, c.b, got, c.want)
		}
	}
}
