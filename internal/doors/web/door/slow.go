package door

import (
	"net/http"
	"sync"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
)

// bodyTime is how long a JSON body may take to arrive, and an answer to be taken.
const bodyTime, answerTime = 30 * time.Second, 2 * time.Minute

// pieceTime is how long a piece of content may take to be taken: slower than some
// kilobytes a second is not served.
const pieceTime = 2 * time.Minute

// How many long requests one asker may have at once: a person, or a network of
// visitors.
const longByPerson, longByNetwork = 60, 200

// slots counts what goes on at once, by who asked for it.
type slots struct {
	mu   sync.Mutex
	busy map[string]int
}

// take takes a slot; false when there is none left.
func (s *slots) take(asker string, most int) bool {
	s.mu.Lock()
	defer s.mu.Unlock()
	if s.busy[asker] >= most {
		return false
	}
	if s.busy == nil {
		s.busy = map[string]int{}
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

// Long bounds requests that may last: streams, uploads and downloads.
func (s *Door) Long(c *gin.Context) {
	who := act.Who(c)
	asker, most := who.From(), longByNetwork
	if who.Person != nil {
		asker, most = who.Person.ID.String(), longByPerson
	}
	if !s.slots.take(asker, most) {
		s.Problem(c, fault.Slow(5*time.Second))
		c.Abort()
		return
	}
	defer s.slots.give(asker)
	c.Next()
}

// Timely gives the rest of a request, and its answer, a time: whoever sends or reads
// a byte now and then holds nothing for ever.
func (s *Door) Timely(c *gin.Context) {
	control := http.NewResponseController(Plain(c))
	body := s.BodyTime
	if body == 0 {
		body = bodyTime
	}
	now := time.Now()
	// A connection that knows no times is a test's.
	if c.Request.Body != nil && c.Request.Body != http.NoBody {
		// Without a body there is nothing to wait for; a deadline would only break off
		// what takes us long.
		_ = control.SetReadDeadline(now.Add(body))
	}
	_ = control.SetWriteDeadline(now.Add(answerTime))
	// The time for reading stays: the server still reads what is left of the body, and
	// sets a new time for the next request.
	defer func() { _ = control.SetWriteDeadline(time.Time{}) }()
	c.Next()
}
