// Package calendar is the web's door to what ends, for calendar programs.
package calendar

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package calendar -include-tags calendar -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of calendar.
func (h *Handlers) Register(r door.Routes) {
	r.Open.GET("/calendars/:file", h.read)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
