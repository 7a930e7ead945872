package door

import (
	"fmt"
	"io"
	"mime"
	"net/http"
	"slices"
	"strconv"
	"sync"
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	tree "tabularis/internal/app/items"
	"tabularis/internal/platform/archive"
)

// Plain is the writer below gin's, which keeps the fast way of sending files.
func Plain(c *gin.Context) http.ResponseWriter {
	if u, ok := c.Writer.(interface{ Unwrap() http.ResponseWriter }); ok {
		return u.Unwrap()
	}
	return c.Writer
}

// shownInline are the types that a page of ours may show by their own bytes.
// Everything else is only ever downloaded.
var shownInline = map[string]bool{
	"image/png": true, "image/jpeg": true, "image/gif": true, "image/webp": true, "image/avif": true, "image/bmp": true, "image/svg+xml": true,
	"audio/wav": true, "audio/x-wav": true, "audio/mpeg": true, "audio/ogg": true, "audio/flac": true, "audio/mp4": true, "audio/aac": true,
	"video/mp4": true, "video/webm": true, "video/ogg": true,
}

func PathID(c *gin.Context) (uuid.UUID, error) {
	id, err := uuid.Parse(c.Param("id"))
	if err != nil {
		return id, fault.Parameter.New("the id has the wrong form")
	}
	return id, nil
}

func Watching(c *gin.Context, alive func() error) *Watched {
	w := Plain(c)
	return &Watched{ResponseWriter: w, control: http.NewResponseController(w), at: time.Now(), alive: alive}
}

const (
	// How many bytes and how long are written before it is asked again whether the
	// link is open.
	watchBytes = 64 << 20
	watchTime  = 500 * time.Millisecond
)

// Watched asks now and then whether writing may go on. Whoever takes a piece too
// slowly is cut off.
type Watched struct {
	http.ResponseWriter
	control *http.ResponseController
	alive   func() error
	n       int
	at      time.Time
}

func (w *Watched) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// Done leaves the next request on the connection all its time.
func (w *Watched) Done() { _ = w.control.SetWriteDeadline(time.Time{}) }

func (w *Watched) Write(p []byte) (int, error) {
	if w.n += len(p); w.n >= watchBytes || time.Since(w.at) >= watchTime {
		if err := w.alive(); err != nil {
			return 0, err
		}
		w.n, w.at = 0, time.Now()
	}
	_ = w.control.SetWriteDeadline(time.Now().Add(pieceTime))
	return w.ResponseWriter.Write(p)
}

// wide copies in large pieces: content is decrypted straight into them, and the
// system is called seldom. What fits one piece is sent from it; of more, the
// next piece is decrypted while one is sent.
type wide struct{ http.ResponseWriter }

const pieceSize = 1 << 20

// pieces are as large as the store reads ahead.
var pieces = sync.Pool{New: func() any { b := make([]byte, pieceSize); return &b }}

// Unwrap lets http.ResponseController reach the writer below.
func (w wide) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// piece is what one reading gave.
type piece struct {
	space *[]byte
	n     int
	err   error
}

func fill(src io.Reader, space *[]byte) piece {
	n, err := src.Read(*space)
	return piece{space, n, err}
}

// put sends a piece, and reports whether it was the last one.
func (w wide) put(p piece, sent *int64) (last bool, err error) {
	if p.n > 0 {
		n, err := w.Write((*p.space)[:p.n])
		*sent += int64(n)
		if err != nil {
			return true, err
		}
	}
	if p.err == io.EOF {
		return true, nil
	}
	return p.err != nil, p.err
}

// ReadFrom sends all that src gives.
func (w wide) ReadFrom(src io.Reader) (sent int64, err error) {
	space := pieces.Get().(*[]byte)
	if l, ok := src.(*io.LimitedReader); !ok || l.N > pieceSize {
		return w.readAhead(src, space)
	}
	defer pieces.Put(space)
	for last := false; !last; {
		last, err = w.put(fill(src, space), &sent)
	}
	return sent, err
}

// readAhead reads in a goroutine of its own, which has ended when it returns.
func (w wide) readAhead(src io.Reader, space *[]byte) (sent int64, err error) {
	other := pieces.Get().(*[]byte)
	defer pieces.Put(space)
	defer pieces.Put(other)
	free, full := make(chan *[]byte, 2), make(chan piece, 2)
	free <- space
	free <- other
	var reading sync.WaitGroup
	reading.Go(func() {
		for space := range free {
			p := fill(src, space)
			full <- p
			if p.err != nil {
				return
			}
		}
	})
	for last := false; !last; {
		p := <-full
		if last, err = w.put(p, &sent); !last {
			free <- p.space
		}
	}
	close(free)
	reading.Wait()
	return sent, err
}

// Disposition names the file by RFC 6266, in the extended form where the name
// is not plain ASCII.
func Disposition(kind, name string) string {
	if v := mime.FormatMediaType(kind, map[string]string{"filename": name}); v != "" {
		return v
	}
	return kind
}

// ChosenItems reads ?item=…&item=…, each once.
func ChosenItems(c *gin.Context) (ids []uuid.UUID, err error) {
	for _, raw := range c.QueryArray("item") {
		id, err := uuid.Parse(raw)
		if err != nil {
			return nil, fault.Parameter.New("the item's id has the wrong form")
		}
		if !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	return ids, nil
}

// SendTo serves content with ranges. Whatever it is, it cannot act as our origin:
// it is sandboxed, never sniffed, and shown inline only where that is harmless.
func (s *Door) SendTo(w *Watched, c *gin.Context, f tree.File, download bool) {
	defer w.Done()
	defer f.Close()
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox; frame-ancestors 'none'")
	h.Set("Content-Type", f.Version.MediaType)
	disposition := "attachment"
	if !download && shownInline[f.Version.MediaType] {
		disposition = "inline"
	}
	h.Set("Content-Disposition", Disposition(disposition, f.Item.Name))
	h.Set("Cache-Control", "private, no-cache")
	h.Set("ETag", fmt.Sprintf(`"%x"`, f.Version.SHA256))
	http.ServeContent(wide{w}, c.Request, "", f.Modified(), f)
}

// SendArchive streams documents as one ZIP.
func (s *Door) SendArchive(w *Watched, c *gin.Context, chosen tree.Chosen) {
	h := c.Writer.Header()
	h.Set("Content-Type", "application/zip")
	h.Set("Content-Disposition", Disposition("attachment", chosen.Name+".zip"))
	h.Set("Cache-Control", "private, no-store")
	if n, known := archive.Size(chosen.Entries); known {
		// So that the browser can say how much is still to come.
		h.Set("Content-Length", strconv.FormatInt(n, 10))
	}
	defer w.Done()
	if err := archive.Write(w, chosen.Entries); err != nil {
		if c.Request.Context().Err() == nil && fault.Of(err).Kind == fault.Internal {
			s.Log.Error("writing an archive failed", "error", err)
		}
		// The receiver must not take the torn archive for a whole one.
		panic(http.ErrAbortHandler)
	}
}
