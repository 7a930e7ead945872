// Package fillings says what a form asks, what an answer to it may be, and what is still to be answered.
//
// A form is a written document with fields in it. Whoever fills it in answers on their own: nobody
// sees another's answers, and the document stays as it is.
package fillings

import (
	"strconv"
	"strings"

	"tabularis/core/fault"
	"tabularis/core/richtext"
)

// Kind is what an answer is.
type Kind string

// The kinds of answers.
const (
	Text   Kind = "text"
	Number Kind = "number"
	Day    Kind = "day"
	Choice Kind = "choice"
	Tick   Kind = "tick"
)

const (
	// MostFields is how many a form has, MostChoices how many words there are to choose from in one.
	MostFields, MostChoices = 300, 100
	// longestText bounds what stands between fields, in bytes.
	longestText = 4000
)

// Field is one thing that is asked.
type Field struct {
	ID    string `json:"id"`
	Kind  Kind   `json:"kind"`
	Label string `json:"label"`
	// Before and After are the words of its line around it.
	Before string `json:"before,omitempty"`
	After  string `json:"after,omitempty"`
	Hint   string `json:"hint,omitempty"`
	Must   bool   `json:"must,omitempty"`
	// Choices are what is chosen from.
	Choices []string `json:"choices,omitempty"`
	// Least and Most bound a number; a day they bound as ISO 8601 writes one, or as working days from today ("+2").
	Least string `json:"least,omitempty"`
	Most  string `json:"most,omitempty"`
	// Usual is what stands there before anybody answers.
	Usual string `json:"usual,omitempty"`
}

// Section is a part of a form below a heading, with what is said in it.
type Section struct {
	Title  string   `json:"title"`
	Says   []string `json:"says,omitempty"`
	Fields []Field  `json:"fields"`
}

// Form is what a document asks, in its order.
type Form struct {
	Title    string    `json:"title"`
	Sections []Section `json:"sections"`
}

// ErrNone says that a document asks nothing.
var ErrNone = fault.Declare(fault.Invalid, "no-form", "there is no field in this document that could be filled in")

// Of is what a document asks, without what is merely proposed in it. Fields beyond MostFields are not asked.
func Of(doc *richtext.Node) (Form, error) {
	doc, err := richtext.Without(doc, "")
	if err != nil {
		return Form{}, err
	}
	r := reader{form: Form{Sections: []Section{{}}}, ids: map[string]bool{}}
	for _, block := range doc.Content.Nodes {
		r.block(block)
	}
	// What is said before the first heading belongs to what follows; headings without a field say something.
	var kept []Section
	for _, s := range r.form.Sections {
		if len(s.Fields) > 0 || s.Title != "" || len(s.Says) > 0 {
			kept = append(kept, s)
		}
	}
	r.form.Sections = kept
	return r.form, nil
}

// Fields are all that is asked, in order.
func (f Form) Fields() (all []Field) {
	for _, s := range f.Sections {
		all = append(all, s.Fields...)
	}
	return all
}

// Filled is the document with answers in its fields.
func Filled(doc *richtext.Node, answers Answers) *richtext.Node {
	ids := map[string]bool{}
	return doc.Refilled(func(attrs richtext.Attrs) {
		id, _ := attrs["id"].(string)
		id = unique(id, ids)
		attrs["id"], attrs["value"] = id, answers[id]
	})
}

type reader struct {
	form  Form
	ids   map[string]bool
	count int
}

func (r *reader) block(n *richtext.Node) {
	if n.Type.Name == "heading" && !asks(n) {
		title := words(n)
		if level, _ := n.Attrs["level"].(float64); level == 1 && r.form.Title == "" && r.count == 0 {
			r.form.Title = title
			return
		}
		r.form.Sections = append(r.form.Sections, Section{Title: title})
		return
	}
	if !asks(n) {
		r.say(words(n))
		return
	}
	if n.IsTextblock() {
		r.line(n)
		return
	}
	for _, c := range n.Content.Nodes {
		r.block(c)
	}
}

func (r *reader) section() *Section { return &r.form.Sections[len(r.form.Sections)-1] }

func (r *reader) say(text string) {
	if text = strings.TrimSpace(text); text != "" {
		s := r.section()
		s.Says = append(s.Says, text[:bound(text)])
	}
}

// bound is where a text is cut, at the beginning of a character.
func bound(text string) int {
	end := min(len(text), longestText)
	for end > 0 && end < len(text) && text[end]&0xC0 == 0x80 {
		end--
	}
	return end
}

// line reads a line with fields: the words before each are what it is called, unless it says so itself.
func (r *reader) line(n *richtext.Node) {
	var before strings.Builder
	var last *Field
	for _, c := range n.Content.Nodes {
		switch {
		case c.IsText():
			before.WriteString(c.Text)
		case c.Type.Name == "hard_break":
			if last != nil {
				last.After, last = strings.TrimSpace(before.String()), nil
				before.Reset()
			}
			before.WriteByte(' ')
		case c.Type.Name == "field":
			if r.count++; r.count > MostFields {
				return
			}
			words := before.String()
			if last != nil {
				last.After, words = parted(words)
			}
			f := r.field(c, strings.TrimSpace(words))
			before.Reset()
			s := r.section()
			s.Fields = append(s.Fields, f)
			last = &s.Fields[len(s.Fields)-1]
		}
	}
	if rest := strings.TrimSpace(before.String()); last != nil {
		last.After = rest
	} else {
		r.say(rest)
	}
}

// parted parts the words between two fields of a line: what comes before the comma goes with the first.
func parted(between string) (after, before string) {
	at := strings.IndexAny(between, ",;")
	if at < 0 {
		return "", between
	}
	return strings.TrimSpace(between[:at]), between[at+1:]
}

func (r *reader) field(n *richtext.Node, before string) Field {
	must, _ := n.Attrs["must"].(bool)
	f := Field{ID: unique(said(n, "id"), r.ids), Kind: Kind(said(n, "kind")), Label: strings.TrimSpace(said(n, "label")), Hint: strings.TrimSpace(said(n, "hint")), Must: must,
		Least: strings.TrimSpace(said(n, "least")), Most: strings.TrimSpace(said(n, "most")), Usual: said(n, "value")}
	before = strings.TrimRight(before, " :")
	if f.Label == "" {
		f.Label, before = before, ""
	}
	if f.Label == "" {
		f.Label = strconv.Itoa(r.count)
	}
	if before != f.Label {
		f.Before = before
	}
	if f.Kind == Choice {
		for c := range strings.SplitSeq(said(n, "choices"), "\n") {
			if c = strings.TrimSpace(c); c != "" && len(f.Choices) < MostChoices {
				f.Choices = append(f.Choices, c)
			}
		}
	}
	return f
}

// unique is a name that no field before has: a field that was copied asks something of its own.
func unique(id string, taken map[string]bool) string {
	name := id
	for n := 2; taken[name]; n++ {
		name = id + "-" + strconv.Itoa(n)
	}
	taken[name] = true
	return name
}

func said(n *richtext.Node, name string) string {
	s, _ := n.Attrs[name].(string)
	return s
}

func asks(n *richtext.Node) (yes bool) {
	n.Walk(func(c *richtext.Node, _ int) bool {
		yes = yes || c.Type.Name == "field"
		return !yes
	})
	return yes
}

func words(n *richtext.Node) string { return strings.TrimSpace(n.Plain()) }
