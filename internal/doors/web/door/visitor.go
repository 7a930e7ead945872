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
