package content

import (
	"bytes"
	"crypto/sha256"
	"errors"
	"io"
	"io/fs"
	"math/rand/v2"
	"testing"
	"testing/iotest"

	"github.com/google/uuid"
)

// put stores content in a place of its own.
func put(t *testing.T, s *Store, data []byte) Source {
	t.Helper()
	key, place := newKey(), uuid.Must(uuid.NewV7())
	if _, err := s.Receive(place, key, 0, int64(len(data)), bytes.NewReader(data), sha256.New(), nil, nil); err != nil {
		t.Fatal(err)
	}
	if err := errors.Join(s.Settle(t.Context(), place), s.Settled(place)); err != nil {
		t.Fatal(err)
	}
	return Source{place, key.Secret, int64(len(data))}
}

// Content of many runs of many places reads like one file, from any place, with few of them
// open.
func TestContentIsMadeOfRuns(t *testing.T) {
	for name, s := range stores(t) {
		t.Run(name, func(t *testing.T) {
			r := rand.New(rand.NewPCG(31, 24))
			var sources []Source
			var held [][]byte
			for i := range 20 {
				size := 1 + r.IntN(3*packageSize)
				if i == 0 {
					size = 3*bufferSize + 5
				}
				b := make([]byte, size)
				for j := range b {
					b[j] = byte(r.Uint32())
				}
				sources, held = append(sources, put(t, s, b)), append(held, b)
			}
			var runs []Run
			var want []byte
			for range 120 {
				from := r.IntN(len(held))
				at := r.IntN(len(held[from]))
				n := 1 + r.IntN(min(len(held[from])-at, 150_000))
				runs, want = append(runs, Run{from, int64(at), int64(n)}), append(want, held[from][at:at+n]...)
			}
			content := s.ReadRuns(sources, runs)
			defer content.Close()
			got, err := io.ReadAll(content)
			if err != nil || !bytes.Equal(got, want) {
				t.Fatalf("%d of %d bytes, or others: %v", len(got), len(want), err)
			}
			if open := len(content.file.(*joined).open); open > mostOpen {
				t.Errorf("%d places are open", open)
			}
			jumps(t, content, want, 60)
			if err := iotest.TestReader(s.ReadRuns(sources[:3], []Run{{0, 10, 300}, {2, 0, 1}, {1, 0, 1}}), bytes.Join([][]byte{held[0][10:310], held[2][:1], held[1][:1]}, nil)); err != nil {
				t.Error(err)
			}
		})
	}
}

// What is missing, damaged, or said wrongly is an error, and never other bytes.
func TestWrongRunsAreErrors(t *testing.T) {
	for name, s := range stores(t) {
		source := put(t, s, noise(1000))
		for what, r := range map[string]*Reader{
			"another key": s.ReadRuns([]Source{{source.Place, [32]byte{1}, 1000}}, []Run{{0, 0, 1000}}), "beyond its end": s.ReadRuns([]Source{source}, []Run{{0, 500, 501}}),
			"more than there is": s.ReadRuns([]Source{{source.Place, source.Key, 2000}}, []Run{{0, 0, 2000}}), "before its beginning": s.ReadRuns([]Source{source}, []Run{{0, -1, 10}}),
		} {
			if got, err := io.ReadAll(r); err == nil {
				t.Errorf("%s, %s: %d bytes were read", name, what, len(got))
			}
		}
		if _, err := io.ReadAll(s.ReadRuns([]Source{{uuid.Must(uuid.NewV7()), source.Key, 10}}, []Run{{0, 0, 10}})); !errors.Is(err, fs.ErrNotExist) {
			t.Errorf("%s, a place that is not there: %v", name, err)
		}
	}
}
