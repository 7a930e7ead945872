package web

import (
	"context"
	"net/http"
	"time"

	"github.com/gin-gonic/gin"
)

// healthy answers while the process can answer at all.
func (s *Server) healthy(c *gin.Context) { c.String(http.StatusOK, "ok\n") }

// ready answers whether the server can do its work now: the database answers
// and content can be stored.
func (s *Server) ready(c *gin.Context) {
	ctx, cancel := context.WithTimeout(c.Request.Context(), 2*time.Second)
	defer cancel()
	// The database first: without it the key file cannot be checked either.
	for _, part := range []struct {
		name  string
		check func() error
	}{
		{"database", func() error { return s.Acts.DB.PingContext(ctx) }},
		{"content", func() error { return s.Documents.Contents.Content.Writable(ctx) }},
		{"key file", func() error { return s.KeysFit(ctx) }},
	} {
		if err := part.check(); err != nil {
			s.Log.Warn("not ready", "part", part.name, "error", err)
			c.String(http.StatusServiceUnavailable, "not ready: %s\n", part.name)
			return
		}
	}
	c.String(http.StatusOK, "ready\n")
}
