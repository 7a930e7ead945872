package architecture_test

import (
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"tabularis/api"
	"tabularis/core/events"
)

// words are the keys of a language's file, each with the keys around it: it reads the
// form in which they are written, one key a line.
func words(t *testing.T, language string) map[string]bool {
	t.Helper()
	raw, err := os.ReadFile("../../web/src/i18n/" + language + ".ts")
	if err != nil {
		t.Fatal(err)
	}
	key := regexp.MustCompile(`^( *)'?([\w.-]+)'?:(.*)$`)
	all, around := map[string]bool{}, []string{}
	for _, line := range strings.Split(string(raw), "\n") {
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
			for _, inner := range regexp.MustCompile(`'?([\w.-]+)'?: ['"]`).FindAllStringSubmatch(group, -1) {
				all[strings.Join(append(slices.Clone(around), inner[1]), ".")] = true
			}
		}
	}
	if len(all) < 500 {
		t.Fatalf("%d words in %s", len(all), language)
	}
	return all
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
