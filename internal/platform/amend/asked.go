package amend

import (
	"strings"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"

	"tabularis/core/signing"
)

// Flags of fields (ISO 32000-2, tables 227, 229 and 165).
const (
	readOnly   = 1 << 0
	required   = 1 << 1
	pushButton = 1 << 16
	hidden     = 1 << 1
)

// Asked are the places that a document's own form asks for, as places to sign. What is only read, hidden or pressed is none.
func Asked(raw []byte) (all []signing.Spot, err error) {
	ctx, err := read(raw)
	if err != nil {
		return nil, err
	}
	r := &reader{ctx: ctx}
	for n := 1; n <= ctx.PageCount && len(all) < signing.MostPlaces; n++ {
		page, _, attrs, err := ctx.PageDict(n, false)
		if err != nil || page == nil {
			continue
		}
		notes, _ := ctx.DereferenceArray(page["Annots"])
		for _, o := range notes {
			dict, err := ctx.DereferenceDict(o)
			if err != nil || dict == nil || name(dict["Subtype"]) != "Widget" || r.number(dict, "F")&hidden != 0 {
				continue
			}
			if p, ok := r.asked(dict); ok {
				s := signing.Spot{Page: n, Place: p, Field: true}
				s.Place.Box, s.Width, s.Height = r.box(dict, attrs)
				all = append(all, s)
			}
		}
	}
	return all, nil
}

// asked is what a field asks for.
func (r *reader) asked(dict types.Dict) (p signing.Place, ok bool) {
	flags := r.number(dict, "Ff")
	if flags&readOnly != 0 {
		return p, false
	}
	p.Must, p.Label = flags&required != 0, short(r.label(dict), signing.MostLabel)
	switch r.inherited(dict, "FT") {
	case "Sig":
		if value, _ := r.ctx.DereferenceDict(dict["V"]); value != nil {
			return p, false
		}
		p.Kind, p.Must = signing.Signature, true
	case "Tx":
		p.Kind, p.Most = signing.Text, min(max(0, r.number(dict, "MaxLen")), signing.MostLetters)
	case "Btn":
		p.Kind = signing.Tick
		return p, flags&pushButton == 0
	case "Ch":
		p.Kind, p.Choices = signing.Choice, r.choices(dict)
		return p, len(p.Choices) >= 2
	default:
		return p, false
	}
	return p, true
}

// box is where a field lies on its page as it is shown, and how large that is.
func (r *reader) box(dict types.Dict, attrs *model.InheritedPageAttrs) (b Box, w, h float64) {
	seen, turned := shown(attrs)
	w, h = seen.UR.X-seen.LL.X, seen.UR.Y-seen.LL.Y
	var c [4]float64
	rect, _ := r.ctx.DereferenceArray(dict["Rect"])
	for i, o := range rect {
		if i < 4 {
			c[i], _ = r.ctx.DereferenceNumber(o)
		}
	}
	at := func(x, y float64) (float64, float64) {
		x, y = (x-seen.LL.X)/w, (y-seen.LL.Y)/h
		switch turned {
		case 90:
			return y, x
		case 180:
			return 1 - x, y
		case 270:
			return 1 - y, 1 - x
		}
		return x, 1 - y
	}
	ax, ay := at(c[0], c[1])
	bx, by := at(c[2], c[3])
	b = Box{X: max(0, min(ax, bx)), Y: max(0, min(ay, by))}
	b.W, b.H = min(1, max(ax, bx))-b.X, min(1, max(ay, by))-b.Y
	if turned%180 != 0 {
		w, h = h, w
	}
	return b, w, h
}

// number is a number of a field, or what it inherits.
func (r *reader) number(dict types.Dict, key string) int {
	for range mostNested {
		if v := r.get(dict[key]); v != nil {
			n, _ := v.(types.Integer)
			return n.Value()
		}
		parent, err := r.ctx.DereferenceDict(dict["Parent"])
		if err != nil || parent == nil {
			return 0
		}
		dict = parent
	}
	return 0
}

// label is how a field is called for people, or else by its name.
func (r *reader) label(dict types.Dict) string {
	for _, key := range []string{"TU", "T"} {
		if s := strings.TrimSpace(r.text(dict[key])); s != "" {
			return s
		}
	}
	if parent, err := r.ctx.DereferenceDict(dict["Parent"]); err == nil && parent != nil {
		return strings.TrimSpace(r.text(parent["TU"]))
	}
	return ""
}

// choices are what can be chosen: each a text, or a pair of which the second is shown.
func (r *reader) choices(dict types.Dict) (all []string) {
	options, _ := r.ctx.DereferenceArray(dict["Opt"])
	for _, o := range options {
		if pair, err := r.ctx.DereferenceArray(o); err == nil && len(pair) == 2 {
			o = pair[1]
		}
		if s := short(strings.TrimSpace(r.text(o)), signing.MostLabel); s != "" && len(all) < signing.MostChoices {
			all = append(all, s)
		}
	}
	return all
}

func short(s string, most int) string {
	if r := []rune(s); len(r) > most {
		return string(r[:most])
	}
	return s
}
