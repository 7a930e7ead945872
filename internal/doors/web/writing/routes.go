// Package writing is the web's door to documents that are written together.
package writing

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package writing -include-tags writing -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of writing.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/documents/:id/writing/socket", h.Long, h.socket)
	r.SignedIn.POST("/documents/:id/writing/pictures", h.Long, h.putPicture)
	r.SignedIn.GET("/documents/:id/writing/pictures/:name", h.Long, h.picture)
	r.Open.GET("/visits/:token/documents/:id/writing/socket", h.Long, h.visitorSocket)
	r.Open.POST("/visits/:token/documents/:id/writing/pictures", h.Long, h.visitorPutPicture)
	r.Open.GET("/visits/:token/documents/:id/writing/pictures/:name", h.Long, h.visitorPicture)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
