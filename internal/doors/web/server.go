// Package web is the HTTP side: it puts the doors of all capabilities together.
package web

import (
	"context"
	"io/fs"
	"net/http"

	"github.com/gin-gonic/gin"

	"tabularis/api"
	"tabularis/internal/app/activity"
	"tabularis/internal/app/calendar"
	"tabularis/internal/app/checkout"
	"tabularis/internal/app/comparison"
	"tabularis/internal/app/decisions"
	"tabularis/internal/app/deletion"
	"tabularis/internal/app/deliveries"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/evidence"
	"tabularis/internal/app/fillings"
	"tabularis/internal/app/find"
	"tabularis/internal/app/following"
	"tabularis/internal/app/links"
	"tabularis/internal/app/live"
	"tabularis/internal/app/mailing"
	"tabularis/internal/app/notices"
	"tabularis/internal/app/particulars"
	"tabularis/internal/app/people"
	practices "tabularis/internal/app/practice"
	"tabularis/internal/app/remarks"
	"tabularis/internal/app/remembered"
	"tabularis/internal/app/routes"
	"tabularis/internal/app/sharing"
	"tabularis/internal/app/signing"
	"tabularis/internal/app/tags"
	"tabularis/internal/app/templates"
	"tabularis/internal/app/terms"
	"tabularis/internal/app/today"
	"tabularis/internal/app/transfers"
	"tabularis/internal/app/uploads"
	"tabularis/internal/app/versions"
	"tabularis/internal/app/visits"
	"tabularis/internal/app/writing"
	activitydoor "tabularis/internal/doors/web/activity"
	calendardoor "tabularis/internal/doors/web/calendar"
	checkoutdoor "tabularis/internal/doors/web/checkout"
	comparisondoor "tabularis/internal/doors/web/comparison"
	decisionsdoor "tabularis/internal/doors/web/decisions"
	deletiondoor "tabularis/internal/doors/web/deletion"
	deliveriesdoor "tabularis/internal/doors/web/deliveries"
	documentsdoor "tabularis/internal/doors/web/documents"
	"tabularis/internal/doors/web/door"
	dossiersdoor "tabularis/internal/doors/web/dossiers"
	evidencedoor "tabularis/internal/doors/web/evidence"
	fillingsdoor "tabularis/internal/doors/web/fillings"
	finddoor "tabularis/internal/doors/web/find"
	followingdoor "tabularis/internal/doors/web/following"
	linksdoor "tabularis/internal/doors/web/links"
	mailingdoor "tabularis/internal/doors/web/mailing"
	noticesdoor "tabularis/internal/doors/web/notices"
	particularsdoor "tabularis/internal/doors/web/particulars"
	peopledoor "tabularis/internal/doors/web/people"
	practicedoor "tabularis/internal/doors/web/practice"
	remarksdoor "tabularis/internal/doors/web/remarks"
	remembereddoor "tabularis/internal/doors/web/remembered"
	routesdoor "tabularis/internal/doors/web/routes"
	sessionsdoor "tabularis/internal/doors/web/sessions"
	sharingdoor "tabularis/internal/doors/web/sharing"
	signingdoor "tabularis/internal/doors/web/signing"
	tagsdoor "tabularis/internal/doors/web/tags"
	templatesdoor "tabularis/internal/doors/web/templates"
	termsdoor "tabularis/internal/doors/web/terms"
	todaydoor "tabularis/internal/doors/web/today"
	transfersdoor "tabularis/internal/doors/web/transfers"
	uploadsdoor "tabularis/internal/doors/web/uploads"
	versionsdoor "tabularis/internal/doors/web/versions"
	visitsdoor "tabularis/internal/doors/web/visits"
	writingdoor "tabularis/internal/doors/web/writing"
)

// Server holds the use cases that requests are handed to.
type Server struct {
	*door.Door
	People      *people.Service
	Sharing     *sharing.Service
	Dossiers    *dossiers.Service
	Documents   *documents.Service
	Deletion    *deletion.Service
	Calendar    *calendar.Service
	Checkout    *checkout.Service
	Uploads     *uploads.Service
	Links       *links.Service
	Visits      *visits.Service
	Activity    *activity.Service
	Following   *following.Service
	Evidence    *evidence.Service
	Find        *find.Service
	Remarks     *remarks.Service
	Tags        *tags.Service
	Particulars *particulars.Service
	Today       *today.Service
	Transfers   *transfers.Service
	Deliveries  *deliveries.Service
	Mailing     *mailing.Service
	Decisions   *decisions.Service
	Routes      *routes.Service
	Signing     *signing.Service
	Templates   *templates.Service
	Writing     *writing.Service
	Fillings    *fillings.Service
	Notices     *notices.Service
	Practice    *practices.Service
	Hub         *live.Hub
	// KeysFit refuses when the database is not the one whose content the keys open.
	KeysFit func(ctx context.Context) error
	// Front is the built front end.
	Front fs.FS
	// TrustedProxies are addresses and networks whose X-Forwarded-For is believed.
	TrustedProxies []string
	// Mailbox is the address of the mail stand-in, where one runs.
	Mailbox string
}

// Handler assembles all routes.
func (s *Server) Handler() (http.Handler, error) {
	gin.SetMode(gin.ReleaseMode)
	engine := gin.New()
	engine.ContextWithFallback = true
	engine.HandleMethodNotAllowed = false
	if err := engine.SetTrustedProxies(s.TrustedProxies); err != nil {
		return nil, err
	}
	operations, err := api.Operations()
	if err != nil {
		return nil, err
	}
	engine.GET("/healthz", s.healthy)
	engine.GET("/readyz", s.ready)
	engine.Use(s.Observe, s.Recover, securityHeaders)
	bare := engine.Group("/api", door.NoStore)
	engine.Use(s.Identify)
	open := engine.Group("/api", door.NoStore)
	capabilities, err := s.capabilities()
	if err != nil {
		return nil, err
	}
	for _, c := range capabilities {
		c.Register(door.Routes{Bare: bare, Open: open, SignedIn: open.Group("", door.RequireSession),
			JSON: open.Group("", s.Timely, door.LimitBody, s.Permit(operations), s.Validate(operations))})
	}
	if err := s.frontEnd(engine); err != nil {
		return nil, err
	}
	return http.NewCrossOriginProtection().Handler(engine), nil
}

// capabilities are the doors there are, one line each.
func (s *Server) capabilities() ([]interface{ Register(r door.Routes) }, error) {
	protocol, err := uploadsdoor.Protocol(s.Uploads)
	if err != nil {
		return nil, err
	}
	return []interface{ Register(r door.Routes) }{
		&sessionsdoor.Handlers{Door: s.Door, Today: s.Today, MaxUpload: s.Uploads.MaxBytes, Mailbox: s.Mailbox},
		&peopledoor.Handlers{Door: s.Door, People: s.People},
		&practicedoor.Handlers{Door: s.Door, Practice: s.Practice},
		&sharingdoor.Handlers{Door: s.Door, Sharing: s.Sharing},
		&dossiersdoor.Handlers{Door: s.Door, Dossiers: s.Dossiers},
		&documentsdoor.Handlers{Door: s.Door, Documents: s.Documents, Dossiers: s.Dossiers},
		&calendardoor.Handlers{Door: s.Door, Calendar: s.Calendar},
		&checkoutdoor.Handlers{Door: s.Door, Checkout: s.Checkout},
		&comparisondoor.Handlers{Door: s.Door, Comparison: comparison.New(s.Acts, s.Documents.Access, s.Documents.Contents, s.Documents.Pages, s.Uploads)},
		&templatesdoor.Handlers{Door: s.Door, Templates: s.Templates},
		&writingdoor.Handlers{Door: s.Door, Writing: s.Writing},
		&fillingsdoor.Handlers{Door: s.Door, Fillings: s.Fillings},
		&tagsdoor.Handlers{Door: s.Door, Tags: s.Tags},
		&particularsdoor.Handlers{Door: s.Door, Particulars: s.Particulars},
		&finddoor.Handlers{Door: s.Door, Find: s.Find},
		&deletiondoor.Handlers{Door: s.Door, Deletion: s.Deletion},
		&versionsdoor.Handlers{Door: s.Door, Versions: &versions.Service{Acts: s.Acts, Items: s.Uploads.Items}},
		&uploadsdoor.Handlers{Door: s.Door, Uploads: s.Uploads, Protocol: protocol},
		&linksdoor.Handlers{Door: s.Door, Links: s.Links},
		&remembereddoor.Handlers{Door: s.Door, Remembered: &remembered.Service{Acts: s.Acts, Links: s.Links}},
		&termsdoor.Handlers{Door: s.Door, Terms: &terms.Service{Acts: s.Acts}},
		&visitsdoor.Handlers{Door: s.Door, Hub: s.Hub, Visits: s.Visits, Protocol: protocol},
		&deliveriesdoor.Handlers{Door: s.Door, Deliveries: s.Deliveries},
		&decisionsdoor.Handlers{Door: s.Door, Decisions: s.Decisions, Practice: s.Practice}, &routesdoor.Handlers{Door: s.Door, Routes: s.Routes, Decisions: s.Decisions},
		&signingdoor.Handlers{Door: s.Door, Signing: s.Signing, Checks: signingdoor.Checks()},
		&mailingdoor.Handlers{Door: s.Door, Mailing: s.Mailing},
		&transfersdoor.Handlers{Door: s.Door, Transfers: s.Transfers, Visits: s.Visits},
		&activitydoor.Handlers{Door: s.Door, Activity: s.Activity},
		&followingdoor.Handlers{Door: s.Door, Following: s.Following},
		&evidencedoor.Handlers{Door: s.Door, Evidence: s.Evidence},
		&remarksdoor.Handlers{Door: s.Door, Remarks: s.Remarks},
		&todaydoor.Handlers{Door: s.Door, Today: s.Today},
		&noticesdoor.Handlers{Door: s.Door, Notices: s.Notices},
	}, nil
}

// securityHeaders keeps the page to its own origin; content of documents gets
// still less, see content.go.
func securityHeaders(c *gin.Context) {
	h := c.Writer.Header()
	h.Set(
		"Content-Security-Policy",
		"default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; style-src 'self' 'unsafe-inline'; img-src 'self' blob: data:; font-src 'self'; "+
			"media-src 'self' blob:; connect-src 'self'; frame-src 'self'; worker-src 'self' blob:; base-uri 'none'; form-action 'self'; frame-ancestors 'none'",
	)
	h.Set("X-Content-Type-Options", "nosniff")
	h.Set("X-Frame-Options", "DENY")
	h.Set("Referrer-Policy", "no-referrer")
	h.Set("Cross-Origin-Opener-Policy", "same-origin")
	h.Set("Cross-Origin-Resource-Policy", "same-origin")
	h.Set("Permissions-Policy", "camera=(self), microphone=(self), geolocation=()")
}
