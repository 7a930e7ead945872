package docx

import (
	"encoding/json"
	"errors"

	"tabularis/core/richtext"
)

// ErrProtected means that the document is signed, or that its makers have locked it: writing in it would break that.
var ErrProtected = errors.New("the document is signed or locked")

// object is a node or mark of a text as JSON.
type object = map[string]any

// line is a paragraph of the body, a table, or what is kept as one.
type line struct {
	// from and to are where it stands in the part; before is what stands before it and is not shown.
	from, to int
	before   string
	// kind is that of its node: "paragraph", "heading", "table", "kept_block".
	kind string
	at   *element
	// level is how deep a heading it is.
	level int
	// list is in which kind of list it stands, num which one, depth how deep, start what it counts from.
	list, num    string
	depth, start int
	count        string
	units        []unit
	rows         []row
	node         object
	// ends is what is proposed of the break after it.
	ends marks
}

// Read reads a document as a text.
func Read(content []byte) (*richtext.Node, error) {
	f, err := open(content)
	if err != nil {
		return nil, err
	}
	return textOf(f.lines())
}

func textOf(all []line) (*richtext.Node, error) {
	blocks := grouped(all)
	if len(blocks) == 0 {
		blocks = []object{{"type": "paragraph"}}
	}
	raw, err := json.Marshal(object{"type": "doc", "content": blocks})
	if err != nil {
		return nil, err
	}
	doc, err := richtext.Written.Read(raw)
	if err != nil {
		return nil, broken(err)
	}
	return doc, nil
}

// lines are those of the body.
func (f *file) lines() (all []line) {
	counts := counters{}
	last := &proposed{}
	from, before, fields := -1, "", 0
	add := func(l line) {
		l.before, before = before, ""
		all = append(all, l)
	}
	for _, k := range f.body.kids {
		if k.name == "w:sectPr" {
			continue
		}
		// A field that goes over several paragraphs, as a table of contents does, is one thing.
		was := fields
		if fields = max(0, fields+k.opens()); was > 0 || fields > 0 {
			if was == 0 {
				from = k.from
			}
			if fields == 0 {
				add(f.kept(from, k.to, "contents", k))
			}
			continue
		}
		switch {
		case k.name == "w:p":
			add(f.paragraph(k, counts, last))
		case k.name == "w:tbl":
			add(f.table(k))
		case k.name == "w:sdt" || k.words(1) != "":
			kind := "control"
			if holds(k, "w:docPartGallery") {
				kind = "contents"
			}
			add(f.kept(k.from, k.to, kind, k))
		default:
			before += string(f.of(k))
		}
	}
	if fields > 0 {
		add(f.kept(from, f.body.kids[len(f.body.kids)-1].to, "field", f.body))
	}
	f.trailing = before
	for i := range all[min(1, len(all)):] {
		all[i+1].begin(all[i])
	}
	return all
}

// kept is what is not changed here, as one.
func (f *file) kept(from, to int, kind string, of *element) line {
	return line{from: from, to: to, kind: "kept_block", node: object{"type": "kept_block", "attrs": object{"id": id(f.raw[from:to]), "kind": kind, "label": of.words(100)}}}
}

func (f *file) paragraph(p *element, counts counters, last *proposed) line {
	l := line{from: p.from, to: p.to, at: p, kind: "paragraph"}
	props := p.kid("w:pPr")
	named, _ := props.value("w:pStyle")
	if named == "" {
		named = f.styles.usual
	}
	l.level = f.styles.level(named)
	if own := props.number("w:outlineLvl", -1); own >= 0 {
		l.level = (own + 1) % 10
	}
	if l.level > 0 {
		l.kind, l.level = "heading", min(l.level, 6)
	} else {
		f.listed(&l, props, named, counts)
	}
	l.units = f.unitsOf(p, last)
	l.node = object{"type": l.kind}
	if l.kind == "heading" {
		l.node["attrs"] = object{"level": l.level}
	}
	if content := inline(l.units); len(content) > 0 {
		l.node["content"] = content
	}
	mark := props.kid("w:rPr")
	r := inParagraph{last: last}
	if ins := mark.kid("w:ins"); ins != nil {
		l.ends.inserted = r.proposal(ins)
	}
	if del := mark.kid("w:del"); del != nil {
		l.ends.deleted = r.proposal(del)
	}
	r.breaksOn(l.ends)
	return l
}

// listed says in which list a paragraph stands.
func (f *file) listed(l *line, props *element, named string, counts counters) {
	num, depth := f.styles.listed(named)
	if own := props.kid("w:numPr"); own != nil {
		if n, there := own.value("w:numId"); there {
			num = n
		}
		if d, there := own.value("w:ilvl"); there {
			depth = d
		}
	}
	l.depth = min(highest(0, depth), 8)
	if l.list = f.lists.is(num, l.depth); l.list != "" {
		l.num, l.start, l.count = num, counts.next(f.lists.nums[num], l.depth), f.lists.count(num, l.depth)
	} else {
		l.depth = 0
	}
}

// counters say what a list has counted to, by its kind and depth.
type counters map[string]map[int]int

func (c counters) next(of numbered, depth int) int {
	if c[of.kind] == nil {
		c[of.kind] = map[int]int{}
	}
	at := c[of.kind]
	for deeper := range at {
		if deeper > depth {
			delete(at, deeper)
		}
	}
	if n, counted := at[depth]; counted {
		at[depth] = n + 1
	} else {
		at[depth] = max(0, of.levels[depth].start)
	}
	return at[depth]
}

// begin puts what is proposed of the break before a line on it, where the two could become one again.
func (l *line) begin(before line) {
	if l.kind == "paragraph" && before.kind == "paragraph" && l.list == before.list && l.num == before.num && l.depth == before.depth {
		if all := proposals(before.ends); len(all) > 0 {
			l.node["marks"] = all
		}
	}
}

// inline are the nodes of units.
func inline(units []unit) (all []object) {
	var text []rune
	var bears marks
	flush := func() {
		if len(text) > 0 {
			all = append(all, marked(object{"type": "text", "text": string(text)}, bears))
			text = nil
		}
	}
	for _, u := range units {
		m := *u.marks
		m.link = ""
		switch {
		case u.is == "":
		case u.is == "\n":
			flush()
			all = append(all, marked(object{"type": "hard_break"}, m))
		case u.is[0] == 0:
			flush()
			all = append(all, marked(object{"type": "kept", "attrs": object{"id": u.is[1:], "kind": u.thing.kind, "label": u.thing.label}}, m))
		default:
			if m != bears {
				flush()
				bears = m
			}
			text = append(text, []rune(u.is)...)
		}
	}
	flush()
	return all
}

func marked(n object, m marks) object {
	var all []object
	if m.href != "" {
		all = append(all, object{"type": "link", "attrs": object{"href": m.href}})
	}
	for _, one := range []struct {
		name string
		set  bool
	}{{"strong", m.strong}, {"em", m.em}, {"struck", m.struck}, {"code", m.code}} {
		if one.set {
			all = append(all, object{"type": one.name})
		}
	}
	if all = append(all, proposals(m)...); len(all) > 0 {
		n["marks"] = all
	}
	return n
}

func proposals(m marks) (all []object) {
	if p := m.inserted; p.id != "" {
		all = append(all, object{"type": "inserted", "attrs": object{"id": p.id, "by": p.by, "at": p.moment()}})
	}
	if p := m.deleted; p.id != "" {
		all = append(all, object{"type": "deleted", "attrs": object{"id": p.id, "by": p.by, "at": p.moment()}})
	}
	return all
}

// grouped are the blocks of lines: those in lists as lists.
func grouped(all []line) (blocks []object) {
	for i := 0; i < len(all); {
		l := all[i]
		if l.list == "" {
			blocks = append(blocks, l.node)
			i++
			continue
		}
		end := i + 1
		for end < len(all) && all[end].list != "" && (all[end].depth > l.depth || all[end].depth == l.depth && all[end].list == l.list && all[end].num == l.num) {
			end++
		}
		blocks = append(blocks, listOf(all[i:end], l.depth))
		i = end
	}
	return blocks
}

// listOf is a list of lines, of which the first stands at the depth and no other before it.
func listOf(all []line, depth int) object {
	var items []object
	for i := 0; i < len(all); {
		end := i + 1
		for end < len(all) && all[end].depth > depth {
			end++
		}
		first := all[i].node
		item := object{"type": "list_item", "content": append([]object{first}, grouped(all[i+1:end])...)}
		if m, there := first["marks"]; there {
			// A break that is proposed stands on what would be joined.
			delete(first, "marks")
			if i > 0 {
				item["marks"] = m
			}
		}
		items = append(items, item)
		i = end
	}
	list := object{"type": all[0].list, "content": items}
	if all[0].list == "ordered_list" {
		list["attrs"] = object{"start": all[0].start, "count": all[0].count}
	}
	return list
}
