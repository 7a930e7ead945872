// Package remarks is the web's door to what people say.
package remarks

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package remarks -include-tags remarks -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of remarks.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/items/:id/remarks.csv", h.table)
	r.SignedIn.GET("/items/:id/remarks.pdf", h.paper)
	r.SignedIn.GET("/items/:id/remarks.docx", h.word)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
