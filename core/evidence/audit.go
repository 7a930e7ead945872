package evidence

import (
	"fmt"

	"golang.org/x/mod/sumdb/tlog"
)

// Finding is a place of the log at which something does not agree. Event is 0 where none
// is there any more, and Place -1 where none was ever sealed.
type Finding struct {
	Place int64 `json:"place"`
	Event int64 `json:"event"`
	// At is the place where an event that was moved belongs.
	At int64 `json:"at,omitempty"`
}

// Findings are what does not agree; most lists end after a hundred, the counts do not.
type Findings struct {
	Size    int64 `json:"size"`
	Altered List  `json:"altered"`
	Removed List  `json:"removed"`
	PutIn   List  `json:"putIn"`
	Moved   List  `json:"moved"`
	// Log are sentences about the log's own hashes and checkpoints.
	Log []string `json:"log"`
}

// List is a count with the first of what is counted.
type List struct {
	Count int       `json:"count"`
	First []Finding `json:"first"`
}

const mostListed = 100

func (l *List) add(f Finding) {
	l.Count++
	if len(l.First) < mostListed {
		l.First = append(l.First, f)
	}
}

// Sound reports whether everything agrees.
func (f Findings) Sound() bool {
	return f.Altered.Count+f.Removed.Count+f.PutIn.Count+f.Moved.Count+len(f.Log) == 0
}

func (f *Findings) say(format string, a ...any) {
	if len(f.Log) < mostListed {
		f.Log = append(f.Log, fmt.Sprintf(format, a...))
	}
}

// Audit compares what happened, as it is stored, with the log.
type Audit struct {
	Findings
	tiles Tiles
	next  int64
	tile  At
	held  []byte
	// amiss are events that are not what the log holds at their place, by their hash.
	amiss map[tlog.Hash]Finding
	lost  []Finding
}

// NewAudit begins with a log of some size.
func NewAudit(tiles Tiles, size int64) *Audit {
	return &Audit{Findings: Findings{Size: size}, tiles: tiles, tile: At{N: -1}, amiss: map[tlog.Hash]Finding{}}
}

// Sealed compares an event with the log at its place. Places come in order; entry is nil
// where the event is gone.
func (a *Audit) Sealed(place, event int64, entry []byte) error {
	for ; a.next < place; a.next++ {
		a.Removed.add(Finding{Place: a.next})
	}
	a.next = place + 1
	if entry == nil {
		a.Removed.add(Finding{Place: place, Event: event})
		return nil
	}
	want, err := a.leaf(place)
	if err != nil {
		return err
	}
	if got := HashOf(entry); got != want {
		a.amiss[got] = Finding{Place: place, Event: event}
		a.lost = append(a.lost, Finding{Place: place, Event: event})
	}
	return nil
}

// Loose notes an event that is neither sealed nor waits to be.
func (a *Audit) Loose(event int64) { a.PutIn.add(Finding{Place: -1, Event: event}) }

// leaf is the hash that the log holds at a place.
func (a *Audit) leaf(place int64) (h tlog.Hash, err error) {
	if at := (At{N: place >> height}); at != a.tile {
		a.tile = at
		if a.held, err = a.tiles(at); err != nil {
			return h, err
		}
	}
	from := int(place&(width-1)) * tlog.HashSize
	if len(a.held) >= from+tlog.HashSize {
		copy(h[:], a.held[from:])
	}
	return h, nil
}

// End says what became of the events that did not agree: one that the log holds at
// another place was moved, any other was altered.
func (a *Audit) End() error {
	for ; a.next < a.Size; a.next++ {
		a.Removed.add(Finding{Place: a.next})
	}
	moved := map[int64]bool{}
	for _, f := range a.lost {
		want, err := a.leaf(f.Place)
		if err != nil {
			return err
		}
		if m, there := a.amiss[want]; there {
			m.At = f.Place
			moved[m.Place] = true
			a.Moved.add(m)
		}
	}
	for _, f := range a.lost {
		if !moved[f.Place] {
			a.Altered.add(f)
		}
	}
	return nil
}

// Hashes compares each level of the log with the one above it.
func (a *Audit) Hashes() error {
	for level, size := 0, a.Size; size >= width; level, size = level+1, size>>height {
		for n := range size >> height {
			tile, err := a.tiles(At{level, n})
			if err != nil {
				return err
			}
			above, err := a.tiles(At{level + 1, n >> height})
			if err != nil {
				return err
			}
			from := int(n&(width-1)) * tlog.HashSize
			if len(tile) != Whole || len(above) < from+tlog.HashSize || top(tile) != tlog.Hash(above[from:from+tlog.HashSize]) {
				a.say("The hashes of the places %d to %d were changed.", n<<(height*(level+1)), (n+1)<<(height*(level+1))-1)
			}
		}
	}
	return nil
}

// Signed compares the log with a signed checkpoint.
func (a *Audit) Signed(signed string, keys []string) error {
	c, _, err := OpenCheckpoint(signed, keys)
	if err != nil {
		a.say("A checkpoint does not hold: %v.", err)
		return nil
	}
	if c.Size > a.Size {
		a.say("A checkpoint was signed for %d events, the log has %d: its end was cut off.", c.Size, a.Size)
		return nil
	}
	root, err := a.tiles.Root(c.Size)
	if err != nil || root != c.Root {
		a.say("The log differs from its checkpoint of %d events.", c.Size)
	}
	return nil
}
