package pdf

import (
	"strings"

	"github.com/klippa-app/go-pdfium"
	"github.com/klippa-app/go-pdfium/references"
	"github.com/klippa-app/go-pdfium/requests"

	"tabularis/core/signing"
)

// Marks finds places that are marked in the text of a document, where they lie on its pages as these are shown.
func (r *Reader) Marks(content []byte, password string) (all []signing.Spot, err error) {
	err = r.opened(content, password, func(in pdfium.Pdfium, doc requests.PageByIndex, n int) error {
		for i := range min(n, MaxPages) {
			doc.Index = i
			page := requests.Page{ByIndex: &doc}
			// Most pages hold none; only of others every letter is looked at.
			text, err := in.GetPageText(&requests.GetPageText{Page: page})
			if err != nil {
				return err
			}
			if !strings.Contains(text.Text, "[[") {
				continue
			}
			size, err := in.FPDF_GetPageSizeByIndex(&requests.FPDF_GetPageSizeByIndex{Document: doc.Document, Index: i})
			if err != nil {
				return err
			}
			spots, err := marksOn(in, page)
			if err != nil {
				return err
			}
			for _, s := range spots {
				s.Page, s.Width, s.Height = i+1, size.Width, size.Height
				if all = append(all, s); len(all) >= signing.MostPlaces {
					return nil
				}
			}
		}
		return nil
	})
	return all, err
}

// marksOn are those of a page.
func marksOn(in pdfium.Pdfium, page requests.Page) (all []signing.Spot, err error) {
	loaded, err := in.FPDFText_LoadPage(&requests.FPDFText_LoadPage{Page: page})
	if err != nil {
		return nil, err
	}
	defer func() {
		_, _ = in.FPDFText_ClosePage(&requests.FPDFText_ClosePage{TextPage: loaded.TextPage})
	}()
	count, err := in.FPDFText_CountChars(&requests.FPDFText_CountChars{TextPage: loaded.TextPage})
	if err != nil {
		return nil, err
	}
	var text strings.Builder
	// at is where each letter begins in the text.
	at := make([]int, count.Count)
	for i := range count.Count {
		c, err := in.FPDFText_GetUnicode(&requests.FPDFText_GetUnicode{TextPage: loaded.TextPage, Index: i})
		if err != nil {
			return nil, err
		}
		at[i] = text.Len()
		text.WriteRune(rune(c.Unicode))
	}
	for _, m := range signing.Marks(text.String()) {
		box, found, err := lettersAt(in, page, loaded.TextPage, at, m)
		if err != nil {
			return nil, err
		}
		if found {
			m.Place.Box = box
			all = append(all, signing.Spot{Place: m.Place})
		}
	}
	return all, nil
}

// fine is by how many parts a page is measured.
const fine = 20_000

// lettersAt is where the letters of a mark lie, on the line on which it begins.
func lettersAt(in pdfium.Pdfium, page requests.Page, text references.FPDF_TEXTPAGE, at []int, m signing.Mark) (b signing.Box, found bool, err error) {
	var left, top, right, bottom float64
	// high and low are the line's, on the page as it is when it is not turned.
	var high, low float64
	for i, from := range at {
		if from < m.From || from >= m.To {
			continue
		}
		c, err := in.FPDFText_GetCharBox(&requests.FPDFText_GetCharBox{TextPage: text, Index: i})
		if err != nil {
			return b, false, err
		}
		if c.Right <= c.Left || c.Top <= c.Bottom {
			continue
		}
		x0, y0, err := onPage(in, page, c.Left, c.Top)
		if err != nil {
			return b, false, err
		}
		x1, y1, err := onPage(in, page, c.Right, c.Bottom)
		if err != nil {
			return b, false, err
		}
		x0, x1, y0, y1 = min(x0, x1), max(x0, x1), min(y0, y1), max(y0, y1)
		if found && (c.Top < low || c.Bottom > high) {
			break // The rest stands on another line.
		}
		if !found {
			left, top, right, bottom, found = x0, y0, x1, y1, true
			high, low = c.Top, c.Bottom
			continue
		}
		left, top, right, bottom = min(left, x0), min(top, y0), max(right, x1), max(bottom, y1)
	}
	b = signing.Box{X: max(0, left), Y: max(0, top)}
	b.W, b.H = min(1, right)-b.X, min(1, bottom)-b.Y
	return b, found && b.W > 0 && b.H > 0, nil
}

// onPage is where a point lies on a page as it is shown, in parts of it.
func onPage(in pdfium.Pdfium, page requests.Page, x, y float64) (float64, float64, error) {
	p, err := in.FPDF_PageToDevice(&requests.FPDF_PageToDevice{Page: page, SizeX: fine, SizeY: fine, PageX: x, PageY: y})
	if err != nil {
		return 0, 0, err
	}
	return float64(p.DeviceX) / fine, float64(p.DeviceY) / fine, nil
}
