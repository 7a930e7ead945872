package docx

import (
	"cmp"
	"slices"
	"sort"
	"strconv"
	"strings"
	"time"

	"tabularis/core/richtext"
)

// Remark is what was said in a thread about words of a document, the first that was said first; about all of it where it
// holds on to none.
type Remark struct {
	Held richtext.Held `json:"held"`
	Said []Said        `json:"said"`
}

// Said is one remark.
type Said struct {
	By   string    `json:"by"`
	At   time.Time `json:"at"`
	Text string    `json:"text"`
}

// WithRemarks puts remarks into a document as the format's comments (ISO/IEC 29500-1, 17.13.4). Only the paragraphs in
// which they begin or end are written anew. Words that are not there any more are taken as the document as a whole.
func WithRemarks(original []byte, all []Remark) ([]byte, error) {
	f, err := open(original)
	if err != nil || len(all) == 0 {
		return original, err
	}
	w := &remarking{writer: &writer{file: f, added: map[string]string{}}, notes: map[*line][]note{}}
	lines := f.lines()
	w.read(lines)
	next, err := w.firstFree()
	if err != nil {
		return nil, err
	}
	var comments strings.Builder
	for _, r := range all {
		from, to := w.placeOf(r.Held)
		for _, s := range r.Said {
			w.put(from, to, itoa(next))
			comments.WriteString(comment(next, s))
			next++
		}
	}
	changed := map[string][]byte{w.main: w.spliced()}
	if err := w.growComments(changed, comments.String()); err != nil {
		return nil, err
	}
	if err := w.growRefs(changed); err != nil {
		return nil, err
	}
	return w.packed(changed)
}

// remarking puts remarks into a document.
type remarking struct {
	*writer
	lines []*line
	// said are the words of all lines, letters where each of them stands there.
	said    richtext.Spaced
	letters []letterAt
	notes   map[*line][]note
}

// letterAt is a letter of a line, at a place of all words.
type letterAt struct {
	at   int
	line *line
	unit int
}

// note is where a remark begins or ends: before a unit of a line.
type note struct {
	unit int
	raw  string
}

// read takes in lines, and those in the cells of tables.
func (w *remarking) read(lines []line) {
	for i := range lines {
		l := &lines[i]
		for y := range l.rows {
			for x := range l.rows[y].cells {
				w.read(l.rows[y].cells[x].lines)
			}
		}
		if l.kind != "paragraph" && l.kind != "heading" {
			continue
		}
		w.lines = append(w.lines, l)
		w.said.Add("\n")
		for n, u := range l.units {
			if u.is == "" || u.is[0] == 0 {
				continue
			}
			at := w.said.Len()
			if w.said.Add(u.is); w.said.Len() > at {
				w.letters = append(w.letters, letterAt{w.said.Len() - 1, l, n})
			}
		}
	}
}

// placeOf is the first letter and the last of what a remark holds on to.
func (w *remarking) placeOf(h richtext.Held) (from, to letterAt) {
	words := strings.Join(strings.Fields(h.Words), " ")
	at := w.said.Find(words, h.Nth)
	if at < 0 {
		at = w.said.Find(words, 0)
	}
	if at < 0 || len(w.letters) == 0 {
		return w.whole()
	}
	// A letter is known by its last byte.
	first := sort.Search(len(w.letters), func(i int) bool { return w.letters[i].at >= at })
	last := sort.Search(len(w.letters), func(i int) bool { return w.letters[i].at >= at+len(words)-1 })
	return w.letters[first], w.letters[last]
}

// whole is the first line that says something; a remark about all of the document stands there.
func (w *remarking) whole() (from, to letterAt) {
	if len(w.letters) == 0 {
		if len(w.lines) > 0 {
			from.line = w.lines[0]
		}
		return from, letterAt{line: from.line, unit: -1}
	}
	from, to = w.letters[0], w.letters[0]
	for _, l := range w.letters {
		if l.line != from.line {
			break
		}
		to = l
	}
	return from, to
}

// put lets a remark begin before one letter and end after another.
func (w *remarking) put(from, to letterAt, id string) {
	w.notes[from.line] = append(w.notes[from.line], note{from.unit, w.tag("commentRangeStart", "id", id).raw})
	w.notes[to.line] = append(w.notes[to.line], note{to.unit + 1, w.tag("commentRangeEnd", "id", id).raw +
		w.around("r", []child{w.tag("commentReference", "id", id)})})
}

// spliced is the part that holds the text, with the lines in which something begins or ends written anew.
func (w *remarking) spliced() []byte {
	var out []byte
	at := 0
	for _, l := range w.lines {
		if notes := w.notes[l]; len(notes) > 0 {
			out = append(append(out, w.raw[at:l.from]...), w.noted(l, notes)...)
			at = l.to
		}
	}
	if notes := w.notes[nil]; len(notes) > 0 {
		// There is no line at all: one stands at the end, for them.
		end := w.body.out
		if last := len(w.body.kids) - 1; last >= 0 && w.body.kids[last].name == "w:sectPr" {
			end = w.body.kids[last].from
		}
		out = append(append(out, w.raw[at:end]...), "<"+w.w+":p>"+w.runs(between(nil, notes))+"</"+w.w+":p>"...)
		at = end
	}
	return append(out, w.raw[at:]...)
}

func (w *remarking) noted(l *line, notes []note) string {
	opened := string(w.raw[l.at.from:l.at.in])
	if l.at.in == l.at.to {
		opened = child{raw: opened}.opening()
	}
	props := ""
	if kept := l.at.kid("w:pPr"); kept != nil {
		props = string(w.of(kept))
	}
	return opened + props + w.runs(between(l.units, notes)) + "</" + w.w + ":p>"
}

// between are units with notes before some of them.
func between(units []unit, notes []note) (all []unit) {
	slices.SortStableFunc(notes, func(a, b note) int { return cmp.Compare(a.unit, b.unit) })
	for i := 0; i <= len(units); i++ {
		for ; len(notes) > 0 && notes[0].unit <= i; notes = notes[1:] {
			all = append(all, unit{raw: notes[0].raw, whole: true, look: plain, marks: bare})
		}
		if i < len(units) {
			all = append(all, units[i])
		}
	}
	return all
}

// firstFree is a number that no remark of the document has.
func (w *remarking) firstFree() (int, error) {
	free := 0
	if name := w.partOf("comments"); name != "" {
		root, err := w.tree(name, "comments")
		if err != nil || root == nil {
			return 0, cmp.Or(err, ErrUnreadable)
		}
		for _, k := range root.kids {
			if n, err := strconv.Atoi(k.attr("w:id")); err == nil {
				free = max(free, n+1)
			}
		}
	}
	return free, nil
}

// comment is a remark as it stands in the part of remarks.
func comment(id int, s Said) string {
	initials := ""
	for _, word := range strings.Fields(s.By) {
		initials += string([]rune(word)[:1])
	}
	var b strings.Builder
	b.WriteString(`<w:comment xmlns:w="` + words + `" w:id="` + itoa(id) + `" w:author="` + escaped(s.By) + `" w:initials="` + escaped(initials) + `" w:date="` + s.At.UTC().Format(time.RFC3339) + `">`)
	for _, text := range strings.Split(s.Text, "\n") {
		b.WriteString(`<w:p><w:r><w:t xml:space="preserve">` + escaped(text) + `</w:t></w:r></w:p>`)
	}
	b.WriteString(`</w:comment>`)
	return b.String()
}

// growComments adds to the part of remarks, which is made where there is none.
func (w *remarking) growComments(changed map[string][]byte, more string) error {
	if name := w.partOf("comments"); name != "" {
		return w.grow(changed, name, "", more)
	}
	return w.begin(changed, "comments", `<w:comments xmlns:w="`+words+`">`+more+`</w:comments>`)
}
