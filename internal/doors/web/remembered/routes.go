// Package remembered is the web's door to the terms under which one gave something before.
package remembered

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package remembered -include-tags remembered -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of remembered.
func (h *Handlers) Register(r door.Routes) {
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
