// Package contract holds the types generated from the contract, api/*.yaml.
package contract

//go:generate go run ../../../../api/bundle ../../../../api
//go:generate go tool oapi-codegen -config ../../../../api/models.yaml -o contract.gen.go ../../../../api/openapi.yaml
