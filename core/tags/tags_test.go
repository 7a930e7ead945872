package tags

import (
	"fmt"
	"strings"
	"testing"
)

func TestNames(t *testing.T) {
	for name, want := range map[string]string{"urgent": "urgent", "  to   be renewed ": "to be renewed", "Maß": "Maß", strings.Repeat("ä", 30): strings.Repeat("ä", 30)} {
		if got, err := Name(name); err != nil || got != want {
			t.Errorf("%q: %q, %v", name, got, err)
		}
	}
	for _, name := range []string{"", "   ", "a,b", strings.Repeat("x", 61), strings.Repeat("x", 1000), "a\x00b", "a\u202eb", "\xff"} {
		if got, err := Name(name); err == nil {
			t.Errorf("%.20q may be %q", name, got)
		}
	}
}

func TestWanted(t *testing.T) {
	got, err := Wanted([]string{"Urgent", "yard", "URGENT", "yard "})
	if err != nil || fmt.Sprint(got) != "[Urgent yard]" {
		t.Errorf("%v, %v", got, err)
	}
	many := make([]string, MostAtOnce+1)
	for i := range many {
		many[i] = fmt.Sprint("tag ", i)
	}
	if _, err := Wanted(many); err == nil {
		t.Error("too many at once are wanted")
	}
}
