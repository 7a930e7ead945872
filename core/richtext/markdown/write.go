// Package markdown reads and writes written documents as Markdown (CommonMark with
// the tables, task lists, strikethrough and footnotes of its common extensions).
//
// What Markdown cannot hold (proposals, remarks, merged cells) is left out of the file:
// the text is written as it stands without what is merely proposed. Fields to be filled in
// are written as HTML's (see Field).
package markdown

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"tabularis/core/richtext"
)

// Write gives the text of a document as Markdown.
func Write(doc *richtext.Node) (string, error) {
	doc, err := richtext.Without(doc, "")
	if err != nil {
		return "", err
	}
	w := &writer{}
	out := w.blocks(doc.Content.Nodes)
	for i, note := range w.notes {
		out += fmt.Sprintf("\n[^%d]: %s\n", i+1, strings.TrimSpace(escaped(strings.Join(strings.Fields(note), " "))))
	}
	return out, nil
}

type writer struct{ notes []string }

func (w *writer) blocks(nodes []*richtext.Node) string {
	var b strings.Builder
	for i, n := range nodes {
		if i > 0 {
			b.WriteByte('\n')
			if isList(n) && nodes[i-1].Type == n.Type {
				// Two lists beside each other would become one.
				b.WriteString(nothing + "\n\n")
			}
		}
		b.WriteString(w.block(n))
	}
	return b.String()
}

func isList(n *richtext.Node) bool { return strings.HasSuffix(n.Type.Name, "_list") }

// block ends with the end of a line.
func (w *writer) block(n *richtext.Node) string {
	switch n.Type.Name {
	case "heading":
		level := int(n.Attrs["level"].(float64))
		return strings.TrimRight(strings.Repeat("#", level)+" "+strings.ReplaceAll(w.inline(n, false), "\\\n", " "), " ") + "\n"
	case "blockquote":
		return prefixed(w.blocks(n.Content.Nodes), "> ", "> ")
	case "code_block":
		return fenced(n)
	case "rule":
		return "---\n"
	case "bullet_list", "ordered_list", "task_list":
		return w.list(n)
	case "table":
		return w.table(n)
	case "kept_block":
		return put([]piece{{text: label(n), plain: true}}) + "\n"
	}
	text := w.inline(n, false)
	if text == "" {
		// An empty paragraph has no other way of being kept.
		return "&nbsp;\n"
	}
	return text + "\n"
}

func fenced(n *richtext.Node) string {
	text := n.Plain()
	fence := "```"
	for strings.Contains(text, fence) {
		fence += "`"
	}
	language, _ := n.Attrs["language"].(string)
	if strings.ContainsAny(language, "`\n") {
		language = ""
	}
	return fence + language + "\n" + strings.TrimSuffix(text, "\n") + "\n" + fence + "\n"
}

func (w *writer) list(n *richtext.Node) string {
	var b strings.Builder
	start, _ := n.Attrs["start"].(float64)
	loose := slices.ContainsFunc(n.Content.Nodes, func(item *richtext.Node) bool {
		return slices.ContainsFunc(item.Content.Nodes[1:], func(c *richtext.Node) bool { return !isList(c) })
	})
	for i, item := range n.Content.Nodes {
		bullet := "- "
		if n.Type.Name == "ordered_list" {
			bullet = strconv.Itoa(int(start)+i) + ". "
		}
		indent := strings.Repeat(" ", len(bullet))
		if n.Type.Name == "task_list" {
			mark := "[ ] "
			if item.Attrs["done"] == true {
				mark = "[x] "
			}
			bullet += mark
		}
		if loose && i > 0 {
			b.WriteByte('\n')
		}
		b.WriteString(prefixed(w.item(item, loose), bullet, indent))
	}
	return b.String()
}

func (w *writer) item(item *richtext.Node, loose bool) string {
	if loose {
		return w.blocks(item.Content.Nodes)
	}
	var b strings.Builder
	for _, n := range item.Content.Nodes {
		b.WriteString(w.block(n))
	}
	return b.String()
}

// prefixed puts one prefix before the first line and another before the others.
func prefixed(text, first, others string) string {
	lines := strings.Split(strings.TrimSuffix(text, "\n"), "\n")
	for i, line := range lines {
		prefix := others
		if i == 0 {
			prefix = first
		}
		lines[i] = strings.TrimRight(prefix+line, " ")
	}
	return strings.Join(lines, "\n") + "\n"
}

func (w *writer) table(n *richtext.Node) string {
	var rows [][]string
	var aligned []string
	width := 0
	for _, r := range n.Content.Nodes {
		var cells []string
		for _, c := range r.Content.Nodes {
			var lines []string
			for _, p := range c.Content.Nodes {
				lines = append(lines, strings.ReplaceAll(w.inline(p, true), "\\\n", "<br>"))
			}
			if len(rows) == 0 {
				align, _ := c.Attrs["align"].(string)
				aligned = append(aligned, align)
			}
			cells = append(cells, strings.Join(lines, "<br>"))
			span, _ := c.Attrs["colspan"].(float64)
			for range int(span) - 1 {
				cells, aligned = append(cells, ""), append(aligned, "")
			}
		}
		rows, width = append(rows, cells), max(width, len(cells))
	}
	var b strings.Builder
	line := func(cells []string) {
		for i := range max(1, width) {
			text := " "
			if i < len(cells) && cells[i] != "" {
				text = " " + cells[i] + " "
			}
			b.WriteString("|" + text)
		}
		b.WriteString("|\n")
	}
	head := rows[0]
	if !slices.ContainsFunc(n.Content.Nodes[0].Content.Nodes, func(c *richtext.Node) bool { return c.Type.Name == "table_header" }) {
		head = nil
	} else {
		rows = rows[1:]
	}
	line(head)
	var rule []string
	for i := range max(1, width) {
		mark := "---"
		if i < len(aligned) {
			switch aligned[i] {
			case "left":
				mark = ":--"
			case "center":
				mark = ":-:"
			case "right":
				mark = "--:"
			}
		}
		rule = append(rule, mark)
	}
	line(rule)
	for _, r := range rows {
		line(r)
	}
	return b.String()
}

// delimiters in the order in which they are opened; code is written as a whole.
var delimiters = []struct{ mark, sign string }{{"link", ""}, {"strong", "**"}, {"em", "*"}, {"struck", "~~"}}

// inline writes the text of a block: where a mark begins or ends, what stands beside
// its sign is written so that the sign is one (CommonMark 0.31, section 6.2).
func (w *writer) inline(n *richtext.Node, cell bool) string {
	var b []piece
	var open []richtext.Mark
	closeTo := func(keep int) {
		for len(open) > keep {
			last := open[len(open)-1]
			open = open[:len(open)-1]
			b = append(b, piece{text: endOf(last), sign: last.Type.Name != "link", closes: true, link: last.Type.Name == "link"})
		}
	}
	for _, c := range n.Content.Nodes {
		wanted := shown(c)
		keep := 0
		for keep < len(open) && keep < len(wanted) && open[keep].Equal(wanted[keep]) {
			keep++
		}
		closeTo(keep)
		for _, m := range wanted[keep:] {
			open = append(open, m)
			b = append(b, piece{text: signOf(m), sign: m.Type.Name != "link", link: m.Type.Name == "link"})
		}
		b = append(b, w.piece(c, cell))
	}
	closeTo(0)
	return put(b)
}

// shown are the marks that Markdown has, in the order in which they are opened.
func shown(n *richtext.Node) (marks []richtext.Mark) {
	for _, d := range delimiters {
		if m, ok := n.Mark(d.mark); ok {
			marks = append(marks, m)
		}
	}
	return marks
}

func signOf(m richtext.Mark) string {
	for _, d := range delimiters {
		if d.mark == m.Type.Name && d.sign != "" {
			return d.sign
		}
	}
	return "["
}

func endOf(m richtext.Mark) string {
	if m.Type.Name != "link" {
		return signOf(m)
	}
	href, _ := m.Attrs["href"].(string)
	title, _ := m.Attrs["title"].(string)
	return "](" + target(href, title) + ")"
}

func target(href, title string) string {
	href = "<" + strings.NewReplacer("<", "%3C", ">", "%3E", "\\", "%5C", "\n", "", "&", "&amp;").Replace(href) + ">"
	if !strings.ContainsAny(href, "() &*_") {
		href = href[1 : len(href)-1]
	}
	if title != "" {
		href += ` "` + strings.NewReplacer(`"`, `&quot;`, "\\", `\\`, "&", "&amp;", "\n", " ").Replace(title) + `"`
	}
	return href
}

// piece is a part of a line: text to be escaped, or a sign, or something ready.
type piece struct {
	text               string
	plain              bool
	sign, closes, link bool
}

func (w *writer) piece(n *richtext.Node, cell bool) piece {
	switch n.Type.Name {
	case "text":
		if _, code := n.Mark("code"); code {
			return piece{text: codeSpan(n.Text, cell)}
		}
		return piece{text: n.Text, plain: true}
	case "hard_break":
		return piece{text: "\\\n"}
	case "note":
		text, _ := n.Attrs["text"].(string)
		w.notes = append(w.notes, text)
		return piece{text: fmt.Sprintf("[^%d]", len(w.notes))}
	case "picture":
		alt, _ := n.Attrs["alt"].(string)
		src, _ := n.Attrs["src"].(string)
		title, _ := n.Attrs["title"].(string)
		return piece{text: "![" + escaped(alt) + "](" + target(src, title) + ")"}
	case "field":
		return piece{text: fieldTag(n)}
	case "kept":
		// What a program put into another document is named here.
		return piece{text: label(n), plain: true}
	}
	return piece{}
}

// label is what stands for something that is kept as it is.
func label(n *richtext.Node) string {
	text, _ := n.Attrs["label"].(string)
	return cmp.Or(strings.Join(strings.Fields(text), " "), "…")
}

func codeSpan(text string, cell bool) string {
	text = strings.ReplaceAll(text, "\n", " ")
	if cell {
		text = strings.ReplaceAll(text, "|", `\|`)
	}
	ticks := "`"
	for strings.Contains(text, ticks) {
		ticks += "`"
	}
	if strings.HasPrefix(text, "`") || strings.HasSuffix(text, "`") || strings.HasPrefix(text, " ") && strings.HasSuffix(text, " ") && strings.TrimSpace(text) != "" {
		text = " " + text + " "
	}
	return ticks + text + ticks
}

// nothing stands between signs, and lists, that would run into each other.
const nothing = "<!-- -->"

// put writes the pieces one after the other. Text beside a sign is written as a
// character reference where the sign would not be taken for one otherwise.
func put(pieces []piece) string {
	var b strings.Builder
	for i, p := range pieces {
		if !p.plain {
			if i > 0 && p.sign && !p.closes && pieces[i-1].sign && pieces[i-1].closes {
				b.WriteString(nothing)
			}
			b.WriteString(p.text)
			continue
		}
		text := []rune(p.text)
		before, after := besides(pieces, i)
		var first, last string
		if n := len(text); n > 0 && after.found && (after.sign && referTo(text[n-1], after) || text[n-1] == '!') {
			last = reference(text[n-1])
			text = text[:n-1]
		}
		if len(text) > 0 && before.found && before.sign && referTo(text[0], before) {
			first = reference(text[0])
			text = text[1:]
		}
		b.WriteString(first + escaped(string(text)) + last)
	}
	return ends(lineStart(b.String()))
}

// beside is the sign beside a text, and what stands on its other side.
type beside struct {
	found, sign bool
	inner       bool // the text is within the sign's marks
	over        rune // what stands beyond the sign; 0 for the end of the line
}

func besides(pieces []piece, i int) (before, after beside) {
	if i > 0 {
		p := pieces[i-1]
		before = beside{true, p.sign, !p.closes, 0}
		for j := i - 1; j >= 0; j-- {
			if !pieces[j].sign || pieces[j].text[0] != p.text[0] {
				before.over, _ = utf8.DecodeLastRuneInString(pieces[j].text)
				break
			}
		}
	}
	if i < len(pieces)-1 {
		p := pieces[i+1]
		after = beside{true, p.sign, p.closes, 0}
		for j := i + 1; j < len(pieces); j++ {
			if !pieces[j].sign || pieces[j].text[0] != p.text[0] {
				after.over, _ = utf8.DecodeRuneInString(pieces[j].text)
				break
			}
		}
	}
	return before, after
}

// referTo tells whether a character beside a sign must be written as a reference:
// space within; and letters without, where within it there is something else.
func referTo(r rune, at beside) bool {
	if r == '*' || r == '~' {
		return true // it would count among the sign's own
	}
	if at.inner {
		return unicode.IsSpace(r)
	}
	return !unicode.IsSpace(r) && !punctuation(r) && (at.over == 0 || unicode.IsSpace(at.over) || punctuation(at.over))
}

func punctuation(r rune) bool { return unicode.IsPunct(r) || unicode.IsSymbol(r) }

func reference(r rune) string { return fmt.Sprintf("&#%d;", r) }

var (
	entity     = regexp.MustCompile(`&(#?\w+;)`)
	underscore = regexp.MustCompile(`(^|[^\pL\pN])_|_([^\pL\pN]|$)`)
)

// escaped writes text so that nothing in it is taken for a sign.
func escaped(text string) string {
	text = strings.NewReplacer("\\", "\\\\", "`", "\\`", "*", "\\*", "[", "\\[", "]", "\\]", "<", "\\<", "~", "\\~", "|", "\\|", "\n", "&#10;", "\r", "&#13;", "\t", "&#9;").Replace(entity.ReplaceAllString(text, "&amp;$1"))
	for range 2 {
		text = underscore.ReplaceAllStringFunc(text, func(at string) string {
			if strings.Contains(at, "\\_") {
				return at
			}
			return strings.Replace(at, "_", "\\_", 1)
		})
	}
	return text
}

var (
	blockSign = regexp.MustCompile(`^(#{1,6}( |$)|>|[-+]( |$)|=+ *$|-+ *$|:)`)
	number    = regexp.MustCompile(`^(\d{1,9})([.)])( |$)`)
	spaces    = regexp.MustCompile(`^ +`)
)

// lineStart escapes what would make a block of another kind of a line.
func lineStart(text string) string {
	lines := strings.Split(text, "\\\n")
	for i, line := range lines {
		switch {
		case blockSign.MatchString(line):
			line = "\\" + line
		case number.MatchString(line):
			line = number.ReplaceAllString(line, `$1\$2$3`)
		}
		lines[i] = line
	}
	return strings.Join(lines, "\\\n")
}

// ends keeps the space at the beginning of lines, which would be lost; nobody sees that at their ends.
func ends(text string) string {
	lines := strings.Split(text, "\\\n")
	for i, line := range lines {
		lines[i] = spaces.ReplaceAllStringFunc(strings.TrimRight(line, " "), func(s string) string { return strings.Repeat("&#32;", len(s)) })
	}
	return strings.Join(lines, "\\\n")
}
