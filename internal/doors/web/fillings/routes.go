// Package fillings is the web's door to documents that are filled in.
package fillings

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package fillings -include-tags fillings -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of filling in.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/documents/:id/fillings.csv", h.table)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
