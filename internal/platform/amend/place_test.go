package amend

import (
	"bytes"
	"math"
	"os"
	"os/exec"
	"path/filepath"
	"strings"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
)

// seen is where a point of a page in its own coordinates is seen, from the upper left corner, however the page is turned: the
// page is turned about its middle (ISO 32000-2, table 31), and moved so that it begins in the corner.
func seen(r types.Rectangle, turned int, x, y float64) (sx, sy float64) {
	x, y = x-(r.LL.X+r.UR.X)/2, y-(r.LL.Y+r.UR.Y)/2
	sin, cos := math.Sincos(-float64(turned) * math.Pi / 180)
	x, y = x*cos-y*sin, x*sin+y*cos
	w, h := r.UR.X-r.LL.X, r.UR.Y-r.LL.Y
	if turned%180 != 0 {
		w, h = h, w
	}
	return x + w/2, h/2 - y
}

// A place is found where it is seen, on pages that are cropped and turned.
func TestLocate(t *testing.T) {
	t.Parallel()
	crop := types.NewRectangle(20, 30, 420, 630)
	for _, turned := range []int{0, 90, 180, 270, -90, 450} {
		attrs := &model.InheritedPageAttrs{MediaBox: types.NewRectangle(0, 0, 500, 700), CropBox: crop, Rotate: turned}
		b := Box{X: 0.1, Y: 0.2, W: 0.3, H: 0.05}
		s := locate(attrs, b)
		r, is := shown(attrs)
		w, h := r.UR.X-r.LL.X, r.UR.Y-r.LL.Y
		if is%180 != 0 {
			w, h = h, w
		}
		ax, ay := seen(r, is, s.llx, s.lly)
		bx, by := seen(r, is, s.urx, s.ury)
		near := func(a, b float64) bool { return math.Abs(a-b) < 1e-6 }
		if !near(min(ax, bx), b.X*w) || !near(min(ay, by), b.Y*h) || !near(math.Abs(bx-ax), b.W*w) || !near(math.Abs(by-ay), b.H*h) || !near(s.width, b.W*w) || !near(s.height, b.H*h) {
			t.Errorf("turned by %d: %+v", turned, s)
		}
		// A field that a document has there is found there.
		if got, w2, h2 := (&reader{ctx: &model.Context{XRefTable: &model.XRefTable{}}}).box(types.Dict{"Rect": s.rect()}, attrs); !near(got.X, b.X) || !near(got.Y, b.Y) || !near(got.W, b.W) || !near(got.H, b.H) || !near(w2, w) || !near(h2, h) {
			t.Errorf("turned by %d a field lies at %+v of %v by %v", turned, got, w2, h2)
		}
		// What is set there begins in its lower left corner and stands upright.
		ox, oy := seen(r, is, s.matrix[4], s.matrix[5])
		ux, uy := seen(r, is, s.matrix[4]+s.matrix[2], s.matrix[5]+s.matrix[3])
		if !near(ox, b.X*w) || !near(oy, (b.Y+b.H)*h) || !near(ux, ox) || uy >= oy {
			t.Errorf("turned by %d it stands at %v %v, up is %v %v", turned, ox, oy, ux, uy)
		}
	}
}

func sheet(t testing.TB, pages int, words string) []byte {
	t.Helper()
	f := fpdf.NewCustom(&fpdf.InitType{UnitStr: "pt", Size: fpdf.SizeType{Wd: 300, Ht: 200}})
	f.SetFont("Helvetica", "", 12)
	for range pages {
		f.AddPage()
		f.Text(10, 100, words)
	}
	var b bytes.Buffer
	if err := f.Output(&b); err != nil {
		t.Fatal(err)
	}
	return b.Bytes()
}

// What stands in a document stays byte for byte; what is appended is found by other programs, also where the document
// keeps its objects in streams.
func TestAppending(t *testing.T) {
	t.Parallel()
	dir := t.TempDir()
	plain, packed := filepath.Join(dir, "plain.pdf"), filepath.Join(dir, "packed.pdf")
	if err := os.WriteFile(plain, sheet(t, 3, "before"), 0o600); err != nil {
		t.Fatal(err)
	}
	if out, err := exec.Command("qpdf", "--object-streams=generate", plain, packed).CombinedOutput(); err != nil {
		t.Fatalf("%v %s", err, out)
	}
	for _, name := range []string{plain, packed} {
		raw, err := os.ReadFile(name)
		if err != nil {
			t.Fatal(err)
		}
		for _, round := range []float64{0, 0.25} {
			d, err := Open(raw)
			if err != nil {
				t.Fatal(err)
			}
			s, err := d.Sheets(sheet(t, 2, "appended"))
			if err != nil {
				t.Fatal(err)
			}
			for _, err := range []error{s.Draw(1, 2, Box{X: 0.1, Y: 0.1 + round, W: 0.5, H: 0.2}), s.Draw(2, 2, Box{X: 0.1, Y: 0.5 + round, W: 0.5, H: 0.2}), s.Add(1)} {
				if err != nil {
					t.Fatal(err)
				}
			}
			out, err := d.Bytes()
			if err != nil || !bytes.HasPrefix(out, raw) {
				t.Fatalf("%v, kept: %v", err, bytes.HasPrefix(out, raw))
			}
			raw = out
		}
		if err := os.WriteFile(name, raw, 0o600); err != nil {
			t.Fatal(err)
		}
		if out, err := exec.Command("qpdf", "--check", name).CombinedOutput(); err != nil {
			t.Errorf("%v %s", err, out)
		}
		text, err := exec.Command("pdftotext", name, "-").Output()
		if err != nil || strings.Count(string(text), "appended") != 6 || strings.Count(string(text), "before") != 3 {
			t.Errorf("%s: %v %s", filepath.Base(name), err, text)
		}
	}
	for _, bad := range [][]byte{nil, []byte("%PDF-1.7 nothing"), bytes.Repeat([]byte("startxref 9 "), 400)} {
		if _, err := Open(bad); err == nil {
			t.Errorf("%.20q is appended to", bad)
		}
	}
}
