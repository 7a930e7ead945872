package content

import (
	"fmt"
	"io"
	"sort"
	"sync"

	"github.com/google/uuid"
	"github.com/minio/sio"
)

// Source is a place of which a part is read: size is how many bytes it holds.
type Source struct {
	Place uuid.UUID
	Key   [32]byte
	Size  int64
}

// Run is a piece of content: length bytes at a place of one of the sources.
type Run struct {
	Source     int
	At, Length int64
}

// ReadRuns opens content that is made of runs of several places. Damage is found while
// reading.
func (s *Store) ReadRuns(sources []Source, runs []Run) *Reader {
	j := &joined{store: s, runs: runs, starts: make([]int64, len(runs)+1), parts: make([]part, len(sources))}
	for i, run := range runs {
		j.starts[i+1] = j.starts[i] + run.Length
	}
	for i, source := range sources {
		j.parts[i].Source = source
	}
	return &Reader{file: j, plain: io.NewSectionReader(j, 0, j.starts[len(runs)])}
}

// mostOpen is how many places of one content are open at once; small ones are held whole.
const mostOpen = 8

// joined reads runs as if they were one file.
type joined struct {
	store  *Store
	runs   []Run
	starts []int64
	mu     sync.Mutex
	parts  []part
	open   []int
}

// part is a place, and what of it was read last: where one run ends the next one mostly
// begins nearby.
type part struct {
	Source
	file  sealedContent
	at    io.ReaderAt
	held  []byte
	first int64
}

func (j *joined) ReadAt(p []byte, offset int64) (done int, err error) {
	j.mu.Lock()
	defer j.mu.Unlock()
	i := sort.Search(len(j.runs), func(i int) bool { return j.starts[i+1] > offset })
	for ; done < len(p) && i < len(j.runs); i++ {
		run, within := j.runs[i], offset+int64(done)-j.starts[i]
		n := min(int64(len(p)-done), run.Length-within)
		if err := j.read(run.Source, p[done:done+int(n)], run.At+within); err != nil {
			return done, err
		}
		done += int(n)
	}
	if done < len(p) {
		return done, io.EOF
	}
	return done, nil
}

// read reads from a place by a window, which grows while what is asked for goes on: each
// reading of a place costs a package more than it gives.
func (j *joined) read(source int, p []byte, at int64) error {
	s := &j.parts[source]
	if at < 0 || at+int64(len(p)) > s.Size {
		return fmt.Errorf("reading %d bytes at %d of %s, which has %d", len(p), at, s.Place, s.Size)
	}
	for len(p) > 0 {
		if at < s.first || at >= s.first+int64(len(s.held)) {
			if err := j.move(source, at); err != nil {
				return err
			}
		}
		n := copy(p, s.held[at-s.first:])
		p, at = p[n:], at+int64(n)
	}
	return nil
}

// move lets the window begin with the package in which a place lies.
func (j *joined) move(source int, to int64) error {
	s := &j.parts[source]
	length := int64(packageSize)
	if end := s.first + int64(len(s.held)); to >= end && to < end+bufferSize {
		length = min(bufferSize, max(length, 2*int64(len(s.held))))
	}
	s.first = to / packageSize * packageSize
	length = min(length, s.Size-s.first)
	if int64(cap(s.held)) < length {
		s.held = make([]byte, length)
	}
	s.held = s.held[:length]
	err := j.fill(source, s.held, s.first)
	if err != nil {
		s.held = s.held[:0]
	}
	return err
}

func (j *joined) fill(source int, p []byte, at int64) error {
	s := &j.parts[source]
	if s.at == nil {
		f, err := j.store.sealed(s.Place)
		if err != nil {
			return fmt.Errorf("opening a blob: %w", err)
		}
		if s.at, err = sio.DecryptReaderAt(f, sio.Config{MinVersion: sio.Version20, MaxVersion: sio.Version20, Key: s.Key[:]}); err != nil {
			f.Close()
			return err
		}
		s.file = f
		j.open = append(j.open, source)
	}
	_, err := io.ReadFull(io.NewSectionReader(s.at, at, int64(len(p))), p)
	// What is held whole, and what was opened long ago, need not stay open.
	for len(j.open) > mostOpen || err == nil && s.Size <= packageSize && s.file != nil {
		which := 0
		if s.Size <= packageSize && s.file != nil {
			which = len(j.open) - 1
		}
		if closing := j.shut(which); err == nil {
			err = closing
		}
	}
	return err
}

// shut closes one of the open places.
func (j *joined) shut(which int) error {
	s := &j.parts[j.open[which]]
	j.open = append(j.open[:which], j.open[which+1:]...)
	f := s.file
	s.file, s.at = nil, nil
	return f.Close()
}

// Close ends reading.
func (j *joined) Close() (err error) {
	j.mu.Lock()
	defer j.mu.Unlock()
	for len(j.open) > 0 {
		if closing := j.shut(0); err == nil {
			err = closing
		}
	}
	return err
}
