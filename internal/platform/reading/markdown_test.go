package reading

import (
	"bytes"
	"os/exec"
	"strings"
	"testing"
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
