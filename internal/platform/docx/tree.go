package docx

import (
	"bytes"
	"encoding/xml"
	"errors"
	"io"
	"slices"
	"strconv"
	"strings"
)

// element is a piece of a part, with where it stands there: what is not changed is copied byte by byte.
type element struct {
	// name begins with the short name of its namespace: "w:p".
	name  string
	attrs []xml.Attr
	// from and to are where it begins and ends, in and out where its content does.
	from, to, in, out int
	kids              []*element
	// text is what stands directly in it.
	text string
}

// spaces are the short names of namespaces (ISO/IEC 29500-1 and its strict form, annex A).
var spaces = map[string]string{
	"http://schemas.openxmlformats.org/wordprocessingml/2006/main":        "w",
	"http://purl.oclc.org/ooxml/wordprocessingml/main":                    "w",
	"http://schemas.openxmlformats.org/officeDocument/2006/relationships": "r",
	"http://purl.oclc.org/ooxml/officeDocument/relationships":             "r",
	"http://schemas.openxmlformats.org/officeDocument/2006/math":          "m",
	"http://purl.oclc.org/ooxml/officeDocument/math":                      "m",
	"http://schemas.openxmlformats.org/markup-compatibility/2006":         "mc",
	"http://schemas.openxmlformats.org/package/2006/relationships":        "rel",
	"http://schemas.openxmlformats.org/package/2006/content-types":        "type",
}

// Bounds of a part.
const deepest, mostElements = 200, 1_500_000

// ErrUnreadable means that it is no such document, or one that is broken or unpacks to too much.
var ErrUnreadable = errors.New("the document cannot be read")

func broken(err error) error { return errors.Join(ErrUnreadable, err) }

// parse reads a part. Only the entities that every document has are known: nothing can be expanded.
func parse(raw []byte) (*element, error) {
	d := xml.NewDecoder(bytes.NewReader(raw))
	var root *element
	var open []*element
	for count := 0; ; {
		from := int(d.InputOffset())
		token, err := d.Token()
		if err == io.EOF && root != nil && len(open) == 0 {
			return root, nil
		}
		if err != nil {
			return nil, broken(err)
		}
		switch t := token.(type) {
		case xml.StartElement:
			if count++; count > mostElements || len(open) >= deepest {
				return nil, ErrUnreadable
			}
			e := &element{name: short(t.Name), attrs: slices.Clone(t.Attr), from: from, in: int(d.InputOffset())}
			if len(open) > 0 {
				parent := open[len(open)-1]
				parent.kids = append(parent.kids, e)
			} else if root != nil {
				return nil, ErrUnreadable
			} else {
				root = e
			}
			open = append(open, e)
		case xml.EndElement:
			e := open[len(open)-1]
			e.out, e.to = from, int(d.InputOffset())
			open = open[:len(open)-1]
		case xml.CharData:
			if len(open) > 0 {
				open[len(open)-1].text += string(t)
			}
		case xml.Directive:
			return nil, ErrUnreadable
		}
	}
}

func short(n xml.Name) string {
	if s, known := spaces[n.Space]; known {
		return s + ":" + n.Local
	}
	return n.Local
}

// kid is the first child of a name; nil where there is none.
func (e *element) kid(name string) *element {
	if e == nil {
		return nil
	}
	for _, k := range e.kids {
		if k.name == name {
			return k
		}
	}
	return nil
}

// attr is an attribute; "" where there is none.
func (e *element) attr(name string) string {
	if e == nil {
		return ""
	}
	for _, a := range e.attrs {
		if short(a.Name) == name {
			return a.Value
		}
	}
	return ""
}

// value is the w:val of a child, and whether there is one.
func (e *element) value(name string) (string, bool) {
	k := e.kid(name)
	return k.attr("w:val"), k != nil
}

// number is the w:val of a child as a number.
func (e *element) number(name string, otherwise int) int {
	v, _ := e.value(name)
	n, err := strconv.Atoi(v)
	if err != nil {
		return otherwise
	}
	return n
}

// toggled says that a child is there and not switched off (17.17.4).
func (e *element) toggled(name string) bool {
	v, there := e.value(name)
	return there && v != "0" && v != "false" && v != "off"
}

// each goes through an element and all below it, until f answers false for what lies below.
func (e *element) each(f func(e *element) bool) {
	if e == nil || !f(e) {
		return
	}
	for _, k := range e.kids {
		k.each(f)
	}
}

// words are the text in an element, on one line and of at most so many letters.
func (e *element) words(most int) string {
	var b strings.Builder
	e.each(func(e *element) bool {
		switch e.name {
		case "w:t", "m:t":
			b.WriteString(e.text)
		case "w:p", "w:tab", "w:br", "w:cr":
			b.WriteByte(' ')
		case "w:instrText", "w:delText", "w:pPr", "w:rPr", "mc:Fallback":
			return false
		}
		return b.Len() < 4*most
	})
	return cut(strings.Join(strings.Fields(b.String()), " "), most)
}

func cut(s string, most int) string {
	if runes := []rune(s); len(runes) > most {
		return string(runes[:most-1]) + "…"
	}
	return s
}
