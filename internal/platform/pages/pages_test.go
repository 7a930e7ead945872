package pages

import (
	"bytes"
	"context"
	"crypto/sha256"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"io"
	"math"
	"os"
	"path/filepath"
	"strings"
	"sync"
	"testing"

	"codeberg.org/go-pdf/fpdf"

	"tabularis/core/fault"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/pdf"
	"tabularis/internal/platform/reading"
)

func source(mediaType string, raw []byte) Source {
	sum := sha256.Sum256(raw)
	return Source{SHA256: sum[:], MediaType: mediaType, Size: int64(len(raw)), Open: func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(raw)), nil }}
}

func report(t testing.TB, pages int) []byte {
	t.Helper()
	p := fpdf.New("P", "mm", "A4", "")
	p.SetFont("Helvetica", "", 12)
	for n := range pages {
		p.AddPage()
		p.MultiCell(0, 6, fmt.Sprintf("Page %d of the report on the hull", n+1), "", "", false)
	}
	var out bytes.Buffer
	if err := p.Output(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

func picture(t testing.TB, width, height int) []byte {
	t.Helper()
	p := image.NewNRGBA(image.Rect(0, 0, width, height))
	for x := range width {
		p.Set(x, x%height, color.NRGBA{uint8(x), 20, 90, 255})
	}
	var out bytes.Buffer
	if err := png.Encode(&out, p); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// ink is the share of pixels in which two pictures of one size differ.
func ink(t testing.TB, a, b image.Image) float64 {
	t.Helper()
	if a.Bounds().Size() != b.Bounds().Size() {
		t.Fatalf("%v and %v", a.Bounds(), b.Bounds())
	}
	n, from := 0, a.Bounds().Min
	for y := range a.Bounds().Dy() {
		for x := range a.Bounds().Dx() {
			if a.At(from.X+x, from.Y+y) != b.At(from.X+x, from.Y+y) {
				n++
			}
		}
	}
	return float64(n) / float64(a.Bounds().Dx()*a.Bounds().Dy())
}

// cells are one pool for all tests, since the first takes seconds to start.
var cells = cell.New(0, filepath.Join(os.TempDir(), "tabularis-compiled"))

func TestMain(m *testing.M) {
	reading.Enter()
	status := m.Run()
	cells.Close()
	os.Exit(status)
}

// notes remembers in memory what cannot be read.
type notes struct{ sync.Map }

func (n *notes) Killed(_ context.Context, sha256 []byte, op string) (bool, error) {
	_, ok := n.Load(string(sha256) + op)
	return ok, nil
}

func (n *notes) NoteKilled(_ context.Context, sha256 []byte, op string) error {
	n.Store(string(sha256)+op, true)
	return nil
}

func newMaker(testing.TB) *Maker { return New(&reading.Reader{Cells: cells, Notes: &notes{}}, nil) }

func TestDocumentsAreDrawnInPages(t *testing.T) {
	m := newMaker(t)
	long := strings.Repeat("frame;thickness;remark\n31;8.1;a remark of some length that is broken into lines where the column ends\n", 60)
	for name, c := range map[string]struct {
		source Source
		pages  int
		wide   bool
	}{
		"report":      {source("application/pdf", report(t, 3)), 3, false},
		"text":        {source("text/plain", []byte(strings.Repeat("Soundings of tank 4\tπ Ω ж\n", 150))), 3, false},
		"markdown":    {source("text/markdown", []byte("# Survey\n\n- hull")), 1, false},
		"table":       {source("text/csv", []byte(long)), 4, true},
		"wide table":  {source("text/csv", []byte(strings.Repeat("a column of some width,", 30)+"\n")), 4, true},
		"photograph":  {source("image/png", picture(t, 400, 300)), 1, true},
		"empty text":  {source("text/plain", nil), 1, false},
		"broken rows": {source("text/csv", []byte("a,\"b\nc,d\x00\x1b")), 1, true},
	} {
		t.Run(name, func(t *testing.T) {
			o, err := m.Outline(t.Context(), c.source)
			if err != nil || len(o.Pages) != c.pages || o.Cut || (o.Pages[0].Width > o.Pages[0].Height) != c.wide {
				t.Fatalf("%+v %v", o, err)
			}
			for page := range o.Pages {
				p, err := m.Draw(t.Context(), c.source, page, Widths[1])
				if err != nil {
					t.Fatal(err)
				}
				if dx := p.Bounds().Dx(); dx != Widths[1] && dx != int(o.Pages[0].Width) {
					t.Errorf("page %d is %d wide", page, dx)
				}
			}
			if _, err := m.Draw(t.Context(), c.source, c.pages, Widths[1]); !fault.Is(err, fault.NotFound) {
				t.Errorf("a page after the last: %v", err)
			}
		})
	}
}

func TestTheMarkStandsInThePixels(t *testing.T) {
	m, s := newMaker(t), source("application/pdf", report(t, 2))
	clean, err := m.Draw(t.Context(), s, 0, Widths[1])
	if err != nil {
		t.Fatal(err)
	}
	before := bytes.Clone(clean.(*image.RGBA).Pix)
	one, err := Marked(clean, [2]string{"b.quist@calder.example, 198.51.100.7", "2026-07-24 09:05, Hull claim"})
	if err != nil {
		t.Fatal(err)
	}
	other, err := Marked(clean, [2]string{"m.lund@brightwater.example, 203.0.113.4", "2026-07-24 09:06, Hull claim"})
	if err != nil {
		t.Fatal(err)
	}
	if a, b := ink(t, clean, one), ink(t, one, other); a < 0.02 || b < 0.02 || a > 0.4 {
		t.Errorf("marked: %.3f of the pixels, and %.3f between two viewers", a, b)
	}
	// Every part of the page bears it.
	for y := 0; y < 4; y++ {
		for x := 0; x < 3; x++ {
			b := clean.Bounds()
			part := image.Rect(b.Dx()*x/3, b.Dy()*y/4, b.Dx()*(x+1)/3, b.Dy()*(y+1)/4)
			if got := ink(t, clean.(*image.RGBA).SubImage(part).(*image.RGBA), one.SubImage(part).(*image.RGBA)); got == 0 {
				t.Errorf("part %v is not marked", part)
			}
		}
	}
	again, err := m.Draw(t.Context(), s, 0, Widths[1])
	if err != nil || !bytes.Equal(before, again.(*image.RGBA).Pix) {
		t.Errorf("what is kept was marked: %v", err)
	}
}

func TestWhatCannotBeDrawn(t *testing.T) {
	m := newMaker(t)
	whole := report(t, 1)
	huge := picture(t, 3, 3)
	copy(huge[16:24], []byte{0, 1, 0x86, 0xa0, 0, 1, 0x86, 0xa0}) // 100,000 by 100,000, says its head
	for name, s := range map[string]Source{
		"cut off": source("application/pdf", whole[:len(whole)/3]), "no document": source("application/pdf", []byte("hull")), "no pages": source("application/pdf", []byte("%PDF-1.7\n%%EOF\n")),
		"no picture": source("image/png", []byte("hull")), "picture bomb": source("image/png", huge), "no spreadsheet": source("application/vnd.openxmlformats-officedocument.spreadsheetml.sheet", []byte("PK")),
	} {
		if o, err := m.Outline(t.Context(), s); !fault.Is(err, fault.Invalid) {
			t.Errorf("%s: %+v %v", name, o, err)
		}
		if _, err := m.Draw(t.Context(), s, 0, Widths[0]); err == nil {
			t.Errorf("%s was drawn", name)
		}
	}
	for mediaType, can := range map[string]bool{"application/pdf": true, "image/jpeg": true, "text/csv": true, "image/svg+xml": false, "video/mp4": false, "application/zip": false, "application/octet-stream": false} {
		if newMaker(t).Can(mediaType) != can {
			t.Errorf("%s: %v", mediaType, !can)
		}
	}
}

func TestManyPages(t *testing.T) {
	m, s := newMaker(t), source("application/pdf", report(t, 5000))
	o, err := m.Outline(t.Context(), s)
	if err != nil || len(o.Pages) != pdf.MaxPages || !o.Cut {
		t.Fatalf("%d pages, %v, %v", len(o.Pages), o.Cut, err)
	}
	for _, page := range []int{0, 1, 700, pdf.MaxPages - 1} {
		if _, err := m.Draw(context.Background(), s, page, Widths[2]); err != nil {
			t.Fatal(err)
		}
	}
	if m.drawn.bytes > kept || m.drawn.bytes == 0 {
		t.Errorf("%d bytes are kept", m.drawn.bytes)
	}
}

func TestKeptUpToALimit(t *testing.T) {
	k := newKepts(10, func(s string) int { return len(s) })
	for i := range 20 {
		k.put(fmt.Sprint(i%7), strings.Repeat("x", i%5))
		if k.bytes > 10 {
			t.Fatalf("%d bytes", k.bytes)
		}
	}
	k.put("large", strings.Repeat("x", 30))
	if got, ok := k.Get("large"); !ok || k.Len() != 1 || k.bytes != len(got) {
		t.Errorf("%d entries, %d bytes", k.Len(), k.bytes)
	}
}

func BenchmarkMark(b *testing.B) {
	m, s := newMaker(b), source("application/pdf", report(b, 1))
	p, err := m.Draw(b.Context(), s, 0, Widths[1])
	if err != nil {
		b.Fatal(err)
	}
	for b.Loop() {
		out, err := Marked(p, [2]string{"b.quist@calder.example, 198.51.100.7", "2026-07-24 09:05, Hull claim"})
		if err != nil {
			b.Fatal(err)
		}
		if err := Encode(io.Discard, out); err != nil {
			b.Fatal(err)
		}
	}
}

// A page is marked however small or thin it is, all over; it is as large in
// proportion as was said, and never larger than memory allows.
func TestSmallPagesAreMarkedToo(t *testing.T) {
	m := newMaker(t)
	lines := [2]string{"odile.charron@brackwater.example", "2026-11-28 10:15, Hull claim"}
	for _, size := range []image.Point{{20, 20}, {1, 1}, {4000, 20}, {20, 4000}, {1, 60_000}, {60_000, 1}} {
		s := source("image/png", picture(t, size.X, size.Y))
		o, err := m.Outline(t.Context(), s)
		if err != nil || len(o.Pages) != 1 {
			t.Fatal(o, err)
		}
		page, err := m.Draw(t.Context(), s, 0, 1100)
		if err != nil {
			t.Fatal(err)
		}
		marked, err := Marked(page, lines)
		if err != nil {
			t.Fatal(err)
		}
		got := marked.Rect.Size()
		if said := o.Pages[0]; math.Abs(math.Log(float64(got.X)/float64(got.Y)*said.Height/said.Width)) > 0.02 {
			t.Errorf("%v is said to be %v and is %v", size, said, got)
		}
		if got.X < 200 && got.Y < 400 || got.X > 1100 || got.X*got.Y > 12<<20 {
			t.Errorf("%v becomes %v", size, got)
		}
		for q := range 4 {
			part := image.Rect(got.X*q/4, 0, got.X*(q+1)/4, got.Y)
			if share := ink(t, page.(*image.RGBA).SubImage(part), marked.SubImage(part)); share < 0.01 {
				t.Errorf("on %v the mark covers %.4f of the %d. quarter", size, share, q+1)
			}
		}
	}
}
