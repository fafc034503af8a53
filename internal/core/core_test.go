// Package core has no code of its own. Its test keeps the rules apart from
// everything above them.
package core

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"strconv"
	"strings"
	"testing"
)

// TestCoreKnowsNothingAboveIt reads the imports and calls of every file of the
// core: no server, no database, no API, and no clock of its own.
func TestCoreKnowsNothingAboveIt(t *testing.T) {
	forbidden := []string{"github.com/labstack/echo", "gorm.io", "net/http", "database/sql", "ruvo/api", "ruvo/internal/store", "ruvo/internal/web", "ruvo/internal/shop", "ruvo/internal/desk"}
	files := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") {
			return err
		}
		files++
		set := token.NewFileSet()
		file, err := parser.ParseFile(set, path, nil, 0)
		if err != nil {
			return err
		}
		for _, i := range file.Imports {
			name, _ := strconv.Unquote(i.Path.Value)
			for _, f := range forbidden {
				if name == f || strings.HasPrefix(name, f+"/") {
					t.Errorf("%s imports %s", path, name)
				}
			}
		}
		if strings.HasSuffix(path, "_test.go") {
			return nil
		}
		ast.Inspect(file, func(n ast.Node) bool {
			if s, ok := n.(*ast.SelectorExpr); ok {
				if x, ok := s.X.(*ast.Ident); ok && x.Name == "time" && (s.Sel.Name == "Now" || s.Sel.Name == "Since") {
					t.Errorf("%s: time.%s; time is an argument in the core", set.Position(n.Pos()), s.Sel.Name)
				}
			}
			return true
		})
		return nil
	})
	if err != nil {
		t.Fatal(err)
	}
	if files < 20 {
		t.Fatalf("only %d files were read", files)
	}
}
