// Package documents is the web's door to documents, their versions and their content.
package documents

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package documents -include-tags documents -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of documents.
func (h *Handlers) Register(r door.Routes) {
	r.Bare.GET("/documents/:id/content", h.quickContent, h.Identify, door.RequireSession, h.Long, h.content)
	r.SignedIn.GET("/documents/:id/inner/:way/content", h.Long, h.inner)
	r.SignedIn.GET("/documents/:id/paper.pdf", h.Long, h.paper)
	r.SignedIn.GET("/documents/:id/pages/:page", h.page)
	r.SignedIn.GET("/archive", h.Long, h.together(h.Documents.Choose))
	r.SignedIn.GET("/bag", h.Long, h.together(h.Documents.Bag))
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
