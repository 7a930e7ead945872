// Package door is what all operations of the web have in common: who asks and from
// where, which operations are for whom, how refusals are answered, how content is
// sent, and what bounds long requests.
package door

import (
	"context"
	"fmt"
	"log/slog"
	"net/http"
	"strings"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/act"
	tree "tabularis/internal/app/items"
	"tabularis/internal/app/sessions"
	"tabularis/internal/platform/postgres"
)

// Door is shared by the handlers of all capabilities.
type Door struct {
	Acts     *act.Runner
	Sessions *sessions.Service
	Log      *slog.Logger
	Metrics  *Metrics
	// BodyTime is how long a JSON body may take to arrive; 0 is the usual time.
	BodyTime time.Duration
	// SecureCookies is set where the practice is reached by HTTPS.
	SecureCookies bool

	slots slots
}

const (
	// SessionCookie holds the session, VisitCookie and a link's id a visit, and
	// DeviceCookie the sign of a device that was signed in before.
	SessionCookie = "tabularis_session"
	VisitCookie   = "tabularis_visit_"
	DeviceCookie  = "tabularis_device"
	// MaxBody is the largest JSON body.
	MaxBody = 1 << 20
)

// Identify notes who asks and from where.
func (s *Door) Identify(c *gin.Context) {
	who := act.Actor{Network: c.ClientIP(), Agent: agent(c.Request.UserAgent()), Language: "en"}
	if strings.HasPrefix(c.GetHeader("Accept-Language"), "de") {
		who.Language = "de"
	}
	if token, err := c.Cookie(SessionCookie); err == nil && token != "" && !strings.HasPrefix(c.Request.URL.Path, "/assets/") {
		p, err := s.Sessions.Identify(c.Request.Context(), token)
		switch {
		case err == nil:
			who.Person, who.NeedsFactor = &p.Person, p.NeedsFactor
		case !fault.Is(err, fault.Unauthenticated):
			s.Problem(c, err)
			c.Abort()
			return
		}
	}
	ctx := act.As(c.Request.Context(), who)
	if who.Person != nil && c.GetHeader("Supersede") == "approved" {
		// Somebody says so to every change that this request makes.
		ctx = tree.Superseding(ctx)
	}
	c.Request = c.Request.WithContext(ctx)
}

func (s *Door) Recover(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			if r == http.ErrAbortHandler {
				panic(r)
			}
			s.Problem(c, fmt.Errorf("panic: %v", r))
		}
	}()
	c.Next()
}

// Problem answers with RFC 9457 problem details. What is not a refusal is our
// failure: logged, and told without its cause.
func (s *Door) Problem(c *gin.Context, err error) {
	f := fault.Of(err)
	if f.Kind == fault.Internal {
		if c.Request.Context().Err() == nil {
			s.Log.Error("request failed", "id", c.Request.Context().Value(requestIDKey{}), "method", c.Request.Method, "route", c.FullPath(), "error", postgres.Loggable(err))
		}
		f = Outage(err)
	}
	WriteProblem(c, f)
}

// SetCookie sets a cookie that scripts cannot read and other sites do not send
// along, except by a plain link to us.
func (s *Door) SetCookie(c context.Context, name, value string, life time.Duration) {
	g := c.(*gin.Context)
	http.SetCookie(
		g.Writer,
		&http.Cookie{
			Name:     name,
			Value:    value,
			Path:     "/",
			MaxAge:   int(life / time.Second),
			HttpOnly: true,
			Secure:   s.SecureCookies,
			SameSite: http.SameSiteLaxMode,
		},
	)
}
