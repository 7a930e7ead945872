package docx

import (
	"bytes"
	"maps"
	"path"
	"slices"
	"strconv"
	"strings"
)

// relationships is the namespace of what parts refer to, words that of the text itself.
const (
	relationships = "http://schemas.openxmlformats.org/officeDocument/2006/relationships"
	words         = "http://schemas.openxmlformats.org/wordprocessingml/2006/main"
	packaged      = "http://schemas.openxmlformats.org/package/2006/relationships"
)

func itoa(n int) string { return strconv.Itoa(n) }

// freeRef is an id that nothing is referred to by.
func (f *file) freeRef(prefix string) string {
	for n := 1; ; n++ {
		if _, taken := f.refs[prefix+itoa(n)]; !taken {
			return prefix + itoa(n)
		}
	}
}

// newList is a list that the document does not have yet.
type newList struct {
	num string
	// kind is "bullet", or in what it counts.
	kind  string
	depth int
	start int
}

// styled are the properties of a paragraph that looks like none there is.
func (w *writer) styled(b block) (props []child) {
	indent := func(by int) {
		props = with(props, paragraphOrder, w.tag("ind", "left", itoa(by)))
	}
	named := func(name string) bool {
		id := w.style(name)
		if id != "" {
			props = with(props, paragraphOrder, w.tag("pStyle", "val", id))
		}
		return id != ""
	}
	switch {
	case b.node.Type.Name == "heading":
		level, _ := b.node.Attrs["level"].(float64)
		if !named("heading " + itoa(int(level))) {
			props = with(props, paragraphOrder, w.tag("outlineLvl", "val", itoa(int(level)-1)))
		}
	case b.node.Type.Name == "rule":
		props = with(props, paragraphOrder, child{"w:pBdr", w.around("pBdr", []child{w.tag("bottom", "val", "single", "sz", "6", "space", "1", "color", "auto")})})
	case b.list == "task_list":
		indent(360 * (b.depth + 1))
	case b.list != "":
		named("list paragraph")
		props = with(props, paragraphOrder, w.numbered(b))
	case b.quoted:
		if !named("quote") {
			indent(720)
		}
	case b.depth > 0:
		indent(720 * b.depth)
	}
	return props
}

// numbered puts a paragraph in a new list.
func (w *writer) numbered(b block) child {
	num := itoa(w.file.lists.highestNum + len(w.newLists) + 1)
	w.newLists = append(w.newLists, newList{num, b.counts, min(b.depth, 8), b.number})
	return child{"w:numPr", w.around("numPr", []child{w.tag("ilvl", "val", itoa(min(b.depth, 8))), w.tag("numId", "val", num)})}
}

// style is the id of a style by its name; a new one where the document has none but other styles.
func (w *writer) style(name string) string {
	if id := w.styles.named(name, false); id != "" {
		return id
	}
	raw, can := usualStyles[name]
	if !can || w.partOf("styles") == "" {
		return ""
	}
	id := strings.ReplaceAll(name, " ", "") + "1"
	w.newStyles = append(w.newStyles, strings.ReplaceAll(raw, "ID", id))
	w.styles.byID[id] = style{id: id, name: name, outline: -1}
	return id
}

// usualStyles are those that are put into a document that lacks them.
var usualStyles = map[string]string{
	"heading 1":      heading(1, 32),
	"heading 2":      heading(2, 26),
	"heading 3":      heading(3, 24),
	"heading 4":      heading(4, 22),
	"heading 5":      heading(5, 22),
	"heading 6":      heading(6, 22),
	"list paragraph": `<w:style xmlns:w="` + words + `" w:type="paragraph" w:styleId="ID"><w:name w:val="List Paragraph"/><w:pPr><w:ind w:left="720"/><w:contextualSpacing/></w:pPr></w:style>`,
	"quote":          `<w:style xmlns:w="` + words + `" w:type="paragraph" w:styleId="ID"><w:name w:val="Quote"/><w:pPr><w:ind w:left="720" w:right="720"/></w:pPr><w:rPr><w:i/></w:rPr></w:style>`,
}

func heading(level, size int) string {
	return `<w:style xmlns:w="` + words + `" w:type="paragraph" w:styleId="ID"><w:name w:val="heading ` + itoa(level) + `"/><w:qFormat/><w:pPr><w:keepNext/><w:spacing w:before="240" w:after="80"/><w:outlineLvl w:val="` + itoa(level-1) +
		`"/></w:pPr><w:rPr><w:b/><w:sz w:val="` + itoa(size) + `"/></w:rPr></w:style>`
}

// partOf is the name of the part of a kind that the text refers to; "" where there is none.
func (f *file) partOf(kind string) string {
	for _, r := range f.refs {
		if r.kind == kind && !r.external {
			return f.nameOf(r.target)
		}
	}
	return ""
}

// asides are the other parts, as they change: what is referred to, styles and lists.
func (w *writer) asides(changed map[string][]byte) error {
	if name := w.partOf("styles"); name != "" && len(w.newStyles) > 0 {
		if err := w.grow(changed, name, "", strings.Join(w.newStyles, "")); err != nil {
			return err
		}
	}
	if err := w.growLists(changed); err != nil {
		return err
	}
	if err := w.growMedia(changed); err != nil {
		return err
	}
	return w.growRefs(changed)
}

// grow puts more into a part: before the first of a name and at its end.
func (w *writer) grow(changed map[string][]byte, name, first, more string, before ...string) error {
	raw, grown := changed[name]
	if !grown {
		var err error
		if raw, err = w.part(name); err != nil {
			return err
		}
	}
	root, err := parse(raw)
	if err != nil {
		return err
	}
	if root.out == root.to {
		return ErrUnreadable
	}
	at := root.out
	for _, k := range root.kids {
		if len(before) > 0 && k.name == before[0] {
			at = min(at, k.from)
		}
	}
	changed[name] = bytes.Join([][]byte{raw[:at], []byte(first), raw[at:root.out], []byte(more), raw[root.out:]}, nil)
	return nil
}

func (w *writer) growLists(changed map[string][]byte) error {
	if len(w.newLists) == 0 {
		return nil
	}
	var kinds, nums strings.Builder
	of := map[string]int{}
	for _, l := range w.newLists {
		if _, there := of[l.kind]; !there {
			of[l.kind] = w.file.lists.highestKind + 1 + len(of)
			kinds.WriteString(kindOfList(of[l.kind], l.kind))
		}
		nums.WriteString(`<w:num xmlns:w="` + words + `" w:numId="` + l.num + `"><w:abstractNumId w:val="` + itoa(of[l.kind]) + `"/>`)
		if l.kind != "bullet" {
			nums.WriteString(`<w:lvlOverride w:ilvl="` + itoa(l.depth) + `"><w:startOverride w:val="` + itoa(l.start) + `"/></w:lvlOverride>`)
		}
		nums.WriteString(`</w:num>`)
	}
	if name := w.partOf("numbering"); name != "" {
		return w.grow(changed, name, kinds.String(), nums.String(), "w:num")
	}
	return w.begin(changed, "numbering", `<w:numbering xmlns:w="`+words+`">`+kinds.String()+nums.String()+`</w:numbering>`)
}

// begin makes a part of a kind that the document does not have.
func (w *writer) begin(changed map[string][]byte, kind, raw string) error {
	name := path.Join(path.Dir(w.main), kind+".xml")
	if _, err := w.part(name); err == nil {
		return ErrUnreadable // It is there, and nothing refers to it.
	}
	changed[name] = []byte(declared + raw)
	w.addRef(kind, kind+".xml")
	return w.contentType(changed, name, "application/vnd.openxmlformats-officedocument.wordprocessingml."+kind+"+xml")
}

// contentType says of what kind a new part is.
func (w *writer) contentType(changed map[string][]byte, name, kind string) error {
	return w.grow(changed, "[Content_Types].xml", "", `<Override xmlns="http://schemas.openxmlformats.org/package/2006/content-types" PartName="/`+escaped(name)+`" ContentType="`+kind+`"/>`)
}

const declared = `<?xml version="1.0" encoding="UTF-8" standalone="yes"?>` + "\n"

// kindOfList is how a new list counts, nine levels deep.
func kindOfList(id int, kind string) string {
	var b strings.Builder
	b.WriteString(`<w:abstractNum xmlns:w="` + words + `" w:abstractNumId="` + itoa(id) + `"><w:multiLevelType w:val="hybridMultilevel"/>`)
	for depth := range 9 {
		format, text := kind, "%"+itoa(depth+1)+"."
		if kind == "bullet" {
			text = []string{"•", "–", "▪"}[depth%3]
		}
		b.WriteString(`<w:lvl w:ilvl="` + itoa(depth) + `"><w:start w:val="1"/><w:numFmt w:val="` + format + `"/><w:lvlText w:val="` + text + `"/><w:lvlJc w:val="left"/><w:pPr><w:ind w:left="` +
			itoa(720*(depth+1)) + `" w:hanging="360"/></w:pPr></w:lvl>`)
	}
	b.WriteString(`</w:abstractNum>`)
	return b.String()
}

// addRef lets the text refer to another part, by an id.
func (w *writer) addRef(kind, target string) string {
	id := w.freeRef("Part")
	w.refs[id] = reference{kind, target, false}
	w.newRefs = append(w.newRefs, id)
	return id
}

// growRefs adds what the text refers to now.
func (w *writer) growRefs(changed map[string][]byte) error {
	ids := w.newRefs
	for _, href := range slices.Sorted(maps.Keys(w.added)) {
		ids = append(ids, w.added[href])
	}
	if len(ids) == 0 {
		return nil
	}
	var b strings.Builder
	for _, id := range ids {
		r := w.refs[id]
		mode := ""
		if r.external {
			mode = ` TargetMode="External"`
		}
		b.WriteString(`<Relationship xmlns="` + packaged + `" Id="` + id + `" Type="` + relationships + "/" + r.kind + `" Target="` + escaped(r.target) + `"` + mode + `/>`)
	}
	name := relsOf(w.main)
	if _, err := w.part(name); err != nil {
		changed[name] = []byte(declared + `<Relationships xmlns="` + packaged + `">` + b.String() + `</Relationships>`)
		return nil
	}
	return w.grow(changed, name, "", b.String())
}
