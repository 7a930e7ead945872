package docx

import (
	"archive/zip"
	"bytes"
	"errors"
	"maps"
	"slices"
	"strings"

	"tabularis/core/diff"
	"tabularis/core/richtext"
)

// Write writes a text into the document that it came from; without one, into a new one. Names are those of whoever
// proposes something, by their ids. A paragraph that stands there as it is wanted is copied; of one that changed, every
// letter that stays keeps its look. Pictures are those that somebody put into the text; of others only their words are
// written.
func Write(original []byte, doc *richtext.Node, names map[string]string, put Pictures) ([]byte, error) {
	if len(original) == 0 {
		var err error
		if original, err = empty(); err != nil {
			return nil, err
		}
	}
	f, err := open(original)
	if err != nil {
		return nil, err
	}
	lines := f.lines()
	was, err := textOf(lines)
	if err != nil {
		return nil, err
	}
	had := flat(was)
	if len(lines) == 0 {
		had = nil
	}
	if len(had) != len(lines) {
		return nil, broken(errors.New("a line was lost"))
	}
	w := &writer{file: f, names: names, things: map[string]unit{}, used: map[string]bool{}, added: map[string]string{}, lists: map[int]listed{}}
	w.know(lines)
	w.draw(doc, put)
	w.lines(lines, had, flat(doc.Unremarked()))
	return w.finish()
}

// writer writes the body of a document.
type writer struct {
	*file
	names map[string]string
	out   strings.Builder
	// things are what stands in the text and is kept, by id; used are those notes and remarks that are written already.
	things map[string]unit
	used   map[string]bool
	// added are the links that are new, by where they lead.
	added map[string]string
	// lists are the lists that are being written, by depth.
	lists     map[int]listed
	newStyles []string
	newLists  []newList
	newRefs   []string
	// put are as what the pictures that somebody put in stand among units, by what the text calls them; media are their parts.
	put   map[string]string
	media map[string][]byte
	// model is a line that looks as a new one would where it is written.
	model *line
}

// listed is a list that is being written: what its lines look like.
type listed struct {
	kind  string
	props []child
	look  *look
}

// know notes what stands in lines, and the cells of tables.
func (w *writer) know(lines []line) {
	for _, l := range lines {
		for _, u := range l.units {
			if strings.HasPrefix(u.is, "\x00") {
				w.things[u.is] = u
			}
		}
		for _, r := range l.rows {
			for _, c := range r.cells {
				w.know(c.lines)
			}
		}
		if l.kind == "kept_block" {
			id, _ := l.node["attrs"].(object)["id"].(string)
			w.things["\x00"+id] = unit{raw: string(w.raw[l.from:l.to]), whole: true, thing: &thing{}, look: plain, marks: bare}
		}
	}
}

// mostEdits is after how many differences what differs is taken as replaced: of lines, and of the letters of one.
const mostEdits, mostLetterEdits = 3000, 400

// lines writes wanted lines, where there were others.
func (w *writer) lines(lines []line, had, wanted []block) {
	edits := compared(keysOf(had), keysOf(wanted), mostEdits)
	t := &turned{writer: w, lines: lines, had: had, moved: movedBy(edits, had, wanted)}
	for _, e := range edits {
		if e.Kind == diff.Same {
			for _, l := range lines[e.A0:e.A1] {
				for _, u := range l.units {
					w.used[u.is] = true
				}
			}
		}
	}
	for _, e := range gaps(edits) {
		if e.Kind != diff.Same {
			t.gap(wanted, e)
			continue
		}
		for k := e.A0; k < e.A1; k++ {
			w.out.WriteString(lines[k].before)
			w.copy(&lines[k], had[k])
		}
	}
}

// gaps are edits with what differs between two that are the same as one.
func gaps(edits []diff.Edit) (all []diff.Edit) {
	for _, e := range edits {
		if last := len(all) - 1; last >= 0 && e.Kind != diff.Same && all[last].Kind != diff.Same {
			all[last].A1, all[last].B1 = max(all[last].A1, e.A1), max(all[last].B1, e.B1)
			continue
		}
		all = append(all, e)
	}
	return all
}

// turned is what lines become.
type turned struct {
	*writer
	lines []line
	had   []block
	// moved are lines that stand elsewhere now, by where that is.
	moved map[int]int
}

// movedBy are lines that are gone where they stood and wanted, as they are, elsewhere.
func movedBy(edits []diff.Edit, had, wanted []block) map[int]int {
	gone := map[string][]int{}
	for _, e := range edits {
		for i := e.A0; e.Kind == diff.Removed && i < e.A1; i++ {
			gone[had[i].key] = append(gone[had[i].key], i)
		}
	}
	moved := map[int]int{}
	for _, e := range edits {
		for j := e.B0; e.Kind == diff.Added && j < e.B1; j++ {
			if from := gone[wanted[j].key]; len(from) > 0 {
				moved[j], gone[wanted[j].key] = from[0], from[1:]
			}
		}
	}
	return moved
}

func keysOf(all []block) (keys []string) {
	for _, b := range all {
		keys = append(keys, b.key)
	}
	return keys
}

// compared are the edits between two rows of words.
func compared(a, b []string, most int) []diff.Edit {
	known := map[string]int32{}
	number := func(all []string) (out []int32) {
		for _, s := range all {
			n, there := known[s]
			if !there {
				n = int32(len(known))
				known[s] = n
			}
			out = append(out, n)
		}
		return out
	}
	edits, _ := diff.Sequences(number(a), number(b), most)
	return edits
}

// copy writes a line as it is.
func (w *writer) copy(l *line, b block) {
	w.out.Write(w.raw[l.from:l.to])
	if b.list != "" {
		w.lists[b.depth] = listed{b.list, w.propsOf(l), l.usual()}
	}
}

// gap writes lines where others stood.
func (t *turned) gap(wanted []block, e diff.Edit) {
	away := map[int]bool{}
	for _, i := range t.moved {
		away[i] = true
	}
	pairs := paired(t.had[e.A0:e.A1], wanted[e.B0:e.B1], func(i, j int) bool {
		_, comes := t.moved[e.B0+j]
		return !comes && !away[e.A0+i]
	})
	at := e.A0
	leave := func(to int) {
		for ; at < to; at++ {
			if away[at] {
				t.out.WriteString(t.lines[at].before)
			} else {
				t.leave(&t.lines[at])
			}
		}
	}
	for j := e.B0; j < e.B1; j++ {
		if from, comes := t.moved[j]; comes {
			t.copy(&t.lines[from], t.had[from])
			continue
		}
		var was *line
		var before block
		if i := pairs[j-e.B0]; i >= 0 {
			leave(e.A0 + i)
			was, before = &t.lines[at], t.had[at]
			t.out.WriteString(was.before)
			at++
		}
		t.model = modelOf(t.lines, t.had, wanted[j], at)
		t.block(wanted[j], was, before)
	}
	leave(e.A1)
}

// leave writes what takes no room of a line that is gone: the ends of what begins elsewhere.
func (w *writer) leave(l *line) {
	w.out.WriteString(l.before)
	for _, u := range l.units {
		if u.is == "" && u.whole {
			w.out.WriteString(u.raw)
		}
	}
}

// modelOf is a line that looks as a new one would: the nearest one before that is of its kind, or after.
func modelOf(lines []line, had []block, b block, at int) *line {
	for i := at - 1; i >= 0; i-- {
		if had[i].like(b) {
			return &lines[i]
		}
	}
	for i := at; i < len(lines); i++ {
		if had[i].like(b) {
			return &lines[i]
		}
	}
	return nil
}

// like says that two lines are of a kind.
func (b block) like(other block) bool {
	if b.node == nil || other.node == nil {
		return false
	}
	return b.node.Type == other.node.Type && b.node.Attrs["level"] == other.node.Attrs["level"] && b.list == other.list && b.depth == other.depth && b.quoted == other.quoted
}

// mostPairs bounds how many lines are compared with each other.
const mostPairs = 40_000

// paired says for each wanted line which one it was; -1 for new ones. They stay in order.
func paired(had, wanted []block, may func(i, j int) bool) []int {
	was, is := textsOf(had), textsOf(wanted)
	likeness := func(i, j int) float64 {
		if !may(i, j) {
			return 0
		}
		return likeness(had[i], wanted[j], was[i], is[j])
	}
	pairs := make([]int, len(wanted))
	for j := range pairs {
		pairs[j] = -1
		if len(had) == len(wanted) && likeness(j, j) > 0 {
			pairs[j] = j
		}
	}
	if len(had) == len(wanted) || len(had)*len(wanted) > mostPairs {
		return pairs
	}
	best := make([][]float64, len(had)+1)
	for i := range best {
		best[i] = make([]float64, len(wanted)+1)
	}
	for i := len(had) - 1; i >= 0; i-- {
		for j := len(wanted) - 1; j >= 0; j-- {
			best[i][j] = max(best[i+1][j], best[i][j+1])
			if like := likeness(i, j); like > 0 {
				best[i][j] = max(best[i][j], like+best[i+1][j+1])
			}
		}
	}
	for i, j := 0, 0; i < len(had) && j < len(wanted); {
		switch like := likeness(i, j); {
		case like > 0 && best[i][j] == like+best[i+1][j+1]:
			pairs[j] = i
			i, j = i+1, j+1
		case best[i][j] == best[i+1][j]:
			i++
		default:
			j++
		}
	}
	return pairs
}

// textsOf is what lines say.
func textsOf(all []block) (texts []string) {
	for _, b := range all {
		texts = append(texts, b.node.Plain())
	}
	return texts
}

// likeness says how much of what one line says is in another; 0 where the one cannot have become the other.
func likeness(a, b block, x, y string) float64 {
	if a.node.Type.Name == "kept_block" || b.node.Type.Name == "kept_block" || (a.node.Type.Name == "table") != (b.node.Type.Name == "table") {
		return 0
	}
	same := 0
	for same < len(x) && same < len(y) && x[same] == y[same] {
		same++
	}
	end := 0
	for end < len(x)-same && end < len(y)-same && x[len(x)-1-end] == y[len(y)-1-end] {
		end++
	}
	return 0.01 + float64(same+end)/float64(max(1, len(x), len(y)))
}

// finish puts the document together again.
func (w *writer) finish() ([]byte, error) {
	main := string(w.raw[:w.body.in]) + w.out.String() + w.trailing
	for _, k := range w.body.kids {
		if k.name == "w:sectPr" {
			main += string(w.of(k))
		}
	}
	changed := map[string][]byte{w.main: []byte(main + string(w.raw[w.body.out:]))}
	if err := w.asides(changed); err != nil {
		return nil, err
	}
	return w.packed(changed)
}

// packed is the document with parts changed, and new ones.
func (f *file) packed(changed map[string][]byte) ([]byte, error) {
	var out bytes.Buffer
	z := zip.NewWriter(&out)
	for _, p := range f.zip.File {
		raw, isNew := changed[p.Name]
		if !isNew {
			if err := z.Copy(p); err != nil {
				return nil, broken(err)
			}
			continue
		}
		delete(changed, p.Name)
		if err := put(z, p.Name, raw); err != nil {
			return nil, err
		}
	}
	for _, name := range slices.Sorted(maps.Keys(changed)) {
		if err := put(z, name, changed[name]); err != nil {
			return nil, err
		}
	}
	err := z.Close()
	return out.Bytes(), err
}

func put(z *zip.Writer, name string, raw []byte) error {
	to, err := z.Create(name)
	if err != nil {
		return err
	}
	_, err = to.Write(raw)
	return err
}
