package api_test

import (
	"bytes"
	"image"
	"image/color"
	"image/draw"
	"image/png"
	"os/exec"
	"strings"
	"testing"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"

	"tabularis/internal/doors/web/contract"
	"tabularis/internal/server"
	"tabularis/internal/testkit"
)

// scanned is a PDF document whose pages are pictures alone, as a scanner makes them.
func scanned(t *testing.T, pages ...string) []byte {
	t.Helper()
	face, err := opentype.Parse(goregular.TTF)
	if err != nil {
		t.Fatal(err)
	}
	large, err := opentype.NewFace(face, &opentype.FaceOptions{Size: 40, DPI: 72})
	if err != nil {
		t.Fatal(err)
	}
	pdf := fpdf.New("P", "mm", "A4", "")
	for i, text := range pages {
		page := image.NewGray(image.Rect(0, 0, 1240, 1754))
		draw.Draw(page, page.Rect, image.White, image.Point{}, draw.Src)
		for n, line := range strings.Split(text, "\n") {
			d := font.Drawer{Dst: page, Src: image.NewUniform(color.Black), Face: large, Dot: fixed.P(120, 200+60*n)}
			d.DrawString(line)
		}
		var raw bytes.Buffer
		if err := png.Encode(&raw, page); err != nil {
			t.Fatal(err)
		}
		name := string(rune('a' + i))
		pdf.AddPage()
		pdf.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "PNG"}, &raw)
		pdf.ImageOptions(name, 0, 0, 210, 297, false, fpdf.ImageOptions{}, 0, "")
	}
	var out bytes.Buffer
	if err := pdf.Output(&out); err != nil {
		t.Fatal(err)
	}
	return out.Bytes()
}

// Scanned pages are read where a program for it is installed, and found by their words; where
// there is none it is said that they have no text.
func TestScannedPagesAreRead(t *testing.T) {
	testkit.Shared(t)
	t.Parallel()
	if _, err := exec.LookPath("tesseract"); err != nil {
		t.Skip("tesseract is not installed")
	}
	o := newOffice(t)
	content := scanned(t, "Tonnage certificate", "The windlass was overhauled\nin Skerrow harbour.")
	d := o.luca.Upload(o.reports, "", "Certificate.pdf", content).Document.Id
	o.luca.Upload(o.yard, "", "Blank.pdf", scanned(t, ""))
	o.written()
	o.answers(o.luca, "", "windlass")
	state := func() string {
		return string(testkit.Get[contract.FoundPage](o.luca, "/api/found?q=certificate").Hits[0].Written)
	}
	if state() != "empty" {
		t.Errorf("before it is read it is %s", state())
	}
	o.duty("read what is written in scanned pages")
	waitFor(t, func() bool { return len(o.finds(o.luca, "windlass")) == 1 })
	hit := testkit.Get[contract.FoundPage](o.luca, "/api/found?q=windlass+skerrow").Hits[0]
	if hit.Place.Id != d || hit.Page == nil || *hit.Page != 2 || state() != "read" {
		t.Errorf("found is %+v", hit)
	}
	o.answers(o.tomasz, "", "windlass")
	// Each is read once.
	o.duty("read what is written in scanned pages")
	var left int
	if err := o.App.DB.GetContext(t.Context(), &left, `SELECT count(*) FROM bodies WHERE state = 'empty' AND recognised_at IS NULL`); err != nil || left > 0 {
		t.Errorf("%d are left, %v", left, err)
	}
}

// A program that hangs, fails or lies keeps nobody from their documents.
func TestScannedPagesWithoutAProgram(t *testing.T) {
	t.Parallel()
	o := &office{world: newWorld(t, func(c *server.Config) { c.RecognitionProgram = "none" })}
	w := o.world
	w.luca.Upload(w.top, "", "Certificate.pdf", scanned(t, "Tonnage"))
	o.written()
	o.duty("read what is written in scanned pages")
	if hits := testkit.Get[contract.FoundPage](w.luca, "/api/found?q=certificate").Hits; len(hits) != 1 || hits[0].Written != "empty" {
		t.Errorf("it is %+v", hits)
	}
}
