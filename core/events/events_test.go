package events

import (
	"maps"
	"slices"
	"strings"
	"testing"
)

func TestWhatIsSaidIsWhatIsStored(t *testing.T) {
	said := LinkOpened.With(Opening{Visit: Visit{LinkNamed: LinkNamed{Link: "For Calder"}, Email: "b.quist@calder.example", Known: "stated"}, Opening: 2, Limit: 3})
	want := map[string]string{"link": "For Calder", "email": "b.quist@calder.example", "known": "stated", "opening": "2", "limit": "3"}
	if got := said.Map(); !maps.Equal(got, want) {
		t.Errorf("%v", got)
	}
	if got := string(PracticeRules.With(Nothing{}).Data()); got != "{}" {
		t.Errorf("nothing is %s", got)
	}
	// Numbers that are not known are left out.
	if got := LinkOpened.With(Opening{Opening: 1}).Map(); !maps.Equal(got, map[string]string{"opening": "1"}) {
		t.Errorf("%v", got)
	}
	if (Said{}).Kind().Name != "" {
		t.Error("nothing said has a kind")
	}
	if len(MapOf([]byte("[]"))) != 0 {
		t.Error("what cannot be read is not empty")
	}
}

func TestTheVocabulary(t *testing.T) {
	all := All()
	if len(all) < 50 {
		t.Fatalf("%d kinds", len(all))
	}
	for _, k := range all {
		about, what, ok := strings.Cut(k.Name, ".")
		if !ok || what == "" || strings.ToLower(k.Name) != k.Name {
			t.Errorf("%q is not a thing and what became of it", k.Name)
		}
		if k.Tidings && !k.TellsSender || k.TellsSender && !k.Outside || k.Outside && k.About != OfLink {
			t.Errorf("%s tells the sender of what is not done by a visitor", k.Name)
		}
		if (about == "link") != (k.About == OfLink) {
			t.Errorf("%s is about %d", k.Name, k.About)
		}
		if k.About == OfLink && !slices.Contains(k.Keys, "link") {
			t.Errorf("%s does not name the link", k.Name)
		}
		if named, ok := KindNamed(k.Name); !ok || named.Name != k.Name {
			t.Errorf("%s is not found", k.Name)
		}
	}
	defer func() {
		if recover() == nil {
			t.Error("a kind was declared twice")
		}
	}()
	declare[Nothing](Kind{Name: "practice.rules"})
}
