// Package web holds the built pages.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Pages are the built pages; without a build they are empty.
func Pages() fs.FS {
	sub, err := fs.Sub(dist, "dist")
	if err != nil {
		panic(err) // dist is named above
	}
	return sub
}
