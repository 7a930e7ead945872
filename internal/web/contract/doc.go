// Package contract holds the types and the server interface generated from
// api/openapi.yaml.
package contract

//go:generate go tool oapi-codegen -config ../../../api/generate.yaml -o contract.gen.go ../../../api/openapi.yaml
