package documents

import (
	"context"
	"io"
	"net/http"
	"strconv"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/doors/web/door"
)

// contentOf reads which version of which document is asked for: ?version=n.
func contentOf(c *gin.Context) (uuid.UUID, int, error) {
	id, err := door.PathID(c)
	number := 0
	if v := c.Query("version"); err == nil && v != "" {
		n, parsed := strconv.ParseInt(v, 10, 32)
		if number = int(n); parsed != nil || n < 1 {
			err = fault.Parameter.New("the version is a number from 1")
		}
	}
	return id, number, err
}

// quickContent serves a version of a document with a single statement for
// session, access and content. Where that finds nothing, the steps after it find
// out why.
func (h *Handlers) quickContent(c *gin.Context) {
	id, number, err := contentOf(c)
	token, cookieErr := c.Cookie(door.SessionCookie)
	if err != nil || cookieErr != nil {
		return
	}
	f, err := h.Documents.FileBySession(c.Request.Context(), token, id, number)
	if err != nil {
		return
	}
	h.SendTo(h.whilePermitted(c, id), c, f, c.Request.URL.Query().Has("download"))
	c.Abort()
}

// content serves a version: ?download for keeping it.
func (h *Handlers) content(c *gin.Context) {
	id, number, err := contentOf(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	f, err := h.Documents.File(c.Request.Context(), id, number)
	if err != nil {
		h.Problem(c, err)
		return
	}
	h.SendTo(h.whilePermitted(c, id), c, f, c.Request.URL.Query().Has("download"))
}

// paper serves a version set on pages, as a PDF document.
func (h *Handlers) paper(c *gin.Context) {
	id, number, err := contentOf(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	raw, name, err := h.Documents.Paper(c.Request.Context(), id, number)
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.Header("Content-Disposition", door.Disposition("attachment", name+".pdf"))
	c.Data(http.StatusOK, "application/pdf", raw)
}

// page serves a page of a version as a picture: ?width= in pixels.
func (h *Handlers) page(c *gin.Context) {
	id, number, err := contentOf(c)
	h.SendPage(c, err, func(page, width int, to io.Writer) error {
		return h.Documents.Page(c.Request.Context(), id, number, page, width, to)
	})
}

// whilePermitted is where a person's answer is written to, for as long as they are
// signed in and may download all that they asked for: what is on its way when that
// ends is cut off.
func (h *Handlers) whilePermitted(c *gin.Context, items ...uuid.UUID) *door.Watched {
	return door.Watching(c, func() error {
		in, err := h.SessionOf(c)
		if err != nil {
			return err
		}
		return h.Documents.Permitted(act.As(c.Request.Context(), act.Actor{Person: &in.Person}), items)
	})
}

// together streams chosen items, ?item=…&item=…, as one ZIP.
func (h *Handlers) together(gather func(ctx context.Context, ids []uuid.UUID) (tree.Chosen, error)) gin.HandlerFunc {
	return func(c *gin.Context) {
		ids, err := door.ChosenItems(c)
		if err != nil {
			h.Problem(c, err)
			return
		}
		chosen, err := gather(c.Request.Context(), ids)
		if err != nil {
			h.Problem(c, err)
			return
		}
		h.SendArchive(h.whilePermitted(c, chosen.Documents...), c, chosen)
	}
}
