// Package remarks says what a remark may hold and where it may stand, and finds its place
// again in a further version.
package remarks

import (
	"math"
	"strings"
	"unicode/utf8"

	"tabularis/core/fault"
)

// Kind is what of a thing a remark stands at.
type Kind string

// Where a remark can stand. A thing as a whole has no place at all.
const (
	// Point and Area stand on a page.
	Point Kind = "point"
	Area  Kind = "area"
	// Page is a page as a whole.
	Page Kind = "page"
	// Passage are words of a text.
	Passage Kind = "passage"
	// Cell is a cell of a table.
	Cell Kind = "cell"
)

// Place is where on a document a remark stands.
type Place struct {
	Kind Kind `json:"kind"`
	// Page counts from 1. Of a passage it is 0 where the text has no pages.
	Page int `json:"page,omitempty"`
	// X, Y, Width and Height are parts of the page's width and height, from its upper left.
	X      float64 `json:"x,omitempty"`
	Y      float64 `json:"y,omitempty"`
	Width  float64 `json:"width,omitempty"`
	Height float64 `json:"height,omitempty"`
	// Words are those at the place: of a passage the passage itself, of a point or area
	// what is written below it.
	Words string `json:"words,omitempty"`
	// Sheet, Row and Column name a cell; row and column count from 1.
	Sheet  string `json:"sheet,omitempty"`
	Row    int    `json:"row,omitempty"`
	Column int    `json:"column,omitempty"`
}

const (
	mostText  = 10000
	mostWords = 600
	mostName  = 200
	mostPage  = 100000
	mostCell  = 1 << 24
)

// Text returns a remark's text in normal form, or refuses it: one that says nothing, is no
// text, or is longer than 10,000 characters. Control characters other than line ends and
// tabs are no text.
func Text(text string) (string, error) {
	text = strings.TrimSpace(strings.ReplaceAll(text, "\r\n", "\n"))
	switch {
	case !utf8.ValidString(text) || strings.ContainsFunc(text, control):
		return "", errNotText.In("text", "a remark is text")
	case text == "":
		return "", errEmpty.In("text", "say something")
	case utf8.RuneCountInString(text) > mostText:
		return "", errLong.In("text", "a remark has at most %d characters", mostText)
	}
	return text, nil
}

// control tells characters that are not written: controls, and those that turn the
// direction of what stands around them.
func control(r rune) bool {
	return r < ' ' && r != '\n' && r != '\t' || r >= 0x7f && r < 0xa0 || r >= 0x202a && r <= 0x202e || r >= 0x2066 && r <= 0x2069
}

// Check returns a place in normal form, or refuses one that is none: off the page, without
// words, or no cell.
func Check(p Place) (Place, error) {
	if !utf8.ValidString(p.Words+p.Sheet) || len(p.Sheet) > mostName {
		return p, errPlace.In("place", "there is no such place")
	}
	p.Words = shorten(strings.Join(strings.Fields(p.Words), " "))
	inside := func(at, long float64) bool {
		return !math.IsNaN(at) && !math.IsNaN(long) && at >= 0 && long >= 0 && at+long <= 1+1e-9
	}
	page := p.Page >= 1 && p.Page <= mostPage
	switch p.Kind {
	case Point:
		if page && inside(p.X, 0) && inside(p.Y, 0) {
			return Place{Kind: Point, Page: p.Page, X: p.X, Y: p.Y, Words: p.Words}, nil
		}
	case Area:
		if page && inside(p.X, p.Width) && inside(p.Y, p.Height) && p.Width > 0 && p.Height > 0 {
			return Place{Kind: Area, Page: p.Page, X: p.X, Y: p.Y, Width: p.Width, Height: p.Height, Words: p.Words}, nil
		}
	case Page:
		if page {
			return Place{Kind: Page, Page: p.Page}, nil
		}
	case Passage:
		if p.Words != "" && p.Page >= 0 && p.Page <= mostPage {
			return Place{Kind: Passage, Page: p.Page, Words: p.Words}, nil
		}
	case Cell:
		if p.Row >= 1 && p.Row <= mostCell && p.Column >= 1 && p.Column <= mostCell {
			return Place{Kind: Cell, Sheet: p.Sheet, Row: p.Row, Column: p.Column, Words: p.Words}, nil
		}
	}
	return p, errPlace.In("place", "there is no such place")
}

// shorten keeps as many whole characters as a place's words may have.
func shorten(words string) string {
	if len(words) <= mostWords {
		return words
	}
	end := mostWords
	for !utf8.RuneStart(words[end]) {
		end--
	}
	return strings.TrimSpace(words[:end])
}

// Carry finds a place again in a further version, by the texts of its pages; a text without
// pages is one. It is found where its words stand, on the page nearest to where they stood.
// What has no words stays where it is as long as there is such a page.
func Carry(p Place, pages []string) (Place, bool) {
	if p.Kind == Cell {
		return p, true
	}
	if p.Words == "" {
		return p, p.Page <= len(pages)
	}
	want := Key(p.Words)
	if want == "" {
		return p, false
	}
	best, found := 0, false
	for i, text := range pages {
		if !strings.Contains(Key(text), want) {
			continue
		}
		if n := i + 1; !found || apart(n, p.Page) < apart(best, p.Page) {
			best, found = n, true
		}
	}
	if found && p.Page > 0 {
		p.Page = best
	}
	return p, found
}

func apart(a, b int) int {
	if a < b {
		return b - a
	}
	return a - b
}

// Key is how texts are compared: letters and digits alone, so that line ends and hyphens
// of another setting do not matter.
func Key(text string) string {
	return strings.Map(func(r rune) rune {
		if r <= ' ' || r == '-' || r == 0xad || r == 0xa0 || r == 0x2010 || r == 0x2011 {
			return -1
		}
		return r
	}, strings.ToLower(text))
}

// What is refused here.
var (
	errNotText = fault.Declare(fault.Invalid, "remark-not-text", "a remark is text")
	errEmpty   = fault.Declare(fault.Invalid, "remark-empty", "say something")
	errLong    = fault.Declare(fault.Invalid, "remark-long", "a remark has at most … characters")
	errPlace   = fault.Declare(fault.Invalid, "remark-place", "there is no such place")
)
