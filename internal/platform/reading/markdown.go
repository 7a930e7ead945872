package reading

import (
	"fmt"
	"image"
	"strings"

	"codeberg.org/go-pdf/fpdf"
	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/extension"
	tables "github.com/yuin/goldmark/extension/ast"
	"github.com/yuin/goldmark/text"
	"github.com/yuin/goldmark/util"
	"golang.org/x/image/font/gofont/gobold"
	"golang.org/x/image/font/gofont/gobolditalic"
	"golang.org/x/image/font/gofont/goitalic"

	"tabularis/core/richtext/markdown"
	"tabularis/internal/platform/paper"
)

const (
	// Written text has wider margins than a listing, in millimetres, and larger letters, in points.
	writtenMargin = 24.0
	writtenSize   = 10.5
	writtenLine   = 5.4
	// indent is by how much what lies within is set in.
	indent = 7.0
	// mostNested is how deep lists and quotations lie within one another at most; deeper ones are not set in further.
	mostNested = 8
)

var headingSizes = []float64{17, 13.5, 11.5, 10.5, 10.5, 10.5}

// typeset sets Markdown (CommonMark, with tables) on pages as it is meant, not as it was typed.
type typeset struct {
	f      *fpdf.Fpdf
	source []byte
	// deep is within how many lists and quotations it stands.
	deep int
	// beside are the pictures that stand in it, drawn the sizes of those that are on paper already.
	beside map[string][]byte
	drawn  map[string]image.Point
}

func setWritten(f *fpdf.Fpdf, source string, beside map[string][]byte) {
	f.AddUTF8FontFromBytes("plain", "B", gobold.TTF)
	f.AddUTF8FontFromBytes("plain", "I", goitalic.TTF)
	f.AddUTF8FontFromBytes("plain", "BI", gobolditalic.TTF)
	f.SetMargins(writtenMargin, writtenMargin, writtenMargin)
	f.SetAutoPageBreak(true, writtenMargin)
	f.SetXY(writtenMargin, writtenMargin)
	w := &typeset{f: f, source: []byte(source), beside: beside, drawn: map[string]image.Point{}}
	w.blocks(goldmark.New(goldmark.WithExtensions(extension.GFM)).Parser().Parse(text.NewReader(w.source)))
}

func (w *typeset) blocks(parent ast.Node) {
	for n := parent.FirstChild(); n != nil; n = n.NextSibling() {
		w.block(n)
	}
}

func (w *typeset) block(n ast.Node) {
	switch n := n.(type) {
	case *ast.Heading:
		size := headingSizes[min(n.Level, len(headingSizes))-1]
		w.f.Ln(size / 4)
		w.line(n, size, "B")
		w.f.Ln(1.2)
	case *ast.List:
		w.list(n)
		w.f.Ln(1)
	case *ast.Blockquote:
		w.within(func() { w.blocks(n) })
	case *ast.HTMLBlock:
		if tag := n.Lines().Value(w.source); w.isField(tag) {
			w.field(tag, w.put(writtenSize))
			w.f.Ln(writtenLine + 2)
			return
		}
		w.verbatim(n)
	case *ast.FencedCodeBlock, *ast.CodeBlock:
		w.verbatim(n)
	case *tables.Table:
		w.table(n)
	case *ast.ThematicBreak:
		left, _, right, _ := w.f.GetMargins()
		width, _ := w.f.GetPageSize()
		w.f.SetDrawColor(120, 130, 130)
		w.f.Line(left, w.f.GetY()+1, width-right, w.f.GetY()+1)
		w.f.Ln(4)
	default:
		w.line(n, writtenSize, "")
		w.f.Ln(2.2)
	}
}

// within sets what lies within something in by a step.
func (w *typeset) within(do func()) {
	left, _, _, _ := w.f.GetMargins()
	if w.deep++; w.deep <= mostNested {
		w.f.SetLeftMargin(left + indent)
		w.f.SetX(left + indent)
	}
	do()
	w.f.SetLeftMargin(left)
	w.f.SetX(left)
	w.deep--
}

func (w *typeset) list(n *ast.List) {
	number := n.Start
	for item := n.FirstChild(); item != nil; item = item.NextSibling() {
		sign := "–"
		if n.IsOrdered() {
			sign = fmt.Sprintf("%d.", number)
			number++
		}
		w.f.SetFont("plain", "", writtenSize)
		w.f.CellFormat(indent, writtenLine, sign, "", 0, "L", false, 0, "")
		w.within(func() {
			for c := item.FirstChild(); c != nil; c = c.NextSibling() {
				if _, tight := c.(*ast.TextBlock); tight {
					w.line(c, writtenSize, "")
					continue
				}
				w.block(c)
			}
		})
	}
}

// line sets the words of a block, each as it is marked.
func (w *typeset) line(n ast.Node, size float64, style string) {
	w.inline(n, size, style)
	w.f.Ln(size / writtenSize * writtenLine)
}

// verbatim sets lines as they stand.
func (w *typeset) verbatim(n ast.Node) {
	w.f.SetFont("mono", "", textSize)
	var lines strings.Builder
	for i := range n.Lines().Len() {
		at := n.Lines().At(i)
		lines.Write(at.Value(w.source))
	}
	w.f.MultiCell(0, lineHeight, paper.Drawable(strings.TrimRight(lines.String(), "\n")), "", "L", false)
	w.f.Ln(2)
}

func (w *typeset) put(size float64) func(family, style, words string) {
	return func(family, style, words string) {
		w.f.SetFont(family, style, size)
		w.f.Write(size/writtenSize*writtenLine, paper.Drawable(words))
	}
}

func (w *typeset) isField(tag []byte) bool {
	_, is := markdown.FieldOf(strings.TrimSpace(string(tag)))
	return is
}

// field sets what stands in a field that is filled in, or a line to write on.
func (w *typeset) field(tag []byte, put func(family, style, words string)) {
	f, is := markdown.FieldOf(strings.TrimSpace(string(tag)))
	switch {
	case !is:
		return
	case f.Kind == "tick":
		put("mono", "", map[bool]string{true: "[x] ", false: "[ ] "}[f.Value != ""])
		put("plain", "", f.Label)
		return
	case f.Label != "":
		put("plain", "", f.Label+": ")
	}
	if f.Value == "" {
		put("plain", "", strings.Repeat("_", 24))
		return
	}
	put("plain", "B", f.Value)
}

func (w *typeset) inline(parent ast.Node, size float64, style string) {
	put := w.put(size)
	for n := parent.FirstChild(); n != nil; n = n.NextSibling() {
		switch n := n.(type) {
		case *ast.Text:
			put("plain", style, w.words(n.Segment.Value(w.source)))
			switch {
			case n.HardLineBreak():
				w.f.Ln(size / writtenSize * writtenLine)
			case n.SoftLineBreak():
				put("plain", style, " ")
			}
		case *ast.String:
			put("plain", style, string(n.Value))
		case *ast.CodeSpan:
			put("mono", "", w.plain(n))
		case *ast.Emphasis:
			more := "I"
			if n.Level > 1 {
				more = "B"
			}
			w.inline(n, size, together(style, more))
		case *ast.AutoLink:
			put("plain", style, string(n.URL(w.source)))
		case *ast.Link:
			w.inline(n, size, style)
			if to := string(n.Destination); to != "" {
				put("plain", style, " ("+to+")")
			}
		case *ast.Image:
			if !w.picture(markdown.Beside(n)) {
				w.inline(n, size, style)
			}
		case *tables.TaskCheckBox:
			put("mono", "", map[bool]string{true: "[x] ", false: "[ ] "}[n.IsChecked])
		case *ast.RawHTML:
			w.field(n.Segments.Value(w.source), put)
		default:
			w.inline(n, size, style)
		}
	}
}

// words are what a text means: with its references and escapes resolved (CommonMark, 2.4 and 2.5).
func (w *typeset) words(raw []byte) string {
	resolve := func(raw []byte) []byte { return util.ResolveEntityNames(util.ResolveNumericReferences(raw)) }
	var out []byte
	from := 0
	for i := 0; i+1 < len(raw); i++ {
		if raw[i] == '\\' && util.IsPunct(raw[i+1]) {
			// What is escaped begins no reference.
			out = append(append(out, resolve(raw[from:i])...), raw[i+1])
			i++
			from = i + 1
		}
	}
	return string(append(out, resolve(raw[from:])...))
}

// together are two styles at once.
func together(a, b string) string {
	if strings.Contains(a, b) {
		return a
	}
	if a+b == "IB" {
		return "BI"
	}
	return a + b
}

func (w *typeset) table(n *tables.Table) {
	var rows [][]string
	for r := n.FirstChild(); r != nil; r = r.NextSibling() {
		var row []string
		for c := r.FirstChild(); c != nil; c = c.NextSibling() {
			row = append(row, w.plain(c))
		}
		rows = append(rows, row)
	}
	setTable(w.f, rows)
	w.f.Ln(3)
}

// plain are the words of a cell.
func (w *typeset) plain(n ast.Node) string {
	var b strings.Builder
	for c := n.FirstChild(); c != nil; c = c.NextSibling() {
		if t, ok := c.(*ast.Text); ok {
			b.WriteString(w.words(t.Segment.Value(w.source)))
			continue
		}
		b.WriteString(w.plain(c))
	}
	return b.String()
}
