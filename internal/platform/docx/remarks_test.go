package docx

import (
	"fmt"
	"math/rand/v2"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"tabularis/core/richtext"
)

func remark(words string, nth int, said ...string) Remark {
	r := Remark{Held: richtext.Held{Words: words, Nth: nth}}
	for i, text := range said {
		r.Said = append(r.Said, Said{"Inês Okafor", time.Date(2026, 11, 3, 9, i, 0, 0, time.UTC), text})
	}
	return r
}

func remarkedAs(t testing.TB, raw []byte, all ...Remark) []byte {
	t.Helper()
	after, err := WithRemarks(raw, all)
	if err != nil {
		t.Fatal(err)
	}
	return after
}

// ranged are the words between where a remark begins and where it ends.
func ranged(t testing.TB, raw []byte, id int) string {
	t.Helper()
	text := part(t, raw, "word/document.xml")
	_, after, begins := strings.Cut(text, fmt.Sprintf(`<w:commentRangeStart w:id="%d"/>`, id))
	within, rest, ends := strings.Cut(after, fmt.Sprintf(`<w:commentRangeEnd w:id="%d"/>`, id))
	if !begins || !ends || !strings.HasPrefix(rest, fmt.Sprintf(`<w:r><w:commentReference w:id="%d"/></w:r>`, id)) {
		t.Fatalf("remark %d has no beginning or end in %s", id, text)
	}
	within = regexp.MustCompile(`<w:instrText.*?</w:instrText>`).ReplaceAllString(within, "")
	within = strings.ReplaceAll(within, "</w:p>", "|")
	return regexp.MustCompile(`<[^>]*>`).ReplaceAllString(within, "")
}

func TestRemarksStandAtTheirWords(t *testing.T) {
	raw := packed(t, letter, nil)
	for _, c := range []struct {
		what, words string
		nth         int
		stands      string
	}{
		{"in one run", "fee is", 0, "fee is"},
		{"across runs", "is £12,400 a", 0, "is £12,400 a"},
		{"the second time", "Survey", 1, "Survey"},
		{"in a cell", "Amounts", 0, "Amounts"},
		{"across paragraphs", "month.\n Survey", 0, "month.|Survey"},
		{"across what is proposed", "within 3014 days", 0, "within 3014 days"},
		{"in a link", "the yard", 0, "the yard"},
		{"one letter", "£", 0, "£"},
		{"words that went away", "nowhere", 0, "Fee letter"},
		{"a time too often", "Drawings", 7, "Drawings"},
		{"no words", "", 0, "Fee letter"},
		{"spaces", " \u00a0 ", 0, "Fee letter"},
	} {
		t.Run(c.what, func(t *testing.T) {
			after := remarkedAs(t, raw, remark(c.words, c.nth, "Why?"))
			if got := ranged(t, after, 8); got != c.stands {
				t.Errorf("it stands at %q", got)
			}
			comments := part(t, after, "word/comments.xml")
			for _, want := range []string{`w:id="7" w:author="M. Sato"`, `w:id="8" w:author="Inês Okafor" w:initials="IO" w:date="2026-11-03T09:00:00Z"`, ">Why?<"} {
				if !strings.Contains(comments, want) {
					t.Errorf("%s is not in %s", want, comments)
				}
			}
			if got, want := bereft(t, after), bereft(t, raw); got != want {
				t.Errorf("the text is\n%s\nwhere it was\n%s", got, want)
			}
		})
	}
}

// bereft is a text without remarks, and with the words between them together again.
func bereft(t testing.TB, raw []byte) string {
	t.Helper()
	var without func(n *richtext.Node)
	without = func(n *richtext.Node) {
		n.Content.Nodes = slices.DeleteFunc(n.Content.Nodes, func(c *richtext.Node) bool { return c.Attrs["kind"] == "remark" })
		for _, c := range n.Content.Nodes {
			without(c)
		}
	}
	doc := read(t, raw)
	without(doc)
	return known(asJSON(t, doc.Unremarked()))
}

func TestAThreadIsARowOfRemarks(t *testing.T) {
	raw := packed(t, letter, nil)
	after := remarkedAs(t, raw, remark("The fee", 0, "Is it <usual> & fair?\nAsk them.", "It is."), remark("Survey", 0, "Ours."))
	for id, want := range map[int]string{8: "The fee", 9: "The fee", 10: "Survey"} {
		if got := ranged(t, after, id); got != want {
			t.Errorf("%d stands at %q", id, got)
		}
	}
	comments := part(t, after, "word/comments.xml")
	if !strings.Contains(comments, "Is it &lt;usual&gt; &amp; fair?</w:t></w:r></w:p><w:p>") || strings.Count(comments, "<w:comment ") != 4 {
		t.Errorf("they are %s", comments)
	}
	// What nobody spoke of is byte by byte what it was.
	text := part(t, after, "word/document.xml")
	for _, kept := range []string{letter[:strings.Index(letter, "<w:p><w:pPr><w:pStyle w:val=\"BodyText\"/>")], letter[strings.Index(letter, "<w:tbl>"):]} {
		if !strings.Contains(text, kept) {
			t.Errorf("%s is not in %s", kept, text)
		}
	}
	if string(remarkedAs(t, raw)) != string(raw) {
		t.Error("without remarks it is not the same file")
	}
	flat := converted(t, after, "fodt", "a.fodt")
	for _, want := range []string{"<dc:creator>Inês Okafor</dc:creator>", "<dc:creator>M. Sato</dc:creator>", "Is it &lt;usual&gt; &amp; fair?", "Ask them."} {
		if !strings.Contains(flat, want) {
			t.Errorf("an office program does not find %s", want)
		}
	}
	if n := strings.Count(flat, "</office:annotation>"); n != 4 {
		t.Errorf("an office program finds %d remarks", n)
	}
}

func TestRemarksInDocumentsWithout(t *testing.T) {
	fresh, err := Write(nil, read(t, packed(t, `<w:p><w:r><w:t>Minutes</w:t></w:r></w:p>`, nil)), nil, nil)
	if err != nil {
		t.Fatal(err)
	}
	after := remarkedAs(t, fresh, remark("Minutes", 0, "Whose?"))
	if ranged(t, after, 0) != "Minutes" || !strings.Contains(part(t, after, "[Content_Types].xml"), "comments+xml") || !strings.Contains(part(t, after, "word/_rels/document.xml.rels"), "/comments") {
		t.Errorf("%s", part(t, after, "word/document.xml"))
	}
	opened(t, after, "Minutes")
	for what, body := range map[string]string{"an empty line": `<w:p/>`, "no line": ``, "only what is kept": `<w:sdt><w:sdtContent><w:p><w:r><w:t>x</w:t></w:r></w:p></w:sdtContent></w:sdt>`} {
		after := remarkedAs(t, packed(t, body, nil), remark("x", 0, "Hm."))
		if got := ranged(t, after, 8); got != "" {
			t.Errorf("%s: it stands at %q", what, got)
		}
		read(t, after)
	}
}

// However many remarks hold on to whatever words, the text stays what it is.
func TestRemarksChangeNoText(t *testing.T) {
	raw := packed(t, letter, nil)
	said := []rune(read(t, raw).Plain())
	for seed := range 200 {
		r := rand.New(rand.NewPCG(5, uint64(seed)))
		var all []Remark
		for range 1 + r.IntN(6) {
			from := r.IntN(len(said))
			all = append(all, remark(string(said[from:from+1+r.IntN(min(60, len(said)-from))]), r.IntN(3), "a"))
		}
		after := remarkedAs(t, raw, all...)
		if got, want := bereft(t, after), bereft(t, raw); got != want {
			t.Fatalf("seed %d: the text is\n%s\nwhere it was\n%s", seed, got, want)
		}
	}
}
