package find

import (
	"fmt"
	"math/rand/v2"
	"slices"
	"strings"
	"testing"

	"tabularis/core/fault"
)

func words(text string) (all []string) {
	tokens(text, func(t token) bool {
		all = append(all, t.word)
		return true
	})
	return all
}

func TestWordsOfATextAreCut(t *testing.T) {
	for _, c := range []struct{ text, want string }{
		{"Hull thickness, frame 24.", "hull thickness frame 24"},
		{"HR-2019/004512", "hr2019004512 hr 2019 004512"},
		{"on 2023-04-17 at 1.250,00", "on 20230417 2023 04 17 at 125000 1 250 00"},
		{"hull-thickness and/or plating", "hull thickness and or plating"},
		{"Schäden Schäden STRASSE Straße", "schäden schäden strasse strasse"},
		{"end. Next, -3 /a a/", "end next 3 a a"},
		{"ﬁne ½ ²", "fine"},
		{"", ""}, {"...---...", ""},
		{strings.Repeat("x", 200), strings.Repeat("x", mostRunes)},
	} {
		if got := strings.Join(words(c.text), " "); got != c.want {
			t.Errorf("%.40q is cut into %q, wanted %q", c.text, got, c.want)
		}
	}
}

func TestLanguages(t *testing.T) {
	for text, want := range map[string]Language{
		"The plating was found in fair condition with pitting at the turn of the bilge": English,
		"Die Außenhaut ist im Bereich der Kimm angegriffen und sollte erneuert werden":  German,
		"Schäden": German, "": English, "MER-24/017": English,
	} {
		if got := LanguageOf(text); got != want {
			t.Errorf("%q is taken for %s", text, got)
		}
	}
}

// What is found by which question, and what not.
func TestQuestionsAreAnswered(t *testing.T) {
	english := Text{Name: "Condition survey report Corran Lass", Beside: []string{"urgent"}, Pages: []string{
		"The hull was surveyed afloat at Tessaly.", "Repairs to the plating of frame 24 are recommended. Certificate HR-2019/004512 was seen, valued at 1.250,00."}}
	german := Text{Name: "Gutachten Schlepper Pellew", Pages: []string{"Die Schäden an der Außenhaut wurden am 17.04.2023 besichtigt. Die Vermessung der Platten ist beigefügt."}}
	for _, c := range []struct {
		asked    string
		en, de   bool
		typing   bool
		question string
	}{
		{asked: "survey", en: true}, {asked: "surveys Corran", en: true}, {asked: "repair plating", en: true},
		{asked: "\"frame 24\"", en: true}, {asked: "\"24 frame\""}, {asked: "\"plating of frame\"", en: true}, {asked: "\"plating frame\""},
		{asked: "\"surveyed afloat at tessaly repairs\"", en: true}, {asked: "\"Lass urgent\""},
		{asked: "HR-2019/004512", en: true}, {asked: "004512", en: true}, {asked: "hr2019004512", en: true}, {asked: "HR-2019/004513"},
		{asked: "schaden", de: true}, {asked: "Schaeden", de: true}, {asked: "Schäden außenhaut", de: true}, {asked: "AUSSENHAUT", de: true}, {asked: "2023", de: true},
		{asked: "17.04.2023", de: true}, {asked: "survey -corran"}, {asked: "hull -tug", en: true}, {asked: "hull -\"frame 24\""}, {asked: "hull -\"frame 25\"", en: true},
		{asked: "corran OR pellew", en: true, de: true}, {asked: "hull corran ODER pellew", en: true}, {asked: "pellew | nothing", de: true},
		{asked: "verm*", de: true}, {asked: "verm"}, {asked: "verm", typing: true, de: true}, {asked: "ve", typing: true}, {asked: "urgent", en: true},
		{asked: "the hull", en: true}, {asked: "und die Platten", de: true}, {asked: "recommended \"", en: true}, {asked: "OR hull OR", en: true},
		{asked: "“frame 24”", en: true}, {asked: "„Außenhaut wurden“", de: true}, {asked: `hu\ll`}, {asked: "frame'24", en: true},
	} {
		q, err := read(c.asked, c.typing)
		if err != nil {
			t.Errorf("%q: %v", c.asked, err)
			continue
		}
		if got := q.Marker(English).Holds(english); got != c.en {
			t.Errorf("%q finds the English text: %v (%s)", c.asked, got, q.TSQuery())
		}
		if got := q.Marker(German).Holds(german); got != c.de {
			t.Errorf("%q finds the German text: %v (%s)", c.asked, got, q.TSQuery())
		}
	}
}

func TestQuestionsThatAreRefused(t *testing.T) {
	many := strings.Repeat("hull ", mostTerms+1)
	for asked, code := range map[string]error{"": errQuestionEmpty.In("q", ""), " \"\" - ": errQuestionEmpty.In("q", ""), "-hull": errQuestionEmpty.In("q", ""), "!!!": errQuestionEmpty.In("q", ""),
		strings.Repeat("x", MostRunes+1): errQuestionLong.In("q", ""), many: errQuestionLong.In("q", ""), "a\xffb": errQuestionLong.In("q", "")} {
		_, err := Read(asked)
		if got := fault.Of(err); got == nil || got.Code != fault.Of(code).Code {
			t.Errorf("%.30q: %v", asked, err)
		}
	}
}

func TestSnippets(t *testing.T) {
	pages := []string{"Nothing of it here.", strings.Repeat("Words before it. ", 40) + "The plating of frame 24 was gauged anew. " + strings.Repeat("Words behind it. ", 40)}
	q, err := Read("plating \"frame 24\"")
	if err != nil {
		t.Fatal(err)
	}
	s, ok := q.Marker(English).Snippet(pages)
	if !ok || s.Page != 1 || !s.Before || !s.After || len(s.Text) > 2*snippetBytes || len(s.Marks) != 2 {
		t.Fatalf("%v %+v", ok, s)
	}
	if a, b := s.Text[s.Marks[0].From:s.Marks[0].To], s.Text[s.Marks[1].From:s.Marks[1].To]; a != "plating" || b != "frame 24" {
		t.Errorf("marked are %q and %q", a, b)
	}
	if _, ok := q.Marker(English).Snippet([]string{"nothing", ""}); ok {
		t.Error("a snippet of nothing")
	}
}

// Whatever is asked and written: nothing panics, marks lie within their text, and what a
// snippet shows is marked.
func FuzzFind(f *testing.F) {
	f.Add("\"frame 24\" -x OR y*", "The plating of frame 24, HR-2019/004512")
	f.Add("ä\u0308 “", "ä\u0308äöü ßSS \u202e")
	f.Fuzz(func(t *testing.T, asked, text string) {
		v := Index(Text{Name: text, Pages: []string{text, asked}})
		if len(v.Literal) > 4*mostBytes {
			t.Fatalf("a vector of %d bytes", len(v.Literal))
		}
		q, err := ReadTyped(asked)
		if err != nil {
			return
		}
		m := q.Marker(v.Language)
		for _, s := range m.Marks(text) {
			if s.From < 0 || s.From >= s.To || s.To > len(text) {
				t.Fatalf("marked %v of %d", s, len(text))
			}
		}
		if s, ok := m.Snippet([]string{text}); ok && len(s.Text) > 0 && len(s.Marks) > 0 && s.Marks[len(s.Marks)-1].To > len(s.Text) {
			t.Fatalf("%+v", s)
		}
		m.Holds(Text{Pages: []string{text}})
		_ = q.TSQuery()
	})
}

// A vector holds the words of a text, however many there are, within what PostgreSQL takes.
func TestVectorsAreBounded(t *testing.T) {
	r := rand.New(rand.NewPCG(1, 2))
	var page strings.Builder
	for range 300_000 {
		fmt.Fprintf(&page, "%x ", r.Uint64())
	}
	v := Index(Text{Name: "many", Pages: []string{page.String()}})
	if !v.Cut || len(v.Literal) > 2*mostBytes || !strings.Contains(v.Literal, "'mani':1A") {
		t.Errorf("cut %v, %d bytes", v.Cut, len(v.Literal))
	}
	short := Index(Text{Name: "Hull", Beside: []string{"urgent"}, Pages: []string{"the hull", "and hull"}})
	if short.Cut || !slices.Contains(strings.Fields(short.Literal), "'hull':1A,44,46") {
		t.Error(short.Literal)
	}
}
