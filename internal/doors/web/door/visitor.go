package door

import (
	"strings"

	"github.com/gin-gonic/gin"

	"tabularis/internal/app/visits"
)

// VisitorOf reads what the request brings along for a link.
func VisitorOf(c *gin.Context, token string) visits.Visitor {
	v := visits.Visitor{Link: token}
	for _, cookie := range c.Request.Cookies() {
		if link, ok := strings.CutPrefix(cookie.Name, VisitCookie); ok {
			if v.Visits == nil {
				v.Visits = map[string]string{}
			}
			v.Visits[link] = cookie.Value
		}
	}
	return v
}

// WhileOpen is where a visitor's answer is written to, for as long as the link is
// open: what is on its way when the link ends is cut off.
func WhileOpen(c *gin.Context, s *visits.Service) *Watched {
	v, ctx := VisitorOf(c, c.Param("token")), c.Request.Context()
	return Watching(c, func() error {
		_, _, err := s.Watch(ctx, v)
		return err
	})
}
