// Package core_test watches that the rules stay free of the world around them.
package core_test

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

// pure lists what rules may import besides each other: computation only.
var pure = map[string]bool{
	"bytes": true, "cmp": true, "embed": true, "reflect": true, "encoding/binary": true, "encoding/csv": true, "encoding/hex": true, "encoding/json": true, "errors": true, "fmt": true,
	"maps": true, "math": true, "math/bits": true, "path": true, "regexp": true, "regexp/syntax": true, "slices": true, "sort": true,
	"strconv": true, "strings": true, "time": true, "unicode": true, "unicode/utf8": true, "crypto/sha256": true,
	// What is read is handed in as a reader; cutting it into chunks is computation.
	"io": true, "hash/maphash": true, "github.com/restic/chunker": true,
	// Hashes, proofs and signatures under a key that is handed in.
	"crypto/hmac": true, "crypto/ed25519": true, "encoding/base64": true, "golang.org/x/mod/sumdb/note": true, "golang.org/x/mod/sumdb/tlog": true,
	// Identities are values here; making one takes randomness, and is refused below.
	"github.com/google/uuid": true,
	"golang.org/x/net/idna":  true, "golang.org/x/text/cases": true, "golang.org/x/text/currency": true, "math/big": true, "golang.org/x/text/unicode/norm": true,
	// Markdown, read and written (only cells read what comes from outside).
	"html": true, "net/url": true, "github.com/yuin/goldmark": true, "github.com/yuin/goldmark/ast": true, "github.com/yuin/goldmark/extension": true,
	"github.com/yuin/goldmark/extension/ast": true, "github.com/yuin/goldmark/text": true, "github.com/yuin/goldmark/util": true,
	// What the forms of a word have in common.
	"github.com/blevesearch/snowballstem": true, "github.com/blevesearch/snowballstem/english": true, "github.com/blevesearch/snowballstem/german": true,
}

func TestRulesImportOnlyComputation(t *testing.T) {
	files := 0
	err := filepath.WalkDir(".", func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !strings.HasSuffix(path, ".go") || strings.HasSuffix(path, "_test.go") {
			return err
		}
		files++
		f, err := parser.ParseFile(token.NewFileSet(), path, nil, 0)
		if err != nil {
			return err
		}
		for _, spec := range f.Imports {
			name, _ := strconv.Unquote(spec.Path.Value)
			if !pure[name] && !strings.HasPrefix(name, "tabularis/core/") {
				t.Errorf("%s imports %s", path, name)
			}
		}
		ast.Inspect(f, func(n ast.Node) bool {
			if s, ok := n.(*ast.SelectorExpr); ok {
				if x, ok := s.X.(*ast.Ident); ok && x.Name == "time" && (s.Sel.Name == "Now" || s.Sel.Name == "Since" || s.Sel.Name == "Sleep") {
					t.Errorf("%s uses time.%s; the moment is passed in", path, s.Sel.Name)
				}
				if x, ok := s.X.(*ast.Ident); ok && x.Name == "uuid" && strings.HasPrefix(s.Sel.Name, "New") {
					t.Errorf("%s uses uuid.%s; identities are passed in", path, s.Sel.Name)
				}
			}
			return true
		})
		return nil
	})
	if err != nil || files == 0 {
		t.Fatalf("read %d files: %v", files, err)
	}
}
