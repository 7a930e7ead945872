package web

import (
	"net/http"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
)

const (
	// bodyTime is how long a JSON body may take to arrive, and an answer to be taken.
	bodyTime, answerTime = 30 * time.Second, 2 * time.Minute
	// pieceTime is how long a piece of content may take to be taken: slower than some
	// kilobytes a second is not served.
	pieceTime = 2 * time.Minute
	// eventTime is how long an event may take to be taken.
	eventTime = 10 * time.Second
)

// How many long requests one asker may have at once: a person, or a network of
// visitors.
const longByPerson, longByNetwork = 60, 200

// slots counts what goes on at once, by who asked for it.
type slots struct {
	mu   sync.Mutex
	busy map[string]int
}

func newSlots() *slots { return &slots{busy: map[string]int{}} }

// take takes a slot; false when there is none left.
func (s *slots) take(asker string, most int) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.busy[asker] >= most {
		return false
	}
	s.busy[asker]++
	return true
}

func (s *slots) give(asker string) {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.busy[asker]--; s.busy[asker] == 0 {
		delete(s.busy, asker)
	}
}

// long bounds requests that may last: streams, uploads and downloads.
func (s *Server) long(c *gin.Context) {
	who := act.Who(c)
	asker, most := who.From(), longByNetwork
	if who.Person != nil {
		asker, most = who.Person.ID.String(), longByPerson
	}
	if !s.slots.take(asker, most) {
		s.problem(c, fault.Slow(5*time.Second))
		c.Abort()
		return
	}
	defer s.slots.give(asker)
	c.Next()
}

// timely gives the rest of a request, and its answer, a time: whoever sends or reads
// a byte now and then holds nothing for ever.
func (s *Server) timely(c *gin.Context) {
	control := http.NewResponseController(plain(c))
	body := s.BodyTime
	if body == 0 {
		body = bodyTime
	}
	now := time.Now()
	// A connection that knows no times is a test's.
	_ = control.SetReadDeadline(now.Add(body))
	_ = control.SetWriteDeadline(now.Add(answerTime))
	// The time for reading stays: the server still reads what is left of the body, and
	// sets a new time for the next request.
	defer func() { _ = control.SetWriteDeadline(time.Time{}) }()
	c.Next()
}
