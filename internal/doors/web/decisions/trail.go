package decisions

import (
	"net/http"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/internal/app/decisions"
	"tabularis/internal/doors/web/door"
)

// table gives the whole trail of a run out as CSV.
func (h *Handlers) table(c *gin.Context) {
	h.exported(c, func(id uuid.UUID) error {
		rows, name, err := h.Decisions.Table(c.Request.Context(), id)
		if err == nil {
			door.SendTable(c, name, decisions.Columns, rows)
		}
		return err
	})
}

// paper gives it out as PDF.
func (h *Handlers) paper(c *gin.Context) {
	h.exported(c, func(id uuid.UUID) error {
		raw, name, err := h.Decisions.Paper(c.Request.Context(), id)
		if err == nil {
			c.Header("Content-Disposition", door.Disposition("attachment", name+".pdf"))
			c.Data(http.StatusOK, "application/pdf", raw)
		}
		return err
	})
}

func (h *Handlers) exported(c *gin.Context, write func(id uuid.UUID) error) {
	id, err := door.PathID(c)
	if err == nil {
		err = write(id)
	}
	if err != nil {
		h.Problem(c, err)
	}
}
