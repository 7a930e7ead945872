// Package web is the HTTP side: who asks, decoding, the use case, the answer.
package web

import (
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"io/fs"
	"log/slog"
	"net/http"
	"strings"
	"syscall"
	"time"

	"tabularis/internal/app/today"

	"tabularis/internal/platform/postgres"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	guard "tabularis/internal/app/access"
	"tabularis/internal/app/act"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/links"
	"tabularis/internal/app/live"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/people"
	practices "tabularis/internal/app/practice"
	"tabularis/internal/app/sessions"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/visits"
	"tabularis/internal/web/contract"
)

// Server holds the use cases that requests are handed to.
type Server struct {
	Acts      *act.Runner
	Access    *guard.Guard
	Sessions  *sessions.Service
	People    *people.Service
	Sharing   *sharing.Service
	Dossiers  *dossiers.Service
	Documents *documents.Service
	Uploads   *uploads.Service
	Links     *links.Service
	Visits    *visits.Service
	Activity  *activity.Service
	Today     *today.Service
	Notices   *notices.Service
	Practice  *practices.Service
	Hub       *live.Hub
	// BodyTime is how long a JSON body may take to arrive; 0 is the usual time.
	BodyTime time.Duration

	slots *slots
	// KeysFit refuses when the database is not the one whose content the keys open.
	KeysFit func(ctx context.Context) error
	Log     *slog.Logger
	Metrics *Metrics
	// Front is the built front end.
	Front fs.FS
	// SecureCookies is set where the practice is reached by HTTPS.
	SecureCookies bool
	// TrustedProxies are addresses and networks whose X-Forwarded-For is believed.
	TrustedProxies []string
	// Mailbox is the address of the mail stand-in, where one runs.
	Mailbox string
}

const (
	sessionCookie = "tabularis_session"
	visitCookie   = "tabularis_visit_"
	deviceCookie  = "tabularis_device"
	// maxBody is the largest JSON body.
	maxBody = 1 << 20
)

// Handler assembles all routes.
func (s *Server) Handler() (http.Handler, error) {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.ContextWithFallback = true
	engine.HandleMethodNotAllowed = false
	if err := engine.SetTrustedProxies(s.TrustedProxies); err != nil {
		return nil, err
	}

	s.slots = newSlots()
	engine.GET("/healthz", s.healthy)
	engine.GET("/readyz", s.ready)
	engine.Use(s.observe, s.recover, securityHeaders)
	engine.GET("/api/documents/:id/content", noStore, s.quickContent, s.identify, requireSession, s.long, s.documentContent)
	engine.Use(s.identify)

	api := engine.Group("/api", noStore)
	signedIn := api.Group("", requireSession)
	tus, err := s.tus()
	if err != nil {
		return nil, err
	}
	signedIn.Any("/uploads", s.long, gin.WrapH(http.StripPrefix("/api/uploads", tus)))
	uploadMethods := gin.WrapH(http.StripPrefix("/api/uploads/", tus))
	for _, m := range []string{http.MethodHead, http.MethodPatch, http.MethodDelete} {
		signedIn.Handle(m, "/uploads/:id", s.long, uploadMethods)
	}
	signedIn.GET("/archive", s.long, s.archive)
	signedIn.GET("/live", s.long, s.live)
	signedIn.GET("/links/:id/record.csv", s.linkRecord)
	signedIn.GET("/links/:id/qr.png", s.linkPicture)
	api.GET("/visits/:token/documents/:id/content", s.long, s.visitContent)
	api.GET("/visits/:token/documents/:id/pages/:page", s.visitPage)
	api.GET("/visits/:token/archive", s.long, s.visitArchive)
	api.Any("/visits/:token/uploads", s.long, s.visitorUploads(tus))
	for _, m := range []string{http.MethodHead, http.MethodPatch, http.MethodDelete} {
		api.Handle(m, "/visits/:token/uploads/:id", s.long, s.visitorUploads(tus))
	}
	api.GET("/visits/:token/live", s.long, s.visitLive)

	valid, err := s.validate()
	if err != nil {
		return nil, err
	}
	strict := contract.NewStrictHandlerWithOptions(s, []contract.StrictMiddlewareFunc{guardOperation}, contract.StrictGinServerOptions{
		RequestErrorHandlerFunc:  func(c *gin.Context, err error) { s.problem(c, badBody(err)) },
		HandlerErrorFunc:         s.problem,
		ResponseErrorHandlerFunc: s.problem,
	})
	contract.RegisterHandlersWithOptions(api.Group("", s.timely, limitBody, valid), strict, contract.GinServerOptions{
		ErrorHandler: func(c *gin.Context, err error, _ int) {
			s.problem(c, fault.New(fault.Invalid, "parameter", "%s", err))
		},
	})
	if err := s.frontEnd(engine); err != nil {
		return nil, err
	}
	return http.NewCrossOriginProtection().Handler(engine), nil
}

func badBody(err error) error {
	if strings.Contains(err.Error(), "request body too large") {
		return fault.New(fault.TooLarge, "body-too-large", "the request has more than %d bytes", maxBody)
	}
	return fault.New(fault.Invalid, "body", "the request cannot be read: %s", err)
}

// open lists the operations that need no session. Everything else does.
var open = map[string]bool{
	"GetPractice": true, "SignIn": true, "SignOut": true, "CompleteSignIn": true, "AskPasskey": true, "SendCode": true, "SignInByCode": true,
	"ForgotPassword": true, "GetEntry": true, "UseEntry": true, "GetJoining": true, "Join": true,
	"ArriveAtLink": true, "SendLinkCode": true, "OpenLink": true, "GetLinkContents": true, "PreviewLinkDocument": true, "OutlineLinkDocument": true, "NoteLook": true, "GetIntake": true, "HandIn": true,
}

func guardOperation(next contract.StrictHandlerFunc, operation string) contract.StrictHandlerFunc {
	return func(c *gin.Context, request any) (any, error) {
		own := ownContext(c)
		if open[operation] {
			return next(own, request)
		}
		switch who := act.Who(c); {
		case who.Person == nil:
			return nil, fault.SignedOut()
		case who.NeedsFactor && !forFactor[operation]:
			return nil, needFactor()
		}
		return next(own, request)
	}
}

// ownContext is a context of this request alone. Gin gives its own to the next
// request while the database's driver may still be watching it for an end.
func ownContext(c *gin.Context) *gin.Context {
	own := c.Copy()
	own.Writer = c.Writer
	return own
}

// forFactor lists what somebody may do who has to set up a second factor first.
var forFactor = map[string]bool{
	"GetSession": true, "GetFactors": true, "OfferAuthenticator": true, "ConfirmAuthenticator": true, "OfferPasskey": true, "AddPasskey": true,
}

func needFactor() *fault.Error {
	return fault.New(fault.Forbidden, "second-factor-needed", "the practice asks for a second factor; set one up first")
}

func requireSession(c *gin.Context) {
	var err *fault.Error
	switch who := act.Who(c); {
	case who.Person == nil:
		err = fault.SignedOut()
	case who.NeedsFactor:
		err = needFactor()
	default:
		return
	}
	writeProblem(c, err)
	c.Abort()
}

func limitBody(c *gin.Context) {
	c.Request.Body = http.MaxBytesReader(c.Writer, c.Request.Body, maxBody)
}

func noStore(c *gin.Context) { c.Header("Cache-Control", "no-store") }

// securityHeaders keeps the page to its own origin; content of documents gets
// still less, see content.go.
func securityHeaders(c *gin.Context) {
	h := c.Writer.Header()
	h.Set(
		"Content-Security-Policy",
		"default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' blob: data:; font-src 'self'; "+
			"media-src 'self' blob:; connect-src 'self'; worker-src 'self' blob:; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
	)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("X-Frame-Options", "DENY")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
}

// identify notes who asks and from where.
func (s *Server) identify(c *gin.Context) {
	who := act.Actor{Network: c.ClientIP(), Agent: agent(c.Request.UserAgent()), Language: "en"}
	if strings.HasPrefix(c.GetHeader("Accept-Language"), "de") {
		who.Language = "de"
	}
	if token, err := c.Cookie(sessionCookie); err == nil && token != "" && !strings.HasPrefix(c.Request.URL.Path, "/assets/") {
		p, err := s.Sessions.Identify(c.Request.Context(), token)
		switch {
		case err == nil:
			who.Person, who.NeedsFactor = &p.Person, p.NeedsFactor
		case !fault.Is(err, fault.Unauthenticated):
			s.problem(c, err)
			c.Abort()
			return
		}
	}
	c.Request = c.Request.WithContext(act.As(c.Request.Context(), who))
}

func (s *Server) recover(c *gin.Context) {
	defer func() {
		if r := recover(); r != nil {
			if r == http.ErrAbortHandler {
				panic(r)
			}
			s.problem(c, fmt.Errorf("panic: %v", r))
		}
	}()
	c.Next()
}

// problem answers with RFC 9457 problem details. What is not a refusal is our
// failure: logged, and told without its cause.
func (s *Server) problem(c *gin.Context, err error) {
	f := fault.Of(err)
	if f.Kind == fault.Internal {
		if c.Request.Context().Err() == nil {
			s.Log.Error("request failed", "id", c.Request.Context().Value(requestIDKey{}), "method", c.Request.Method, "route", c.FullPath(), "error", postgres.Plainly(err))
		}
		f = outage(err)
	}
	writeProblem(c, f)
}

// outage says what a failure of ours means to whoever asked.
func outage(err error) *fault.Error {
	switch {
	case errors.Is(err, syscall.ENOSPC) || errors.Is(err, syscall.EDQUOT):
		return fault.New(fault.NoRoom, "no-room", "there is no space left; nothing was changed")
	case errors.Is(err, syscall.EROFS) || errors.Is(err, fs.ErrPermission):
		return fault.New(fault.Unavailable, "store-away", "content cannot be stored at the moment; nothing was changed")
	case postgres.Unfit(err):
		return fault.New(fault.Invalid, "value", "a value is not what it is taken for; nothing was changed")
	case postgres.Away(err):
		return &fault.Error{
			Kind:       fault.Unavailable,
			Code:       "database-away",
			Detail:     "the database is away for the moment; nothing was changed",
			RetryAfter: 2 * time.Second,
		}
	}
	return fault.New(fault.Internal, "internal", "something failed on our side; nothing was changed")
}

var statusOf = map[fault.Kind]int{
	fault.Internal: http.StatusInternalServerError, fault.NotFound: http.StatusNotFound, fault.Unauthenticated: http.StatusUnauthorized,
	fault.Forbidden: http.StatusForbidden, fault.Conflict: http.StatusConflict, fault.Invalid: http.StatusBadRequest,
	fault.Gone: http.StatusGone, fault.TooLarge: http.StatusRequestEntityTooLarge, fault.RateLimited: http.StatusTooManyRequests, fault.Unavailable: http.StatusServiceUnavailable, fault.NoRoom: http.StatusInsufficientStorage,
}

func problemOf(f *fault.Error) contract.Problem {
	p := contract.Problem{Type: "/problems/" + f.Code, Title: f.Code, Status: statusOf[f.Kind]}
	if f.Detail != "" {
		p.Detail = &f.Detail
	}
	if f.Field != "" {
		p.Field = &f.Field
	}
	if f.RetryAfter > 0 {
		seconds := int((f.RetryAfter + time.Second - 1) / time.Second)
		p.RetryAfter = &seconds
	}
	return p
}

func writeProblem(c *gin.Context, f *fault.Error) {
	if c.Writer.Written() {
		return
	}
	p := problemOf(f)
	if p.RetryAfter != nil {
		c.Header("Retry-After", fmt.Sprint(*p.RetryAfter))
	}
	body, err := json.Marshal(p)
	if err != nil {
		c.Status(http.StatusInternalServerError)
		return
	}
	c.Data(p.Status, "application/problem+json", body)
}

// setCookie sets a cookie that scripts cannot read and other sites do not send
// along, except by a plain link to us.
func (s *Server) setCookie(c context.Context, name, value string, life time.Duration) {
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

// agent says in a few words which program asks, as far as it tells.
func agent(header string) string {
	program, system := "", ""
	for _, p := range []struct{ in, name string }{{"Edg/", "Edge"}, {"OPR/", "Opera"}, {"Firefox/", "Firefox"}, {"Chrome/", "Chrome"}, {"Safari/", "Safari"}, {"curl/", "curl"}} {
		if strings.Contains(header, p.in) {
			program = p.name
			break
		}
	}
	for _, p := range []struct{ in, name string }{{"Android", "Android"}, {"iPhone", "iPhone"}, {"iPad", "iPad"}, {"Windows", "Windows"}, {"Mac OS X", "macOS"}, {"Linux", "Linux"}} {
		if strings.Contains(header, p.in) {
			system = p.name
			break
		}
	}
	switch {
	case program == "":
		return system
	case system == "":
		return program
	}
	return program + ", " + system
}
