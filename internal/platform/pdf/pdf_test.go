package pdf

import (
	"bytes"
	"errors"
	"image"
	"math"
	"os"
	"path/filepath"
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

// Whatever is taken for a document, it is read or refused; sizes are sizes, and no
// page is drawn larger than was asked.
func FuzzReader(f *testing.F) {
	r := &Reader{Cache: filepath.Join(os.TempDir(), "tabularis-compiled")}
	if err := r.Start(); err != nil {
		f.Fatal(err)
	}
	f.Add(document(f, "Frame 31", "Frame 32"))
	f.Add(locked(f))
	f.Add([]byte("%PDF-1.7\n1 0 obj<</Type/Catalog/Pages 1 0 R/Kids[1 0 R]>>endobj trailer<</Root 1 0 R>>"))
	f.Add([]byte("%PDF-1.4\n1 0 obj<</Type/Catalog/Pages 2 0 R>>endobj 2 0 obj<</Type/Pages/Kids[3 0 R]/Count 900000>>endobj " +
		"3 0 obj<</Type/Page/Parent 2 0 R/MediaBox[0 0 -1 1e30]>>endobj trailer<</Root 1 0 R>>"))
	f.Fuzz(func(t *testing.T, raw []byte) {
		const width, pixels = 64, 1 << 16
		sizes, pages, err := r.Sizes(raw)
		if err != nil {
			return
		}
		for _, s := range sizes {
			if !(s.Width > 0 && s.Height > 0) || math.IsInf(s.Width+s.Height, 0) {
				t.Fatalf("%+v of %d pages", sizes, pages)
			}
		}
		_ = r.Draw(raw, []int{0, pages - 1, pages}, width, pixels, func(page int, p *image.RGBA) error {
			if page >= pages || p.Rect.Dx() > width || p.Rect.Dx()*p.Rect.Dy() > pixels {
				t.Errorf("page %d of %d is drawn as %v", page, pages, p.Rect)
			}
			return nil
		})
		if text, err := r.Text(raw); err == nil && len(text) > pages {
			t.Errorf("%d pages, %d texts", pages, len(text))
		}
	})
}

// Places are marked in the text where they are seen, also on a page that is turned and cropped.
func TestMarks(t *testing.T) {
	r := &Reader{Cache: filepath.Join(os.TempDir(), "tabularis-compiled")}
	if err := r.Start(); err != nil {
		t.Fatal(err)
	}
	p := fpdf.NewCustom(&fpdf.InitType{UnitStr: "pt", Size: fpdf.SizeType{Wd: 400, Ht: 600}})
	p.SetFont("Helvetica", "", 12)
	p.AddPage()
	p.Text(40, 100, "No places here")
	p.AddPage()
	p.Text(40, 300, "For the client: [[sign:B]]  [[client]]")
	p.SetPageBox("crop", 0, 100, 400, 500)
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		t.Fatal(err)
	}
	whole := out.Bytes()
	turned := bytes.Replace(whole, []byte("/CropBox"), []byte("/Rotate 90 /CropBox"), 1)
	for name, raw := range map[string][]byte{"upright": whole, "turned": turned} {
		got, err := r.Marks(raw, "")
		if err != nil || len(got) != 1 {
			t.Errorf("%s: %+v %v", name, got, err)
			continue
		}
		s := got[0]
		x, y := s.Place.Box.X, s.Place.Box.Y
		if name == "turned" {
			// What was above is now at the right; the page begins at its left edge from above.
			x, y = s.Place.Box.Y, 1-s.Place.Box.X-s.Place.Box.W
			if s.Width != 500 || s.Height != 400 {
				t.Errorf("turned it measures %v by %v", s.Width, s.Height)
			}
		}
		if s.Page != 2 || s.Place.Party != 1 || x < 0.28 || x > 0.34 || y < 0.57 || y > 0.61 || s.Place.Box.W*s.Width < 9 || s.Place.Box.H*s.Height < 9 {
			t.Errorf("%s: it stands at %v %v of %+v", name, x, y, s)
		}
	}
}
