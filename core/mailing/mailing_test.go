package mailing

import (
	"slices"
	"strings"
	"testing"

	"tabularis/core/register"
)

func TestRefsIn(t *testing.T) {
	for text, want := range map[string][]register.Ref{
		"see MER-24/017, MER-24/017 and PEL-11/1234.": {{Code: "MER-24", Number: 17}, {Code: "PEL-11", Number: 1234}},
		"mer-24/017, MER-24/17, MER-24 / 017":         nil,
		"https://papers.example/d/MER-24/017":         {{Code: "MER-24", Number: 17}},
		"on 12/2026, A/001, ABCDEFGH/001":             nil,
	} {
		if got := RefsIn(text); !slices.Equal(got, want) {
			t.Errorf("%q: %v", text, got)
		}
	}
	var many strings.Builder
	for n := 100; n < 200; n++ {
		many.WriteString(register.Ref{Code: "MER-24", Number: n}.String() + " ")
	}
	if got := RefsIn(many.String()); len(got) != MostRefs {
		t.Errorf("%d of many", len(got))
	}
}

func TestANoteHoldsNoMarkup(t *testing.T) {
	n := Note{Language: "fr", Practice: "<i>H&R</i>", Files: []NotedFile{{Name: `"><script>.pdf`, Size: "2 MB"}}, Address: "https://papers.example/l/token", Until: "12 December 2026", Password: true}
	plain, page := n.Text()
	if strings.Contains(page, "<script") || strings.Contains(page, "<i>") || !strings.Contains(page, "&lt;script&gt;.pdf (2 MB)") || !strings.Contains(plain, `"><script>.pdf (2 MB)`) || !strings.Contains(plain, "Fetch them until 12 December 2026") || !strings.Contains(plain, "password") {
		t.Errorf("%s\n%s", plain, page)
	}
	// No line is longer than a mail's may be (RFC 5322, section 2.1.1), nor anything but ASCII.
	n.Files[0].Name = strings.Repeat("ü", 3000)
	for line := range strings.SplitSeq(n.part("mark", "\r\n"), "\r\n") {
		if len(line) > 998 || strings.ContainsFunc(line, func(r rune) bool { return r > 126 }) {
			t.Fatalf("%.80q", line)
		}
	}
}

func TestWhatIsAttached(t *testing.T) {
	mixed := Part{Parent: -1, Kind: "multipart/mixed", Boundary: "x"}
	for name, c := range map[string]struct {
		part Part
		want bool
	}{
		"a file":                    {Part{Kind: "application/pdf", Name: "a.pdf", Disposition: "attachment", Size: 9}, true},
		"a file without a word":     {Part{Kind: "application/pdf", Name: "a.pdf", Size: 9}, true},
		"a text that is attached":   {Part{Kind: "text/plain", Name: "a.txt", Disposition: "attachment", Size: 9}, true},
		"a text":                    {Part{Kind: "text/plain", Size: 9}, false},
		"a picture that is shown":   {Part{Kind: "image/png", Name: "a.png", Disposition: "inline", ContentID: true, Size: 9}, false},
		"a picture among the text":  {Part{Kind: "image/png", Name: "a.png", Disposition: "inline", Size: 9}, false},
		"an invitation":             {Part{Kind: "text/calendar", Name: "a.ics", Disposition: "attachment", Size: 9}, false},
		"a mail that is attached":   {Part{Kind: "message/rfc822", Name: "a.eml", Disposition: "attachment", Size: 9}, true},
		"a mail that is sent along": {Part{Kind: "message/rfc822", Size: 9}, false},
		"what cannot be decoded":    {Part{Kind: "application/pdf", Name: "a.pdf", Disposition: "attachment", Size: 9, Broken: true}, false},
		"what is small":             {Part{Kind: "application/pdf", Name: "a.pdf", Disposition: "attachment", Size: 4}, false},
		"what is empty":             {Part{Kind: "application/pdf", Name: "a.pdf", Disposition: "attachment"}, false},
	} {
		m := Message{Parts: []Part{mixed, c.part}}
		if got := len(m.Attachments(Settings{Over: 5})) == 1; got != c.want {
			t.Errorf("%s: %v", name, got)
		}
	}
}
