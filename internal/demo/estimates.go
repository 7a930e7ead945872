package demo

import (
	"bytes"
	"fmt"
	"math"
	"time"

	"github.com/xuri/excelize/v2"
)

// line is one line of an estimate.
type line struct {
	work     string
	unit     string
	quantity float64
	price    float64
}

// part is a sheet of an estimate.
type part struct {
	name  string
	lines []line
}

var estimateParts = []part{
	{"Steel", []line{
		{"Crop and renew, side shell, frames 29 to 33", "kg", 4350, 18.40}, {"Frames in way, renewal in part", "kg", 1120, 22.75}, {"Brackets, new with soft toe", "piece", 6, 480}, {"Fairing of grooves by weld", "m", 9, 310},
		{"Testing of welds, ultrasonic", "m", 34, 42.5},
	}},
	{"Coating", []line{
		{"Spot blasting to Sa 2½", "m²", 185, 31}, {"Three coats, 300 µm", "m²", 185, 38.2}, {"Anodes, zinc, fitted", "piece", 24, 96}, {"Marks and draught figures", "set", 1, 860},
	}},
	{"Yard", []line{
		{"Docking and undocking", "move", 2, 4150}, {"Dock rent", "day", 8, 1790}, {"Staging", "m³", 620, 11.4}, {"Gas-freeing and certificates", "day", 8, 385}, {"Class attendance", "visit", 3, 1240},
	}},
}

// estimate makes a spreadsheet: a summary, and a sheet for each part with its sum, all
// of them computed by formulas. Further versions have other quantities.
func (p papers) estimate(vessel string, version int, at time.Time) []byte {
	f := excelize.NewFile()
	defer f.Close()
	look := newLooks(f)
	const summary = "Summary"
	must(f.SetSheetName("Sheet1", summary))
	total := 0.0
	sums := make([]float64, len(estimateParts))
	for i, part := range estimateParts {
		_, err := f.NewSheet(part.name)
		must(err)
		sums[i] = p.partOf(newSheet(f, part.name, 44), part, version, look)
		total += sums[i]
	}
	last := len(estimateParts) + 1
	w := newSheet(f, summary, 36)
	w.row(excelize.Cell{Value: "Estimate, " + vessel, StyleID: look.bold}, excelize.Cell{Value: "Amount", StyleID: look.bold}, excelize.Cell{Value: "Share", StyleID: look.bold})
	for i, part := range estimateParts {
		w.row(part.name, excelize.Cell{Value: sums[i], Formula: fmt.Sprintf("%s!E%d", part.name, len(part.lines)+2), StyleID: look.money},
			excelize.Cell{Value: sums[i] / total, Formula: fmt.Sprintf("B%d/B%d", i+2, last+1), StyleID: look.share})
	}
	w.row("Total", excelize.Cell{Value: total, Formula: fmt.Sprintf("SUM(B2:B%d)", last), StyleID: look.boldMoney})
	w.row("Good until", excelize.Cell{Value: at.AddDate(0, 1, 0).Truncate(24 * time.Hour), StyleID: look.day})
	must(w.Flush())
	var b bytes.Buffer
	must(f.Write(&b))
	return b.Bytes()
}

// partOf writes one sheet and returns its sum.
func (p papers) partOf(w *sheetWriter, part part, version int, look looks) float64 {
	titles := []any{}
	for _, title := range []string{"Work", "Unit", "Quantity", "Unit price", "Amount"} {
		titles = append(titles, excelize.Cell{Value: title, StyleID: look.bold})
	}
	w.row(titles...)
	sum := 0.0
	for i, l := range part.lines {
		// From one version to the next some quantities are measured again.
		for range version {
			if p.rand.IntN(4) == 0 {
				l.quantity = math.Round(l.quantity*(0.9+p.rand.Float64()/4)*2) / 2
			}
		}
		amount := l.quantity * l.price
		sum += amount
		w.row(l.work, l.unit, l.quantity, excelize.Cell{Value: l.price, StyleID: look.money},
			excelize.Cell{Value: amount, Formula: fmt.Sprintf("C%d*D%d", i+2, i+2), StyleID: look.money})
	}
	w.row(excelize.Cell{Value: "Sum", StyleID: look.bold}, nil, nil, nil,
		excelize.Cell{Value: sum, Formula: fmt.Sprintf("SUM(E2:E%d)", len(part.lines)+1), StyleID: look.boldMoney})
	must(w.Flush())
	return sum
}

// looks are how cells are written.
type looks struct{ bold, money, boldMoney, share, day int }

func newLooks(f *excelize.File) looks {
	style := func(format string, bold bool) int {
		s := &excelize.Style{Font: &excelize.Font{Bold: bold}}
		if format != "" {
			s.CustomNumFmt = &format
		}
		id, err := f.NewStyle(s)
		must(err)
		return id
	}
	const money = `#,##0.00 "€"`
	return looks{style("", true), style(money, false), style(money, true), style("0.0%", false), style("d mmm yyyy", false)}
}

// sheetWriter writes a sheet row by row.
type sheetWriter struct {
	*excelize.StreamWriter
	rows int
}

func newSheet(f *excelize.File, name string, first float64) *sheetWriter {
	w, err := f.NewStreamWriter(name)
	must(err)
	must(w.SetColWidth(1, 1, first))
	must(w.SetColWidth(2, 5, 16))
	return &sheetWriter{w, 0}
}

func (w *sheetWriter) row(cells ...any) {
	w.rows++
	must(w.SetRow(fmt.Sprintf("A%d", w.rows), cells))
}

// must stops at what only our own writing can do wrong.
func must(err error) {
	if err != nil {
		panic(err)
	}
}
