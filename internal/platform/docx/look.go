package docx

import (
	"cmp"
	"slices"
	"strings"
)

// child is a property as it is written.
type child struct{ name, raw string }

// look is how a run looks: its properties, and what of them the text knows of.
type look struct {
	props []child
	marks marks
}

// The order of properties (17.3.1.26, 17.3.2.28, 17.4.59), as far as some are put between others.
var (
	runOrder = []string{"rStyle", "rFonts", "b", "bCs", "i", "iCs", "caps", "smallCaps", "strike", "dstrike", "outline", "shadow", "emboss", "imprint", "noProof", "snapToGrid", "vanish",
		"webHidden", "color", "spacing", "w", "kern", "position", "sz", "szCs", "highlight", "u", "effect", "bdr", "shd", "fitText", "vertAlign", "rtl", "cs", "em", "lang", "eastAsianLayout", "specVanish", "oMath", "rPrChange"}
	paragraphOrder = []string{"pStyle", "keepNext", "keepLines", "pageBreakBefore", "framePr", "widowControl", "numPr", "suppressLineNumbers", "pBdr", "shd", "tabs", "suppressAutoHyphens",
		"kinsoku", "wordWrap", "overflowPunct", "topLinePunct", "autoSpaceDE", "autoSpaceDN", "bidi", "adjustRightInd", "snapToGrid", "spacing", "ind", "contextualSpacing", "mirrorIndents",
		"suppressOverlap", "jc", "textDirection", "textAlignment", "textboxTightWrap", "outlineLvl", "divId", "cnfStyle", "rPr", "sectPr", "pPrChange"}
	cellOrder = []string{"cnfStyle", "tcW", "gridSpan", "hMerge", "vMerge", "tcBorders", "shd", "noWrap", "tcMar", "textDirection", "tcFitText", "vAlign", "hideMark"}
)

// childrenOf are the properties of an element.
func (f *file) childrenOf(e *element) (all []child) {
	if e == nil {
		return nil
	}
	for _, k := range e.kids {
		all = append(all, child{k.name, string(f.of(k))})
	}
	return all
}

func without(all []child, names ...string) []child {
	return slices.DeleteFunc(slices.Clone(all), func(c child) bool { return slices.Contains(names, c.name) })
}

// with puts properties in their places.
func with(all []child, order []string, more ...child) []child {
	all = append(slices.Clone(all), more...)
	rank := func(c child) int {
		if i := slices.Index(order, strings.TrimPrefix(c.name, "w:")); i >= 0 {
			return i
		}
		return len(order)
	}
	slices.SortStableFunc(all, func(a, b child) int { return cmp.Compare(rank(a), rank(b)) })
	return all
}

// tag is an empty element with attributes, as name and value by turns.
func (f *file) tag(name string, attrs ...string) child {
	var b strings.Builder
	b.WriteString("<" + f.w + ":" + name)
	for i := 0; i+1 < len(attrs); i += 2 {
		b.WriteString(" " + f.w + ":" + attrs[i] + `="` + escaped(attrs[i+1]) + `"`)
	}
	b.WriteString("/>")
	return child{"w:" + name, b.String()}
}

// around puts an element around others; "" around none.
func (f *file) around(name string, all []child) string {
	if len(all) == 0 {
		return ""
	}
	var b strings.Builder
	b.WriteString("<" + f.w + ":" + name + ">")
	for _, c := range all {
		b.WriteString(c.raw)
	}
	b.WriteString("</" + f.w + ":" + name + ">")
	return b.String()
}

// usual is how most of a line looks: its first letter.
func (l *line) usual() *look {
	if l == nil {
		return plain
	}
	for _, u := range l.units {
		if u.isLetter() {
			return u.look
		}
	}
	return plain
}

func (u unit) isLetter() bool { return u.is != "" && u.is[0] != 0 && u.is != "\n" && u.is != "\t" }

// bearing is the look with what is wanted: as it was where that is the same.
func (w *writer) bearing(l *look, m marks) []child {
	had := l.marks
	if had.strong == m.strong && had.em == m.em && had.struck == m.struck && had.code == m.code && (had.href == "") == (m.href == "") {
		return l.props
	}
	props := l.props
	toggle := func(is, was bool, names ...string) {
		if is == was {
			return
		}
		for _, name := range names {
			props = without(props, "w:"+name)
		}
		if is {
			props = with(props, runOrder, w.tag(names[0]))
		} else if named := w.emphasised(l); named {
			props = with(props, runOrder, w.tag(names[0], "val", "0"))
		}
	}
	toggle(m.strong, had.strong, "b", "bCs")
	toggle(m.em, had.em, "i", "iCs")
	toggle(m.struck, had.struck, "strike", "dstrike")
	if m.code != had.code {
		props = without(props, "w:rFonts")
		if m.code {
			props = with(props, runOrder, w.tag("rFonts", "ascii", monospaced[1], "hAnsi", monospaced[1], "cs", monospaced[1]))
		}
	}
	if linked := w.styles.named("hyperlink", true); linked != "" && (had.href == "") != (m.href == "") {
		if props = without(props, "w:rStyle"); m.href != "" {
			props = with(props, runOrder, w.tag("rStyle", "val", linked))
		}
	}
	return props
}

// emphasised says that words look so since their style says it.
func (w *writer) emphasised(l *look) bool {
	return slices.ContainsFunc(l.props, func(c child) bool { return c.name == "w:rStyle" })
}
