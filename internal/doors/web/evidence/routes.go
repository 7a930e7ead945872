// Package evidence is the web's door to the log of what happened.
package evidence

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package evidence -include-tags evidence -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of evidence.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/evidence/bundle", h.Long, h.bundle)
	r.SignedIn.GET("/links/:id/receipt", h.Long, h.receipt)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
