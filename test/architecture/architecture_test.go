// Package architecture_test holds rules of the layout that the compiler does not.
package architecture_test

import (
	"go/ast"
	"go/parser"
	"go/token"
	"io/fs"
	"path/filepath"
	"slices"
	"strconv"
	"strings"
	"testing"
)

const module = "tabularis/"

// source is a file of the application, with what it imports under which name.
type source struct {
	path, pkg string
	file      *ast.File
	imports   map[string]string
}

func sources(t *testing.T) (all []source) {
	t.Helper()
	set := token.NewFileSet()
	err := filepath.WalkDir("../..", func(path string, d fs.DirEntry, err error) error {
		switch {
		case err != nil:
			return err
		case d.IsDir() && slices.Contains([]string{"node_modules", ".git", "test", "dist", "data"}, d.Name()):
			return filepath.SkipDir
		case d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go"):
			return nil
		}
		f, err := parser.ParseFile(set, path, nil, parser.SkipObjectResolution)
		if err != nil {
			return err
		}
		rel, _ := filepath.Rel("../..", path)
		s := source{rel, filepath.ToSlash(filepath.Dir(rel)), f, map[string]string{}}
		for _, i := range f.Imports {
			at, _ := strconv.Unquote(i.Path.Value)
			name := filepath.Base(at)
			if i.Name != nil {
				name = i.Name.Name
			}
			s.imports[at] = name
		}
		all = append(all, s)
		return nil
	})
	if err != nil || len(all) < 150 {
		t.Fatalf("%d files, %v", len(all), err)
	}
	return all
}

// What parses content from outside is imported by the packages that run in cells,
// and by nobody else; what they parse with is called by the one way into cells.
func TestForeignContentIsParsedInCellsOnly(t *testing.T) {
	parsers := map[string][]string{
		"github.com/klippa-app/go-pdfium":    {"internal/pdf"},
		"github.com/yuin/goldmark":           {"internal/preview"},
		"github.com/xuri/excelize/v2":        {"internal/preview", "internal/demo"},
		"encoding/xml":                       {"internal/office"},
		"archive/zip":                        {"internal/office", "internal/archive", "internal/demo"},
		"image/gif":                          {"internal/platform/reading"},
		"golang.org/x/image/webp":            {"internal/platform/reading"},
		"golang.org/x/image/bmp":             {"internal/platform/reading"},
		module + "internal/pdf":              {"internal/preview", "internal/platform/reading"},
		"encoding/csv":                       {"internal/preview", "internal/web", "internal/demo"},
		"github.com/microcosm-cc/bluemonday": {"internal/preview"},
	}
	// These write, or tell what can be read; they parse nothing.
	calls := map[string][]string{
		module + "internal/preview": {"Prepare", "PlainText"},
		module + "internal/office":  {"Text", "Sound"},
		"image":                     {"Decode", "DecodeConfig"},
		"image/jpeg":                {"Decode", "DecodeConfig"},
		"image/png":                 {"Decode", "DecodeConfig"},
		"archive/zip":               {"NewReader", "OpenReader"},
	}
	inCells := []string{"internal/platform/reading", "internal/preview", "internal/office", "internal/pdf"}
	for _, s := range sources(t) {
		for at := range s.imports {
			for parser, allowed := range parsers {
				if (at == parser || strings.HasPrefix(at, parser+"/")) && !slices.Contains(allowed, s.pkg) {
					t.Errorf("%s imports %s", s.path, at)
				}
			}
		}
		if slices.Contains(inCells, s.pkg) {
			continue
		}
		ast.Inspect(s.file, func(n ast.Node) bool {
			call, ok := n.(*ast.SelectorExpr)
			if !ok {
				return true
			}
			pkg, ok := call.X.(*ast.Ident)
			if !ok {
				return true
			}
			for at, names := range calls {
				if s.imports[at] == pkg.Name && slices.Contains(names, call.Sel.Name) {
					t.Errorf("%s calls %s.%s", s.path, pkg.Name, call.Sel.Name)
				}
			}
			return true
		})
	}
}

// Cells are started by the packages that know what they are for.
func TestWhoStartsProcesses(t *testing.T) {
	allowed := []string{"internal/platform/cell", "internal/office", "internal/backup", "internal/devdb", "internal/browser", "cmd/tabularis", "cmd/dependencies"}
	for _, s := range sources(t) {
		if _, ok := s.imports["os/exec"]; ok && !slices.Contains(allowed, s.pkg) {
			t.Errorf("%s starts processes", s.path)
		}
	}
}
