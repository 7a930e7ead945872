package web

import (
	"encoding/json"
	"fmt"
	"net/http"
	"time"

	"tabularis/internal/app/act"
	"tabularis/internal/app/sessions"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
)

// breath is how often a silent stream gives a sign of life.
const breath = 20 * time.Second

// stream sends server-sent events (WHATWG HTML, section 9.2).
type stream struct {
	w http.ResponseWriter
	c *http.ResponseController
}

func openStream(c *gin.Context) (*stream, error) {
	w := plain(c)
	h := w.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("Cache-Control", "no-store")
	h.Set("X-Accel-Buffering", "no")
	st := &stream{w, http.NewResponseController(w)}
	w.WriteHeader(http.StatusOK)
	return st, st.write("retry: 1000\n\n")
}

func (s *stream) write(text string) error {
	if err := s.c.SetWriteDeadline(time.Now().Add(eventTime)); err != nil {
		return err
	}
	if _, err := s.w.Write([]byte(text)); err != nil {
		return err
	}
	return s.c.Flush()
}

func (s *stream) send(event string, data any) error {
	body, err := json.Marshal(data)
	if err != nil {
		return err
	}
	return s.write(fmt.Sprintf("event: %s\ndata: %s\n\n", event, body))
}

// live tells a signed-in person's page of events in their dossiers.
func (s *Server) live(c *gin.Context) {
	ctx := c.Request.Context()
	mine, err := s.Access.Mine(ctx, s.Acts.Now())
	if err != nil {
		s.problem(c, err)
		return
	}
	news, end := s.Hub.Subscribe()
	defer end()
	st, err := openStream(c)
	if err != nil {
		return
	}
	pulse := time.NewTicker(breath)
	defer pulse.Stop()
	over := time.NewTimer(s.sessionLeft(c))
	defer over.Stop()
	// What somebody may see may end by itself.
	ends := untilEnd(mine, s.Acts.Now())
	for {
		select {
		case <-ctx.Done():
			return
		case <-over.C:
			return
		case <-pulse.C:
			if s.stillSignedIn(c) != nil || st.write(": \n\n") != nil {
				return
			}
		case <-ends:
			if mine, err = s.Access.Mine(ctx, s.Acts.Now()); err != nil || st.send("access", struct{}{}) != nil {
				return
			}
			ends = untilEnd(mine, s.Acts.Now())
		case n, ok := <-news:
			if !ok {
				return
			}
			if n.Session {
				// With its session the stream ends.
				if *n.Person == mine.Person && s.stillSignedIn(c) != nil {
					return
				}
				continue
			}
			if n.Person != nil {
				if *n.Person == mine.Person && st.send("news", n) != nil {
					return
				}
				continue
			}
			if n.Access {
				before := mine
				if mine, err = s.Access.Mine(ctx, s.Acts.Now()); err != nil {
					return
				}
				ends = untilEnd(mine, s.Acts.Now())
				if !before.Same(mine) && st.send("access", struct{}{}) != nil {
					return
				}
				continue
			}
			if mine.Holds(n) && st.send("news", n) != nil {
				return
			}
		}
	}
}

// untilEnd fires when the view changes by itself, if it ever does.
func untilEnd(v *guard.View, now time.Time) <-chan time.Time {
	if v.Reading.Ends == nil {
		return nil
	}
	// A moment later the end has passed for every clock involved.
	return time.After(v.Reading.Ends.Sub(now) + 10*time.Millisecond)
}

// stillSignedIn refuses when the session of a request has ended meanwhile.
func (s *Server) stillSignedIn(c *gin.Context) error {
	_, err := s.sessionOf(c)
	return err
}

func (s *Server) sessionOf(c *gin.Context) (sessions.Identified, error) {
	token, err := c.Cookie(sessionCookie)
	if err != nil {
		return sessions.Identified{}, fault.SignedOut()
	}
	return s.Sessions.Identify(c.Request.Context(), token)
}

// sessionLeft is how long a request's session lasts.
func (s *Server) sessionLeft(c *gin.Context) time.Duration {
	in, err := s.sessionOf(c)
	if err != nil {
		return 0
	}
	return in.Expires.Sub(s.Acts.Now())
}

// visitLive tells a visitor's open page when the link is over.
func (s *Server) visitLive(c *gin.Context) {
	ctx := c.Request.Context()
	// Listening begins before the link is looked at, so that no end is missed.
	news, end := s.Hub.Subscribe()
	defer end()
	link, until, err := s.Visits.Watch(ctx, visitor(c, c.Param("token")))
	if err != nil {
		s.problem(c, err)
		return
	}
	st, err := openStream(c)
	if err != nil {
		return
	}
	s.watch(c, st, news, link, until)
}

// watch waits for the end of a link, which may be moved meanwhile.
func (s *Server) watch(c *gin.Context, st *stream, news <-chan act.News, link uuid.UUID, until *time.Time) {
	expiry := time.NewTimer(time.Hour)
	defer expiry.Stop()
	wait := func(until *time.Time) {
		if expiry.Stop(); until != nil {
			expiry.Reset(until.Sub(s.Acts.Now()))
		}
	}
	wait(until)
	pulse := time.NewTicker(breath)
	defer pulse.Stop()
	for {
		select {
		case <-c.Request.Context().Done():
			return
		case <-pulse.C:
			if st.write(": \n\n") != nil {
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
		_, until, err := s.Visits.Watch(c.Request.Context(), visitor(c, c.Param("token")))
		if err != nil {
			_ = st.send("over", struct{}{})
			return
		}
		wait(until)
	}
}
