package markdown

import (
	"cmp"
	"fmt"
	"html"
	"regexp"
	"slices"
	"strings"
	"unicode/utf8"

	"tabularis/core/richtext"
)

// Field is a field to be filled in, as a file holds it: an input element of HTML (Living
// Standard, 4.10.5). Its name is by what answers are known, aria-label what it is called, title
// what is said beside it; min and max bound numbers and days; a choice has what can be chosen in
// data-choices, one to a line.
type Field struct {
	Name, Kind, Label, Hint, Choices, Least, Most, Value string
	Must                                                 bool
}

// inputTypes are the kinds of fields by the type of an input element.
var inputTypes = map[string]string{"text": "text", "email": "text", "tel": "text", "number": "number", "date": "day", "checkbox": "tick"}

var (
	inputTag  = regexp.MustCompile(`^<input((?:\s+[a-zA-Z-]+(?:\s*=\s*(?:"[^"]*"|'[^']*'|[^\s"'=<>` + "`" + `]+))?)*)\s*/?>$`)
	inputAttr = regexp.MustCompile(`([a-zA-Z-]+)(?:\s*=\s*("[^"]*"|'[^']*'|[^\s"'=<>` + "`" + `]+))?`)
)

// FieldOf reads a field from the tag of an input element; any other tag is none.
func FieldOf(tag string) (f Field, is bool) {
	found := inputTag.FindStringSubmatch(tag)
	if found == nil {
		return f, false
	}
	f.Kind = "text"
	checked := false
	for _, attr := range inputAttr.FindAllStringSubmatch(found[1], -1) {
		value := html.UnescapeString(strings.Trim(attr[2], `"'`))
		switch strings.ToLower(attr[1]) {
		case "type":
			if f.Kind, is = inputTypes[strings.ToLower(value)]; !is {
				return f, false
			}
		case "name":
			f.Name = value
		case "aria-label":
			f.Label = value
		case "title":
			f.Hint = value
		case "data-choices":
			f.Choices = value
		case "min":
			f.Least = value
		case "max":
			f.Most = value
		case "value":
			f.Value = value
		case "required":
			f.Must = true
		case "checked":
			checked = true
		}
	}
	switch {
	case f.Kind == "tick":
		f.Value = map[bool]string{true: richtext.Ticked}[checked]
	case f.Kind == "text" && f.Choices != "":
		f.Kind = "choice"
	}
	return f, f.Name != "" && len(f.Name) <= 40 && utf8.ValidString(f.Name)
}

// fieldTag writes a field as an input element, on one line.
func fieldTag(n *richtext.Node) string {
	said := func(name string) string { s, _ := n.Attrs[name].(string); return s }
	kind, value := said("kind"), said("value")
	var b strings.Builder
	put := func(name, value string) {
		if value != "" {
			value = strings.NewReplacer("\n", "&#10;", "\r", "&#13;", "`", "&#96;", "|", "&#124;").Replace(html.EscapeString(value))
			fmt.Fprintf(&b, ` %s="%s"`, name, value)
		}
	}
	types := map[string]string{"number": "number", "day": "date", "tick": "checkbox"}
	b.WriteString("<input")
	put("name", said("id"))
	put("type", cmp.Or(types[kind], "text"))
	put("aria-label", said("label"))
	put("title", said("hint"))
	if kind == "choice" {
		put("data-choices", cmp.Or(said("choices"), " "))
	}
	put("min", said("least"))
	put("max", said("most"))
	if kind == "tick" && value != "" {
		b.WriteString(" checked")
		value = ""
	}
	put("value", value)
	if must, _ := n.Attrs["must"].(bool); must {
		b.WriteString(" required")
	}
	b.WriteString(">")
	return b.String()
}

func (r *reader) field(tag string) (object, bool) {
	f, is := FieldOf(tag)
	if !is {
		return nil, false
	}
	if slices.ContainsFunc([]string{f.Label, f.Hint}, func(s string) bool { return len(s) > 200 }) || len(f.Least) > 20 || len(f.Most) > 20 || len(f.Choices) > 4000 || len(f.Value) > 4000 {
		return nil, false
	}
	return object{"type": "field", "attrs": object{"id": f.Name, "kind": f.Kind, "label": f.Label, "hint": f.Hint, "must": f.Must,
		"choices": f.Choices, "least": f.Least, "most": f.Most, "value": f.Value}}, true
}
