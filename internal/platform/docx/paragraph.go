package docx

import (
	"cmp"
	"strings"

	"tabularis/core/diff"
	"tabularis/core/richtext"
)

// block writes a line that is new, or was another one.
func (w *writer) block(b block, was *line, had block) {
	switch b.node.Type.Name {
	case "kept_block":
		id, _ := b.node.Attrs["id"].(string)
		if kept, there := w.things["\x00"+id]; there {
			w.out.WriteString(kept.raw)
			return
		}
		label, _ := b.node.Attrs["label"].(string)
		w.paragraph(b, []unit{{is: "\x00" + id, thing: &thing{label: label}, look: plain, marks: bare}}, nil, had)
	case "table":
		w.table(b.node, was, had.node)
	default:
		w.paragraph(b, w.wanted(b), was, had)
	}
}

// wanted are the units of a line.
func (w *writer) wanted(b block) (all []unit) {
	letters := func(text string, m *marks) {
		for _, c := range text {
			all = append(all, unit{is: string(c), marks: m})
		}
	}
	if b.list == "task_list" {
		letters(map[bool]string{true: "☑ ", false: "☐ "}[b.done], bare)
	}
	for _, n := range b.node.Content.Nodes {
		bears := marksOf(n)
		m := &bears
		m.code = m.code || b.node.Type.Name == "code_block"
		said := func(name string) string { text, _ := n.Attrs[name].(string); return text }
		switch n.Type.Name {
		case "text":
			letters(n.Text, m)
		case "hard_break":
			all = append(all, unit{is: "\n", marks: m})
		case "kept":
			all = append(all, unit{is: "\x00" + said("id"), thing: &thing{said("kind"), said("label")}, marks: m})
		case "note":
			letters(" ["+said("text")+"]", m)
		case "picture":
			if is, there := w.put[said("src")]; there {
				all = append(all, unit{is: is, thing: w.things[is].thing, marks: m})
			} else {
				letters("["+said("alt")+"]", m)
			}
		case "field":
			letters(cmp.Or(said("value"), said("label"), "____"), m)
		}
	}
	return all
}

func marksOf(n *richtext.Node) (m marks) {
	for _, k := range n.Marks {
		said := func(name string) string { text, _ := k.Attrs[name].(string); return text }
		switch k.Type.Name {
		case "strong":
			m.strong = true
		case "em":
			m.em = true
		case "struck":
			m.struck = true
		case "code":
			m.code = true
		case "link":
			m.href = said("href")
		case "inserted", "deleted":
			at, _ := k.Attrs["at"].(float64)
			p := proposed{said("id"), said("by"), dateOf(at)}
			if k.Type.Name == "inserted" {
				m.inserted = p
			} else {
				m.deleted = p
			}
		}
	}
	return m
}

// paragraph writes a paragraph. What stays of the one that was there keeps its look.
func (w *writer) paragraph(b block, wanted []unit, was *line, had block) {
	props, as := w.props(b, was, had)
	var units []unit
	if was != nil {
		units = was.units
	}
	run := w.runs(w.merged(units, wanted, as))
	w.out.WriteString("<" + w.w + ":p>" + w.around("pPr", props) + run + "</" + w.w + ":p>")
}

// merged are the wanted units, with how those that stood there are written, and what took no room where it was.
func (w *writer) merged(had, wanted []unit, usual *look) (all []unit) {
	var shown []unit
	var before [][]unit // what takes no room before each
	var hidden []unit
	for _, u := range had {
		if u.is == "" {
			hidden = append(hidden, u)
			continue
		}
		shown, before = append(shown, u), append(before, hidden)
		hidden = nil
	}
	as := usual
	for _, u := range shown {
		if u.isLetter() {
			as = u.look
			break
		}
	}
	for _, e := range compared(isOf(shown), isOf(wanted), mostLetterEdits) {
		for i := e.A0; i < e.A1; i++ {
			all = append(all, before[i]...)
			if e.Kind != diff.Same {
				continue
			}
			u, want := shown[i], wanted[e.B0+i-e.A0]
			if u.isLetter() {
				as = u.look
			}
			want.raw, want.whole, want.look = u.raw, u.whole, w.borne(u.look, want.marks)
			if want.marks.href == u.marks.href && u.marks.link != "" {
				m := *want.marks
				m.link = u.marks.link
				want.marks = &m
			}
			all = append(all, want)
		}
		if e.Kind == diff.Added {
			for _, want := range wanted[e.B0:e.B1] {
				want.look = w.borne(as, want.marks)
				all = append(all, w.fetched(want)...)
			}
		}
	}
	return append(all, hidden...)
}

func isOf(units []unit) (all []string) {
	for _, u := range units {
		all = append(all, u.is)
	}
	return all
}

// borne is a look with what is wanted; the same one where nothing differs.
func (w *writer) borne(l *look, m *marks) *look {
	if l.marks == *m {
		return l
	}
	return &look{w.bearing(l, *m), *m}
}

// fetched is a thing that came from elsewhere in the document; one that is not there is named.
func (w *writer) fetched(want unit) []unit {
	if want.is[0] != 0 {
		return []unit{want}
	}
	known, there := w.things[want.is]
	once := there && (known.thing.kind == "note" || known.thing.kind == "remark")
	switch {
	case there && once && w.used[want.is]:
		return nil // Nothing may be referred to twice.
	case there:
		w.used[want.is] = true
		want.raw, want.whole, want.look = known.raw, known.whole, known.look
		return []unit{want}
	}
	var all []unit
	for _, c := range want.thing.label {
		all = append(all, unit{is: string(c), look: want.look, marks: want.marks})
	}
	return all
}

// props are the properties of a paragraph, and how its words look where none stays.
func (w *writer) props(b block, was *line, had block) ([]child, *look) {
	var props []child
	as := plain
	list, open := w.lists[b.depth]
	switch {
	case was != nil && had.like(b):
		props, as = w.propsOf(was), was.usual()
	case b.list != "" && !b.first && open && list.kind == b.list:
		props, as = lasting(list.props), list.look
	case w.model != nil && (b.list == "" || !b.first && w.model.list == b.list):
		props, as = lasting(w.propsOf(w.model)), w.model.usual()
	default:
		props = w.styled(b)
	}
	as = w.borne(as, bare)
	if b.list != "" {
		w.lists[b.depth] = listed{b.list, props, as}
	}
	return w.ended(props, b), as
}

func (w *writer) propsOf(l *line) []child { return w.childrenOf(l.at.kid("w:pPr")) }

// lasting are the properties that another paragraph has as well.
func lasting(props []child) []child {
	return without(props, "w:sectPr", "w:pPrChange", "w:pageBreakBefore", "w:framePr")
}

// ended puts what is proposed of a paragraph's end among its properties.
func (w *writer) ended(props []child, b block) []child {
	var mark []child
	for _, c := range props {
		if c.name == "w:rPr" {
			mark = w.inner(c.raw)
		}
	}
	mark = without(mark, "w:ins", "w:del", "w:moveFrom", "w:moveTo")
	ends := marksOf(&richtext.Node{Marks: b.ends})
	var first []child
	if ends.inserted.id != "" {
		first = append(first, w.change("ins", ends.inserted))
	}
	if ends.deleted.id != "" {
		first = append(first, w.change("del", ends.deleted))
	}
	props = without(props, "w:rPr")
	if mark = append(first, mark...); len(mark) > 0 {
		props = with(props, paragraphOrder, child{"w:rPr", w.around("rPr", mark)})
	}
	return props
}

// inner are the children of a piece of the part.
func (w *writer) inner(raw string) (all []child) {
	root, err := parse([]byte(w.opened() + raw + "</x>"))
	if err != nil || len(root.kids) == 0 {
		return nil
	}
	at := len(w.opened())
	for _, k := range root.kids[0].kids {
		all = append(all, child{k.name, raw[k.from-at : k.to-at]})
	}
	return all
}

// opened opens an element in which a piece of the part can be read.
func (w *writer) opened() string {
	return "<x xmlns:" + w.w + `="` + words + `">`
}

// change is an element that says what is proposed.
func (w *writer) change(name string, p proposed) child {
	w.highest++
	by, known := w.names[p.by]
	if !known {
		by = strings.TrimPrefix(p.by, nameless)
	}
	attrs := []string{"id", itoa(w.highest), "author", by}
	if p.at != "" {
		attrs = append(attrs, "date", p.at)
	}
	return w.tag(name, attrs...)
}

// opening is an element as it begins around others.
func (c child) opening() string { return strings.TrimSuffix(c.raw, "/>") + ">" }

// runs writes units as runs, in links and changes where they bear such.
func (w *writer) runs(units []unit) string {
	r := &running{writer: w}
	for _, u := range units {
		r.put(u)
	}
	r.enter(marks{})
	r.end()
	return r.out.String()
}

// running is a row of runs that is being written.
type running struct {
	*writer
	out  strings.Builder
	in   marks
	look string
	as   *look
	// open says that a run is, text that a text in it is.
	open, text bool
}

func (r *running) put(u unit) {
	if u.is != "" {
		r.enter(*u.marks)
	}
	if u.whole {
		r.end()
		r.out.WriteString(u.raw)
		return
	}
	if !r.open || u.look != r.as {
		if look := r.around("rPr", u.look.props); !r.open || look != r.look {
			r.end()
			r.out.WriteString("<" + r.w + ":r>" + look)
			r.open, r.look = true, look
		}
		r.as = u.look
	}
	switch {
	case u.raw != "":
		r.endText()
		r.out.WriteString(u.raw)
	case u.is == "\t":
		r.endText()
		r.out.WriteString(r.tag("tab").raw)
	case u.is == "\n":
		r.endText()
		r.out.WriteString(r.tag("br").raw)
	default:
		if !r.text {
			r.out.WriteString("<" + r.w + ":" + r.textName() + ` xml:space="preserve">`)
			r.text = true
		}
		r.out.WriteString(escaped(u.is))
	}
}

func (r *running) textName() string {
	if r.in.deleted.id != "" {
		return "delText"
	}
	return "t"
}

func (r *running) endText() {
	if r.text {
		r.out.WriteString("</" + r.w + ":" + r.textName() + ">")
		r.text = false
	}
}

func (r *running) end() {
	r.endText()
	if r.open {
		r.out.WriteString("</" + r.w + ":r>")
		r.open = false
	}
}

// enter goes into the links and changes that something stands in, and out of others.
func (r *running) enter(m marks) {
	if r.in.href == m.href && r.in.link == m.link && r.in.inserted == m.inserted && r.in.deleted == m.deleted {
		return
	}
	r.end()
	if r.in.deleted.id != "" {
		r.out.WriteString("</" + r.w + ":del>")
	}
	if r.in.inserted.id != "" {
		r.out.WriteString("</" + r.w + ":ins>")
	}
	if r.in.href != m.href || r.in.link != m.link {
		if r.in.href != "" {
			r.out.WriteString("</" + r.w + ":hyperlink>")
		}
		if m.href != "" {
			r.out.WriteString(r.linkTo(m))
		}
	}
	if m.inserted.id != "" {
		r.out.WriteString(r.change("ins", m.inserted).opening())
	}
	if m.deleted.id != "" {
		r.out.WriteString(r.change("del", m.deleted).opening())
	}
	r.in = m
}

// linkTo opens a link: as it was, or a new one.
func (r *running) linkTo(m marks) string {
	if m.link != "" {
		return m.link
	}
	if at, own := strings.CutPrefix(m.href, "#"); own {
		return r.tag("hyperlink", "anchor", at).opening()
	}
	id := r.added[m.href]
	if id == "" {
		id = r.freeRef("Lead")
		r.added[m.href] = id
		r.refs[id] = reference{"hyperlink", m.href, true}
	}
	if r.r != "" {
		return "<" + r.w + ":hyperlink " + r.r + `:id="` + id + `">`
	}
	return "<" + r.w + `:hyperlink xmlns:r="` + relationships + `" r:id="` + id + `">`
}
