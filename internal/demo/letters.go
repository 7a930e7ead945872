package demo

import (
	"bytes"
	"encoding/base64"
	"fmt"
	"image"
	"image/color"
	"image/jpeg"
	"math"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font"
	"golang.org/x/image/font/gofont/goregular"
	"golang.org/x/image/font/opentype"
	"golang.org/x/image/math/fixed"
)

// germanText is correspondence with the harbour office.
const germanTo = "Hafenamt Tessaly\nAbteilung Liegeplätze\nAm Zollkai 1\nTessaly"

const germanText = `Sehr geehrte Damen und Herren,

für die Fähre „Corran Lass“ bitten wir um einen Liegeplatz am Ausrüstungskai vom Montag bis zum Freitag der kommenden Woche. Wir messen während dieser Zeit die Dicke der Außenhaut von außen und von innen; der Tank 4 bleibt dafür geöffnet und wird belüftet.

Ein Gerüst wird an der Backbordseite zwischen den Spanten 24 und 38 gestellt. Es ragt nicht über die Kaikante hinaus. Schweißarbeiten finden nicht statt. Der Nachweis der Gasfreiheit liegt an Bord und wird täglich erneuert.

Die Gebühren bitten wir der Reederei Brackwater Ferries in Rechnung zu stellen, deren Zustimmung diesem Schreiben beiliegt.

Mit freundlichen Grüßen`

const germanReply = "\n\nNachtrag: Das Gerüst wird erst am Dienstag gestellt."

// engagement makes a letter of engagement, with places to sign for both parties.
func (p papers) engagement(vessel, client, surveyor string, at time.Time) []byte {
	pdf := newPDF(at)
	latin := pdf.UnicodeTranslatorFromDescriptor("")
	pdf.AddPage()
	head(pdf)
	pdf.SetFont("Times", "B", 15)
	pdf.MultiCell(0, 8, latin("Letter of engagement, "+vessel), "", "L", false)
	pdf.SetFont("Times", "", 11.5)
	pdf.MultiCell(0, 6, latin("between Halyard & Rook, marine surveyors, Tessaly, and "+client+"\n\n"+at.Format("2 January 2006")), "", "L", false)
	for i, s := range []struct{ title, text string }{
		{"The work", "We examine the hull of the vessel afloat and in dock, gauge the plating at the frames that are agreed on board, and report in writing within ten working days of the last attendance."},
		{"Who attends", "The work is led by " + surveyor + ". Other surveyors of the practice may attend; their names stand in the report."},
		{"What you provide", "Safe access, staging where the plating cannot be reached otherwise, tanks that are opened, ventilated and certified free of gas, and the class records of the last five years."},
		{"Fees", "The fee is charged by the day and half day, by the scale that is enclosed, with the costs of travel. An estimate is given before we begin; we tell you before it is exceeded by more than a tenth."},
		{"Liability", "We owe the care of a competent surveyor. Our liability is limited to ten times the fee, except for intent and gross negligence, and for injury to persons."},
		{"Confidence", "What we see and are told is given to nobody else without your consent in writing, other than by order of a court."},
		{"Ending", "Either party may end this engagement by two weeks’ notice in writing. What has been done until then is paid for."},
	} {
		pdf.Ln(3)
		pdf.SetFont("Times", "B", 12)
		pdf.CellFormat(0, 7, latin(fmt.Sprintf("%d  %s", i+1, s.title)), "", 1, "L", false, 0, "")
		pdf.SetFont("Times", "", 11.5)
		pdf.MultiCell(0, 6, latin(s.text), "", "L", false)
	}
	if pdf.GetY() > 200 {
		pdf.AddPage()
	}
	pdf.Ln(14)
	for _, party := range []string{"For Halyard & Rook", "For " + client} {
		y := pdf.GetY()
		pdf.SetDrawColor(81, 101, 106)
		pdf.Line(24, y+16, 100, y+16)
		pdf.Line(112, y+16, 160, y+16)
		pdf.SetFont("Helvetica", "", 9)
		pdf.Text(24, y+21, latin(party+", name and signature"))
		pdf.Text(112, y+21, "place and date")
		pdf.SetY(y + 30)
	}
	return finish(pdf)
}

// head writes the practice's name above a letter.
func head(pdf *fpdf.Fpdf) {
	pdf.SetTextColor(20, 38, 42)
	pdf.SetFont("Times", "B", 15)
	pdf.CellFormat(0, 8, "Halyard & Rook", "", 1, "L", false, 0, "")
	pdf.SetFont("Helvetica", "", 9)
	pdf.CellFormat(0, 5, "marine surveyors, Tessaly", "B", 1, "L", false, 0, "")
	pdf.Ln(10)
}

// scanned makes a page that was laid on a glass: a picture without text, a little
// crooked and grey.
func (p papers) scanned(title string, lines []string, at time.Time) []byte {
	const w, h = 1000, 1414
	paper := image.NewGray(image.Rect(0, 0, w, h))
	for i := range paper.Pix {
		paper.Pix[i] = 236 + uint8(p.rand.IntN(10))
	}
	parsed, err := opentype.Parse(goregular.TTF)
	if err != nil {
		panic(err)
	}
	y := 170
	write := func(text string, size float64) {
		face, err := opentype.NewFace(parsed, &opentype.FaceOptions{Size: size, DPI: 72})
		if err != nil {
			panic(err)
		}
		d := font.Drawer{Dst: paper, Src: image.NewUniform(color.Gray{40}), Face: face, Dot: fixed.P(120, y)}
		d.DrawString(text)
		y += int(size * 1.7)
	}
	write(title, 38)
	y += 30
	for _, l := range lines {
		write(l, 23)
	}
	crooked := image.NewGray(paper.Bounds())
	sin, cos := math.Sincos(.012)
	for py := range h {
		for px := range w {
			x, y := float64(px-w/2), float64(py-h/2)
			at := image.Pt(int(x*cos-y*sin)+w/2, int(x*sin+y*cos)+h/2)
			crooked.SetGray(px, py, color.Gray{200})
			if at.In(paper.Bounds()) {
				crooked.SetGray(px, py, paper.GrayAt(at.X, at.Y))
			}
		}
	}
	var b bytes.Buffer
	if err := jpeg.Encode(&b, crooked, &jpeg.Options{Quality: 55}); err != nil {
		panic(err)
	}
	pdf := fpdf.New("P", "mm", "A4", "")
	pdf.SetCreationDate(at)
	pdf.SetModificationDate(at)
	pdf.AddPage()
	pdf.RegisterImageOptionsReader("page", fpdf.ImageOptions{ImageType: "JPG"}, &b)
	pdf.ImageOptions("page", 0, 0, 210, 297, false, fpdf.ImageOptions{}, 0, "")
	return finish(pdf)
}

// email writes a message with a paper attached (RFC 5322, RFC 2045).
func (p papers) email(from, to, subject, text, attached string, content []byte, at time.Time) []byte {
	var b strings.Builder
	line := func(format string, args ...any) { fmt.Fprintf(&b, format+"\r\n", args...) }
	line("From: %s", from)
	line("To: %s", to)
	line("Subject: %s", subject)
	line("Date: %s", at.Format(time.RFC1123Z))
	line("Message-ID: <%d@brackwater.example>", at.Unix())
	line("MIME-Version: 1.0")
	line(`Content-Type: multipart/mixed; boundary="part-of-a-letter"`)
	line("")
	line("--part-of-a-letter")
	line("Content-Type: text/plain; charset=utf-8")
	line("Content-Transfer-Encoding: 8bit")
	line("")
	line("%s", strings.ReplaceAll(text, "\n", "\r\n"))
	line("--part-of-a-letter")
	line(`Content-Type: application/pdf; name="%s"`, attached)
	line(`Content-Disposition: attachment; filename="%s"`, attached)
	line("Content-Transfer-Encoding: base64")
	line("")
	encoded := base64.StdEncoding.EncodeToString(content)
	for i := 0; i < len(encoded); i += 76 {
		line("%s", encoded[i:min(i+76, len(encoded))])
	}
	line("--part-of-a-letter--")
	return []byte(b.String())
}

// formText is a letter whose words are filled in each time, and that marks where it is signed.
const formText = `# Letter of engagement, [[vessel]]

between Halyard & Rook, marine surveyors, Tessaly, and [[name B]]

[[today]]

Dear [[name B]],

you ask us to survey the [[vessel]]. We examine her hull afloat and in dock, gauge the plating at the frames that are agreed on board, and report in writing within ten working days of the last attendance.

## Fees

The fee is [[fee]], for one visit afloat and one ashore. An estimate is given before we begin; we tell you before it is exceeded by more than a tenth.

## What you provide

Safe access, staging where the plating cannot be reached otherwise, tanks that are opened, ventilated and certified free of gas, and the class records of the last five years.
`

// formMore is what its second version says besides.
const formMore = `
## Confidence

What we see and are told is given to nobody else without your consent in writing, other than by order of a court.
`

const formEnd = `
## Agreement

I have read the conditions of survey, and agree that they are part of this letter.   [[tick:B]]

Invoice to, if to somebody else:   [[text?:B Invoice to]]

&nbsp;

For the client:   [[sign:B]]

&nbsp;

For Halyard & Rook:   [[sign:A]]
`
