// Package api holds the types of the contract in openapi.yaml, generated from
// it. Server routes are generated into internal/web.
package api

//go:generate go tool oapi-codegen -config models.yaml openapi.yaml
