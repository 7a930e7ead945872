// Package uploads is the web's door to resumable uploads, and what became of them.
package uploads

import (
	"net/http"

	"github.com/gin-gonic/gin"

	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package uploads -include-tags uploads -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of uploads.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.Any("/uploads", h.Long, gin.WrapH(http.StripPrefix("/api/uploads", h.Protocol)))
	methods := gin.WrapH(http.StripPrefix("/api/uploads/", h.Protocol))
	for _, m := range []string{http.MethodHead, http.MethodPatch, http.MethodDelete} {
		r.SignedIn.Handle(m, "/uploads/:id", h.Long, methods)
	}
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
