// Package visits is the web's door to secure links as a visitor sees them.
package visits

import (
	"net/http"

	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package visits -include-tags visits -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of visits.
func (h *Handlers) Register(r door.Routes) {
	r.Open.GET("/visits/:token/documents/:id/content", h.Long, h.content)
	r.Open.GET("/visits/:token/documents/:id/pages/:page", h.page)
	r.Open.GET("/visits/:token/archive", h.Long, h.archive)
	r.Open.Any("/visits/:token/uploads", h.Long, h.uploads)
	for _, m := range []string{http.MethodHead, http.MethodPatch, http.MethodDelete} {
		r.Open.Handle(m, "/visits/:token/uploads/:id", h.Long, h.uploads)
	}
	r.Open.GET("/visits/:token/live", h.Long, h.live)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
