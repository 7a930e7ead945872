package writing

import (
	"context"
	"io"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/writing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
)

// putPicture lays the picture that is the request's body beside a text, or puts it into the document.
func (h *Handlers) putPicture(c *gin.Context) { h.putPictureBy(c, c.Request.Context()) }

// visitorPutPicture lets a visitor put one into a document.
func (h *Handlers) visitorPutPicture(c *gin.Context) { h.putPictureBy(c, by(c, c.Param("token"))) }

func (h *Handlers) putPictureBy(c *gin.Context, who context.Context) {
	id, err := door.PathID(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	raw, err := io.ReadAll(http.MaxBytesReader(c.Writer, c.Request.Body, writing.MostPicture))
	if err != nil {
		h.Problem(c, fault.TooLargeFile.As(fault.TooLarge).New("a picture has at most %d bytes", writing.MostPicture))
		return
	}
	kind, _, _ := strings.Cut(http.DetectContentType(raw), ";")
	name, err := h.Writing.PutPicture(who, id, c.Query("name"), kind, raw)
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.JSON(http.StatusCreated, contract.NewName{Name: name})
}

// picture gives a picture that lies beside a text.
func (h *Handlers) picture(c *gin.Context) { h.pictureFor(c, c.Request.Context()) }

// visitorPicture gives a visitor a picture that stands in a text.
func (h *Handlers) visitorPicture(c *gin.Context) { h.pictureFor(c, by(c, c.Param("token"))) }

func (h *Handlers) pictureFor(c *gin.Context, who context.Context) {
	id, err := door.PathID(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	f, err := h.Writing.Picture(who, id, c.Param("name"))
	if err != nil {
		h.Problem(c, err)
		return
	}
	h.SendTo(door.Watching(c, func() error { return nil }), c, f, false)
}
