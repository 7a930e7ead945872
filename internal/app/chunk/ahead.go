package chunk

import "io"

// window is how much is read at once of what is mostly read in order, by small pieces.
const window = 1 << 20

// windowed reads from a window that follows what is asked for.
type windowed struct {
	from  io.ReaderAt
	size  int64
	start int64
	held  []byte
}

// ahead reads a reader by windows. It is for one goroutine.
func ahead(from io.ReaderAt, size int64) io.ReaderAt { return &windowed{from: from, size: size} }

func (w *windowed) ReadAt(p []byte, at int64) (n int, err error) {
	for n < len(p) {
		if at < w.start || at >= w.start+int64(len(w.held)) {
			if at >= w.size {
				return n, io.EOF
			}
			if err := w.move(at); err != nil {
				return n, err
			}
		}
		k := copy(p[n:], w.held[at-w.start:])
		n, at = n+k, at+int64(k)
	}
	return n, nil
}

func (w *windowed) move(to int64) error {
	if w.held == nil {
		w.held = make([]byte, 0, min(window, w.size))
	}
	// A little of what lies before is asked for again when runs are widened.
	w.start = max(0, to-window/8)
	w.held = w.held[:min(window, w.size-w.start)]
	n, err := w.from.ReadAt(w.held, w.start)
	if n < len(w.held) {
		w.held = w.held[:0]
		return err
	}
	return nil
}
