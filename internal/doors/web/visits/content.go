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
	h.SendTo(door.WhileOpen(c, h.Visits), c, f, download)
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
	h.SendArchive(door.WhileOpen(c, h.Visits), c, chosen)
}
