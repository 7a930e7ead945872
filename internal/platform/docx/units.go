package docx

import (
	"slices"
	"strings"
	"time"
	"unicode/utf8"

	"tabularis/core/richtext"
)

// unit is a letter of a paragraph, one thing in it, or a mark that takes no room.
type unit struct {
	// is is the letter, "\n" for a break of the line, or "\x00" and the id of a thing; "" for marks.
	is string
	// thing is what a thing is; nil for others.
	thing *thing
	// raw is how it is written, where it is no letter of a text; whole says that it stands beside runs, not in one.
	raw   string
	whole bool
	look  *look
	// marks are shared by all that stand in one run: there are as many units as letters.
	marks *marks
}

// thing is what stands in a text and is not changed here: what it is, and by what words it is known.
type thing struct{ kind, label string }

// bare is what bears nothing and looks like nothing in particular.
var bare, plain = &marks{}, &look{}

// marks are what words bear that the text knows of.
type marks struct {
	strong, em, struck, code bool
	href                     string
	// link is how the link is opened, in the file; "" where it is a new one.
	link string
	// inserted and deleted are what is proposed.
	inserted, deleted proposed
}

// proposed is a change that is proposed: by whom, when; the zero value is none.
type proposed struct{ id, by, at string }

// inParagraph reads the paragraphs of a file: what is proposed next to each other by one hand is one proposal.
type inParagraph struct {
	*file
	units           []unit
	last            *proposed
	open            int // how many fields are open
	fieldFrom, runs int // where the open one began: in the file, and among the units
}

// unitsOf are the units of a paragraph.
func (f *file) unitsOf(p *element, last *proposed) []unit {
	r := &inParagraph{file: f, last: last}
	r.within(p, marks{})
	return r.units
}

func (r *inParagraph) within(e *element, m marks) {
	for _, k := range e.kids {
		if r.field(k, m) {
			continue
		}
		r.piece(k, m)
	}
}

// field takes what belongs to a field that is written in several runs (17.16.18): all of it is one thing.
func (r *inParagraph) field(k *element, m marks) bool {
	before := r.open
	r.open += k.opens()
	switch {
	case before <= 0 && r.open <= 0 && k.name == "w:r" && holds(k, "w:fldChar"):
		r.thing(k.from, k.to, "field", k.words(100), m)
	case before <= 0 && r.open <= 0:
		r.open = max(0, r.open)
		return false
	case before <= 0:
		r.fieldFrom, r.runs = k.from, len(r.units)
		r.units = append(r.units, unit{thing: &thing{"field", k.words(100)}, look: plain, marks: bare})
	default:
		last := &r.units[r.runs]
		last.thing.label = cut(strings.TrimSpace(last.thing.label+" "+k.words(100)), 100)
		if r.open <= 0 {
			raw := r.raw[r.fieldFrom:k.to]
			*last = unit{is: "\x00" + id(raw), thing: last.thing, raw: string(raw), whole: true, look: plain, marks: &m}
		}
	}
	return true
}

// opens is how many more fields begin in an element than end in it.
func (e *element) opens() (n int) {
	e.each(func(e *element) bool {
		switch e.attr("w:fldCharType") {
		case "begin":
			n++
		case "end":
			n--
		}
		return true
	})
	return n
}

func holds(e *element, name string) (yes bool) {
	e.each(func(e *element) bool {
		yes = yes || e.name == name
		return !yes
	})
	return yes
}

func (r *inParagraph) piece(k *element, m marks) {
	switch k.name {
	case "w:pPr", "w:proofErr":
	case "w:r":
		r.run(k, m)
	case "w:hyperlink":
		if href := r.leadsTo(k); href != "" {
			m.href, m.link = href, string(r.raw[k.from:k.in])
		}
		r.within(k, m)
	case "w:ins", "w:moveTo":
		m.inserted = r.proposal(k)
		r.within(k, m)
	case "w:del", "w:moveFrom":
		m.deleted = r.proposal(k)
		r.within(k, m)
	case "w:smartTag", "w:customXml":
		r.within(k, m)
	case "w:fldSimple":
		r.thing(k.from, k.to, "field", k.words(100), m)
	case "w:sdt":
		r.thing(k.from, k.to, "control", k.words(100), m)
	case "m:oMath", "m:oMathPara":
		r.thing(k.from, k.to, "formula", k.words(100), m)
	default:
		if words := k.words(100); words != "" {
			r.thing(k.from, k.to, "other", words, m)
			return
		}
		r.units = append(r.units, unit{raw: string(r.of(k)), whole: true, look: plain, marks: bare})
	}
}

// thing is something that stands in the text and is not changed here.
func (r *inParagraph) thing(from, to int, kind, label string, m marks) {
	raw := r.raw[from:to]
	r.units = append(r.units, unit{is: "\x00" + id(raw), thing: &thing{kind, label}, raw: string(raw), whole: true, look: plain, marks: &m})
}

// leadsTo is where a link leads; "" where that may not stand in a text.
func (r *inParagraph) leadsTo(k *element) string {
	if to := r.refs[k.attr("r:id")]; to.external {
		return mayLead(to.target)
	}
	if anchor := k.attr("w:anchor"); anchor != "" {
		return mayLead("#" + anchor)
	}
	return ""
}

// mayLead is an address that may stand in a text; "" for others.
func mayLead(href string) string {
	if len(href) <= 2000 && richtext.Leads(href, false) {
		return href
	}
	return ""
}

// proposal is what is proposed by an element; what stands next to what the same hand proposed at the same time, as words
// that take the place of others do, is one with it.
func (r *inParagraph) proposal(k *element) proposed {
	p := proposed{id: "w" + k.attr("w:id"), by: nameless + short80(k.attr("w:author")), at: k.attr("w:date")}
	if r.last.by == p.by && r.last.at == p.at {
		p.id = r.last.id
	}
	*r.last = p
	return p
}

// nameless begins who proposes something that came with a file: a name, of nobody who is known here.
const nameless = "name:"

// short80 is a name as far as the text has room for it.
func short80(name string) string {
	for len(nameless)+len(name) > 80 {
		_, size := utf8.DecodeLastRuneInString(name)
		name = name[:len(name)-size]
	}
	return name
}

// moment is when something was proposed, in milliseconds; 0 where that is not said.
func (p proposed) moment() int64 {
	for _, form := range []string{time.RFC3339, "2006-01-02T15:04:05"} {
		if at, err := time.Parse(form, p.at); err == nil && at.UnixMilli() > 0 {
			return at.UnixMilli()
		}
	}
	return 0
}

// breaksOn ends a proposal where something stands that is not proposed.
func (r *inParagraph) breaksOn(m marks) {
	if m.inserted.id == "" && m.deleted.id == "" {
		*r.last = proposed{}
	}
}

func (r *inParagraph) run(k *element, m marks) {
	m = r.styled(k.kid("w:rPr"), m)
	r.breaksOn(m)
	as, bears := &look{r.childrenOf(k.kid("w:rPr")), m}, &m
	put := func(u unit) {
		u.marks, u.look = bears, as
		r.units = append(r.units, u)
	}
	kept := func(e *element, kind, label string) {
		put(unit{is: "\x00" + id(r.of(e)), thing: &thing{kind, label}, raw: string(r.of(e))})
	}
	for _, e := range k.kids {
		switch e.name {
		case "w:rPr", "w:lastRenderedPageBreak":
		case "w:t", "w:delText":
			for _, c := range e.text {
				put(unit{is: string(c)})
			}
		case "w:tab":
			put(unit{is: "\t"})
		case "w:cr":
			put(unit{is: "\n"})
		case "w:br":
			if t := e.attr("w:type"); t == "page" || t == "column" {
				kept(e, "break", "")
			} else {
				put(unit{is: "\n", raw: string(r.of(e))})
			}
		case "w:noBreakHyphen":
			put(unit{is: "\u2011", raw: string(r.of(e))})
		case "w:softHyphen":
			put(unit{is: "\u00ad", raw: string(r.of(e))})
		case "w:footnoteReference":
			kept(e, "note", r.beside["footnotes"][e.attr("w:id")])
		case "w:endnoteReference":
			kept(e, "note", r.beside["endnotes"][e.attr("w:id")])
		case "w:commentReference":
			kept(e, "remark", r.beside["comments"][e.attr("w:id")])
		case "w:drawing", "w:pict", "w:object", "mc:AlternateContent":
			kind, label := r.shape(e)
			kept(e, kind, label)
		case "w:sym":
			kept(e, "other", "")
		default:
			put(unit{raw: string(r.of(e))})
		}
	}
}

// shape is what a drawing is, and by what it is named.
func (r *inParagraph) shape(e *element) (kind, label string) {
	kind = "shape"
	e.each(func(e *element) bool {
		switch e.name {
		case "pic", "imagedata", "blip":
			kind = "picture"
		case "docPr":
			for _, name := range []string{"descr", "title", "name"} {
				if label == "" {
					label = cut(strings.Join(strings.Fields(e.attr(name)), " "), 100)
				}
			}
		}
		return true
	})
	if words := e.words(100); words != "" {
		return "shape", words
	}
	return kind, label
}

// monospaced are the families that programs write code in.
var monospaced = []string{"Courier New", "Liberation Mono", "Consolas"}

// styled adds what a run's look says.
func (r *inParagraph) styled(look *element, m marks) marks {
	if look == nil {
		return m
	}
	named, _ := look.value("w:rStyle")
	strong, em := r.styles.emphasis(named)
	m.strong = look.toggled("w:b") || strong && look.kid("w:b") == nil
	m.em = look.toggled("w:i") || em && look.kid("w:i") == nil
	m.struck = look.toggled("w:strike") || look.toggled("w:dstrike")
	m.code = slices.Contains(monospaced, look.kid("w:rFonts").attr("w:ascii"))
	return m
}

// dateOf is when something was proposed, as a file says it.
func dateOf(ms float64) string {
	if ms <= 0 {
		return ""
	}
	return time.UnixMilli(int64(ms)).UTC().Format(time.RFC3339)
}
