// Package paper writes runs of text on pages, as a PDF document (ISO 32000).
package paper

import (
	"bytes"
	"fmt"
	"strings"
	"unicode/utf8"

	"codeberg.org/go-pdf/fpdf"
	"golang.org/x/image/font/gofont/goregular"
)

// Style is how a run is written.
type Style string

// The styles there are.
const (
	Plain      Style = ""
	Struck     Style = "S"
	Underlined Style = "U"
)

// Run is a piece of text of one style.
type Run struct {
	Text  string
	Style Style
}

// Sheet is a heading, lines below it, and what follows.
type Sheet struct {
	Title string
	Lines []string
	Runs  []Run
}

const (
	margin     = 18.0 // millimetres
	lineHeight = 5.0
	textSize   = 9.5 // points
	lineSize   = 7.5
	titleSize  = 14.0
	// mostBytes is how much text is written.
	mostBytes = 2 << 20
)

// PDF writes the sheet. Text beyond 2 MiB is left out, with a line that says so.
func (s Sheet) PDF() ([]byte, error) {
	f := fpdf.New("P", "mm", "A4", "")
	f.AddUTF8FontFromBytes("plain", "", goregular.TTF)
	f.SetMargins(margin, margin, margin)
	f.SetAutoPageBreak(true, margin)
	f.AddPage()
	f.SetFont("plain", "", titleSize)
	f.MultiCell(0, titleSize/2, Drawable(s.Title), "", "L", false)
	f.SetFont("plain", "", lineSize)
	for _, l := range s.Lines {
		f.MultiCell(0, lineHeight-1, Drawable(l), "", "L", false)
	}
	f.Ln(lineHeight)
	left := mostBytes
	for _, r := range s.Runs {
		grey := 0
		if r.Style == Struck {
			grey = 110
		}
		f.SetTextColor(grey, grey, grey)
		f.SetFont("plain", string(r.Style), textSize)
		if len(r.Text) > left {
			f.Write(lineHeight, "[…]")
			break
		}
		left -= len(r.Text)
		f.Write(lineHeight, Drawable(strings.ReplaceAll(r.Text, "\f", "")))
	}
	var out bytes.Buffer
	if err := f.Output(&out); err != nil {
		return nil, fmt.Errorf("writing on paper: %w", err)
	}
	return out.Bytes(), nil
}

// Drawable keeps what the font and its format can hold.
func Drawable(s string) string {
	return strings.Map(func(r rune) rune {
		switch {
		case r == '\n':
			return r
		case r == '\t':
			return ' '
		case r < ' ' || r == utf8.RuneError:
			return -1
		case r > 0xffff:
			return '□'
		}
		return r
	}, s)
}
