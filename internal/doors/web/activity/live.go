package activity

import (
	"context"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/internal/app/activity"
	"tabularis/internal/doors/web/door"
)

// live tells a signed-in person's page of what happens, until their session ends.
func (h *Handlers) live(c *gin.Context) {
	ctx, end := context.WithTimeout(c.Request.Context(), h.SessionLeft(c))
	defer end()
	// The answer's own context is used again after it; this one is not.
	asked := c.Copy()
	told, err := h.Activity.Follow(ctx, func() error { return h.StillSignedIn(asked) })
	if err != nil {
		h.Problem(c, err)
		return
	}
	st, err := door.OpenStream(c)
	if err != nil {
		return
	}
	pulse := time.NewTicker(door.Breath)
	defer pulse.Stop()
	for {
		select {
		case <-pulse.C:
			if h.StillSignedIn(c) != nil || st.Write(": \n\n") != nil {
				return
			}
		case t, ok := <-told:
			if !ok || send(st, t) != nil {
				return
			}
		}
	}
}

func send(st *door.Stream, t activity.Told) error {
	if t.News == nil {
		return st.Send("access", struct{}{})
	}
	return st.Send("news", t.News)
}
