// Package decisions is the web's door to decisions.
package decisions

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package decisions -include-tags decisions -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of decisions.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/decisions/:id/trail.csv", h.table)
	r.SignedIn.GET("/decisions/:id/trail.pdf", h.paper)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
