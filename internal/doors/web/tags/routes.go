// Package tags is the web's door to the words that documents bear.
package tags

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package tags -include-tags tags -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of tags.
func (h *Handlers) Register(r door.Routes) {
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
