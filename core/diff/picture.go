package diff

import "slices"

// Picture is what two pictures are compared by: four bytes for each point, row by row.
type Picture struct {
	Width, Height int
	Points        []byte
}

// Box is a part of a picture, in points.
type Box struct{ X, Y, Width, Height int }

const (
	// tile is the side of the squares by which pictures are compared, in points.
	tile = 12
	// tolerance is by how much a point may differ in each of its colours: writing a
	// photograph anew changes every point a little.
	tolerance = 26
	// mostBoxes is how many places are told apart; more are told as one.
	mostBoxes = 150
)

// Pictures are the places in which two pictures differ, from top to bottom, none of which
// overlap. Where one is larger, what the other lacks differs.
func Pictures(a, b Picture) []Box {
	width, height := max(a.Width, b.Width), max(a.Height, b.Height)
	columns, rows := (width+tile-1)/tile, (height+tile-1)/tile
	differs := make([]bool, columns*rows)
	for y := range height {
		for x := range width {
			if at := y/tile*columns + x/tile; !differs[at] && !a.like(b, x, y) {
				differs[at] = true
			}
		}
	}
	var boxes []Box
	for at := range differs {
		if differs[at] {
			boxes = append(boxes, spread(differs, columns, rows, at))
		}
	}
	if len(boxes) > mostBoxes {
		all := boxes[0]
		for _, b := range boxes {
			all = all.with(b)
		}
		boxes = []Box{all}
	}
	boxes = apart(boxes)
	for i, b := range boxes {
		x, y := b.X*tile, b.Y*tile
		boxes[i] = Box{x, y, min(b.Width*tile, width-x), min(b.Height*tile, height-y)}
	}
	return boxes
}

// like reports whether two pictures have the same point at a place.
func (p Picture) like(other Picture, x, y int) bool {
	if x >= p.Width || y >= p.Height || x >= other.Width || y >= other.Height {
		return false
	}
	i, j := 4*(y*p.Width+x), 4*(y*other.Width+x)
	for c := range 4 {
		d := int(p.Points[i+c]) - int(other.Points[j+c])
		if d > tolerance || d < -tolerance {
			return false
		}
	}
	return true
}

// spread takes the tiles around one that differ, with at most one between, and returns
// their box in tiles.
func spread(differs []bool, columns, rows, from int) Box {
	box := Box{from % columns, from / columns, 1, 1}
	waiting := []int{from}
	differs[from] = false
	for len(waiting) > 0 {
		at := waiting[len(waiting)-1]
		waiting = waiting[:len(waiting)-1]
		x, y := at%columns, at/columns
		box = box.with(Box{x, y, 1, 1})
		for ny := max(0, y-2); ny <= min(rows-1, y+2); ny++ {
			for nx := max(0, x-2); nx <= min(columns-1, x+2); nx++ {
				if n := ny*columns + nx; differs[n] {
					differs[n] = false
					waiting = append(waiting, n)
				}
			}
		}
	}
	return box
}

// with is the smallest box around two.
func (b Box) with(other Box) Box {
	x, y := min(b.X, other.X), min(b.Y, other.Y)
	return Box{x, y, max(b.X+b.Width, other.X+other.Width) - x, max(b.Y+b.Height, other.Y+other.Height) - y}
}

func (b Box) overlaps(other Box) bool {
	return b.X < other.X+other.Width && other.X < b.X+b.Width && b.Y < other.Y+other.Height && other.Y < b.Y+b.Height
}

// apart makes one of those that overlap.
func apart(boxes []Box) []Box {
	for i := 0; i < len(boxes); i++ {
		for j := i + 1; j < len(boxes); j++ {
			if boxes[i].overlaps(boxes[j]) {
				boxes[i] = boxes[i].with(boxes[j])
				boxes = slices.Delete(boxes, j, j+1)
				// What it has become may overlap those before.
				i, j = -1, len(boxes)
			}
		}
	}
	slices.SortFunc(boxes, func(a, b Box) int {
		if a.Y != b.Y {
			return a.Y - b.Y
		}
		return a.X - b.X
	})
	return boxes
}

// Pair is a place of a first sequence beside one of a second; negative where the other
// has nothing there.
type Pair struct{ A, B int }

// Pairs puts two sequences beside each other: what is the same, and of what is not the
// first removed beside the first added, and so on.
func Pairs(a, b []int32) []Pair {
	edits, _ := Sequences(a, b, len(a)+len(b))
	var out []Pair
	for i := 0; i < len(edits); i++ {
		e := edits[i]
		if e.Kind == Same {
			for k := range e.A1 - e.A0 {
				out = append(out, Pair{e.A0 + k, e.B0 + k})
			}
			continue
		}
		a0, a1, b0, b1 := e.A0, e.A1, e.B0, e.B1
		for i+1 < len(edits) && edits[i+1].Kind != Same {
			i++
			a1, b1 = max(a1, edits[i].A1), max(b1, edits[i].B1)
		}
		for k := range max(a1-a0, b1-b0) {
			p := Pair{-1, -1}
			if a0+k < a1 {
				p.A = a0 + k
			}
			if b0+k < b1 {
				p.B = b0 + k
			}
			out = append(out, p)
		}
	}
	return out
}
