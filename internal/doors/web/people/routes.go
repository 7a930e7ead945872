// Package people is the web's door to accounts, groups and invitations.
package people

import (
	"tabularis/internal/doors/web/door"
)

//go:generate go tool oapi-codegen -config ../../../../api/server.yaml -package people -include-tags people -o server.gen.go ../../../../api/openapi.yaml

// Register adds the routes of people.
func (h *Handlers) Register(r door.Routes) {
	r.SignedIn.GET("/people.vcf", h.cards)
	strict := NewStrictHandlerWithOptions(h, []StrictMiddlewareFunc{door.OwnContext[StrictHandlerFunc]}, StrictGinServerOptions{
		RequestErrorHandlerFunc: h.BadBody, HandlerErrorFunc: h.Problem, ResponseErrorHandlerFunc: h.Problem,
	})
	RegisterHandlersWithOptions(r.JSON, strict, GinServerOptions{ErrorHandler: h.BadParameter})
}
