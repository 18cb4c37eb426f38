// Package web holds the built front end, so that the program needs no file
// beside it. Build it with "make" before the program; until then it is empty.
package web

import (
	"embed"
	"io/fs"
)

//go:embed all:dist
var dist embed.FS

// Pages gives the built files.
func Pages() (fs.FS, error) { return fs.Sub(dist, "dist") }
