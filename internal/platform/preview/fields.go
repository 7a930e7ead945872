package preview

import (
	"html"
	"strings"

	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/renderer"
	"github.com/yuin/goldmark/util"

	"tabularis/core/richtext/markdown"
)

// fields shows the fields of a written form as what stands in them; other HTML is left out.
type fields struct{}

// RegisterFuncs is called by what renders.
func (fields) RegisterFuncs(r renderer.NodeRendererFuncRegisterer) {
	r.Register(ast.KindRawHTML, func(w util.BufWriter, source []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
		if entering {
			_, _ = w.WriteString(fieldShown(string(n.(*ast.RawHTML).Segments.Value(source))))
		}
		return ast.WalkSkipChildren, nil
	})
	r.Register(ast.KindHTMLBlock, func(w util.BufWriter, source []byte, n ast.Node, entering bool) (ast.WalkStatus, error) {
		if shown := fieldShown(strings.TrimSpace(string(n.Lines().Value(source)))); entering && shown != "" {
			_, _ = w.WriteString("<p>" + shown + "</p>")
		}
		return ast.WalkContinue, nil
	})
}

func fieldShown(tag string) string {
	f, is := markdown.FieldOf(tag)
	if !is {
		return ""
	}
	if f.Kind == "tick" {
		return map[bool]string{true: "☒ ", false: "☐ "}[f.Value != ""] + html.EscapeString(f.Label)
	}
	shown := "________"
	if f.Value != "" {
		shown = "<strong>" + html.EscapeString(f.Value) + "</strong>"
	}
	if f.Label != "" {
		shown = html.EscapeString(f.Label) + ": " + shown
	}
	return shown
}
