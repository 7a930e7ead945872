package writing

import (
	"context"
	"net/http"

	"github.com/gin-gonic/gin"

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
	name, err := h.Writing.PutPicture(who, id, c.Query("name"), c.Request.Body)
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
