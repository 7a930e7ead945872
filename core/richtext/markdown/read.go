package markdown

import (
	"bytes"
	"encoding/json"
	"html"
	"strings"
	"unicode/utf8"

	"github.com/yuin/goldmark"
	"github.com/yuin/goldmark/ast"
	"github.com/yuin/goldmark/extension"
	east "github.com/yuin/goldmark/extension/ast"
	"github.com/yuin/goldmark/text"
	"github.com/yuin/goldmark/util"

	"tabularis/core/richtext"
)

var parser = goldmark.New(goldmark.WithExtensions(extension.Table, extension.Strikethrough, extension.TaskList, extension.Footnote)).Parser()

// object is a node or mark as JSON.
type object = map[string]any

// Read makes a document of Markdown. Whatever bytes come, there is a document:
// what is no valid UTF-8 is replaced, HTML stays as the text it is, and addresses
// that may not stand in a document leave their words without a link.
func Read(source []byte) (*richtext.Node, error) {
	source = bytes.ToValidUTF8(bytes.TrimPrefix(source, []byte("\ufeff")), []byte("\ufffd"))
	source = bytes.ReplaceAll(bytes.ReplaceAll(source, []byte("\r\n"), []byte("\n")), []byte{0}, []byte("\ufffd"))
	r := &reader{source: source, notes: map[int]string{}}
	root := parser.Parse(text.NewReader(source))
	for n := root.FirstChild(); n != nil; n = n.NextSibling() {
		if list, ok := n.(*east.FootnoteList); ok {
			for f := list.FirstChild(); f != nil; f = f.NextSibling() {
				r.notes[f.(*east.Footnote).Index] = strings.TrimSpace(r.words(f))
			}
		}
	}
	content := r.blocks(root, 0)
	if len(content) == 0 {
		content = []object{{"type": "paragraph"}}
	}
	raw, err := json.Marshal(object{"type": "doc", "content": content})
	if err != nil {
		return nil, err
	}
	return richtext.Written.Read(raw)
}

type reader struct {
	source []byte
	notes  map[int]string
}

// deepest is how far blocks stand within each other before they are laid flat.
const deepest = richtext.MaxDepth / 3

func (r *reader) blocks(parent ast.Node, depth int) (out []object) {
	for n := parent.FirstChild(); n != nil; n = n.NextSibling() {
		out = append(out, r.block(n, depth)...)
	}
	return out
}

func (r *reader) block(n ast.Node, depth int) []object {
	if depth > deepest {
		return paragraphOf(r.words(n))
	}
	switch n := n.(type) {
	case *ast.Heading:
		return []object{{"type": "heading", "attrs": object{"level": n.Level}, "content": r.inline(n)}}
	case *ast.Blockquote:
		return held("blockquote", nil, r.blocks(n, depth+1))
	case *ast.FencedCodeBlock:
		language := string(n.Language(r.source))
		if len(language) > 40 {
			language = ""
		}
		return []object{codeOf(r.lines(n), language)}
	case *ast.CodeBlock:
		return []object{codeOf(r.lines(n), "")}
	case *ast.ThematicBreak:
		return []object{{"type": "rule"}}
	case *ast.List:
		return r.list(n, depth)
	case *ast.HTMLBlock:
		text := r.lines(n)
		if n.HasClosure() {
			text += string(n.ClosureLine.Value(r.source))
		}
		if strings.TrimSpace(text) == nothing {
			return nil // it stands between two lists
		}
		if field, is := r.field(strings.TrimSpace(text)); is {
			return []object{{"type": "paragraph", "content": []object{field}}}
		}
		return paragraphsOf(text)
	case *east.Table:
		if len(n.Alignments) > richtext.MaxColumns {
			return []object{codeOf(r.rows(n), "")}
		}
		return []object{r.table(n)}
	case *east.FootnoteList:
		return nil
	}
	content := r.inline(n)
	if len(content) == 1 && content[0]["text"] == "\u00a0" {
		content = nil // an empty paragraph is kept as a space that does not break
	}
	return []object{{"type": "paragraph", "content": content}}
}

// held are blocks within another; without any there is an empty paragraph.
func held(kind string, attrs object, content []object) []object {
	if len(content) == 0 {
		content = []object{{"type": "paragraph"}}
	}
	n := object{"type": kind, "content": content}
	if attrs != nil {
		n["attrs"] = attrs
	}
	return []object{n}
}

func codeOf(text, language string) object {
	n := object{"type": "code_block", "attrs": object{"language": language}}
	if text = strings.TrimSuffix(text, "\n"); text != "" {
		n["content"] = []object{{"type": "text", "text": text}}
	}
	return n
}

func paragraphOf(text string) []object {
	if text = strings.TrimSpace(text); text == "" {
		return nil
	}
	return []object{{"type": "paragraph", "content": []object{{"type": "text", "text": text}}}}
}

func paragraphsOf(text string) (out []object) {
	for _, line := range strings.Split(text, "\n") {
		out = append(out, paragraphOf(line)...)
	}
	return out
}

func (r *reader) lines(n ast.Node) string {
	var b strings.Builder
	for i := range n.Lines().Len() {
		at := n.Lines().At(i)
		b.Write(at.Value(r.source))
	}
	return b.String()
}

// list is a list of tasks where every item is one.
func (r *reader) list(n *ast.List, depth int) []object {
	kind, item := "bullet_list", "list_item"
	var attrs object
	if n.IsOrdered() {
		kind, attrs = "ordered_list", object{"start": n.Start}
	}
	tasks := n.ChildCount() > 0 && !n.IsOrdered()
	for c := n.FirstChild(); c != nil; c = c.NextSibling() {
		_, isTask := taskOf(c)
		tasks = tasks && isTask
	}
	if tasks {
		kind, item = "task_list", "task_item"
	}
	var items []object
	for c := n.FirstChild(); c != nil; c = c.NextSibling() {
		var done object
		if at, ok := taskOf(c); ok && tasks {
			done = object{"done": at.IsChecked}
			at.Parent().RemoveChild(at.Parent(), at)
		}
		content := r.blocks(c, depth+1)
		if len(content) == 0 || content[0]["type"] != "paragraph" {
			content = append([]object{{"type": "paragraph"}}, content...)
		}
		items = append(items, held(item, done, content)...)
	}
	return held(kind, attrs, items)
}

func taskOf(item ast.Node) (*east.TaskCheckBox, bool) {
	if item.FirstChild() == nil {
		return nil, false
	}
	box, ok := item.FirstChild().FirstChild().(*east.TaskCheckBox)
	return box, ok
}

func (r *reader) table(n *east.Table) object {
	var rows []object
	for at := n.FirstChild(); at != nil; at = at.NextSibling() {
		kind := "table_cell"
		if _, head := at.(*east.TableHeader); head {
			kind = "table_header"
			if r.words(at) == "" {
				continue // a table without headings
			}
		}
		var cells []object
		for c := at.FirstChild(); c != nil; c = c.NextSibling() {
			align := ""
			switch c.(*east.TableCell).Alignment {
			case east.AlignLeft:
				align = "left"
			case east.AlignCenter:
				align = "center"
			case east.AlignRight:
				align = "right"
			}
			cells = append(cells, object{"type": kind, "attrs": object{"align": align}, "content": broken(r.inline(c))})
		}
		rows = append(rows, object{"type": "table_row", "content": cells})
	}
	if rows == nil {
		rows = []object{{"type": "table_row", "content": []object{{"type": "table_cell", "content": []object{{"type": "paragraph"}}}}}}
	}
	return object{"type": "table", "content": rows}
}

// rows are a table that is too wide to be one, as its text.
func (r *reader) rows(n *east.Table) string {
	var lines []string
	for at := n.FirstChild(); at != nil; at = at.NextSibling() {
		var cells []string
		for c := at.FirstChild(); c != nil; c = c.NextSibling() {
			cells = append(cells, r.words(c))
		}
		lines = append(lines, "| "+strings.Join(cells, " | ")+" |")
	}
	return strings.Join(lines, "\n")
}

// broken makes paragraphs of the lines of a cell.
func broken(content []object) []object {
	out := []object{{"type": "paragraph"}}
	for _, c := range content {
		if c["type"] == "text" && c["text"] == "<br>" {
			out = append(out, object{"type": "paragraph"})
			continue
		}
		last := out[len(out)-1]
		had, _ := last["content"].([]object)
		last["content"] = append(had, c)
	}
	return out
}

func (r *reader) inline(parent ast.Node) (out []object) {
	r.through(parent, nil, &out)
	return merged(out)
}

// merged joins text with the same marks; what is empty is left out.
func merged(nodes []object) (out []object) {
	for _, n := range nodes {
		if n["type"] == "text" {
			if n["text"] == "" {
				continue
			}
			if last := len(out) - 1; last >= 0 && out[last]["type"] == "text" && sameMarks(out[last], n) && out[last]["text"] != "<br>" && n["text"] != "<br>" {
				out[last] = object{"type": "text", "text": out[last]["text"].(string) + n["text"].(string), "marks": n["marks"]}
				continue
			}
		}
		out = append(out, n)
	}
	return out
}

func sameMarks(a, b object) bool {
	x, _ := json.Marshal(a["marks"])
	y, _ := json.Marshal(b["marks"])
	return bytes.Equal(x, y)
}

// ranks is the order in which the schema keeps marks.
var ranks = map[string]int{"link": 0, "strong": 1, "em": 2, "struck": 3, "code": 4}

func with(marks []object, kind string, attrs object) []object {
	out, placed := []object{}, false
	m := object{"type": kind}
	if attrs != nil {
		m["attrs"] = attrs
	}
	for _, other := range marks {
		if other["type"] == kind {
			return marks
		}
		if !placed && ranks[other["type"].(string)] > ranks[kind] {
			out, placed = append(out, m), true
		}
		out = append(out, other)
	}
	if !placed {
		out = append(out, m)
	}
	return out
}

func (r *reader) through(parent ast.Node, marks []object, out *[]object) {
	say := func(text string) {
		*out = append(*out, object{"type": "text", "text": text, "marks": marks})
	}
	for n := parent.FirstChild(); n != nil; n = n.NextSibling() {
		switch n := n.(type) {
		case *ast.Text:
			say(plain(n.Segment.Value(r.source), n.IsRaw()))
			switch {
			case n.HardLineBreak():
				*out = append(*out, object{"type": "hard_break", "marks": marks})
			case n.SoftLineBreak() && n.NextSibling() != nil:
				say(" ")
			}
		case *ast.String:
			say(plain(n.Value, n.IsRaw() || n.IsCode()))
		case *ast.CodeSpan:
			text := strings.ReplaceAll(string(rawOf(n, r.source)), "\n", " ")
			*out = append(*out, object{"type": "text", "text": text, "marks": with(marks, "code", nil)})
		case *ast.Emphasis:
			kind := "em"
			if n.Level == 2 {
				kind = "strong"
			}
			r.through(n, with(marks, kind, nil), out)
		case *east.Strikethrough:
			r.through(n, with(marks, "struck", nil), out)
		case *ast.Link:
			inner := marks
			if href, title, ok := addressOf(n.Destination, n.Title, false); ok {
				inner = with(marks, "link", object{"href": href, "title": title})
			}
			r.through(n, inner, out)
		case *ast.AutoLink:
			href := string(n.URL(r.source))
			if n.AutoLinkType == ast.AutoLinkEmail && !strings.HasPrefix(href, "mailto:") {
				href = "mailto:" + href
			}
			inner := marks
			if richtext.Leads(href, false) && len(href) <= 2000 {
				inner = with(marks, "link", object{"href": href})
			}
			*out = append(*out, object{"type": "text", "text": string(n.Label(r.source)), "marks": inner})
		case *ast.Image:
			src, title, ok := addressOf(n.Destination, n.Title, true)
			alt := r.words(n)
			if !ok || len(alt) > 1000 {
				say(alt)
				continue
			}
			*out = append(*out, object{"type": "picture", "attrs": object{"src": src, "alt": alt, "title": title}, "marks": marks})
		case *ast.RawHTML:
			var b strings.Builder
			for i := range n.Segments.Len() {
				at := n.Segments.At(i)
				b.Write(at.Value(r.source))
			}
			if field, is := r.field(b.String()); is {
				*out = append(*out, field)
			} else if b.String() != nothing {
				say(b.String())
			}
		case *east.FootnoteLink:
			note := r.notes[n.Index]
			if len(note) > 5000 {
				note = strings.ToValidUTF8(note[:5000], "")
			}
			*out = append(*out, object{"type": "note", "attrs": object{"text": note}, "marks": marks})
		case *east.FootnoteBacklink, *east.TaskCheckBox:
		default:
			r.through(n, marks, out)
		}
	}
}

// plain resolves the escapes and references of text as it stands in the source.
func plain(raw []byte, ready bool) string {
	if ready {
		return string(raw)
	}
	return string(util.UnescapePunctuations(util.ResolveEntityNames(util.ResolveNumericReferences(raw))))
}

func rawOf(n ast.Node, source []byte) (out []byte) {
	for c := n.FirstChild(); c != nil; c = c.NextSibling() {
		switch c := c.(type) {
		case *ast.Text:
			out = append(out, c.Segment.Value(source)...)
			if c.SoftLineBreak() {
				out = append(out, ' ')
			}
		case *ast.String:
			out = append(out, c.Value...)
		}
	}
	return out
}

func addressOf(destination, title []byte, picture bool) (string, string, bool) {
	href := html.UnescapeString(string(util.URLEscape(util.UnescapePunctuations(destination), false)))
	words := html.UnescapeString(string(util.UnescapePunctuations(title)))
	ok := utf8.ValidString(href) && len(href) <= 2000 && len(words) <= 1000 && richtext.Leads(href, picture)
	return href, words, ok
}

// Beside is the name of the file beside a text that is the picture of an image; "" where that lies elsewhere.
func Beside(n *ast.Image) string {
	src, _, _ := addressOf(n.Destination, n.Title, true)
	return richtext.Beside(src)
}

// words are the text below a node, without its marks.
func (r *reader) words(n ast.Node) string {
	var b strings.Builder
	_ = ast.Walk(n, func(n ast.Node, entering bool) (ast.WalkStatus, error) {
		if !entering {
			return ast.WalkContinue, nil
		}
		switch n := n.(type) {
		case *ast.Text:
			b.WriteString(plain(n.Segment.Value(r.source), n.IsRaw()))
			if n.SoftLineBreak() || n.HardLineBreak() {
				b.WriteByte(' ')
			}
		case *ast.String:
			b.WriteString(plain(n.Value, n.IsRaw() || n.IsCode()))
		default:
			if n.Type() == ast.TypeBlock && b.Len() > 0 {
				b.WriteByte(' ')
			}
		}
		return ast.WalkContinue, nil
	})
	return b.String()
}
