package pages

import (
	"fmt"
	"image"
	"image/color"
	"image/draw"
	"math"
	"sync"

	xdraw "golang.org/x/image/draw"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/gomedium"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/f64"
	"golang.org/x/image/math/fixed"

	"tabularis/internal/platform/reading"
)

var letters = sync.OnceValues(func() (*opentype.Font, error) { return opentype.Parse(gomedium.TTF) })

// flattest and narrowest are the proportions of a page at most, width by height and
// height by width: on a thinner one no mark could be read.
const flattest, narrowest = 5, 16

// paperSize is how large the paper is on which a page is shown.
func paperSize(s reading.Size) reading.Size {
	return reading.Size{Width: max(s.Width, s.Height/narrowest), Height: max(s.Height, s.Width/flattest)}
}

// framed puts a page that is too flat or too narrow in the middle of white paper.
func framed(page *image.RGBA) *image.RGBA {
	from := page.Bounds()
	size := paperSize(reading.Size{Width: float64(from.Dx()), Height: float64(from.Dy())})
	out := image.Rect(0, 0, int(size.Width), int(size.Height))
	if out.Size() == from.Size() {
		return page
	}
	framed := image.NewRGBA(out)
	draw.Draw(framed, out, image.White, image.Point{}, draw.Src)
	at := from.Sub(from.Min).Add(out.Size().Sub(from.Size()).Div(2))
	draw.Draw(framed, at, page, from.Min, draw.Src)
	return framed
}

// slant is by how much the mark rises on a page, in radians: less on a flat one, so
// that it has space there.
func slant(size image.Point) float64 {
	return -min(math.Pi/7, 0.7*math.Atan2(float64(size.Y), float64(size.X)))
}

// Marked returns a copy of a page with two lines of text drawn across it again
// and again, dark with a light edge, so that they show on every ground. The page
// itself stays as it is.
func Marked(page image.Image, lines [2]string) (*image.RGBA, error) {
	bounds := page.Bounds()
	bounds = bounds.Sub(bounds.Min)
	out := image.NewRGBA(bounds)
	draw.Draw(out, bounds, page, page.Bounds().Min, draw.Src)
	strip, err := strip(lines, float64(bounds.Dx()))
	if err != nil {
		return nil, err
	}
	sin, cos := math.Sincos(slant(bounds.Size()))
	w, h := float64(strip.Bounds().Dx()), float64(strip.Bounds().Dy())
	stepX, stepY := w*1.12, math.Max(h*3.4, float64(bounds.Dx())/7)
	// The pattern is laid out in its own, slanted system around the page's middle.
	reach := math.Hypot(float64(bounds.Dx()), float64(bounds.Dy()))/2 + w
	midX, midY := float64(bounds.Dx())/2, float64(bounds.Dy())/2
	for row, v := 0, -reach; v < reach; row, v = row+1, v+stepY {
		for u := -reach - float64(row%2)*stepX/2; u < reach; u += stepX {
			x, y := midX+u*cos-v*sin, midY+u*sin+v*cos
			if x+w < 0 || x-w > 2*midX || y-w > 2*midY || y+w < 0 {
				continue
			}
			to := f64.Aff3{cos, -sin, x, sin, cos, y}
			xdraw.ApproxBiLinear.Transform(out, to, strip, strip.Bounds(), draw.Over, nil)
		}
	}
	return out, nil
}

// strip draws the two lines once, on nothing.
func strip(lines [2]string, width float64) (*image.RGBA, error) {
	f, err := letters()
	if err != nil {
		return nil, fmt.Errorf("reading the mark's letters: %w", err)
	}
	size := math.Max(9, width/46)
	face, err := opentype.NewFace(f, &opentype.FaceOptions{Size: size, DPI: 72})
	if err != nil {
		return nil, fmt.Errorf("setting the mark: %w", err)
	}
	defer face.Close()
	d := font.Drawer{Face: face}
	long := max(d.MeasureString(lines[0]), d.MeasureString(lines[1])).Ceil()
	line := int(size * 1.25)
	out := image.NewRGBA(image.Rect(0, 0, long+4, 2*line+4))
	d.Dst = out
	write := func(ink color.Color, dx, dy int) {
		d.Src = image.NewUniform(ink)
		for i, text := range lines {
			d.Dot = fixed.P(2+dx, int(size)+i*line+dy)
			d.DrawString(text)
		}
	}
	edge := color.NRGBA{255, 255, 255, 26}
	for _, by := range [][2]int{{-1, 0}, {1, 0}, {0, -1}, {0, 1}} {
		write(edge, by[0], by[1])
	}
	write(color.NRGBA{20, 38, 42, 46}, 0, 0)
	return out, nil
}
