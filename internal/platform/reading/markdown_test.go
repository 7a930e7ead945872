package reading

import (
	"bytes"
	"fmt"
	"os/exec"
	"slices"
	"strings"
	"testing"

	"tabularis/core/templates"
	"tabularis/internal/platform/preview"
)

// Markdown is set as it is meant: its marks are gone, its words are all there, in order.
func TestMarkdownIsTypeset(t *testing.T) {
	t.Parallel()
	source := "# Letter of *engagement*\n\nDear **Callum** &amp; crew\\*,\nwe survey `frame 31`.  \nSoon.\n\n1. afloat\n2. ashore\n   - in dock\n     > quoted\n\n| Frame | mm |\n|---|---|\n| 31 | 6.9 |\n\n- [x] read\n\n---\n\n```\na <b>\n```\n\n[[sign:B]] <https://halyard-rook.example> [terms](https://terms.example)\n"
	raw, cut, err := setOnPaper(sheetArgs{MediaType: "text/markdown"}, []byte(source))
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
	if _, _, err := setOnPaper(sheetArgs{MediaType: "text/markdown"}, []byte(strings.Repeat("> ", 200)+"deep\n\n"+strings.Repeat("- ", 100)+"deeper")); err != nil {
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
		raw, _, err := setOnPaper(sheetArgs{MediaType: "text/markdown"}, filled)
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

func textOf(t *testing.T, raw []byte, how ...string) string {
	t.Helper()
	read := exec.Command("pdftotext", append(how, "-", "-")...)
	read.Stdin = bytes.NewReader(raw)
	out, err := read.Output()
	if err != nil {
		t.Fatal(err)
	}
	return string(out)
}

// A letterhead stands on every page, with their numbers, and moves no word of the text: places to sign stay where they are.
func TestALetterheadStandsInTheMargins(t *testing.T) {
	t.Parallel()
	source := []byte("# Letter\n\n" + strings.Repeat("We survey the port side shell between frames 18 and 44.\n\n", 90) + "Yours\n")
	plain, _, err := setOnPaper(sheetArgs{MediaType: "text/markdown"}, source)
	if err != nil {
		t.Fatal(err)
	}
	headed, _, err := setOnPaper(sheetArgs{MediaType: "text/markdown", Head: &Letterhead{"Halyard & Rook", "marine surveyors", "MER-24/017  Letter, v. 2"}}, source)
	if err != nil {
		t.Fatal(err)
	}
	pages := strings.Split(strings.TrimSuffix(textOf(t, headed, "-layout"), "\f"), "\f")
	if len(pages) < 2 || len(pages) != strings.Count(textOf(t, plain), "\f") {
		t.Fatalf("%d pages", len(pages))
	}
	for i, page := range pages {
		for _, says := range []string{"Halyard & Rook", "marine surveyors", "MER-24/017 Letter, v. 2", fmt.Sprintf("%d / %d", i+1, len(pages))} {
			if without := strings.NewReplacer(" ", "", "\n", ""); !strings.Contains(without.Replace(page), without.Replace(says)) {
				t.Errorf("page %d does not say %q:\n%s", i+1, says, page)
			}
		}
	}
	where := func(raw []byte) (words []string) {
		for line := range strings.Lines(textOf(t, raw, "-bbox")) {
			if strings.Contains(line, ">frames<") || strings.Contains(line, ">Yours<") {
				words = append(words, line)
			}
		}
		return words
	}
	if a, b := where(plain), where(headed); len(a) != 91 || !slices.Equal(a, b) {
		t.Errorf("%d words, and %d below a letterhead, lie elsewhere", len(a), len(b))
	}
}

// What stands in fields is set; where nothing does, there is a line to write on.
func TestFieldsAreSet(t *testing.T) {
	t.Parallel()
	source := "Berth: <input name=\"a\" value=\"Fish *quay*\">, length <input name=\"b\" type=\"number\">\n\n<input name=\"c\" aria-label=\"Keys\" value=\"The mate\">\n\n<input name=\"d\" type=\"checkbox\" aria-label=\"Insured\" checked> <input name=\"e\" type=\"checkbox\"> <b>no</b>\n"
	raw, _, err := setOnPaper(sheetArgs{MediaType: "text/markdown"}, []byte(source))
	if err != nil {
		t.Fatal(err)
	}
	if got, want := strings.Join(strings.Fields(textOf(t, raw, "-layout")), " "), "Berth: Fish *quay*, length "+strings.Repeat("_", 24)+" Keys: The mate [x] Insured [ ] no"; got != want {
		t.Errorf("%q\nwant %q", got, want)
	}
}
