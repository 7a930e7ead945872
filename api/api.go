// Package api holds the contract, as it is served by.
package api

import (
	_ "embed"
	"fmt"
	"strings"
	"sync"

	"github.com/getkin/kin-openapi/openapi3"
	"github.com/getkin/kin-openapi/routers"
)

//go:embed openapi.yaml
var contract []byte

const (
	// Numbers without a format of their own are kept in 32 bits.
	smallest, largest = -1 << 31, 1<<31 - 1
	// longest is how many characters a text has whose length the contract leaves open.
	longest = 20_000
	// most is how many entries any list has.
	most = 10_000
)

// Raw is the contract as it is written, read anew.
func Raw() (*openapi3.T, error) {
	doc, err := openapi3.NewLoader().LoadFromData(contract)
	if err != nil {
		return nil, fmt.Errorf("reading the contract: %w", err)
	}
	return doc, nil
}

// Contract is the description of the JSON interface (OpenAPI 3.0) as requests are
// compared with it: their types, lengths and sizes, with limits where it names none.
// What has to be there, and which words there are, the use cases say, after they
// know who asks and by codes of their own. It is read once.
var Contract = sync.OnceValues(func() (*openapi3.T, error) {
	doc, err := Raw()
	if err != nil {
		return nil, err
	}
	seen := map[*openapi3.Schema]bool{}
	for _, s := range doc.Components.Schemas {
		bound(s.Value, seen)
	}
	for _, item := range doc.Paths.Map() {
		for _, p := range item.Parameters {
			bound(p.Value.Schema.Value, seen)
		}
		for _, op := range item.Operations() {
			for _, p := range op.Parameters {
				bound(p.Value.Schema.Value, seen)
			}
		}
	}
	return doc, nil
})

// bound gives a schema, and all within it, the limits that it does not name.
func bound(s *openapi3.Schema, seen map[*openapi3.Schema]bool) {
	if s == nil || seen[s] {
		return
	}
	seen[s] = true
	s.Required, s.Enum, s.Pattern, s.MinLength, s.MinItems, s.Nullable = nil, nil, "", 0, 0, true
	switch {
	case s.Type.Is("integer") && s.Format == "":
		s.Min = openapi3.Ptr(float64(smallest))
		if s.Max == nil {
			s.Max = openapi3.Ptr(float64(largest))
		}
	case s.Type.Is("string") && s.MaxLength == nil:
		s.MaxLength = openapi3.Ptr(uint64(longest))
	case s.Type.Is("array"):
		s.MaxItems = openapi3.Ptr(uint64(most))
	}
	for _, p := range s.Properties {
		bound(p.Value, seen)
	}
	if s.Items != nil {
		bound(s.Items.Value, seen)
	}
	for _, all := range []openapi3.SchemaRefs{s.AllOf, s.AnyOf, s.OneOf} {
		for _, x := range all {
			bound(x.Value, seen)
		}
	}
	if s.AdditionalProperties.Schema != nil {
		bound(s.AdditionalProperties.Schema.Value, seen)
	}
}

// Operation is one of the contract's, as requests are measured by it.
type Operation struct {
	// Route is what a request is compared with.
	Route *routers.Route
	// Open operations need no session; those before the second factor are there for
	// whoever still has to set one up.
	Open, BeforeFactor bool
	// Errors are the codes with which it may refuse.
	Errors []string
}

// beforeFactor is the contract's word for what somebody may do who has to set up a
// second factor first, and errors for the codes of an operation's refusals.
const (
	beforeFactor = "x-before-second-factor"
	errorCodes   = "x-errors"
)

// Key is under what an operation is found: its method, and its route as the router
// writes it, with colons before parameters.
func Key(method, route string) string { return method + " " + route }

// Operations returns all operations by their keys.
var Operations = sync.OnceValues(func() (map[string]Operation, error) {
	doc, err := Contract()
	if err != nil {
		return nil, err
	}
	all := map[string]Operation{}
	for path, item := range doc.Paths.Map() {
		route := "/api" + strings.NewReplacer("{", ":", "}", "").Replace(path)
		for method, op := range item.Operations() {
			o := Operation{Route: &routers.Route{Spec: doc, Path: path, PathItem: item, Method: method, Operation: op}, Open: op.Security != nil && len(*op.Security) == 0}
			o.BeforeFactor, _ = op.Extensions[beforeFactor].(bool)
			o.Errors = append(texts(op.Extensions[errorCodes]), texts(doc.Extensions[errorCodes])...)
			all[Key(method, route)] = o
		}
	}
	return all, nil
})

func texts(list any) (all []string) {
	items, _ := list.([]any)
	for _, i := range items {
		all = append(all, fmt.Sprint(i))
	}
	return all
}
