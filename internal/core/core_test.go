// Package core has no code of its own. Its test keeps the rules apart from
// everything above them.
package core

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"ruvo/internal/core/words"
)

// What the core may import: of the standard library what computes and reads, and
// a few small modules for facts and values. A server, a database, the network,
// the disk and a log are not among them; neither is any room of Ruvo's own but
// the core.
var allowed = []string{
	"bytes", "cmp", "embed", "encoding/json", "errors", "fmt", "maps", "math", "math/big", "math/bits", "net/mail", "net/url",
	"math/rand/v2", "reflect", "regexp", "regexp/syntax", "slices", "sort", "strconv", "strings", "sync", "time", "unicode", "unicode/utf8",

	"github.com/shopspring/decimal",      // rates, quantities, formulas
	"github.com/go-json-experiment/json", // JSON with the place of each mistake
	"github.com/expr-lang/expr",          // the parser of formulas
	"github.com/cbroglie/mustache",       // merge fields
	"github.com/rickar/cal/v2",           // public holidays
	"github.com/nyaruka/phonenumbers",    // telephone numbers
	"github.com/rivo/uniseg",             // characters as people count them
	"golang.org/x/text",                  // currencies, countries, plural forms
	"golang.org/x/image/colornames",

	"ruvo/internal/core",
}

// inTests is what its tests may import besides.
var inTests = []string{"testing", "os", "io/fs", "path/filepath", "go/ast", "go/parser", "go/token", "math/rand/v2", "ruvo/internal/coretest"}

func listed(name string, list []string) bool {
	return slices.ContainsFunc(list, func(a string) bool {
		return name == a || strings.HasPrefix(name, a+"/") && strings.Contains(a, ".") || a == "ruvo/internal/core" && strings.HasPrefix(name, a+"/")
	})
}

// TestCoreKnowsNothingAboveIt reads the imports and calls of every file of the
// core: nothing but what is listed, and no clock of its own.
func TestCoreKnowsNothingAboveIt(t *testing.T) {
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
			if !listed(name, allowed) && !(strings.HasSuffix(path, "_test.go") && listed(name, inTests)) {
				t.Errorf("%s imports %s", path, name)
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

// told finds the codes of texts in source files.
var told = regexp.MustCompile(`"((?:finding|setting|charge|booking|step|condition|merge|formula|noun)\.[a-z0-9_]+)"`)

// Every code that the core tells has a text, and nothing is told in code: no
// error that people read is made of words of its own.
func TestTheCoreTellsInCodes(t *testing.T) {
	codes := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		raw, err := os.ReadFile(path)
		for _, m := range told.FindAllStringSubmatch(string(raw), -1) {
			codes++
			for _, l := range []words.Language{words.English, words.German} {
				if l.Say(m[1], nil) == m[1] {
					t.Errorf("%s: %s has no words in %s", path, m[1], l)
				}
			}
		}
		if strings.Contains(string(raw), "“") && !strings.HasPrefix(path, "words/") {
			for n, line := range strings.Split(string(raw), "\n") {
				if code, _, _ := strings.Cut(line, "//"); strings.Contains(code, "“") && !strings.Contains(code, `return "“" + s + "”"`) {
					t.Errorf("%s:%d has words of its own: %s", path, n+1, strings.TrimSpace(line))
				}
			}
		}
		return err
	})
	if err != nil || codes < 200 {
		t.Fatalf("%d codes, %v", codes, err)
	}
}
