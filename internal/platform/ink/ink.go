// Package ink writes what parties give as sheets that are set on paper: small PDF pages of the size of
// their places, drawn without a background.
package ink

import (
	"bytes"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/goitalic"
	"golang.org/x/image/font/gofont/goregular"

	"tabularis/core/signing"
	"tabularis/internal/platform/paper"
)

const (
	plain, bold, script = "plain", "bold", "script"
	// pad is how far what is written keeps from its place's edge, in points.
	pad = 2.0
	// a4 is the size of a page of our own, in points.
	a4Width, a4Height = 595.28, 841.89
)

// Sheets are pages to be set on paper.
type Sheets struct {
	f *fpdf.Fpdf
	n int
}

// New begins a set of sheets.
func New() *Sheets {
	f := fpdf.NewCustom(&fpdf.InitType{UnitStr: "pt", Size: fpdf.SizeType{Wd: 100, Ht: 100}})
	f.SetMargins(0, 0, 0)
	f.SetAutoPageBreak(false, 0)
	f.SetCompression(true)
	f.AddUTF8FontFromBytes(plain, "", goregular.TTF)
	f.AddUTF8FontFromBytes(bold, "", gobold.TTF)
	f.AddUTF8FontFromBytes(script, "", goitalic.TTF)
	return &Sheets{f: f}
}

// Bytes is the PDF document of the sheets.
func (s *Sheets) Bytes() ([]byte, error) {
	var out bytes.Buffer
	if err := s.f.Output(&out); err != nil {
		return nil, fmt.Errorf("writing sheets: %w", err)
	}
	return out.Bytes(), nil
}

func (s *Sheets) page(w, h float64) int {
	s.f.AddPageFormat("P", fpdf.SizeType{Wd: w, Ht: h})
	s.f.SetTextColor(16, 24, 48)
	s.f.SetDrawColor(16, 24, 96)
	s.n++
	return s.n
}

// width is how wide a text is in a font, by its size.
func (s *Sheets) width(font, text string) func(size float64) float64 {
	return func(size float64) float64 {
		s.f.SetFont(font, "", size)
		return s.f.GetStringWidth(text)
	}
}

// Fits reports whether a text fits into a place so large, in points.
func (s *Sheets) Fits(text string, w, h float64) bool {
	for _, line := range strings.Split(paper.Drawable(text), "\n") {
		if _, fits := signing.Fits(s.width(plain, line), w-2*pad, h/float64(1+strings.Count(text, "\n"))); !fits {
			return false
		}
	}
	return true
}

// Words sets a text in a place so large, in points, and returns its number.
func (s *Sheets) Words(text string, w, h float64) int {
	n := s.page(w, h)
	if text == "✓" {
		s.tick(w, h)
		return n
	}
	lines := strings.Split(paper.Drawable(text), "\n")
	each := h / float64(len(lines))
	size := 12.0
	for _, line := range lines {
		fits, _ := signing.Fits(s.width(plain, line), w-2*pad, each)
		size = min(size, fits)
	}
	s.f.SetFont(plain, "", size)
	for i, line := range lines {
		s.f.Text(pad, each*float64(i)+each/2+size*0.35, line)
	}
	return n
}

func (s *Sheets) tick(w, h float64) {
	side := min(w, h) * 0.7
	x, y := (w-side)/2, (h-side)/2
	s.f.SetLineWidth(max(1, side/8))
	s.f.SetLineCapStyle("round")
	s.f.Line(x+side*0.1, y+side*0.55, x+side*0.4, y+side*0.85)
	s.f.Line(x+side*0.4, y+side*0.85, x+side*0.9, y+side*0.15)
}

// Hand sets what was written by hand in a place so large, in points, and returns its number.
func (s *Sheets) Hand(h signing.Hand, width, height float64) int {
	n := s.page(width, height)
	switch {
	case h.Typed != "":
		typed := paper.Drawable(h.Typed)
		size := min(28, height*0.7)
		for s.width(script, typed)(size) > width-2*pad && size > 5 {
			size -= 0.5
		}
		s.f.SetFont(script, "", size)
		s.f.Text(pad, height/2+size*0.35, typed)
	case len(h.Picture) > 0:
		s.picture(h.Picture, n, width, height)
	default:
		s.strokes(h, width, height)
	}
	return n
}

// strokes draws in the proportions in which it was drawn.
func (s *Sheets) strokes(h signing.Hand, width, height float64) {
	scale := min((width-2*pad)/1, (height-2*pad)/h.Height)
	x, y := (width-scale)/2, (height-scale*h.Height)/2
	s.f.SetLineCapStyle("round")
	s.f.SetLineJoinStyle("round")
	for _, stroke := range h.Strokes {
		for i := 1; i < len(stroke); i++ {
			a, b := stroke[i-1], stroke[i]
			s.f.SetLineWidth(max(0.4, scale/160*(0.4+1.2*(a.P+b.P)/2)))
			s.f.Line(x+a.X*scale, y+a.Y*scale, x+b.X*scale, y+b.Y*scale)
		}
	}
}

func (s *Sheets) picture(raw []byte, n int, width, height float64) {
	name := fmt.Sprintf("picture %d", n)
	info := s.f.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "PNG"}, bytes.NewReader(raw))
	if info == nil || info.Width() == 0 {
		return
	}
	scale := min((width-2*pad)/info.Width(), (height-2*pad)/info.Height())
	w, h := info.Width()*scale, info.Height()*scale
	s.f.ImageOptions(name, (width-w)/2, (height-h)/2, w, h, false, fpdf.ImageOptions{ImageType: "PNG"}, 0, "")
}

// Ink keeps of a picture on white what is dark, as a PNG without a background.
func Ink(p *image.RGBA) ([]byte, error) {
	out := image.NewNRGBA(p.Bounds())
	for y := p.Bounds().Min.Y; y < p.Bounds().Max.Y; y++ {
		for x := p.Bounds().Min.X; x < p.Bounds().Max.X; x++ {
			c := p.RGBAAt(x, y)
			light := min(c.R, c.G, c.B)
			if light > 235 {
				continue
			}
			out.SetNRGBA(x, y, color.NRGBA{c.R, c.G, c.B, 255 - light/2})
		}
	}
	var b bytes.Buffer
	if err := png.Encode(&b, out); err != nil {
		return nil, fmt.Errorf("drawing a picture of a signature: %w", err)
	}
	return b.Bytes(), nil
}

// Entry is a line of an evidence page: a name, and what is known under it.
type Entry struct {
	Name  string
	Lines []string
}

const (
	margin    = 51.0
	entryTop  = 200.0
	entryHigh = 100.0
	// PerPage is how many entries stand on an evidence page.
	PerPage = 6
)

// EntryBox is where an entry stands on its evidence page, and on which of them, counted from 0.
func EntryBox(i int) (page int, b signing.Box) {
	at := entryTop + entryHigh*float64(i%PerPage)
	return i / PerPage, signing.Box{X: margin / a4Width, Y: at / a4Height, W: 1 - 2*margin/a4Width, H: (entryHigh - 6) / a4Height}
}

// Entry sets an entry as a sheet of its own.
func (s *Sheets) Entry(e Entry) int {
	n := s.page(a4Width-2*margin, entryHigh-6)
	s.entry(e, 0, 0)
	return n
}

func (s *Sheets) entry(e Entry, x, y float64) {
	const width = a4Width - 2*margin
	s.f.SetTextColor(20, 30, 32)
	s.f.SetFont(bold, "", 10)
	s.f.Text(x, y+12, s.cut(bold, e.Name, 10, width))
	s.f.SetFont(plain, "", 8)
	for i, l := range e.Lines {
		if i < 7 {
			s.f.Text(x, y+24+11*float64(i), s.cut(plain, l, 8, width))
		}
	}
}

// cut shortens what is wider than there is room.
func (s *Sheets) cut(font, text string, size, width float64) string {
	r := []rune(paper.Drawable(strings.ReplaceAll(text, "\n", " ")))
	for whole := len(r); len(r) > 0; r = r[:len(r)-1] {
		shown := string(r)
		if len(r) < whole {
			shown += "…"
		}
		if s.width(font, shown)(size) <= width {
			s.f.SetFont(font, "", size)
			return shown
		}
	}
	return ""
}

// Evidence sets evidence pages for so many entries: a title, lines below it, and the entries that are known; for
// the others there is room. It returns the numbers of the pages.
func (s *Sheets) Evidence(title string, head []string, room int, known []Entry) (pages []int) {
	for from := 0; from < max(1, room); from += PerPage {
		pages = append(pages, s.page(a4Width, a4Height))
		s.f.SetTextColor(20, 30, 32)
		s.f.SetFont(bold, "", 16)
		s.f.Text(margin, 70, s.cut(bold, title, 16, a4Width-2*margin))
		s.f.SetFont(plain, "", 8.5)
		for i, l := range head {
			s.f.Text(margin, 92+12*float64(i), s.cut(plain, l, 8.5, a4Width-2*margin))
		}
		s.f.SetLineWidth(0.5)
		s.f.SetDrawColor(160, 170, 170)
		for i := from; i < min(room, from+PerPage); i++ {
			y := entryTop + entryHigh*float64(i%PerPage)
			s.f.Line(margin, y-6, a4Width-margin, y-6)
			if i < len(known) {
				s.entry(known[i], margin, y)
			}
		}
	}
	return pages
}
