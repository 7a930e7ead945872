package demo

import (
	"bytes"
	"fmt"
	"image/jpeg"
	"strings"
	"time"

	"codeberg.org/go-pdf/fpdf"
)

// extent is how much a report holds.
type extent struct {
	// topics are how many parts of the vessel it speaks of; photographs and readings
	// whether each has them.
	topics      int
	photographs bool
	readings    bool
	// annexes are further pages of readings, about three each.
	annexes int
}

var extents = map[string]extent{
	"short":  {topics: 3, readings: true},
	"report": {topics: 7, photographs: true, readings: true},
	"long":   {topics: len(topics), photographs: true, readings: true, annexes: 5},
	"record": {topics: 1, annexes: 28},
}

// reporting sets a report on paper. It is set twice: the second time it is known on
// which page each chapter stands.
type reporting struct {
	papers
	pdf     *fpdf.Fpdf
	latin   func(string) string
	chapter int
	figure  int
	pages   map[int]int
	titles  []string
}

// report makes a survey report: headed text, tables of readings, figures and
// photographs. Further versions differ from the first as real ones do: a value is
// corrected, a sentence is written anew, a chapter is added.
func (p papers) report(title, vessel string, at time.Time, kind string, version int) []byte {
	seed := p.rand.Uint64()
	first := &reporting{papers: newPapers(seed), pages: map[int]int{}}
	first.write(title, vessel, at, extents[kind], version)
	second := &reporting{papers: newPapers(seed), pages: first.pages, titles: first.titles}
	second.write(title, vessel, at, extents[kind], version)
	return finish(second.pdf)
}

func (r *reporting) write(title, vessel string, at time.Time, e extent, version int) {
	r.pdf = newPDF(at)
	r.latin = r.pdf.UnicodeTranslatorFromDescriptor("")
	r.cover(title, vessel, at, version)
	r.contents()
	r.heading("Instruction and attendance")
	r.text("We were instructed to examine the hull of the " + strings.ToLower(vessel[:1]) + vessel[1:] + ", to gauge her plating, and to report on its condition and on the repair that is needed to restore it to the standard of her class.")
	r.text("Our surveyors attended at the berth and again in dock. The owners’ superintendent and the master were present and gave every assistance.")
	if version > 0 {
		r.text("This is edition " + fmt.Sprint(version+1) + " of the report. What was changed since the one before is named in the last chapter.")
	}
	readings := r.readings(12, 44, 1)
	if version > 1 {
		// Gauged a second time, with another instrument.
		readings[19].measured += 0.1
		readings[4].measured -= 0.1
	}
	for i := range e.topics {
		t := topics[i%len(topics)]
		r.heading(t.title)
		for _, text := range r.paragraphs(t, readings) {
			r.text(text)
		}
		if e.photographs {
			r.photograph(fmt.Sprintf("%s, frame %d", t.title, readings[r.rand.IntN(len(readings))].frame))
		}
		if e.readings {
			r.tableOf(t.title, readings[:14+r.rand.IntN(18)])
		}
		if i == 0 {
			r.drawing()
		}
	}
	r.heading("Conclusion")
	r.text("Subject to the repair described, and to the satisfaction of the class surveyor in attendance, the vessel is in our opinion fit for her service.")
	r.text("This report is given without prejudice to the rights of any party concerned.")
	if version > 2 {
		r.heading("Second surveyor’s remarks")
		r.text("The readings at frame 31 were taken a second time by another surveyor with another instrument; all agree within 0.2 mm. The extent of the renewal is confirmed.")
	}
	if version > 0 {
		r.heading("Changes since the edition before")
		r.text([]string{"The date of attendance is corrected.", "The readings of frames 16 and 31 were taken again.", "The second surveyor’s remarks are added."}[min(version, 3)-1])
	}
	for i := range e.annexes {
		r.heading(fmt.Sprintf("Annex %d, readings of strake %c", i+1, 'A'+rune(i%8)))
		for _, side := range []string{"port", "starboard"} {
			r.tableOf(side, r.readings(4, 96, 1))
		}
	}
}

func (r *reporting) cover(title, vessel string, at time.Time, version int) {
	r.pdf.AddPage()
	r.pdf.SetTextColor(18, 60, 67)
	r.pdf.SetFont("Times", "B", 26)
	r.pdf.Ln(2)
	r.pdf.MultiCell(0, 11, r.latin(title), "", "L", false)
	r.pdf.SetFont("Times", "I", 16)
	r.pdf.MultiCell(0, 10, r.latin(vessel), "", "L", false)
	r.pdf.Ln(6)
	r.hull(r.pdf, r.pdf.GetY())
	r.pdf.SetTextColor(20, 38, 42)
	r.pdf.SetFont("Helvetica", "", 10)
	r.pdf.SetY(150)
	edition := ""
	if version > 0 {
		edition = fmt.Sprintf(", edition %d", version+1)
	}
	r.pdf.MultiCell(0, 5.5, r.latin("Surveyed afloat and in dock. This report is for the addressee alone.\n"+at.Format("2 January 2006")+edition), "", "L", false)
}

// contents lists the chapters with their pages, as far as they are known.
func (r *reporting) contents() {
	r.pdf.AddPage()
	r.pdf.SetTextColor(18, 60, 67)
	r.pdf.SetFont("Times", "B", 16)
	r.pdf.CellFormat(0, 10, "Contents", "", 1, "L", false, 0, "")
	r.pdf.SetTextColor(20, 38, 42)
	r.pdf.SetFont("Times", "", 11)
	for i, title := range r.titles {
		r.pdf.CellFormat(140, 6, r.latin(fmt.Sprintf("%d   %s", i+1, title)), "", 0, "L", false, 0, "")
		r.pdf.CellFormat(0, 6, fmt.Sprint(r.pages[i+1]), "", 1, "R", false, 0, "")
	}
	r.pdf.AddPage()
}

// heading begins a chapter, on a new page where little is left of this one.
func (r *reporting) heading(title string) {
	if r.pdf.GetY() > 220 {
		r.pdf.AddPage()
	}
	r.chapter++
	if len(r.titles) < r.chapter {
		r.titles = append(r.titles, title)
	}
	r.pages[r.chapter] = r.pdf.PageNo()
	r.pdf.Ln(3)
	r.pdf.SetTextColor(18, 60, 67)
	r.pdf.SetFont("Times", "B", 15)
	r.pdf.MultiCell(0, 9, r.latin(fmt.Sprintf("%d  %s", r.chapter, title)), "", "L", false)
}

func (r *reporting) text(text string) {
	r.pdf.SetTextColor(20, 38, 42)
	r.pdf.SetFont("Times", "", 11.5)
	r.pdf.MultiCell(0, 6, r.latin(text), "", "L", false)
	r.pdf.Ln(2.5)
}

// caption numbers what stands above it.
func (r *reporting) caption(text string) {
	r.figure++
	r.pdf.SetFont("Times", "I", 10)
	r.pdf.CellFormat(0, 6, r.latin(fmt.Sprintf("Figure %d: %s", r.figure, text)), "", 1, "L", false, 0, "")
	r.pdf.Ln(3)
}

func (r *reporting) drawing() {
	if r.pdf.GetY() > 215 {
		r.pdf.AddPage()
	}
	r.hull(r.pdf, r.pdf.GetY())
	r.pdf.SetY(r.pdf.GetY() + 44)
	r.caption("the places that were gauged; frame 31 in red")
}

func (r *reporting) photograph(text string) {
	var b bytes.Buffer
	if err := jpeg.Encode(&b, r.plate(300, 200), &jpeg.Options{Quality: 62}); err != nil {
		panic(err)
	}
	if r.pdf.GetY() > 185 {
		r.pdf.AddPage()
	}
	name := fmt.Sprint("photograph ", r.figure)
	r.pdf.RegisterImageOptionsReader(name, fpdf.ImageOptions{ImageType: "JPG"}, &b)
	r.pdf.ImageOptions(name, 24, r.pdf.GetY(), 90, 60, true, fpdf.ImageOptions{}, 0, "")
	r.caption(text)
}

func (r *reporting) tableOf(text string, readings []reading) {
	r.pdf.SetFont("Times", "I", 10)
	r.pdf.CellFormat(0, 7, r.latin("Readings, "+strings.ToLower(text[:1])+text[1:]+", in millimetres"), "", 1, "L", false, 0, "")
	r.table(r.pdf, readings)
	r.pdf.Ln(4)
}
