package reading

import (
	"bytes"
	"encoding/binary"
	"encoding/json"
	"image"
	"image/jpeg"
	"image/png"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"
)

// illustrating is Markdown with the pictures beside it, as a cell is given them.
func illustrating(t *testing.T, source string, beside map[string][]byte) []byte {
	t.Helper()
	raw, err := json.Marshal(beside)
	if err != nil {
		t.Fatal(err)
	}
	return append(append(binary.BigEndian.AppendUint64(nil, uint64(len(raw))), raw...), source...)
}

// listed is what pdfimages lists of a PDF document: a line for each time a picture stands on a page.
func listed(t *testing.T, raw []byte) (all [][]string) {
	t.Helper()
	at := filepath.Join(t.TempDir(), "paper.pdf")
	if err := os.WriteFile(at, raw, 0o600); err != nil {
		t.Fatal(err)
	}
	out, err := exec.Command("pdfimages", "-list", at).Output()
	if err != nil {
		t.Fatal(err)
	}
	for _, line := range strings.Split(strings.TrimSpace(string(out)), "\n")[2:] {
		all = append(all, strings.Fields(line))
	}
	return all
}

func TestPicturesAreSetOnPages(t *testing.T) {
	t.Parallel()
	var drawing, photograph bytes.Buffer
	if err := png.Encode(&drawing, image.NewNRGBA(image.Rect(0, 0, 300, 100))); err != nil {
		t.Fatal(err)
	}
	if err := jpeg.Encode(&photograph, image.NewGray(image.Rect(0, 0, 4000, 3000)), nil); err != nil {
		t.Fatal(err)
	}
	source := "# Report\n\nBefore ![Frame 31](Frame%2031.png) after ![a](<tall \\& wide.jpg> \"title\").\n\n" +
		strings.Repeat("A line that stands there.\n\n", 60) + "- in a list ![b](Frame%2031.png)\n\n![gone](gone.png) ![elsewhere](https://x.example/a.png) ![broken](broken.png)\n"
	beside := map[string][]byte{"Frame 31.png": drawing.Bytes(), "tall & wide.jpg": photograph.Bytes(), "broken.png": []byte("\x89PNG\r\n\x1a\n no"), "unused.png": drawing.Bytes()}
	raw, cut, err := setOnPaper(sheetArgs{MediaType: "text/markdown", Pictured: true}, illustrating(t, source, beside))
	if err != nil || cut {
		t.Fatal(cut, err)
	}
	all := listed(t, raw)
	if len(all) != 3 {
		t.Fatalf("%d pictures stand on pages: %v", len(all), all)
	}
	// Page, number, type, width, height: the photograph in as many pixels as paper needs, the drawing as it is.
	if all[0][0] != "1" || all[0][3] != "400" || all[1][3] == "4000" || all[1][0] != "1" || all[2][0] == "1" {
		t.Errorf("they stand as %v", all)
	}
	read := exec.Command("pdftotext", "-layout", "-", "-")
	read.Stdin = bytes.NewReader(raw)
	out, err := read.Output()
	if err != nil {
		t.Fatal(err)
	}
	words := strings.Join(strings.Fields(string(out)), " ")
	for _, want := range []string{"Before after .", "in a list", "gone elsewhere broken"} {
		if !strings.Contains(words, want) {
			t.Errorf("%q is not in %q", want, words)
		}
	}
	// Where what comes before a text is none, nothing is set.
	for _, odd := range [][]byte{nil, {1, 2}, illustrating(t, "x", nil)[:9], append(make([]byte, 8), 'x')} {
		if _, _, err := setOnPaper(sheetArgs{MediaType: "text/markdown", Pictured: true}, odd); err == nil {
			t.Errorf("%q is set", odd)
		}
	}
}
