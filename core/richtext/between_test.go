package richtext_test

import (
	"fmt"
	"math/rand/v2"
	"testing"

	"tabularis/core/richtext"
)

func paragraphs(t *testing.T, words ...string) *richtext.Node {
	t.Helper()
	content := "["
	for i, w := range words {
		if i > 0 {
			content += ","
		}
		content += fmt.Sprintf(`{"type":"paragraph","content":[{"type":"text","text":%q}]}`, w)
	}
	return document(t, content+"]")
}

// Put into the text it began with, what came gives the text that came.
func TestWhatDiffersLeadsThere(t *testing.T) {
	for seed := range 300 {
		r := rand.New(rand.NewPCG(3, uint64(seed)))
		some := func() []string {
			var all []string
			for range 1 + r.IntN(7) {
				all = append(all, []string{"plate", "frame 31", "the yard", "coated", "31.0 %"}[r.IntN(5)])
			}
			return all
		}
		old, came := paragraphs(t, some()...), paragraphs(t, some()...)
		steps, ok := richtext.Merged(old, came, old, nil)
		if !ok {
			t.Fatalf("seed %d: not merged", seed)
		}
		doc := old
		for _, s := range steps {
			var err error
			if doc, err = s.Apply(doc); err != nil {
				t.Fatal(err)
			}
		}
		if !doc.Equal(came) {
			t.Fatalf("seed %d: %q, want %q", seed, doc.Plain(), came.Plain())
		}
	}
}

func TestMerging(t *testing.T) {
	old := paragraphs(t, "one", "two", "three")
	edit := func(from, to int, text string) string {
		return fmt.Sprintf(`{"stepType":"replace","from":%d,"to":%d,"slice":{"content":[{"type":"text","text":%q}]}}`, from, to, text)
	}
	for name, c := range map[string]struct {
		step string
		came *richtext.Node
		want string
	}{
		"different paragraphs":      {edit(4, 4, "!"), paragraphs(t, "one", "two", "3"), "one!\ntwo\n3"},
		"one came between":          {edit(4, 4, "!"), paragraphs(t, "one", "new", "two", "three"), "one!\nnew\ntwo\nthree"},
		"one went, another changed": {edit(4, 4, "!"), paragraphs(t, "one", "three"), "one!\nthree"},
		"nothing came":              {edit(4, 4, "!"), old, "one!\ntwo\nthree"},
		"beside each other":         {edit(4, 4, "!"), paragraphs(t, "1", "two", "three"), "1!\ntwo\nthree"},
		"the same words":            {edit(2, 3, "N"), paragraphs(t, "1", "two", "three"), ""},
		"one that went was changed": {edit(9, 9, "!"), paragraphs(t, "one", "three"), ""},
	} {
		t.Run(name, func(t *testing.T) {
			s, err := richtext.Written.ReadStep([]byte(c.step))
			if err != nil {
				t.Fatal(err)
			}
			now, err := s.Apply(old)
			if err != nil {
				t.Fatal(err)
			}
			steps, ok := richtext.Merged(old, c.came, now, []richtext.StepMap{s.Map()})
			for _, s := range steps {
				if now, err = s.Apply(now); err != nil {
					t.Fatal(err)
				}
			}
			if ok != (c.want != "") || ok && now.Plain() != c.want {
				t.Errorf("%v: %q", ok, now.Plain())
			}
		})
	}
}
