package architecture_test

import (
	"cmp"
	"encoding/json"
	"go/ast"
	"os"
	"path/filepath"
	"regexp"
	"slices"
	"strings"
	"testing"

	"tabularis/api"
	"tabularis/core/events"
	"tabularis/core/fault"
	_ "tabularis/internal/server"
)

// words are the keys of a language's files, one a capability, each with the keys around
// it: it reads the form in which they are written, one key a line.
func words(t *testing.T, language string) map[string]bool {
	t.Helper()
	files, err := filepath.Glob("../../web/src/i18n/" + language + "/*.ts")
	if err != nil {
		t.Fatal(err)
	}
	all := map[string]bool{}
	for _, name := range files {
		raw, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		for key := range keys(string(raw)) {
			// Capabilities share groups, but no words.
			if all[key] && strings.Contains(key, ".") {
				t.Errorf("%s is said twice, also in %s", key, name)
			}
			all[key] = true
		}
	}
	shared(t, language, all)
	if len(all) < 500 {
		t.Fatalf("%d words in %s", len(all), language)
	}
	return all
}

// shared adds the words that the server says, too: their groups, where the page has them.
func shared(t *testing.T, language string, all map[string]bool) {
	t.Helper()
	raw, err := os.ReadFile("../../core/events/words/" + language + ".json")
	if err != nil {
		t.Fatal(err)
	}
	var groups map[string]any
	if err := json.Unmarshal(raw, &groups); err != nil {
		t.Fatal(err)
	}
	within := map[string]string{"standing": "people.standing", "folded": "activity.folded"}
	for group, said := range groups {
		words, ok := said.(map[string]any)
		if !ok {
			continue
		}
		place := cmp.Or(within[group], group)
		if !all[place] {
			t.Errorf("the page does not take over %s", place)
		}
		for key := range words {
			all[place+"."+key] = true
		}
	}
}

func keys(raw string) map[string]bool {
	key := regexp.MustCompile(`^( *)'?([\w.-]+)'?:(.*)$`)
	all, around := map[string]bool{}, []string{}
	for _, line := range strings.Split(raw, "\n") {
		m := key.FindStringSubmatch(line)
		if m == nil {
			continue
		}
		depth := len(m[1])/2 - 1
		if depth < 0 || depth > len(around) {
			continue
		}
		around = append(around[:depth], m[2])
		all[strings.Join(around, ".")] = true
		// A short group stands in one line.
		if group, ok := strings.CutPrefix(strings.TrimSpace(m[3]), "{"); ok && strings.Contains(group, "}") {
			for _, inner := range regexp.MustCompile(`'?([\w.-]+)'?: (?:['"]|words\.)`).FindAllStringSubmatch(group, -1) {
				all[strings.Join(append(slices.Clone(around), inner[1]), ".")] = true
			}
		}
	}
	return all
}

// Whatever the page asks for by name is said in both languages.
func TestWordsThatAreAskedForAreThere(t *testing.T) {
	asked := regexp.MustCompile(`\bt\(\s*'([\w.-]+)'`)
	english, german, n := words(t, "en"), words(t, "de"), 0
	for name, text := range pageSources(t) {
		if strings.HasPrefix(name, "visitor/") {
			continue
		}
		for _, m := range asked.FindAllStringSubmatch(text, -1) {
			if n++; !english[m[1]] || !german[m[1]] {
				t.Errorf("%s asks for %s, which nobody says", name, m[1])
			}
		}
	}
	if n < 500 {
		t.Fatalf("%d words are asked for", n)
	}
}

// Whatever can happen has a sentence in both languages, and the contract names it.
func TestEventsHaveWords(t *testing.T) {
	var kinds []string
	for _, k := range events.All() {
		kinds = append(kinds, k.Name)
	}
	for _, language := range []string{"en", "de"} {
		have := words(t, language)
		for _, k := range kinds {
			if key := strings.Replace(k, ".", "_", 1); !have["event."+key] {
				t.Errorf("%s has no words for %s", language, k)
			}
		}
		for word := range have {
			if key, ok := strings.CutPrefix(word, "event."); ok && !slices.Contains(kinds, strings.Replace(key, "_", ".", 1)) {
				t.Errorf("%s has words for %s, which cannot happen", language, key)
			}
		}
	}
	doc, err := api.Raw()
	if err != nil {
		t.Fatal(err)
	}
	var named []string
	for _, k := range doc.Components.Schemas["EventKind"].Value.Enum {
		named = append(named, k.(string))
	}
	slices.Sort(named)
	if !slices.Equal(named, kinds) {
		t.Errorf("the contract names %v, the vocabulary %v", named, kinds)
	}
}

// ofThePage are what the page itself says, without having been told by the server.
var ofThePage = []string{"offline", "internal", "passkey-closed", "title", "sealed-changed", "file-unreadable"}

// Whatever the server refuses is declared, and has words in both languages; words for
// what nobody refuses are gone. Visitors are told by a file of their own.
func TestRefusalsHaveWords(t *testing.T) {
	codes := map[string]bool{}
	for _, c := range fault.Declared() {
		codes[c.Name()] = true
		if c.Kind() == fault.Internal && c.Name() != "internal" || strings.TrimSpace(c.Meaning()) == "" {
			t.Errorf("%s: kind %v, meaning %q", c.Name(), c.Kind(), c.Meaning())
		}
	}
	if len(codes) < 130 {
		t.Fatalf("%d refusals are declared", len(codes))
	}
	for _, language := range []string{"en", "de"} {
		have := words(t, language)
		for code := range codes {
			if !have["problem."+code] {
				t.Errorf("%s has no words for %s", language, code)
			}
		}
		for word := range have {
			if code, ok := strings.CutPrefix(word, "problem."); ok && !codes[code] && !slices.Contains(ofThePage, code) {
				t.Errorf("%s has words for %s, which nobody refuses", language, code)
			}
		}
	}
}

// A refusal is made of a declared code: nothing else fills one in but what reads it
// from a cell.
func TestRefusalsAreDeclared(t *testing.T) {
	for _, s := range sources(t) {
		if s.pkg == "core/fault" || s.path == "internal/platform/cell/process.go" {
			continue
		}
		ast.Inspect(s.file, func(n ast.Node) bool {
			lit, ok := n.(*ast.CompositeLit)
			if !ok {
				return true
			}
			if of, ok := lit.Type.(*ast.SelectorExpr); ok && of.Sel.Name == "Error" && s.imports[module+"core/fault"] != "" {
				if pkg, ok := of.X.(*ast.Ident); ok && pkg.Name == s.imports[module+"core/fault"] {
					t.Errorf("%s makes a refusal by hand", s.path)
				}
			}
			return true
		})
	}
}

// What the contract names as refusals is declared, and whatever is declared is
// answered by some operation, or by what stands beside them.
func TestTheContractNamesRefusals(t *testing.T) {
	operations, err := api.Operations()
	if err != nil {
		t.Fatal(err)
	}
	declared, named := map[string]bool{}, map[string]bool{}
	for _, c := range fault.Declared() {
		declared[c.Name()] = true
	}
	for key, op := range operations {
		for _, code := range op.Errors {
			if named[code] = true; !declared[code] {
				t.Errorf("%s names %s, which is not declared", key, code)
			}
		}
	}
	// Content, uploads and pages are described in docs/formats.md.
	beside := []string{"too-large", "incomplete", "hash-differs", "name-is-document", "name-is-folder", "practice-full", "dossier-full", "person-full", "width", "unreadable", "unshowable", "path-too-deep", "hash-form", "size-unknown", "paper-unknown", "intake-full", "ending-not-taken",
		// Mail programs are told by SMTP, docs/mail.md.
		"mail-not-yours", "mail-recipients", "mail-taking", "mail-unreadable",
		// What a route does by itself is refused to nobody: it holds the run up.
		"route-deep", "route-unplaced", "terms-unread",
		// Spans are checked as words of a route.
		"working-span"}
	for code := range declared {
		if !named[code] && !slices.Contains(beside, code) {
			t.Errorf("no operation names %s", code)
		}
	}
}
