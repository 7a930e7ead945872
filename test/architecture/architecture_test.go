// Package architecture_test holds rules of the layout that the compiler does not.
package architecture_test

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
		"github.com/klippa-app/go-pdfium":    {"internal/platform/pdf"},
		"github.com/yuin/goldmark":           {"internal/platform/preview", "internal/platform/reading", "core/richtext/markdown"},
		"github.com/xuri/excelize/v2":        {"internal/platform/preview", "internal/platform/sheets", "internal/demo"},
		"encoding/xml":                       {"internal/platform/office", "internal/platform/sheets", "internal/platform/docx"},
		"archive/zip":                        {"internal/platform/office", "internal/platform/sheets", "internal/platform/docx", "internal/platform/archive", "internal/platform/preview", "internal/demo", "cmd/tabularis"},
		"image/gif":                          {"internal/platform/reading", "internal/platform/docx"},
		"golang.org/x/image/webp":            {"internal/platform/reading"},
		"golang.org/x/image/bmp":             {"internal/platform/reading"},
		module + "internal/platform/pdf":     {"internal/platform/preview", "internal/platform/reading"},
		module + "internal/platform/message": {"internal/platform/reading"},
		module + "internal/platform/sheets":  {"internal/platform/reading", "internal/app/writing"},
		module + "internal/platform/docx":    {"internal/platform/reading"},
		"encoding/csv":                       {"core/table", "internal/platform/preview", "internal/platform/archive", "internal/doors/web/door", "internal/demo"},
		"github.com/richardlehane/mscfb":     {"internal/platform/preview"},
		"github.com/microcosm-cc/bluemonday": {"internal/platform/preview"},
	}
	// These write, or tell what can be read; they parse nothing.
	calls := map[string][]string{
		module + "internal/platform/preview": {"Prepare", "PlainText"},
		module + "internal/platform/office":  {"Text", "Sound"},
		module + "internal/platform/sheets":  {"Open", "Reckon", "File"},
		module + "core/richtext/markdown":    {"Read"},
		module + "core/table":                {"ReadSeparated"},
		"image":                              {"Decode", "DecodeConfig"},
		"image/jpeg":                         {"Decode", "DecodeConfig"},
		"image/png":                          {"Decode", "DecodeConfig"},
		"archive/zip":                        {"NewReader", "OpenReader"},
		"encoding/csv":                       {"NewReader"},
	}
	// The command that checks evidence confines itself before it reads.
	inCells := []string{"internal/platform/reading", "internal/platform/preview", "internal/platform/office", "internal/platform/pdf", "internal/platform/sheets", "internal/platform/docx", "core/table", "cmd/tabularis"}
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
	allowed := []string{"internal/platform/cell", "internal/platform/office", "internal/platform/recognition", "internal/backup", "internal/devdb", "internal/browser", "internal/testkit", "cmd/tabularis", "cmd/dependencies"}
	for _, s := range sources(t) {
		if _, ok := s.imports["os/exec"]; ok && !slices.Contains(allowed, s.pkg) {
			t.Errorf("%s starts processes", s.path)
		}
	}
}

// texts are the string literals of a file.
func (s source) texts() (all []string) {
	ast.Inspect(s.file, func(n ast.Node) bool {
		if lit, ok := n.(*ast.BasicLit); ok && lit.Kind == token.STRING {
			if text, err := strconv.Unquote(lit.Value); err == nil {
				all = append(all, text)
			}
		}
		return true
	})
	return all
}

var statement = regexp.MustCompile(`^\s*(?i:select|insert into|update|delete from|with recursive|truncate)\s+[\w$(*']`)

// SQL stands in stores: files named store.go or store_*.go beside the use cases, and
// what runs the database itself.
func TestStatementsStandInStores(t *testing.T) {
	runs := []string{"internal/platform/postgres", "internal/devdb", "internal/testkit"}
	// Acts, jobs and locks deal with the driver itself.
	driver := []string{"internal/platform/lease/locks.go", "internal/platform/jobs/work.go", "internal/app/act/driver.go", "internal/backup/backup.go"}
	for _, s := range sources(t) {
		if slices.Contains(runs, s.pkg) || slices.Contains(driver, s.path) || strings.HasPrefix(filepath.Base(s.path), "store") {
			continue
		}
		for _, text := range s.texts() {
			if statement.MatchString(text) {
				t.Errorf("%s runs %.60q", s.path, text)
			}
		}
	}
}

// Folders, documents and versions are changed by their home alone. Beside it, access
// notes by which root a document is decided, and events which was the last one.
func TestItemsAreChangedInOnePlace(t *testing.T) {
	writes := regexp.MustCompile(`(?i)(insert into|update|delete from)\s+((?:all_)?items|versions|blobs)\b\s*(?:\w\s)?\s*(set \w+)?`)
	beside := map[string][]string{
		"internal/app/access/store_roots.go": {"UPDATE all_items SET scope_id"},
		"internal/app/act/store.go":          {"UPDATE items SET last_event_id"},
	}
	for _, s := range sources(t) {
		if s.pkg == "internal/app/items" {
			continue
		}
		for _, text := range s.texts() {
			for _, found := range writes.FindAllString(text, -1) {
				if !slices.Contains(beside[s.path], strings.TrimSpace(found)) {
					t.Errorf("%s changes items: %q", s.path, found)
				}
			}
		}
	}
}

// What is deleted is absent: only those name it who keep it where it belongs, judge by
// it who may know of what happened, or say what happened.
func TestWhatIsDeletedIsNamedInFewPlaces(t *testing.T) {
	may := []string{"internal/app/items/store_moves.go", "internal/app/access/store_links.go", "internal/app/access/store_stamps.go", "internal/app/access/store_roots.go",
		"internal/app/act/store.go", "internal/app/activity/store.go", "internal/app/items/store_deleting.go", "internal/app/access/store_sights.go", "internal/app/deletion/store.go"}
	sets := []string{"internal/app/activity/store.go", "internal/app/items/store_deleting.go"}
	for _, s := range sources(t) {
		for _, text := range s.texts() {
			if strings.Contains(text, "deleted_at") && !slices.Contains(sets, s.path) && s.pkg != "core/items" || strings.Contains(text, "all_items") && !slices.Contains(may, s.path) {
				t.Errorf("%s names what is deleted: %.80q", s.path, text)
			}
			if strings.Contains(text, "all_dossiers") && !slices.Contains(append(may, "internal/app/items/store.go"), s.path) {
				t.Errorf("%s names deleted dossiers: %.80q", s.path, text)
			}
		}
	}
}

// Dependencies point inward: use cases know no door, platform and rules know no use
// case, and no capability is reached but by what it exports.
func TestDependenciesPointInward(t *testing.T) {
	outward := map[string][]string{
		"core/":             {"internal/"},
		"internal/platform": {"internal/app", "internal/doors", "internal/server"},
		"internal/app":      {"internal/doors", "internal/server", "internal/demo", "github.com/gin-gonic", "net/http"},
	}
	// Passkeys are answered by a package that wants whole requests.
	known := []string{"internal/app/sessions/passkeys.go"}
	for _, s := range sources(t) {
		for at := range s.imports {
			for from, never := range outward {
				if !strings.HasPrefix(s.pkg+"/", from) || slices.Contains(known, s.path) {
					continue
				}
				for _, n := range never {
					if inside := strings.TrimPrefix(at, module); strings.HasPrefix(inside, n) {
						t.Errorf("%s imports %s", s.path, at)
					}
				}
			}
		}
	}
}

// Doors decode, call a use case and present: they know no database. Which kind of
// failure an error of it is, one place among them says.
func TestDoorsCallUseCasesOnly(t *testing.T) {
	for _, s := range sources(t) {
		if !strings.HasPrefix(s.pkg, "internal/doors/web") {
			continue
		}
		for _, never := range []string{"internal/platform/postgres", "internal/app/accounts/store"} {
			if _, ok := s.imports[module+never]; ok && s.pkg != "internal/doors/web/door" {
				t.Errorf("%s imports %s", s.path, never)
			}
		}
		if s.path == "internal/doors/web/health.go" {
			// It asks whether the database is there at all.
			continue
		}
		ast.Inspect(s.file, func(n ast.Node) bool {
			if sel, ok := n.(*ast.SelectorExpr); ok && sel.Sel.Name == "DB" {
				t.Errorf("%s reaches for the database", s.path)
			}
			return true
		})
	}
}

// importsOf are the files of ours that a file of the front end imports.
func importsOf(file, text string) (all []string) {
	for _, m := range regexp.MustCompile(`(?m)(?:from|import\() ?'(\.[^']+)'`).FindAllStringSubmatch(text, -1) {
		all = append(all, filepath.ToSlash(filepath.Join(filepath.Dir(file), m[1])))
	}
	return all
}

// pageSources are the files of the front end that people write, by their paths in it.
func pageSources(t *testing.T) map[string]string {
	t.Helper()
	const root = "../../web/src/"
	all := map[string]string{}
	err := filepath.WalkDir(root, func(path string, d fs.DirEntry, err error) error {
		if err != nil || d.IsDir() || !slices.Contains([]string{".vue", ".ts", ".scss"}, filepath.Ext(path)) {
			return err
		}
		raw, err := os.ReadFile(path)
		all[strings.TrimPrefix(filepath.ToSlash(path), root)] = string(raw)
		return err
	})
	if err != nil || len(all) < 100 {
		t.Fatalf("%d files of the front end, %v", len(all), err)
	}
	return all
}

// In the front end parts know no place, and nothing of the application; queries know
// no screen; and no two places know each other.
func TestTheFrontEndsLayout(t *testing.T) {
	never := map[string][]string{
		"parts/":   {"places/", "app/", "queries/", "uploads/", "visitor/"},
		"queries/": {"places/", "parts/", "app/", "uploads/", "visitor/"},
		"visitor/": {"places/", "app/"},
	}
	between := map[string]map[string]string{}
	for own, text := range pageSources(t) {
		for _, at := range importsOf(own, text) {
			for from, forbidden := range never {
				for _, f := range forbidden {
					if strings.HasPrefix(own, from) && strings.HasPrefix(at, f) {
						t.Errorf("%s imports %s", own, at)
					}
				}
			}
			if here, there := placeOf(own), placeOf(at); here != "" && there != "" && here != there {
				if between[here] == nil {
					between[here] = map[string]string{}
				}
				between[here][there] = own
			}
		}
	}
	for here, others := range between {
		for there, by := range others {
			if back, circle := between[there][here]; circle && here < there {
				t.Errorf("%s and %s know each other, by %s and %s", here, there, by, back)
			}
		}
	}
}

var (
	styles    = regexp.MustCompile(`(?s)<style.*?</style>`)
	classesIn = regexp.MustCompile(`(?:[\s:]class|button)="([^"]*)"`)
	word      = regexp.MustCompile(`[A-Za-z][\w-]*`)
	// What is not a selector's: comments, addresses, strings and Sass's own.
	notSelectors = regexp.MustCompile(`(?m)//.*$|url\(.*?\)|'[^'\n]*'|@import.*$`)
	selector     = regexp.MustCompile(`(?:^|[\s>+~,&:(.\]a-z])\.([A-Za-z][\w-]*)`)
	literal      = regexp.MustCompile(`(?m)^\s*(?:z-index: \d{2,}|font-size: [\d.]+(?:rem|px)|[\w-]*color: #).*$`)
)

// Sizes, layers and colours are the theme's tokens, and what the theme styles is there.
func TestStylesAreTheThemesAndAlive(t *testing.T) {
	used := map[string]bool{"ajar": true, "btn": true, "i": true, "form-control": true, "form-check-input": true, "visually-hidden": true, "offcanvas": true}
	theme := map[string]string{}
	for path, text := range pageSources(t) {
		switch filepath.Ext(path) {
		case ".scss":
			theme[path] = text
		case ".vue":
			for _, m := range classesIn.FindAllStringSubmatch(styles.ReplaceAllString(text, ""), -1) {
				for _, c := range word.FindAllString(m[1], -1) {
					used[c] = true
				}
			}
			text = strings.Join(styles.FindAllString(text, -1), "")
		default:
			continue
		}
		if !strings.HasSuffix(path, "_theme.scss") {
			for _, l := range literal.FindAllString(text, -1) {
				t.Errorf("%s has no token in %q", path, strings.TrimSpace(l))
			}
		}
	}
	for path, text := range theme {
		for _, m := range selector.FindAllStringSubmatch(notSelectors.ReplaceAllString(text, ""), -1) {
			if !used[m[1]] {
				t.Errorf("%s styles .%s, which is nowhere", path, m[1])
			}
		}
	}
}

// placeOf is the place that a file belongs to, if it belongs to one.
func placeOf(file string) string {
	rest, ok := strings.CutPrefix(file, "places/")
	if !ok {
		return ""
	}
	place, _, _ := strings.Cut(rest, "/")
	return place
}
