package pdf

import (
	"bytes"
	"errors"
	"strings"
	"testing"

	"codeberg.org/go-pdf/fpdf"
)

func document(t testing.TB, pages ...string) []byte {
	t.Helper()
	p := fpdf.New("P", "mm", "A4", "")
	p.SetFont("Helvetica", "", 12)
	for _, text := range pages {
		p.AddPage()
		p.MultiCell(0, 6, text, "", "", false)
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func locked(t testing.TB) []byte {
	t.Helper()
	p := fpdf.New("P", "mm", "A4", "")
	p.SetProtection(fpdf.CnProtectPrint, "user", "owner")
	p.SetFont("Helvetica", "", 12)
	p.AddPage()
	p.Cell(40, 10, "secret")
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func TestText(t *testing.T) {
	r := &Reader{Cache: t.TempDir()}
	if err := r.Start(); err != nil {
		t.Fatal(err)
	}
	read := r.Text
	pages, err := read(document(t, "Frame 31, 8.1 mm", "pay to DE89 3704 0044 0532 0130 00"))
	if err != nil || len(pages) != 2 || !strings.Contains(pages[0], "Frame 31") || !strings.Contains(pages[1], "DE89 3704 0044 0532 0130 00") {
		t.Errorf("%q %v", pages, err)
	}
	whole := document(t, "Frame 31")
	for name, raw := range map[string][]byte{"nothing": {}, "no document": []byte("Frame 31"), "cut off": whole[:200], "locked": locked(t), "only a head": []byte("%PDF-1.7\n%%EOF\n")} {
		if pages, err := read(raw); !errors.Is(err, ErrUnreadable) {
			t.Errorf("%s: %q %v", name, pages, err)
		}
	}
	// After all that the next one is read as ever.
	if pages, err := read(whole); err != nil || len(pages) != 1 {
		t.Errorf("%q %v", pages, err)
	}
}
