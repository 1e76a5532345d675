// Package api is the contract between server and front end.
package api

import _ "embed"

// Contract is the OpenAPI document.
//
//go:embed openapi.yaml
var Contract []byte
