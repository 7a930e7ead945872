package door

import (
	"encoding/json"
	"fmt"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
)

// Breath is how often a silent stream gives a sign of life.
const Breath = 20 * time.Second

// Stream sends server-sent events (WHATWG HTML, section 9.2).
type Stream struct {
	w http.ResponseWriter
	c *http.ResponseController
}

func OpenStream(c *gin.Context) (*Stream, error) {
	w := Plain(c)
	h := w.Header()
	h.Set("Content-Type", "text/event-stream")
	h.Set("Cache-Control", "no-store")
	h.Set("X-Accel-Buffering", "no")
	st := &Stream{w, http.NewResponseController(w)}
	w.WriteHeader(http.StatusOK)
	return st, st.Write("retry: 1000\n\n")
}

func (s *Stream) Write(text string) error {
	if err := s.c.SetWriteDeadline(time.Now().Add(eventTime)); err != nil {
		return err
	}
	if _, err := s.w.Write([]byte(text)); err != nil {
		return err
	}
	return s.c.Flush()
}

func (s *Stream) Send(event string, data any) error {
	body, err := json.Marshal(data)
	if err != nil {
		return err
	}
	return s.Write(fmt.Sprintf("event: %s\ndata: %s\n\n", event, body))
}

// eventTime is how long an event may take to be taken.
const eventTime = 10 * time.Second
