package names

import (
	"slices"
	"testing"
)

func TestListsReadThemselves(t *testing.T) {
	for text, want := range map[string][]string{
		"{}":                             {},
		"{dunlin.example}":               {"dunlin.example"},
		`{a@b.example,"two words","\""}`: {"a@b.example", "two words", `"`},
		`{"a,b","c\\d",""}`:              {"a,b", `c\d`, ""},
	} {
		var l List
		if err := l.Scan(text); err != nil || !slices.Equal(l, want) {
			t.Errorf("%s: %q %v", text, l, err)
		}
		if err := l.Scan([]byte(text)); err != nil || !slices.Equal(l, want) {
			t.Errorf("%s as bytes: %q %v", text, l, err)
		}
	}
	for _, text := range []any{"", "a", "{", "}", `{"a`, 17} {
		var l List
		if err := l.Scan(text); err == nil {
			t.Errorf("%v is %q", text, l)
		}
	}
	l := List{"x"}
	if err := l.Scan(nil); err != nil || l != nil {
		t.Errorf("nothing is %q, %v", l, err)
	}
}

func FuzzList(f *testing.F) {
	f.Add(`{a,"b"}`)
	f.Fuzz(func(_ *testing.T, text string) {
		var l List
		_ = l.Scan(text)
	})
}
