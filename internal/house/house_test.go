// Package house keeps the code readable: no line, no function longer than a person takes in.
package house

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"strings"
	"testing"
)

const (
	mostWide       = 140 // characters, a tab as four
	mostLines      = 80  // of a function
	mostBranches   = 20  // cyclomatic complexity (McCabe)
	reason         = "Long: "
	root           = "../.."
	leastFunctions = 1000
)

// branches counts the ways through a function: one, and one more for each place where it parts.
func branches(f *ast.FuncDecl) int {
	n := 1
	ast.Inspect(f, func(x ast.Node) bool {
		switch x := x.(type) {
		case *ast.IfStmt, *ast.ForStmt, *ast.RangeStmt:
			n++
		case *ast.CaseClause:
			if x.List != nil {
				n++
			}
		case *ast.CommClause:
			if x.Comm != nil {
				n++
			}
		case *ast.BinaryExpr:
			if x.Op == token.LAND || x.Op == token.LOR {
				n++
			}
		}
		return true
	})
	return n
}

func sources(t *testing.T, each func(path string, text []byte)) {
	t.Helper()
	err := filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
		if err != nil {
			return err
		}
		if d.IsDir() && (d.Name() == "node_modules" || d.Name() == "dist" || d.Name() == ".git") {
			return filepath.SkipDir
		}
		switch filepath.Ext(path) {
		case ".go", ".ts", ".svelte", ".mjs":
		default:
			return nil
		}
		if strings.Contains(path, ".gen.") {
			return nil
		}
		text, err := os.ReadFile(path)
		each(path, text)
		return err
	})
	if err != nil {
		t.Fatal(err)
	}
}

// What cannot be broken may be longer: a field's tag, and a script or a query within backquotes.
func TestNoLineIsTooWide(t *testing.T) {
	sources(t, func(path string, text []byte) {
		raw := false
		for i, line := range strings.Split(string(text), "\n") {
			quoted := raw || strings.Contains(line, "`") || strings.Contains(line, "class=") || strings.Contains(line, "'figure ")
			if strings.Count(line, "`")%2 == 1 {
				raw = !raw
			}
			if wide := len([]rune(strings.ReplaceAll(line, "\t", "    "))); wide > mostWide && !quoted {
				t.Errorf("%s:%d: %d characters", path, i+1, wide)
			}
		}
	})
}

// A function that is long, or parts in many places, says beside it why it stays in one piece.
func TestNoFunctionIsTooLong(t *testing.T) {
	seen := 0
	sources(t, func(path string, text []byte) {
		if filepath.Ext(path) != ".go" || strings.HasSuffix(path, "_test.go") {
			return
		}
		files := token.NewFileSet()
		file, err := parser.ParseFile(files, path, text, parser.ParseComments)
		if err != nil {
			t.Fatal(err)
		}
		for _, d := range file.Decls {
			f, ok := d.(*ast.FuncDecl)
			if !ok {
				continue
			}
			seen++
			lines := files.Position(f.End()).Line - files.Position(f.Pos()).Line + 1
			ways := branches(f)
			if (lines > mostLines || ways > mostBranches) && !strings.Contains(f.Doc.Text(), reason) {
				t.Errorf("%s: %s has %d lines and %d ways through it", files.Position(f.Pos()), f.Name.Name, lines, ways)
			}
		}
	})
	if seen < leastFunctions {
		t.Errorf("only %d functions were looked at", seen)
	}
}
