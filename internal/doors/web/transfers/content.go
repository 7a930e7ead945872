package transfers

import (
	"context"
	"io"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/internal/app/transfers"
	"tabularis/internal/app/visits"
	"tabularis/internal/doors/web/door"
)

// fetch sends a file of a transfer, also while it arrives: what is here at once, the rest as it
// comes. Where it will not come, the connection breaks off, so that what was fetched is never
// taken for the whole; it goes on by a range of the same address (RFC 9110, section 14).
func (h *Handlers) fetch(c *gin.Context) {
	id, err := door.PathID(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	ctx, cut := context.WithCancel(c.Request.Context())
	defer cut()
	v := door.VisitorOf(c, c.Param("token"))
	f, err := h.Transfers.Open(ctx, v, id)
	if err != nil {
		h.Problem(c, err)
		return
	}
	defer f.Close()
	if !f.Here() {
		go h.cutWhenOver(ctx, v, cut)
	}
	header := c.Writer.Header()
	header.Set("Content-Security-Policy", "default-src 'none'; sandbox; frame-ancestors 'none'")
	header.Set("Content-Type", f.MediaType)
	header.Set("Content-Disposition", door.Disposition("attachment", f.Name))
	// No proxy may hold back or change what comes slowly.
	header.Set("Cache-Control", "private, no-cache, no-transform")
	header.Set("X-Accel-Buffering", "no")
	// What it holds never changes, however much of it is here.
	header.Set("ETag", `"`+f.File.ID.String()+`"`)
	watched := door.WhileOpen(c, h.Visits)
	defer watched.Done()
	part := &part{ReadSeeker: f}
	http.ServeContent(&sent{ResponseWriter: watched, control: http.NewResponseController(c.Writer), part: part}, c.Request, "", time.Time{}, part)
	h.fetched(ctx, f, part)
	if part.broken {
		panic(http.ErrAbortHandler)
	}
}

// asked is how often it is asked whether a link is open by which somebody waits.
const asked = time.Second

// cutWhenOver ends waiting for what arrives when the link ends: nothing is written meanwhile by which that
// would be seen.
func (h *Handlers) cutWhenOver(ctx context.Context, v visits.Visitor, cut context.CancelFunc) {
	ticks := time.NewTicker(asked)
	defer ticks.Stop()
	for {
		select {
		case <-ctx.Done():
			return
		case <-ticks.C:
		}
		if _, _, err := h.Visits.Watch(ctx, v); err != nil {
			cut()
			return
		}
	}
}

// archive sends everything that is here as one ZIP; that it went whole is noted file by file.
func (h *Handlers) archive(c *gin.Context) {
	ctx, v := c.Request.Context(), door.VisitorOf(c, c.Param("token"))
	all, err := h.Transfers.Whole(ctx, v)
	if err != nil {
		h.Problem(c, err)
		return
	}
	chosen, err := h.Visits.All(ctx, v, nil)
	if err != nil {
		h.Problem(c, err)
		return
	}
	h.SendArchive(door.WhileOpen(c, h.Visits), c, chosen)
	for _, f := range all {
		if err := h.Transfers.Fetched(context.WithoutCancel(ctx), f, 0, f.Size); err != nil {
			h.Log.Error("noting what was fetched failed", "error", err)
		}
	}
}

// fetched notes what has gone out. That is true also where the connection is gone by now.
func (h *Handlers) fetched(ctx context.Context, f transfers.Opened, p *part) {
	if !p.began && f.Size > 0 {
		return
	}
	if err := h.Transfers.Fetched(context.WithoutCancel(ctx), f, p.from, p.from+p.sent); err != nil {
		h.Log.Error("noting what was fetched failed", "error", err)
	}
}

// part is the part of a content that is asked for, with what became of it.
type part struct {
	io.ReadSeeker
	at, from, sent int64
	began, broken  bool
}

func (p *part) Seek(offset int64, whence int) (int64, error) {
	at, err := p.ReadSeeker.Seek(offset, whence)
	p.at = at
	return at, err
}

func (p *part) Read(b []byte) (int, error) {
	if !p.began {
		p.began, p.from = true, p.at
	}
	n, err := p.ReadSeeker.Read(b)
	p.broken = p.broken || err != nil && err != io.EOF
	return n, err
}

// sent sends at once whatever comes: who waits at the other end does not wait for a full buffer.
type sent struct {
	http.ResponseWriter
	control *http.ResponseController
	part    *part
}

func (s *sent) Write(p []byte) (int, error) {
	n, err := s.ResponseWriter.Write(p)
	s.part.sent += int64(n)
	if err == nil {
		err = s.control.Flush()
	}
	return n, err
}
