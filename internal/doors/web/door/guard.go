package door

import (
	"net/http"
	"strings"

	"github.com/gin-gonic/gin"

	"tabularis/api"
	"tabularis/core/fault"
	"tabularis/internal/app/act"
)

// Routes are where a capability adds its own.
type Routes struct {
	// Bare routes see to it themselves who asks; Open ones are for everybody, and
	// SignedIn ones for whoever is signed in with all factors.
	Bare, Open, SignedIn *gin.RouterGroup
	// JSON are the operations of the contract, which says for whom they are.
	JSON *gin.RouterGroup
}

// OwnContext hands an operation a context of this request alone. Gin gives its own
// to the next request while the database's driver may still be watching it for an
// end.
func OwnContext[F ~func(c *gin.Context, request any) (any, error)](next F, _ string) F {
	return func(c *gin.Context, request any) (any, error) {
		own := c.Copy()
		own.Writer = c.Writer
		return next(own, request)
	}
}

// Permit refuses operations that are not for whoever asks, as the contract says.
func (s *Door) Permit(operations map[string]api.Operation) gin.HandlerFunc {
	return func(c *gin.Context) {
		op := operations[api.Key(c.Request.Method, c.FullPath())]
		var err *fault.Error
		switch who := act.Who(c); {
		case op.Open:
			return
		case who.Person == nil:
			err = fault.SignedOut()
		case who.NeedsFactor && !op.BeforeFactor:
			err = needFactor()
		default:
			return
		}
		WriteProblem(c, err)
		c.Abort()
	}
}

func needFactor() *fault.Error {
	return errSecondFactorNeeded.New("the practice asks for a second factor; set one up first")
}

// RequireSession refuses whoever is not signed in with all factors.
func RequireSession(c *gin.Context) {
	var err *fault.Error
	switch who := act.Who(c); {
	case who.Person == nil:
		err = fault.SignedOut()
	case who.NeedsFactor:
		err = needFactor()
	default:
		return
	}
	WriteProblem(c, err)
	c.Abort()
}

// LimitBody bounds JSON bodies.
func LimitBody(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, MaxBody)
}

// NoStore keeps answers from being kept on their way.
func NoStore(c *gin.Context) { c.Header("Cache-Control", "no-store") }

// badBody says why a body cannot be read.
func badBody(err error) error {
	if strings.Contains(err.Error(), "request body too large") {
		return errBodyTooLarge.New("the request has more than %d bytes", MaxBody)
	}
	return errBody.New("the request cannot be read: %s", err)
}

// BadBody answers a request whose body cannot be read.
func (s *Door) BadBody(c *gin.Context, err error) { s.Problem(c, badBody(err)) }

// BadParameter answers a request whose address cannot be read.
func (s *Door) BadParameter(c *gin.Context, err error, _ int) {
	s.Problem(c, fault.Parameter.New("%s", err))
}
