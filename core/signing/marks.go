package signing

import (
	"cmp"
	"regexp"
	"slices"
	"strings"

	"tabularis/core/templates"
)

// mark is how a place is marked in the text of a paper: what is done there, by which party, and what it is for, as
// in [[sign:B]] or [[text?:B Invoice to]]; a question mark says that it need not be filled in.
var mark = regexp.MustCompile(`\[\[\s*(\p{L}[\p{L} ]{0,19}?)\s*(\?)?\s*:\s*([A-T])(?:\s+([^\[\]\n]{1,120}?))?\s*\]\]`)

// does are the words for what is done, in either language.
var does = map[string]Kind{
	"sign": Signature, "signature": Signature, "unterschrift": Signature,
	"initials": Initials, "initialen": Initials,
	"signed on": SignedOn, "unterschrieben am": SignedOn,
	"date": Date, "datum": Date,
	"text":   Text,
	"number": Number, "zahl": Number,
	"choice": Choice, "auswahl": Choice,
	"tick": Tick, "haken": Tick,
	"paper": Paper, "beilage": Paper,
}

// Mark is a place that is marked in a text, from one byte to another. Page, box and number of the place are not known to it.
type Mark struct {
	From, To int
	Place    Place
}

// Marks are the places that are marked in a text. Marks that say nothing known are left alone.
func Marks(text string) (all []Mark) {
	part := func(m []int, n int) string {
		if m[2*n] < 0 {
			return ""
		}
		return text[m[2*n]:m[2*n+1]]
	}
	for _, m := range mark.FindAllStringSubmatchIndex(text, -1) {
		kind, known := does[templates.Key(part(m, 1))]
		if !known || len(all) >= MostPlaces {
			continue
		}
		p := Place{Kind: kind, Party: int(part(m, 3)[0] - 'A'), Label: part(m, 4), Must: kind.Given() && part(m, 2) == ""}
		if kind == Choice {
			p.Label, p.Choices = "", choices(p.Label)
		}
		all = append(all, Mark{m[0], m[1], p})
	}
	return all
}

// choices are what stands between strokes: "afloat / ashore".
func choices(s string) (all []string) {
	for c := range strings.SplitSeq(s, "/") {
		if c = strings.TrimSpace(c); c != "" && len(all) < MostChoices {
			all = append(all, c)
		}
	}
	return all
}

// Unmarked fills a text's blanks, and leaves room where places are marked.
type Unmarked struct{ templates.Values }

// Spans are where something else stands in a text, in order.
func (u Unmarked) Spans(text string) []templates.Span {
	all := u.Values.Spans(text)
	for _, m := range Marks(text) {
		all = append(all, templates.Span{From: m.From, To: m.To, Value: room(text[m.From:m.To])})
	}
	slices.SortFunc(all, func(a, b templates.Span) int { return cmp.Compare(a.From, b.From) })
	return all
}

// room is as wide as a mark, about: it does not break, and is no space that ends a line.
func room(marked string) string {
	const wide = "\u00a0"
	return strings.Repeat(wide, len([]rune(marked)))
}

// Usual is how wide and high a place of a kind is usually, in points.
func Usual(k Kind) (w, h float64) {
	switch k {
	case Signature:
		return 150, 36
	case Initials:
		return 52, 24
	case SignedOn, Date:
		return 84, 20
	case Number:
		return 90, 20
	case Tick:
		return 14, 14
	}
	return 180, 20
}

// Spot is where something was found on a page as it is shown: a mark in the text, or a field of a form.
type Spot struct {
	Page  int
	Place Place
	// Width and Height are those of the page, in points.
	Width, Height float64
	// Field says that the box is the place's already; else the text of a mark lies there, and the place stands on its line.
	Field bool
}

// Settle makes places of what was found: numbered, each as large as usual where there is room, none over another.
func Settle(all []Spot) (out []Place) {
	slices.SortStableFunc(all, func(a, b Spot) int {
		return cmp.Or(cmp.Compare(a.Page, b.Page), cmp.Compare(a.Place.Box.Y, b.Place.Box.Y), cmp.Compare(a.Place.Box.X, b.Place.Box.X))
	})
	for i, s := range all {
		p := s.Place
		p.ID, p.Page = i+1, s.Page
		if !s.Field {
			p.Box = s.grown(all)
		}
		free := !slices.ContainsFunc(out, func(o Place) bool { return o.Page == p.Page && o.Box.overlaps(p.Box) })
		if free && p.Box.W >= smallest && p.Box.H >= smallest && len(out) < MostPlaces {
			out = append(out, p)
		}
	}
	return out
}

// grown is the box of a marked place: from where its mark begins, on the line on which that stands, up to the next mark or
// the edge of the page.
func (s Spot) grown(all []Spot) Box {
	const gap = 0.008
	at, right := s.Place.Box, 1.0
	w, h := Usual(s.Place.Kind)
	b := Box{X: at.X, W: w / s.Width, H: max(h/s.Height, at.H)}
	b.Y = max(0, at.Y+at.H-b.H)
	for _, o := range all {
		if c := o.Place.Box; o.Page == s.Page && c.X > at.X+gap && c.Y < at.Y+at.H && at.Y < c.Y+c.H {
			right = min(right, c.X-gap)
		}
		// What stands above on the page keeps its line.
		if c := o.Place.Box; o.Page == s.Page && c.Y+c.H <= at.Y && c.X < b.X+b.W && b.X < c.X+c.W && c.Y+c.H > b.Y {
			b.Y = c.Y + c.H + 0.001
			b.H = at.Y + at.H - b.Y
		}
	}
	b.W = min(b.W, right-b.X)
	b.H = min(b.H, 1-b.Y)
	return b
}
