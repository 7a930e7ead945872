package remarks_test

import (
	"math"
	"strings"
	"testing"

	"tabularis/core/fault"
	"tabularis/core/remarks"
)

func code(err error) string {
	if err == nil {
		return ""
	}
	return fault.Of(err).Code
}

func TestText(t *testing.T) {
	for _, c := range []struct{ text, want, code string }{
		{" Which frames?\r\n\r\n", "Which frames?", ""},
		{"**bold**\n\n- a\n\t- b", "**bold**\n\n- a\n\t- b", ""},
		{"<script>alert(1)</script>", "<script>alert(1)</script>", ""}, // Text; whoever shows it makes it safe.
		{"", "", "remark-empty"},
		{" \n ", "", "remark-empty"},
		{"a\x00b", "", "remark-not-text"},
		{"a\x1bb", "", "remark-not-text"},
		{"a\xffb", "", "remark-not-text"},
		{"invoice \u202efdp.exe", "", "remark-not-text"},
		{strings.Repeat("ü", 10000), strings.Repeat("ü", 10000), ""},
		{strings.Repeat("ü", 10001), "", "remark-long"},
	} {
		if got, err := remarks.Text(c.text); got != c.want || code(err) != c.code {
			t.Errorf("%.20q: %.20q, %v", c.text, got, err)
		}
	}
}

func TestPlaces(t *testing.T) {
	for name, c := range map[string]struct {
		place remarks.Place
		good  bool
	}{
		"a point":              {remarks.Place{Kind: remarks.Point, Page: 1, X: 0.5, Y: 1}, true},
		"a point on page 0":    {remarks.Place{Kind: remarks.Point, X: 0.5, Y: 0.5}, false},
		"beside the page":      {remarks.Place{Kind: remarks.Point, Page: 1, X: 1.01, Y: 0.5}, false},
		"above it":             {remarks.Place{Kind: remarks.Point, Page: 1, X: 0.1, Y: -0.01}, false},
		"nowhere":              {remarks.Place{Kind: remarks.Point, Page: 1, X: math.NaN(), Y: 0.5}, false},
		"infinitely far":       {remarks.Place{Kind: remarks.Area, Page: 1, X: 0, Y: 0, Width: math.Inf(1), Height: 0.1}, false},
		"an area":              {remarks.Place{Kind: remarks.Area, Page: 3, X: 0.2, Y: 0.2, Width: 0.8, Height: 0.1}, true},
		"an area over the end": {remarks.Place{Kind: remarks.Area, Page: 3, X: 0.3, Y: 0.2, Width: 0.8, Height: 0.1}, false},
		"of no size":           {remarks.Place{Kind: remarks.Area, Page: 3, X: 0.3, Y: 0.2, Width: 0.1}, false},
		"a page":               {remarks.Place{Kind: remarks.Page, Page: 18}, true},
		"a page too far":       {remarks.Place{Kind: remarks.Page, Page: 1 << 30}, false},
		"a passage":            {remarks.Place{Kind: remarks.Passage, Words: "31 of\n 44 readings"}, true},
		"without words":        {remarks.Place{Kind: remarks.Passage, Words: " \n"}, false},
		"a cell":               {remarks.Place{Kind: remarks.Cell, Sheet: "Frames", Row: 12, Column: 4}, true},
		"no cell":              {remarks.Place{Kind: remarks.Cell, Row: 0, Column: 4}, false},
		"of no kind":           {remarks.Place{Kind: "star", Page: 1}, false},
		"no text":              {remarks.Place{Kind: remarks.Passage, Words: "\xff"}, false},
	} {
		got, err := remarks.Check(c.place)
		if (err == nil) != c.good || err == nil && (got.Kind != c.place.Kind || strings.Contains(got.Words, "\n")) {
			t.Errorf("%s: %+v, %v", name, got, err)
		}
	}
	if got, err := remarks.Check(remarks.Place{Kind: remarks.Passage, Words: strings.Repeat("üb ", 1000)}); err != nil || len(got.Words) > 600 || !strings.HasPrefix(strings.Repeat("üb ", 1000), got.Words) {
		t.Errorf("%q, %v", got.Words, err)
	}
}

func TestCarrying(t *testing.T) {
	pages := []string{"Contents", "31 of 44 read-\nings lie within", "The same: 31 of 44 readings.", ""}
	passage := func(page int, words string) remarks.Place {
		return remarks.Place{Kind: remarks.Passage, Page: page, Words: words}
	}
	for name, c := range map[string]struct {
		place remarks.Place
		pages []string
		page  int
		found bool
	}{
		"set otherwise":           {passage(2, "31 of 44 readings lie"), pages, 2, true},
		"the nearest of two":      {passage(4, "31 of 44 readings"), pages, 3, true},
		"moved to a former page":  {passage(3, "Contents"), pages, 1, true},
		"not there any more":      {passage(2, "frame 40"), pages, 2, false},
		"words that say nothing":  {passage(2, "- -"), pages, 2, false},
		"a text without pages":    {passage(0, "The Same"), []string{"It is the\nsame as before"}, 0, true},
		"a point without words":   {remarks.Place{Kind: remarks.Point, Page: 4, X: 0.5, Y: 0.5}, pages, 4, true},
		"on a page that is gone":  {remarks.Place{Kind: remarks.Point, Page: 5, X: 0.5, Y: 0.5}, pages, 5, false},
		"an area with words":      {remarks.Place{Kind: remarks.Area, Page: 1, X: 0.1, Y: 0.1, Width: 0.2, Height: 0.2, Words: "lie within"}, pages, 2, true},
		"a cell":                  {remarks.Place{Kind: remarks.Cell, Row: 3, Column: 1}, nil, 0, true},
		"nothing to be looked at": {passage(1, "Contents"), nil, 1, false},
	} {
		got, found := remarks.Carry(c.place, c.pages)
		if found != c.found || got.Page != c.page || got.X != c.place.X || got.Words != c.place.Words {
			t.Errorf("%s: %+v, %v", name, got, found)
		}
	}
}

func FuzzCarry(f *testing.F) {
	f.Add("31 of 44 readings", "31 of 44\nread-ings\fand so on", 2)
	f.Fuzz(func(t *testing.T, words, text string, page int) {
		p, err := remarks.Check(remarks.Place{Kind: remarks.Passage, Page: page, Words: words})
		if err != nil {
			return
		}
		pages := strings.Split(text, "\f")
		got, found := remarks.Carry(p, pages)
		if found && got.Page > 0 && !strings.Contains(remarks.Key(pages[got.Page-1]), remarks.Key(p.Words)) {
			t.Errorf("%q is not on page %d", p.Words, got.Page)
		}
		// Where it stands already, it stays.
		if found && p.Page > 0 {
			if again, there := remarks.Carry(got, pages); !there || again != got {
				t.Errorf("%+v moves on to %+v", got, again)
			}
		}
	})
}
