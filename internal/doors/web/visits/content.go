package visits

import (
	"io"

	"github.com/gin-gonic/gin"

	"tabularis/internal/doors/web/door"
)

func (h *Handlers) content(c *gin.Context) {
	id, err := door.PathID(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	download := c.Request.URL.Query().Has("download")
	f, err := h.Visits.File(c.Request.Context(), door.VisitorOf(c, c.Param("token")), id, download)
	if err != nil {
		h.Problem(c, err)
		return
	}
	h.SendTo(h.whileOpen(c), c, f, download)
}

// page serves a page of a document as a picture: ?width= in pixels.
func (h *Handlers) page(c *gin.Context) {
	id, err := door.PathID(c)
	h.SendPage(c, err, func(page, width int, to io.Writer) error {
		return h.Visits.Page(c.Request.Context(), door.VisitorOf(c, c.Param("token")), id, page, width, to)
	})
}

func (h *Handlers) archive(c *gin.Context) {
	ids, err := door.ChosenItems(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	chosen, err := h.Visits.All(c.Request.Context(), door.VisitorOf(c, c.Param("token")), ids)
	if err != nil {
		h.Problem(c, err)
		return
	}
	h.SendArchive(h.whileOpen(c), c, chosen)
}

// whileOpen is where a visitor's answer is written to, for as long as the link is
// open: what is on its way when the link ends is cut off.
func (h *Handlers) whileOpen(c *gin.Context) *door.Watched {
	v, ctx := door.VisitorOf(c, c.Param("token")), c.Request.Context()
	return door.Watching(c, func() error {
		_, _, err := h.Visits.Watch(ctx, v)
		return err
	})
}
