// Package frontend embeds the built front end.
package frontend

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Site is the built front end: index.html and what it needs.
func Site() fs.FS {
	site, err := fs.Sub(dist, "dist")
	if err != nil {
		panic(err) // the folder is embedded above
	}
	return site
}
