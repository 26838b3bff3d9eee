// Package architecture guards which package may import which; see CONTRIBUTING.md for the map.
package architecture

import (
	"encoding/json"
	"go/ast"
	"go/parser"
	"go/token"
	"io"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"
)

type pkg struct {
	ImportPath string
	Dir        string
	GoFiles    []string
	Imports    []string
	Doc        string
}

func packages(t *testing.T) []pkg {
	t.Helper()
	command := exec.Command("go", "list", "-json=ImportPath,Dir,GoFiles,Imports,Doc", "amvek/...")
	out, err := command.Output()
	require.NoError(t, err)
	var all []pkg
	for decoder := json.NewDecoder(strings.NewReader(string(out))); ; {
		var p pkg
		err := decoder.Decode(&p)
		if err == io.EOF {
			return all
		}
		require.NoError(t, err)
		all = append(all, p)
	}
}

// allowed says which of our own packages each may import, by the beginning of their paths.
var allowed = map[string][]string{
	"core/cause":          {"core/thing"},
	"core/document":       {},
	"core/gesture":        {},
	"core/mirror":         {"core/document", "core/thing"},
	"core/link":           {"core/light", "core/document", "core/thing"},
	"core/address":        {},
	"core/pointer":        {},
	"core/sensor":         {},
	"core/rhythm":         {},
	"core/battery":        {},
	"core/thing":          {"core/address", "core/gesture", "core/pointer"},
	"core/almanac":        {"core/document"},
	"core/home":           {"core/thing", "core/cover", "core/document", "core/gesture"},
	"core/cover":          {"core/document"},
	"core/trial":          {"core/thing"},
	"core/hold":           {"core/thing", "core/cause"},
	"core/light":          {"core/thing", "core/document", "core/almanac", "core/hold"},
	"core/expr":           {"core/thing", "core/pointer"},
	"core/script":         {"core/thing", "core/expr"},
	"core/rule":           {"core/light", "core/thing", "core/home", "core/almanac", "core/document", "core/expr", "core/script"},
	"core/starting":       {"core/home", "core/thing", "core/almanac", "core/rule", "core/document"},
	"core/tell":           {"core/link", "core/mirror", "core/thing", "core/home", "core/board", "core/almanac", "core/light", "core/rule"},
	"core/check":          {"core/thing", "core/rule", "core/expr"},
	"core/state":          {"core/thing", "core/cause", "core/hold", "core/cover", "core/light", "core/rhythm"},
	"core/engine":         {"core/"},
	"core/rehearse":       {"core/"},
	"core/recap":          {"core/thing", "core/rule"},
	"core/board":          {"core/thing", "core/home", "core/document"},
	"core/gate":           {"core/thing", "core/home", "core/board", "core/cause"},
	"connect":             {"core/thing"},
	"connect/":            {"core/thing", "connect", "connect/discovery", "connect/line", "internal/listen"},
	"connect/outside":     {"connect", "core/pointer"},
	"connect/connecttest": {"core/thing", "connect", "profiles"},
	"profiles":            {"core/thing"},
	"standin/house":       {}, "standin/lumbrook": {}, "standin/quillet": {},
	"standin/world": {"standin/"},
	"store":         {"core/"},
	"hub":           {"core/", "connect", "connect/", "store", "hub/"},
	"hub/views":     {"core/", "hub/docs", "hub/show"},
	"hub/links":     {"core/", "connect", "hub/docs"},
	"hub/docs":      {"core/"},
	"hub/author":    {"core/"},
	"hub/catalogue": {"core/"},
	"hub/compose":   {"core/"},
	"hub/show":      {},
	"hub/sessions":  {"store"},
	"hub/uploads":   {},
	"server":        {"core/", "connect/panel", "hub", "hub/author", "hub/compose", "hub/docs", "hub/links", "hub/sessions", "hub/show", "hub/uploads", "hub/views", "store", "internal/listen", "internal/machine"},
	"demo":          {"core/", "hub", "hub/docs", "hub/links", "server", "standin/", "store", "connect/"},
	"web":           {},
}

// forbidden are what the core must never touch: the outside, and the time of day.
var forbidden = []string{
	"net",
	"os",
	"io/fs",
	"database/sql",
	"log",
	"log/slog",
	"math/rand",
	"math/rand/v2",
	"crypto/rand",
	"sync",
	"syscall",
	"runtime",
	"github.com/gofiber",
}

func TestImportsKeepToTheMap(t *testing.T) {
	for _, p := range packages(t) {
		path := strings.TrimPrefix(p.ImportPath, "amvek/")
		assert.NotEmpty(t, p.Doc+skipDoc(path), "%s has no package comment", path)
		may, listed := lookup(path)
		if !listed {
			continue
		}
		for _, imported := range p.Imports {
			own, is := strings.CutPrefix(imported, "amvek/")
			if is {
				assert.True(t, permitted(may, own), "%s must not import %s", path, own)
			}
			if strings.HasPrefix(path, "core/") {
				if imported == "net/url" {
					continue // reads and writes addresses (RFC 3986), and goes to none
				}
				for _, f := range forbidden {
					assert.False(t, imported == f || strings.HasPrefix(imported, f+"/"), "%s must not import %s", path, imported)
				}
			}
		}
	}
}

func skipDoc(path string) string {
	if path == "internal/architecture" {
		return "holds a test only"
	}
	return ""
}

func lookup(path string) ([]string, bool) {
	if may, ok := allowed[path]; ok {
		return may, true
	}
	for prefix, may := range allowed {
		if strings.HasSuffix(prefix, "/") && strings.HasPrefix(path, prefix) {
			return may, true
		}
	}
	if strings.HasPrefix(path, "core/") || strings.HasPrefix(path, "standin/") {
		return nil, true // new parts of these must be listed above
	}
	return nil, false
}

func permitted(may []string, own string) bool {
	for _, m := range may {
		if own == m || strings.HasSuffix(m, "/") && strings.HasPrefix(own, m) {
			return true
		}
	}
	return false
}

// inspect calls look for each node of the sources of a package, tests left out.
func inspect(t *testing.T, p pkg, look func(at token.Position, n ast.Node)) {
	t.Helper()
	for _, name := range p.GoFiles {
		set := token.NewFileSet()
		file, err := parser.ParseFile(set, filepath.Join(p.Dir, name), nil, 0)
		require.NoError(t, err)
		ast.Inspect(file, func(n ast.Node) bool {
			if n != nil {
				look(set.Position(n.Pos()), n)
			}
			return true
		})
	}
}

func TestTheCoreHasNoClockAndNoGoroutine(t *testing.T) {
	for _, p := range packages(t) {
		if !strings.HasPrefix(p.ImportPath, "amvek/core/") {
			continue
		}
		inspect(t, p, func(at token.Position, n ast.Node) {
			switch n := n.(type) {
			case *ast.GoStmt:
				t.Errorf("%s starts a goroutine", at)
			case *ast.SelectorExpr:
				if from, ok := n.X.(*ast.Ident); ok && from.Name == "time" {
					switch n.Sel.Name {
					case "Now", "Since", "Until", "Sleep", "After", "NewTimer", "NewTicker", "Tick", "AfterFunc":
						t.Errorf("%s reads the clock", at)
					}
				}
			}
		})
	}
}

// Views are computed on a home that is read only: nothing in them puts a definition, gives the engine an input, or goes on beside.
func TestViewsOnlyRead(t *testing.T) {
	for _, p := range packages(t) {
		if p.ImportPath != "amvek/hub/views" {
			continue
		}
		inspect(t, p, func(at token.Position, n ast.Node) {
			switch n := n.(type) {
			case *ast.GoStmt:
				t.Errorf("%s starts a goroutine", at)
			case *ast.SelectorExpr:
				switch n.Sel.Name {
				case "Put", "Drop", "Handle", "Load", "BeginLoading":
					t.Errorf("%s changes what it reads", at)
				}
			}
		})
	}
}
