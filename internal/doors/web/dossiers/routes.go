// Package dossiers is the web's door to dossiers, their folders and registers.
package dossiers

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package dossiers -include-tags dossiers -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of dossiers.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/folders/:id/register.csv", h.table)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
