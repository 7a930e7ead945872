// Package diff compares texts by words and tables by cells. What it finds, applied to the
// one, gives the other.
package diff

// Edit is a run of one kind: of the first from A0 to A1, of the second from B0 to B1.
type Edit struct {
	Kind           Kind
	A0, A1, B0, B1 int
}

// Kind is what a run is in the second compared with the first.
type Kind int8

// Same stands in both, Removed in the first alone, Added in the second alone.
const (
	Same Kind = iota
	Removed
	Added
)

// Sequences compares two sequences of numbers by the least number of edits (Myers 1986,
// in linear space). Where more than about so many edits would be needed in a part of
// them, that part is taken as replaced as a whole, and exact is false.
func Sequences(a, b []int32, most int) (edits []Edit, exact bool) {
	c := &comparer{a: a, b: b, most: most, exact: true}
	c.compare(0, len(a), 0, len(b))
	return c.edits, c.exact
}

type comparer struct {
	a, b  []int32
	most  int
	edits []Edit
	exact bool
	// forward and backward are how far one comes on each diagonal.
	forward, backward []int
}

// add appends a run, and joins it with one of its kind before it.
func (c *comparer) add(k Kind, a0, a1, b0, b1 int) {
	if a0 == a1 && b0 == b1 {
		return
	}
	if last := len(c.edits) - 1; last >= 0 && c.edits[last].Kind == k {
		c.edits[last].A1, c.edits[last].B1 = a1, b1
		return
	}
	c.edits = append(c.edits, Edit{k, a0, a1, b0, b1})
}

func (c *comparer) compare(a0, a1, b0, b1 int) {
	start, same := a0, b0
	for a0 < a1 && b0 < b1 && c.a[a0] == c.b[b0] {
		a0++
		b0++
	}
	c.add(Same, start, a0, same, b0)
	end := 0
	for a1-end > a0 && b1-end > b0 && c.a[a1-1-end] == c.b[b1-1-end] {
		end++
	}
	a1, b1 = a1-end, b1-end
	switch {
	case a0 == a1:
		c.add(Added, a0, a0, b0, b1)
	case b0 == b1:
		c.add(Removed, a0, a1, b0, b0)
	default:
		if x, y, ok := c.middle(a0, a1, b0, b1); ok {
			c.compare(a0, x, b0, y)
			c.compare(x, a1, y, b1)
		} else {
			c.exact = false
			c.add(Removed, a0, a1, b0, b0)
			c.add(Added, a1, a1, b0, b1)
		}
	}
	c.add(Same, a1, a1+end, b1, b1+end)
}

// middle finds a point on a shortest way from one corner to the other, by going from
// both at once until they meet. ok is false where the way is too long.
func (c *comparer) middle(a0, a1, b0, b1 int) (x, y int, ok bool) {
	n, m := a1-a0, b1-b0
	size := 2*(n+m) + 4
	if len(c.forward) < size {
		c.forward, c.backward = make([]int, size), make([]int, size)
	}
	off, delta := n+m+1, n-m
	f, r := c.forward, c.backward
	for k := off - m - 2; k <= off+n+2; k++ {
		if k >= 0 && k < size {
			f[k], r[k] = nowhere, nowhere
		}
	}
	f[off+1], r[off+1] = 0, 0
	for d := 0; d <= (n+m+1)/2; d++ {
		if d > c.most {
			return 0, 0, false
		}
		for k := max(-d, lowest(d, m)); k <= min(d, n); k += 2 {
			at, ok := step(f, off, d, k, n, m)
			if !ok {
				continue
			}
			i, j := at, at-k
			for i < n && j < m && c.a[a0+i] == c.b[b0+j] {
				i++
				j++
			}
			f[off+k] = i
			if delta%2 != 0 && k >= delta-(d-1) && k <= delta+(d-1) && i+r[off+delta-k] >= n {
				return a0 + at, b0 + at - k, split(at, at-k, n, m)
			}
		}
		for k := max(-d, lowest(d, m)); k <= min(d, n); k += 2 {
			at, ok := step(r, off, d, k, n, m)
			if !ok {
				continue
			}
			i, j := at, at-k
			for i < n && j < m && c.a[a1-1-i] == c.b[b1-1-j] {
				i++
				j++
			}
			r[off+k] = i
			if delta%2 == 0 && k >= -d+delta && k <= d+delta && i+f[off+delta-k] >= n {
				return a1 - at, b1 - (at - k), split(n-at, m-(at-k), n, m)
			}
		}
	}
	return 0, 0, false
}

// nowhere is how far one comes on a diagonal that was not reached.
const nowhere = -1 << 30

// lowest is the first diagonal above -m that is reached in d steps.
func lowest(d, m int) int { return -m + (d+m)%2 }

// step goes from the diagonals beside k to it, as far as one came there. ok is false
// where that leads out of what is compared.
func step(way []int, off, d, k, n, m int) (at int, ok bool) {
	at = way[off+k-1] + 1
	if k == -d || k != d && way[off+k-1] < way[off+k+1] {
		at = way[off+k+1]
	}
	if at < 0 || at > n || at-k > m || at < k {
		way[off+k] = nowhere
		return 0, false
	}
	return at, true
}

// split reports whether a point leaves less to do on both sides of it.
func split(x, y, n, m int) bool {
	return x >= 0 && y >= 0 && x <= n && y <= m && (x > 0 || y > 0) && (x < n || y < m)
}
