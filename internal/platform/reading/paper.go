package reading

import (
	"bytes"
	"encoding/json"
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

// sheetArgs are of what kind that is which is set on paper, and what stands in its margins.
type sheetArgs struct {
	MediaType string
	Head      *Letterhead
	// Pictured says that the pictures that stand in it come before it.
	Pictured bool
}

// setOnPaper sets a text or a table on pages, as a PDF document. cut says that
// only the beginning is on it.
func setOnPaper(args sheetArgs, content []byte) (raw []byte, cut bool, err error) {
	mediaType := args.MediaType
	isWritten := preview.LookOf(mediaType) == preview.Markdown
	var beside map[string][]byte
	if args.Pictured {
		var pictures []byte
		if pictures, content, err = halves(content); err != nil {
			return nil, false, err
		}
		if err := json.Unmarshal(pictures, &beside); err != nil {
			return nil, false, err
		}
	}
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
	if args.Head != nil {
		args.Head.stand(f, isWritten)
	}
	f.AddPage()
	switch {
	case p.Sheets != nil:
		p.Cut = setSheets(f, p.Sheets) || p.Cut
	case isWritten:
		setWritten(f, p.Text, beside)
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

// Where a letterhead stands, in millimetres from the edges, and how large its letters are, in points.
const (
	headAt, footAt       = 7.0, 11.0
	houseSize, smallSize = 9.0, 7.5
	allPages             = "{pages}"
)

// stand lets the letterhead stand on every page, within the margins: the text lies where it does without one.
func (h *Letterhead) stand(f *fpdf.Fpdf, isWritten bool) {
	side := margin
	if isWritten {
		side = writtenMargin
	}
	f.AliasNbPages(allPages)
	f.SetHeaderFunc(func() {
		width, _ := f.GetPageSize()
		f.SetTextColor(40, 52, 54)
		f.SetXY(side, headAt-3)
		f.SetFont("plain", "", houseSize)
		f.CellFormat(f.GetStringWidth(paper.Drawable(h.House))+3, 4, paper.Drawable(h.House), "", 0, "L", false, 0, "")
		f.SetFont("plain", "", smallSize)
		f.CellFormat(0, 4, paper.Drawable(h.Tagline), "", 0, "L", false, 0, "")
		f.SetDrawColor(120, 130, 130)
		f.Line(side, headAt+2.4, width-side, headAt+2.4)
		f.SetTextColor(0, 0, 0)
		left, top, _, _ := f.GetMargins()
		f.SetXY(left, top)
	})
	f.SetFooterFunc(func() {
		f.SetTextColor(80, 92, 94)
		f.SetFont("plain", "", smallSize)
		f.SetXY(side, -footAt)
		f.CellFormat(0, 4, paper.Drawable(h.Line), "", 0, "L", false, 0, "")
		width, _ := f.GetPageSize()
		f.SetXY(width-side-30, -footAt)
		f.CellFormat(30, 4, fmt.Sprintf("%d / %s", f.PageNo(), allPages), "", 0, "R", false, 0, "")
		f.SetTextColor(0, 0, 0)
	})
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
