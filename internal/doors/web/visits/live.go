package visits

import (
	"time"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/internal/app/act"
	"tabularis/internal/doors/web/door"
)

// live tells a visitor's open page when the link is over.
func (h *Handlers) live(c *gin.Context) {
	ctx := c.Request.Context()
	// Listening begins before the link is looked at, so that no end is missed.
	news, end := h.Hub.Subscribe()
	defer end()
	link, until, err := h.Visits.Watch(ctx, door.VisitorOf(c, c.Param("token")))
	if err != nil {
		h.Problem(c, err)
		return
	}
	st, err := door.OpenStream(c)
	if err != nil {
		return
	}
	h.watch(c, st, news, link, until)
}

// watch waits for the end of a link, which may be moved meanwhile.
func (h *Handlers) watch(c *gin.Context, st *door.Stream, news <-chan act.News, link uuid.UUID, until *time.Time) {
	expiry := time.NewTimer(time.Hour)
	defer expiry.Stop()
	wait := func(until *time.Time) {
		if expiry.Stop(); until != nil {
			expiry.Reset(until.Sub(h.Acts.Now()))
		}
	}
	wait(until)
	pulse := time.NewTicker(door.Breath)
	defer pulse.Stop()
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case <-pulse.C:
			if st.Write(": \n\n") != nil {
				return
			}
			continue
		case <-expiry.C:
		case n, ok := <-news:
			if !ok {
				return
			}
			if n.Link == nil || *n.Link != link || n.Kind != "link.ended" && n.Kind != "link.changed" {
				continue
			}
		}
		_, until, err := h.Visits.Watch(c.Request.Context(), door.VisitorOf(c, c.Param("token")))
		if err != nil {
			_ = st.Send("over", struct{}{})
			return
		}
		wait(until)
	}
}
