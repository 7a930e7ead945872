package calendar

import (
	"context"
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"tabularis/internal/app/calendar"
	"tabularis/internal/doors/web/door"
)

// Handlers serve the operations of calendar.
type Handlers struct {
	*door.Door
	Calendar *calendar.Service
}

// GetCalendar says whether my calendar has an address.
func (h *Handlers) GetCalendar(ctx context.Context, _ GetCalendarRequestObject) (GetCalendarResponseObject, error) {
	f, err := h.Calendar.Mine(ctx)
	return GetCalendar200JSONResponse{Made: f.Made, Read: f.Read}, err
}

// MakeCalendar gives it one.
func (h *Handlers) MakeCalendar(ctx context.Context, _ MakeCalendarRequestObject) (MakeCalendarResponseObject, error) {
	address, err := h.Calendar.Make(ctx)
	return MakeCalendar201JSONResponse{Address: address}, err
}

// ForgetCalendar takes it away.
func (h *Handlers) ForgetCalendar(ctx context.Context, _ ForgetCalendarRequestObject) (ForgetCalendarResponseObject, error) {
	return ForgetCalendar204Response{}, h.Calendar.Forget(ctx)
}

// read serves a calendar at its address, to whoever has that.
func (h *Handlers) read(c *gin.Context) {
	token := strings.TrimSuffix(c.Param("file"), ".ics")
	written, err := h.Calendar.Read(c.Request.Context(), token)
	if err != nil {
		h.Problem(c, err)
		return
	}
	c.Header("Content-Disposition", door.Disposition("inline", "tabularis.ics"))
	c.Data(http.StatusOK, "text/calendar; charset=utf-8", []byte(written))
}
