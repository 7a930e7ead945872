// Package activity is the web's door to the stream of events, and its news.
package activity

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package activity -include-tags activity -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of activity.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/live", h.Long, h.live)
	r.SignedIn.GET("/activity.csv", h.table)
	r.SignedIn.GET("/activity.jsonl", h.lines)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
