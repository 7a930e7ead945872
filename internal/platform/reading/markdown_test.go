package reading

import (
	"bytes"
	"os/exec"
	"strings"
	"testing"

	"tabularis/core/templates"
	"tabularis/internal/platform/preview"
)

// Markdown is set as it is meant: its marks are gone, its words are all there, in order.
func TestMarkdownIsTypeset(t *testing.T) {
	t.Parallel()
	source := "# Letter of *engagement*\n\nDear **Callum** &amp; crew\\*,\nwe survey `frame 31`.  \nSoon.\n\n1. afloat\n2. ashore\n   - in dock\n     > quoted\n\n| Frame | mm |\n|---|---|\n| 31 | 6.9 |\n\n- [x] read\n\n---\n\n```\na <b>\n```\n\n[[sign:B]] <https://halyard-rook.example> [terms](https://terms.example)\n"
	raw, cut, err := setOnPaper("text/markdown", []byte(source))
	if err != nil || cut {
		t.Fatal(cut, err)
	}
	read := exec.Command("pdftotext", "-layout", "-", "-")
	read.Stdin = bytes.NewReader(raw)
	out, err := read.Output()
	if err != nil {
		t.Fatal(err)
	}
	words := strings.Join(strings.Fields(string(out)), " ")
	want := "Letter of engagement Dear Callum & crew*, we survey frame 31. Soon. 1. afloat 2. ashore – in dock quoted Frame mm 31 6.9 – [x] read a <b> [[sign:B]] https://halyard-rook.example terms (https://terms.example)"
	if words != want {
		t.Errorf("%q\nwant %q", words, want)
	}
	// However deep it is nested, it is set.
	if _, _, err := setOnPaper("text/markdown", []byte(strings.Repeat("> ", 200)+"deep\n\n"+strings.Repeat("- ", 100)+"deeper")); err != nil {
		t.Error(err)
	}
}

// What is filled in in Markdown means itself, whatever it holds.
func TestWhatIsFilledInMeansItself(t *testing.T) {
	t.Parallel()
	for _, value := range []string{"# Big", "**bold** _slant_", "[x](http://evil.example)", "a &amp; b \\ c", "- one\n- two", "1. one\n2) two", "<b>no</b> | ~x~", "line\n===", "> quoted", "`code`", "4,850.00 -5 +7"} {
		filled, err := preview.FillBlanks("text/markdown", []byte("Before [[word]] after."), templates.Values{"word": value})
		if err != nil {
			t.Fatal(err)
		}
		raw, _, err := setOnPaper("text/markdown", filled)
		if err != nil {
			t.Fatal(err)
		}
		read := exec.Command("pdftotext", "-layout", "-", "-")
		read.Stdin = bytes.NewReader(raw)
		out, err := read.Output()
		if err != nil {
			t.Fatal(err)
		}
		want := "Before " + strings.Join(strings.Fields(value), " ") + " after."
		if words := strings.Join(strings.Fields(string(out)), " "); words != want {
			t.Errorf("%q, want %q; from %q", words, want, filled)
		}
	}
}
