package demo

import (
	"bytes"
	"encoding/binary"
	"encoding/csv"
	"fmt"
	"image"
	"image/color"
	"image/png"
	"math"
	"math/rand/v2"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
)

// papers makes the demo's documents, from a fixed seed.
type papers struct{ rand *rand.Rand }

func newPapers(seed uint64) papers { return papers{rand.New(rand.NewPCG(seed, 24))} }

// reading is one thickness measurement. Thicknesses are in mm.
type reading struct {
	frame              int
	original, measured float64
}

// diminution is the loss of thickness in per cent of the original.
func (r reading) diminution() float64 { return (r.original - r.measured) / r.original * 100 }

func (p papers) readings(from, to, step int) []reading {
	var all []reading
	for f := from; f <= to; f += step {
		original := []float64{9.5, 10, 10, 11, 12}[p.rand.IntN(5)]
		loss := 0.04 + 0.14*p.rand.Float64()
		if f == 31 {
			original, loss = 10, 0.31
		}
		all = append(all, reading{f, original, math.Round(original*(1-loss)*10) / 10})
	}
	return all
}

// readingsCSV are all readings; in further versions some were taken again.
func (p papers) readingsCSV(from, to, version int) []byte {
	var b bytes.Buffer
	w := csv.NewWriter(&b)
	_ = w.Write([]string{"Frame", "Strake", "Side", "Original, mm", "Measured, mm", "Diminution, %"})
	for _, strake := range []string{"A", "B", "C", "D"} {
		for _, side := range []string{"port", "starboard"} {
			for _, r := range p.readings(from, to, 1) {
				for range version {
					if p.rand.IntN(30) == 0 {
						r.measured = math.Round(10*(r.measured+.4*(p.rand.Float64()-.5))) / 10
					}
				}
				_ = w.Write([]string{fmt.Sprint(r.frame), strake, side, fmt.Sprintf("%.1f", r.original), fmt.Sprintf("%.1f", r.measured), fmt.Sprintf("%.1f", r.diminution())})
			}
		}
	}
	w.Flush()
	return b.Bytes()
}

func newPDF(at time.Time) *fpdf.Fpdf {
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.SetCreationDate(at)
	pdf.SetModificationDate(at)
	pdf.SetMargins(24, 24, 24)
	pdf.SetAutoPageBreak(true, 22)
	pdf.SetFooterFunc(func() {
		pdf.SetY(-14)
		pdf.SetFont("Helvetica", "", 8)
		pdf.SetTextColor(81, 101, 106)
		pdf.CellFormat(0, 5, fmt.Sprintf("Halyard & Rook, marine surveyors, Tessaly            page %d", pdf.PageNo()), "", 0, "L", false, 0, "")
	})
	return pdf
}

func finish(pdf *fpdf.Fpdf) []byte {
	var b bytes.Buffer
	if err := pdf.Output(&b); err != nil {
		panic(err) // only our own drawing can be wrong
	}
	return b.Bytes()
}

// hull draws the side of the vessel with the places that were gauged.
func (p papers) hull(pdf *fpdf.Fpdf, y float64) {
	pdf.SetDrawColor(20, 38, 42)
	pdf.SetLineWidth(.4)
	points := []fpdf.PointType{{X: 26, Y: y + 18}, {X: 32, Y: y + 18}, {X: 34, Y: y + 10}, {X: 48, Y: y + 10}, {X: 48, Y: y + 4}, {X: 58, Y: y + 4}, {X: 58, Y: y + 10}, {X: 140, Y: y + 10}, {X: 150, Y: y + 5},
		{X: 172, Y: y + 5}, {X: 186, Y: y + 14}, {X: 180, Y: y + 32}, {X: 40, Y: y + 34}, {X: 30, Y: y + 28}}
	pdf.Polygon(points, "D")
	pdf.SetFillColor(246, 214, 206)
	pdf.Rect(112, y+15, 26, 12, "F")
	pdf.SetDashPattern([]float64{2, 1.4}, 0)
	pdf.Line(26, y+20, 186, y+20)
	pdf.SetDashPattern(nil, 0)
	pdf.SetFont("Helvetica", "", 7)
	for i, f := range []int{12, 18, 24, 31, 38, 44} {
		x := 44 + float64(i)*25
		pdf.SetFillColor(20, 38, 42)
		if f == 31 {
			pdf.SetFillColor(191, 58, 30)
		}
		pdf.Circle(x, y+21, 1, "F")
		pdf.Text(x-1.5, y+39, fmt.Sprint(f))
	}
}

func (p papers) table(pdf *fpdf.Fpdf, all []reading) {
	pdf.SetFont("Helvetica", "B", 8.5)
	for _, h := range []string{"Frame", "Original, mm", "Measured, mm", "Diminution, %"} {
		pdf.CellFormat(38, 6, h, "B", 0, "R", false, 0, "")
	}
	pdf.Ln(6)
	for _, r := range all {
		pdf.SetFont("Helvetica", "", 8.5)
		if r.diminution() > 25 {
			pdf.SetFont("Helvetica", "B", 8.5)
		}
		for _, c := range []string{fmt.Sprint(r.frame), fmt.Sprintf("%.1f", r.original), fmt.Sprintf("%.1f", r.measured), fmt.Sprintf("%.1f", r.diminution())} {
			pdf.CellFormat(38, 5.2, c, "", 0, "R", false, 0, "")
		}
		pdf.Ln(5.2)
	}
}

// letter makes a letter of one page.
func (p papers) letter(to, subject, text, from string, at time.Time) []byte {
	pdf := newPDF(at)
	latin := pdf.UnicodeTranslatorFromDescriptor("")
	pdf.AddPage()
	head(pdf)
	pdf.Ln(4)
	pdf.SetFont("Times", "", 11.5)
	pdf.MultiCell(0, 6, latin(to+"\n\n"+at.Format("2 January 2006")), "", "L", false)
	pdf.Ln(6)
	pdf.SetFont("Times", "B", 12)
	pdf.MultiCell(0, 6, latin(subject), "", "L", false)
	pdf.Ln(3)
	pdf.SetFont("Times", "", 11.5)
	pdf.MultiCell(0, 6, latin(text+"\n\n"+from), "", "L", false)
	return finish(pdf)
}

// feeText asks for a fee; the account is the one that the standard's own examples use.
const feeText = "for the survey of the shell plating between frames 30 and 34 we charge 4,800.00 as agreed in the letter of engagement.\n\nPlease pay within fourteen days to our account GB82 WEST 1234 5698 7654 32."

// photograph makes a picture of a plate.
func (p papers) photograph() []byte {
	var b bytes.Buffer
	enc := png.Encoder{CompressionLevel: png.BestSpeed}
	if err := enc.Encode(&b, p.plate(720, 480)); err != nil {
		panic(err)
	}
	return b.Bytes()
}

// plate paints a plate with scale, rust and a gauge mark.
func (p papers) plate(w, h int) *image.NRGBA {
	img := image.NewNRGBA(image.Rect(0, 0, w, h))
	base := [3]float64{70 + 60*p.rand.Float64(), 80 + 50*p.rand.Float64(), 85 + 50*p.rand.Float64()}
	type spot struct{ x, y, r float64 }
	var rust []spot
	for range 14 {
		rust = append(rust, spot{p.rand.Float64() * float64(w), p.rand.Float64() * float64(h), float64(w) / 720 * (12 + 70*p.rand.Float64())})
	}
	seam := h/3 + p.rand.IntN(h/3)
	for y := range h {
		for x := range w {
			light := .75 + .45*math.Exp(-math.Hypot(float64(x)-float64(w)*.4, float64(y)-float64(h)*.3)/float64(w)*1.9)
			c := base
			for _, s := range rust {
				if d := math.Hypot(float64(x)-s.x, (float64(y)-s.y)*1.3) / s.r; d < 1 {
					a := (1 - d) * .8
					c = [3]float64{c[0]*(1-a) + 138*a, c[1]*(1-a) + 72*a, c[2]*(1-a) + 38*a}
				}
			}
			if y > seam-3 && y < seam+3 || x%180 < 2 {
				light *= .7
			}
			n := (p.rand.Float64() - .5) * 5
			px := func(v float64) uint8 { return uint8(max(0, min(255, v*light+n))) }
			// Fewer tones keep the picture small.
			img.SetNRGBA(x, y, color.NRGBA{px(c[0]) &^ 7, px(c[1]) &^ 7, px(c[2]) &^ 7, 255})
		}
	}
	gx, gy := w/3+p.rand.IntN(w/3), h/3+p.rand.IntN(h/3)
	for a := 0.0; a < 2*math.Pi; a += .004 {
		for r := 34.0 * float64(w) / 720; r < 38*float64(w)/720; r++ {
			img.SetNRGBA(gx+int(r*math.Cos(a)), gy+int(r*math.Sin(a)), color.NRGBA{240, 236, 220, 255})
		}
	}
	return img
}

// sound makes two seconds of hammer blows on a plate, as WAV (PCM, mono).
func (p papers) sound() []byte {
	const rate, seconds = 11025, 2
	var b bytes.Buffer
	n := rate * seconds * 2
	b.WriteString("RIFF")
	_ = binary.Write(&b, binary.LittleEndian, uint32(36+n))
	b.WriteString("WAVEfmt ")
	for _, v := range []any{uint32(16), uint16(1), uint16(1), uint32(rate), uint32(rate * 2), uint16(2), uint16(16)} {
		_ = binary.Write(&b, binary.LittleEndian, v)
	}
	b.WriteString("data")
	_ = binary.Write(&b, binary.LittleEndian, uint32(n))
	for i := range rate * seconds {
		t := math.Mod(float64(i)/rate, .5)
		v := math.Exp(-9*t) * (math.Sin(2*math.Pi*640*t) + .5*math.Sin(2*math.Pi*1710*t) + .3*(p.rand.Float64()-.5))
		_ = binary.Write(&b, binary.LittleEndian, int16(9000*v))
	}
	return b.Bytes()
}

// note makes a Markdown note.
func (p papers) note(title string, paragraphs ...string) []byte {
	return []byte("# " + title + "\n\n" + strings.Join(paragraphs, "\n\n") + "\n")
}
