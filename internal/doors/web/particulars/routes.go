// Package particulars is the web's door to what a practice keeps about documents.
package particulars

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package particulars -include-tags particulars -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of particulars.
func (h *Handlers) Register(r door.Routes) {
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
