package activity

import (
	"time"

	"github.com/gin-gonic/gin"

	guard "tabularis/internal/app/access"
	"tabularis/internal/web/door"
)

// untilEnd fires when the view changes by itself, if it ever does.
func untilEnd(v *guard.View, now time.Time) <-chan time.Time {
	if v.Reading.Ends == nil {
		return nil
	}
	// A moment later the end has passed for every clock involved.
	return time.After(v.Reading.Ends.Sub(now) + 10*time.Millisecond)
}

// live tells a signed-in person's page of events in their dossiers.
func (h *Handlers) live(c *gin.Context) {
	ctx := c.Request.Context()
	mine, err := h.Access.Mine(ctx, h.Acts.Now())
	if err != nil {
		h.Problem(c, err)
		return
	}
	news, end := h.Hub.Subscribe()
	defer end()
	st, err := door.OpenStream(c)
	if err != nil {
		return
	}
	pulse := time.NewTicker(door.Breath)
	defer pulse.Stop()
	over := time.NewTimer(h.SessionLeft(c))
	defer over.Stop()
	// What somebody may see may end by itself.
	ends := untilEnd(mine, h.Acts.Now())
	for {
		select {
		case <-ctx.Done():
			return
		case <-over.C:
			return
		case <-pulse.C:
			if h.StillSignedIn(c) != nil || st.Write(": \n\n") != nil {
				return
			}
		case <-ends:
			if mine, err = h.Access.Mine(ctx, h.Acts.Now()); err != nil || st.Send("access", struct{}{}) != nil {
				return
			}
			ends = untilEnd(mine, h.Acts.Now())
		case n, ok := <-news:
			if !ok {
				return
			}
			if n.Session {
				// With its session the stream ends.
				if *n.Person == mine.Person && h.StillSignedIn(c) != nil {
					return
				}
				continue
			}
			if n.Person != nil {
				if *n.Person == mine.Person && st.Send("news", n) != nil {
					return
				}
				continue
			}
			if n.Access {
				before := mine
				if mine, err = h.Access.Mine(ctx, h.Acts.Now()); err != nil {
					return
				}
				ends = untilEnd(mine, h.Acts.Now())
				if !before.Same(mine) && st.Send("access", struct{}{}) != nil {
					return
				}
				continue
			}
			if mine.Holds(n) && st.Send("news", n) != nil {
				return
			}
		}
	}
}
