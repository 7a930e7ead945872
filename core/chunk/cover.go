// Package chunk finds what of one content stands in another already, so that of a further
// version only what is new is kept.
//
// The earlier content is cut at places that its bytes choose (content-defined chunks, by a
// rolling Rabin fingerprint), so that inserting or removing something moves no other cut.
// Where a chunk of the later content is found again, both are compared byte by byte, and
// the run is widened in both directions as far as they are alike: what is kept of the later
// one is what was changed, to the byte.
package chunk

import (
	"errors"
	"fmt"
	"hash/maphash"
	"io"

	"github.com/restic/chunker"
)

const (
	// polynomial is the one by which contents are cut, irreducible over GF(2). It is kept
	// nowhere: cuts are made anew each time.
	polynomial = chunker.Pol(0x3DA3358B4DC173)
	leastChunk = 2 << 10
	mostChunk  = 64 << 10
	// averageBits make chunks of 8 KiB on average.
	averageBits = 13
)

// Part is a run of bytes of a later content. From is where the same bytes stand in the
// earlier one; it is negative for those that stand there nowhere.
type Part struct {
	From, Length int64
}

// Cover says of what parts, one after the other, a later content of size bytes is made.
// Both must be readable more than once.
func Cover(earlier io.ReaderAt, earlierSize int64, later io.ReaderAt, size int64) ([]Part, error) {
	seed := maphash.MakeSeed()
	where := map[uint64]int64{}
	err := each(io.NewSectionReader(earlier, 0, earlierSize), func(at int64, data []byte) error {
		if sum := maphash.Bytes(seed, data); where[sum] == 0 {
			where[sum] = at + 1
		}
		return nil
	})
	if err != nil {
		return nil, err
	}
	c := cover{earlier: earlier, later: later, earlierSize: earlierSize}
	err = each(io.NewSectionReader(later, 0, size), func(at int64, data []byte) error {
		return c.next(at, data, where[maphash.Bytes(seed, data)]-1)
	})
	if err == nil && c.done < size {
		c.own(size)
	}
	return c.parts, err
}

func each(r io.Reader, fn func(at int64, data []byte) error) error {
	cut := chunker.NewWithBoundaries(r, polynomial, leastChunk, mostChunk)
	cut.SetAverageBits(averageBits)
	buffer := make([]byte, mostChunk)
	for {
		c, err := cut.Next(buffer)
		if errors.Is(err, io.EOF) {
			return nil
		}
		if err != nil {
			return fmt.Errorf("cutting content: %w", err)
		}
		if err := fn(int64(c.Start), c.Data); err != nil {
			return err
		}
	}
}

// cover is how far the later content is covered: up to done, by parts.
type cover struct {
	earlier, later io.ReaderAt
	earlierSize    int64
	done           int64
	parts          []Part
	buffer         [2][mostChunk]byte
}

// next covers a chunk that stands at a place of the later content, and perhaps at one of
// the earlier, where that is not negative.
func (c *cover) next(at int64, data []byte, found int64) error {
	end := at + int64(len(data))
	if end <= c.done {
		return nil
	}
	// What follows the last run in the earlier content follows it here, too, mostly.
	if last := len(c.parts) - 1; last >= 0 && c.parts[last].From >= 0 && c.done >= at {
		n, err := c.alike(c.parts[last].From+c.parts[last].Length, data[c.done-at:])
		if err != nil {
			return err
		}
		c.parts[last].Length += n
		c.done += n
	}
	if c.done == end || found < 0 {
		return nil
	}
	from, start := found, at
	if c.done > at {
		from, start = found+c.done-at, c.done
	}
	n, err := c.alike(from, data[start-at:])
	if err != nil || n < end-start {
		// Another content of the same fingerprint.
		return err
	}
	before, err := c.before(from, start)
	if err != nil {
		return err
	}
	from, start, n = from-before, start-before, n+before
	if start > c.done {
		c.own(start)
	}
	c.parts = append(c.parts, Part{From: from, Length: n})
	c.done = end
	return nil
}

// own covers up to a place what stands nowhere.
func (c *cover) own(to int64) {
	c.parts = append(c.parts, Part{From: -1, Length: to - c.done})
	c.done = to
}

// alike is how many bytes of the earlier content, from a place on, are those of data.
func (c *cover) alike(from int64, data []byte) (int64, error) {
	there, err := c.read(0, c.earlier, from, min(int64(len(data)), c.earlierSize-from))
	n := 0
	for n < len(there) && there[n] == data[n] {
		n++
	}
	return int64(n), err
}

// before is how many bytes in front of two places are the same, as far as nothing covers
// them.
func (c *cover) before(from, start int64) (n int64, err error) {
	for {
		most := min(start-n-c.done, from-n, leastChunk)
		if most <= 0 {
			return n, nil
		}
		old, err := c.read(0, c.earlier, from-n-most, most)
		if err != nil {
			return n, err
		}
		own, err := c.read(1, c.later, start-n-most, most)
		if err != nil {
			return n, err
		}
		for i := len(own) - 1; i >= 0; i-- {
			if own[i] != old[i] {
				return n, nil
			}
			n++
		}
	}
}

func (c *cover) read(buffer int, r io.ReaderAt, at, n int64) ([]byte, error) {
	if n <= 0 {
		return nil, nil
	}
	b := c.buffer[buffer][:n]
	if got, err := r.ReadAt(b, at); got < len(b) {
		return nil, fmt.Errorf("reading content: %w", err)
	}
	return b, nil
}
