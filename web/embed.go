// Package web holds the built front end, embedded in the program.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Files returns the built front end; without a build it holds no index.html.
func Files() (fs.FS, error) { return fs.Sub(dist, "dist") }
