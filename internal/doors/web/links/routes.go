// Package links is the web's door to secure links as their sender sees them.
package links

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package links -include-tags links -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of links.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/links/:id/record.csv", h.record)
	r.SignedIn.GET("/links/:id/qr.png", h.picture)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
