package door

import (
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/sessions"
)

// StillSignedIn refuses when the session of a request has ended meanwhile.
func (s *Door) StillSignedIn(c *gin.Context) error {
	_, err := s.SessionOf(c)
	return err
}

// SessionOf tells who is signed in by the session of a request, and until when.
func (s *Door) SessionOf(c *gin.Context) (sessions.Identified, error) {
	token, err := c.Cookie(SessionCookie)
	if err != nil {
		return sessions.Identified{}, fault.SignedOut()
	}
	return s.Sessions.Identify(c.Request.Context(), token)
}

// SessionLeft is how long a request's session lasts.
func (s *Door) SessionLeft(c *gin.Context) time.Duration {
	in, err := s.SessionOf(c)
	if err != nil {
		return 0
	}
	return in.Expires.Sub(s.Acts.Now())
}
