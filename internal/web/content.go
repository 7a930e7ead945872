package web

import (
	"bytes"
	"fmt"
	"io"
	"mime"
	"net/http"
	"slices"
	"strconv"
	"strings"
	"sync"
	"time"

	tree "tabularis/internal/app/items"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	"tabularis/internal/app/visits"
	"tabularis/internal/archive"
)

// shownInline are the types that a page of ours may show by their own bytes.
// Everything else is only ever downloaded.
var shownInline = map[string]bool{
	"image/png": true, "image/jpeg": true, "image/gif": true, "image/webp": true, "image/avif": true, "image/bmp": true, "image/svg+xml": true,
	"audio/wav": true, "audio/x-wav": true, "audio/mpeg": true, "audio/ogg": true, "audio/flac": true, "audio/mp4": true, "audio/aac": true,
	"video/mp4": true, "video/webm": true, "video/ogg": true,
}

func pathID(c *gin.Context) (uuid.UUID, error) {
	id, err := uuid.Parse(c.Param("id"))
	if err != nil {
		return id, fault.New(fault.Invalid, "parameter", "the id has the wrong form")
	}
	return id, nil
}

// quickContent serves a version of a document with a single statement for
// session, access and content. Where that finds nothing, the steps after it find
// out why.
func (s *Server) quickContent(c *gin.Context) {
	id, number, err := contentOf(c)
	token, cookieErr := c.Cookie(sessionCookie)
	if err != nil || cookieErr != nil {
		return
	}
	f, err := s.Documents.FileBySession(c.Request.Context(), token, id, number)
	if err != nil {
		return
	}
	s.sendTo(s.whilePermitted(c, id), c, f, c.Request.URL.Query().Has("download"))
	c.Abort()
}

// contentOf reads which version of which document is asked for: ?version=n.
func contentOf(c *gin.Context) (uuid.UUID, int, error) {
	id, err := pathID(c)
	number := 0
	if v := c.Query("version"); err == nil && v != "" {
		n, parsed := strconv.ParseInt(v, 10, 32)
		if number = int(n); parsed != nil || n < 1 {
			err = fault.New(fault.Invalid, "parameter", "the version is a number from 1")
		}
	}
	return id, number, err
}

// documentContent serves a version: ?download for keeping it.
func (s *Server) documentContent(c *gin.Context) {
	id, number, err := contentOf(c)
	if err != nil {
		s.problem(c, err)
		return
	}
	f, err := s.Documents.File(c.Request.Context(), id, number)
	if err != nil {
		s.problem(c, err)
		return
	}
	s.sendTo(s.whilePermitted(c, id), c, f, c.Request.URL.Query().Has("download"))
}

func (s *Server) visitContent(c *gin.Context) {
	id, err := pathID(c)
	if err != nil {
		s.problem(c, err)
		return
	}
	download := c.Request.URL.Query().Has("download")
	f, err := s.Visits.File(c.Request.Context(), visitor(c, c.Param("token")), id, download)
	if err != nil {
		s.problem(c, err)
		return
	}
	s.sendTo(s.whileOpen(c), c, f, download)
}

// visitPage serves a page of a document as a picture: ?width= in pixels. It is
// the visitor's own, and kept nowhere on its way.
func (s *Server) visitPage(c *gin.Context) {
	id, err := pathID(c)
	page, pageErr := strconv.Atoi(c.Param("page"))
	width, widthErr := strconv.Atoi(c.Query("width"))
	if err == nil && (pageErr != nil || widthErr != nil || page < 1) {
		err = fault.New(fault.Invalid, "parameter", "the page and its width are numbers from 1")
	}
	if err != nil {
		s.problem(c, err)
		return
	}
	var out bytes.Buffer
	if err := s.Visits.Page(c.Request.Context(), visitor(c, c.Param("token")), id, page, width, &out); err != nil {
		s.problem(c, err)
		return
	}
	c.Header("Cache-Control", "private, no-store")
	c.Data(http.StatusOK, "image/jpeg", out.Bytes())
}

// sendTo serves content with ranges. Whatever it is, it cannot act as our origin:
// it is sandboxed, never sniffed, and shown inline only where that is harmless.
func (s *Server) sendTo(w *watched, c *gin.Context, f tree.File, download bool) {
	defer w.done()
	defer f.Close()
	h := c.Writer.Header()
	h.Set("Content-Security-Policy", "default-src 'none'; style-src 'unsafe-inline'; sandbox; frame-ancestors 'none'")
	h.Set("Content-Type", f.Version.MediaType)
	disposition := "attachment"
	if !download && shownInline[f.Version.MediaType] {
		disposition = "inline"
	}
	h.Set("Content-Disposition", dispositionOf(disposition, f.Item.Name))
	h.Set("Cache-Control", "private, no-cache")
	h.Set("ETag", fmt.Sprintf(`"%x"`, f.Version.SHA256))
	http.ServeContent(wide{w}, c.Request, "", f.Modified(), f)
}

// whileOpen is where a visitor's answer is written to, for as long as the link is
// open: what is on its way when the link ends is cut off.
func (s *Server) whileOpen(c *gin.Context) *watched {
	v, ctx := visitor(c, c.Param("token")), c.Request.Context()
	return watching(c, func() error {
		_, _, err := s.Visits.Watch(ctx, v)
		return err
	})
}

// whilePermitted is where a person's answer is written to, for as long as they are
// signed in and may download all that they asked for: what is on its way when that
// ends is cut off.
func (s *Server) whilePermitted(c *gin.Context, items ...uuid.UUID) *watched {
	return watching(c, func() error {
		in, err := s.sessionOf(c)
		if err != nil {
			return err
		}
		return s.Documents.Permitted(act.As(c.Request.Context(), act.Actor{Person: &in.Person}), items)
	})
}

func watching(c *gin.Context, alive func() error) *watched {
	w := plain(c)
	return &watched{ResponseWriter: w, control: http.NewResponseController(w), at: time.Now(), alive: alive}
}

const (
	// How many bytes and how long are written before it is asked again whether the
	// link is open.
	watchBytes = 64 << 20
	watchTime  = 500 * time.Millisecond
)

// watched asks now and then whether writing may go on. Whoever takes a piece too
// slowly is cut off.
type watched struct {
	http.ResponseWriter
	control *http.ResponseController
	alive   func() error
	n       int
	at      time.Time
}

func (w *watched) Unwrap() http.ResponseWriter { return w.ResponseWriter }

// done leaves the next request on the connection all its time.
func (w *watched) done() { _ = w.control.SetWriteDeadline(time.Time{}) }

func (w *watched) Write(p []byte) (int, error) {
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

// dispositionOf names the file by RFC 6266, in the extended form where the name
// is not plain ASCII.
func dispositionOf(kind, name string) string {
	if v := mime.FormatMediaType(kind, map[string]string{"filename": name}); v != "" {
		return v
	}
	return kind
}

// archive streams chosen items, ?item=…&item=…, as one ZIP.
func (s *Server) archive(c *gin.Context) {
	ids, err := chosenItems(c)
	if err != nil {
		s.problem(c, err)
		return
	}
	chosen, err := s.Documents.Choose(c.Request.Context(), ids)
	if err != nil {
		s.problem(c, err)
		return
	}
	s.sendArchive(s.whilePermitted(c, chosen.Documents...), c, chosen)
}

// chosenItems reads ?item=…&item=…, each once.
func chosenItems(c *gin.Context) (ids []uuid.UUID, err error) {
	for _, raw := range c.QueryArray("item") {
		id, err := uuid.Parse(raw)
		if err != nil {
			return nil, fault.New(fault.Invalid, "parameter", "the item's id has the wrong form")
		}
		if !slices.Contains(ids, id) {
			ids = append(ids, id)
		}
	}
	return ids, nil
}

func (s *Server) visitArchive(c *gin.Context) {
	ids, err := chosenItems(c)
	if err != nil {
		s.problem(c, err)
		return
	}
	chosen, err := s.Visits.All(c.Request.Context(), visitor(c, c.Param("token")), ids)
	if err != nil {
		s.problem(c, err)
		return
	}
	s.sendArchive(s.whileOpen(c), c, chosen)
}

func (s *Server) sendArchive(w *watched, c *gin.Context, chosen tree.Chosen) {
	h := c.Writer.Header()
	h.Set("Content-Type", "application/zip")
	h.Set("Content-Disposition", dispositionOf("attachment", chosen.Name+".zip"))
	h.Set("Cache-Control", "private, no-store")
	if n, known := archive.Size(chosen.Entries); known {
		// So that the browser can say how much is still to come.
		h.Set("Content-Length", strconv.FormatInt(n, 10))
	}
	defer w.done()
	if err := archive.Write(w, chosen.Entries); err != nil {
		if c.Request.Context().Err() == nil && fault.Of(err).Kind == fault.Internal {
			s.Log.Error("writing an archive failed", "error", err)
		}
		// The receiver must not take the torn archive for a whole one.
		panic(http.ErrAbortHandler)
	}
}

// visitor reads what the request brings along for a link.
func visitor(c *gin.Context, token string) visits.Visitor {
	v := visits.Visitor{Link: token}
	for _, cookie := range c.Request.Cookies() {
		if link, ok := strings.CutPrefix(cookie.Name, visitCookie); ok {
			if v.Visits == nil {
				v.Visits = map[string]string{}
			}
			v.Visits[link] = cookie.Value
		}
	}
	return v
}
