package reading

import (
	"bytes"
	"fmt"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/gomono"
	"golang.org/x/image/font/gofont/goregular"

	"tabularis/internal/platform/paper"
	"tabularis/internal/platform/preview"
)

const (
	margin = 14.0 // millimetres
	// A line of text, and a cell of a table, in millimetres and points.
	lineHeight, textSize = 4.1, 8.5
	cellHeight, cellSize = 3.8, 7.0
	titleSize            = 11.0
	// maxPaperRows is how many rows of a sheet are set on paper.
	maxPaperRows = 2000
	// maxCell is how wide a column gets; longer cells are broken into lines.
	maxCell = 62.0
	// maxLines is how many lines a cell gets.
	maxLines = 24
)

// setOnPaper sets a text or a table on pages, as a PDF document. cut says that
// only the beginning is on it.
func setOnPaper(mediaType string, content []byte) (raw []byte, cut bool, err error) {
	isWritten := preview.LookOf(mediaType) == preview.Markdown
	if isWritten {
		mediaType = "text/plain"
	}
	p, err := preview.Prepare(mediaType, int64(len(content)), bytes.NewReader(content))
	if err != nil {
		return nil, false, err
	}
	orientation := "P"
	if p.Sheets != nil {
		orientation = "L"
	}
	f := fpdf.New(orientation, "mm", "A4", "")
	f.AddUTF8FontFromBytes("mono", "", gomono.TTF)
	f.AddUTF8FontFromBytes("plain", "", goregular.TTF)
	f.SetMargins(margin, margin, margin)
	f.SetAutoPageBreak(true, margin)
	f.AddPage()
	switch {
	case p.Sheets != nil:
		p.Cut = setSheets(f, p.Sheets) || p.Cut
	case isWritten:
		setWritten(f, p.Text)
	default:
		f.SetFont("mono", "", textSize)
		f.MultiCell(0, lineHeight, paper.Drawable(p.Text), "", "L", false)
	}
	var out bytes.Buffer
	if err := f.Output(&out); err != nil {
		return nil, false, fmt.Errorf("setting text on paper: %w", err)
	}
	return out.Bytes(), p.Cut, nil
}

// setSheets sets a table's parts that are meant to be seen one after the other, each
// on pages of its own. cut says that not all rows are there.
func setSheets(f *fpdf.Fpdf, sheets []preview.Sheet) (cut bool) {
	begun := false
	for _, s := range sheets {
		if s.Hidden || len(s.Rows) == 0 {
			continue
		}
		if begun {
			f.AddPage()
		}
		begun = true
		if s.Name != "" && len(sheets) > 1 {
			f.SetFont("plain", "", titleSize)
			f.MultiCell(0, titleSize/2, paper.Drawable(s.Name), "", "L", false)
		}
		setTable(f, s.Rows[:min(len(s.Rows), maxPaperRows)])
		cut = cut || len(s.Rows) > maxPaperRows
	}
	return cut
}

// setTable sets rows, with as many columns beside each other as fit; the further
// ones follow on pages of their own.
func setTable(f *fpdf.Fpdf, rows [][]string) {
	f.SetFont("plain", "", cellSize)
	f.SetDrawColor(190, 200, 198)
	width, _ := f.GetPageSize()
	left, _, right, _ := f.GetMargins()
	widths := columnWidths(f, rows)
	for from := 0; from < len(widths); {
		to, sum := from, 0.0
		for to < len(widths) && (to == from || sum+widths[to] <= width-left-right) {
			sum += widths[to]
			to++
		}
		if from > 0 {
			f.AddPage()
		}
		for _, row := range rows {
			setRow(f, row, widths, from, to)
		}
		from = to
	}
}

func columnWidths(f *fpdf.Fpdf, rows [][]string) []float64 {
	var widths []float64
	for _, row := range rows {
		for i, cell := range row {
			if i == len(widths) {
				widths = append(widths, 9)
			}
			if widths[i] < maxCell {
				widths[i] = max(widths[i], min(maxCell, f.GetStringWidth(paper.Drawable(cell))+4.5))
			}
		}
	}
	return widths
}

func setRow(f *fpdf.Fpdf, row []string, widths []float64, from, to int) {
	lines, most := make([][]string, to-from), 1
	for i := from; i < to; i++ {
		if i < len(row) && row[i] != "" {
			lines[i-from] = f.SplitText(paper.Drawable(row[i]), widths[i]-2)
		}
		most = max(most, min(len(lines[i-from]), maxLines))
	}
	_, height := f.GetPageSize()
	if f.GetY()+float64(most)*cellHeight > height-margin {
		f.AddPage()
	}
	x, y := f.GetXY()
	for i := from; i < to; i++ {
		f.Rect(x, y, widths[i], float64(most)*cellHeight, "D")
		for n, line := range lines[i-from][:min(len(lines[i-from]), maxLines)] {
			f.SetXY(x, y+float64(n)*cellHeight)
			f.CellFormat(widths[i], cellHeight, line, "", 0, "L", false, 0, "")
		}
		x += widths[i]
	}
	left, _, _, _ := f.GetMargins()
	f.SetXY(left, y+float64(most)*cellHeight)
}
