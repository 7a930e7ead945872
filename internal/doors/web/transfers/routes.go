// Package transfers is the web's door to transfers, for senders and recipients.
package transfers

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package transfers -include-tags transfers -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of transfers.
func (h *Handlers) Register(r door.Routes) {
	r.Open.GET("/visits/:token/files/:id", h.Long, h.fetch)
	r.Open.HEAD("/visits/:token/files/:id", h.Long, h.fetch)
	r.Open.GET("/visits/:token/files", h.Long, h.archive)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
