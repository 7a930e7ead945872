// Package deliveries is the web's door to published addresses and to what is sent to them.
package deliveries

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package deliveries -include-tags deliveries -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of deliveries.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/deliveries/:id/files/:file", h.Long, h.sealedFile)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
