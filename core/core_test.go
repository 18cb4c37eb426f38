// Package core_test keeps the rules of the trade free of everything else.
package core_test

import (
	"go/build"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

// Nothing under core imports the web, a database, the disk, or any module but
// the numerics.
func TestCoreKnowsNobody(t *testing.T) {
	banned := map[string]bool{
		"net":           true,
		"net/http":      true,
		"database/sql":  true,
		"os":            true,
		"os/exec":       true,
		"syscall":       true,
		"path/filepath": true,
		"html/template": true,
	}
	files := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		files++
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, parser.ImportsOnly)
		if err != nil {
			return err
		}
		for _, i := range f.Imports {
			name, err := strconv.Unquote(i.Path.Value)
			if err != nil {
				return err
			}
			first, _, _ := strings.Cut(name, "/")
			own := strings.HasPrefix(name, "steptrace/core/") || strings.HasPrefix(name, "gonum.org/v1/gonum/")
			standard := !strings.Contains(first, ".") && first != "steptrace"
			if standard {
				if p, err := build.Default.Import(name, "", build.FindOnly); err != nil || !p.Goroot {
					standard = false
				}
			}
			if banned[name] || !own && !standard {
				t.Errorf("%s imports %s", path, name)
			}
		}
		return nil
	})
	if err != nil || files < 10 {
		t.Errorf("%d files looked at: %v", files, err)
	}
}
