// Package signing is the web's door to papers that are signed.
package signing

import (
	"tabularis/internal/app/signing"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/platform/turns"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package signing -include-tags signing -o server.gen.go ../../../../api/openapi.yaml

// Handlers serve the operations of signing.
type Handlers struct {
	*door.Door
	Signing *signing.Service
	// Checks are the turns in which papers of anybody's are checked.
	Checks *turns.Queue
}

// Register adds the routes of signing.
func (h *Handlers) Register(r door.Routes) {
	r.Open.POST("/paper-checks", h.check)
	r.Open.GET("/paper-checks/roots.pem", h.roots)
	r.SignedIn.GET("/signings/:id/evidence.pdf", h.evidence)
	r.SignedIn.POST("/signings/:id/sheet/papers", h.Long, h.bring)
	r.SignedIn.GET("/signings/:id/papers/:place", h.paper)
	r.Open.POST("/to-sign/:token/papers", h.Long, h.bringByLink)
	r.SignedIn.POST("/signing-forms/:id/look/:page", h.lookedAt)
	r.SignedIn.POST("/signing-forms/:id/table", h.table)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
