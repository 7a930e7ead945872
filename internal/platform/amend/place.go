package amend

import (
	"fmt"
	"maps"
	"math"

	"tabularis/core/signing"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
)

// Box is a place on a page as it is shown.
type Box = signing.Box

// spot is a place on a page in the page's own coordinates.
type spot struct {
	// llx to ury are its corners, width and height what it measures as it is shown, in points.
	llx, lly, urx, ury, width, height float64
	// matrix sets something upright in it.
	matrix [6]float64
}

// shown is the part of a page that is shown (ISO 32000-2, 14.11.2), and how it is turned.
func shown(attrs *model.InheritedPageAttrs) (r types.Rectangle, turned int) {
	r = *types.NewRectangle(0, 0, 612, 792)
	if attrs.MediaBox != nil {
		r = *attrs.MediaBox
	}
	if c := attrs.CropBox; c != nil {
		cut := *types.NewRectangle(max(r.LL.X, c.LL.X), max(r.LL.Y, c.LL.Y), min(r.UR.X, c.UR.X), min(r.UR.Y, c.UR.Y))
		if cut.UR.X > cut.LL.X && cut.UR.Y > cut.LL.Y {
			r = cut
		}
	}
	return r, ((attrs.Rotate % 360) + 360) % 360
}

// locate finds a place on a page that may be cropped and turned.
func locate(attrs *model.InheritedPageAttrs, b Box) spot {
	r, turned := shown(attrs)
	w, h := r.UR.X-r.LL.X, r.UR.Y-r.LL.Y
	if turned%180 != 0 {
		w, h = h, w
	}
	point := func(x, y float64) (float64, float64) {
		switch turned {
		case 90:
			return r.LL.X + y, r.LL.Y + x
		case 180:
			return r.UR.X - x, r.LL.Y + y
		case 270:
			return r.UR.X - y, r.UR.Y - x
		}
		return r.LL.X + x, r.UR.Y - y
	}
	s := spot{width: b.W * w, height: b.H * h}
	ox, oy := point(b.X*w, (b.Y+b.H)*h)
	tx, ty := point((b.X+b.W)*w, b.Y*h)
	s.llx, s.lly, s.urx, s.ury = min(ox, tx), min(oy, ty), max(ox, tx), max(oy, ty)
	sin, cos := math.Sincos(float64(turned) * math.Pi / 180)
	s.matrix = [6]float64{math.Round(cos), math.Round(sin), -math.Round(sin), math.Round(cos), ox, oy}
	return s
}

func (s spot) rect() types.Array { return types.NewNumberArray(s.llx, s.lly, s.urx, s.ury) }

// page returns a page, counted from 1, to be changed, with what it inherits.
func (d *Document) page(n int) (types.Dict, types.IndirectRef, *model.InheritedPageAttrs, error) {
	_, ref, attrs, err := d.ctx.PageDict(n, false)
	if err != nil || ref == nil {
		return nil, types.IndirectRef{}, nil, fmt.Errorf("%w: page %d is not there: %w", ErrUnreadable, n, err)
	}
	page, err := d.edit(*ref)
	return page, *ref, attrs, err
}

// Size is how large a place is as it is shown, in points.
func (d *Document) Size(page int, b Box) (width, height float64, err error) {
	_, _, attrs, err := d.ctx.PageDict(page, false)
	if err != nil || attrs == nil {
		return 0, 0, fmt.Errorf("%w: page %d is not there: %w", ErrUnreadable, page, err)
	}
	s := locate(attrs, b)
	return s.width, s.height, nil
}

// Sheets are pages to be set into a document: each is drawn as a whole.
type Sheets struct {
	of  *Document
	src *model.Context
	// known are the numbers under which what they are made of was appended.
	known map[int]types.IndirectRef
}

// Sheets reads the pages of our own making that are to be set into the document.
func (d *Document) Sheets(raw []byte) (*Sheets, error) {
	ctx, err := read(raw)
	if err != nil {
		return nil, err
	}
	return &Sheets{of: d, src: ctx, known: map[int]types.IndirectRef{}}, nil
}

// take takes something over, with all that it refers to.
func (s *Sheets) take(o types.Object) (types.Object, error) {
	switch o := o.(type) {
	case types.IndirectRef:
		n := o.ObjectNumber.Value()
		if ref, ok := s.known[n]; ok {
			return ref, nil
		}
		s.known[n] = s.of.add(types.Boolean(false))
		got, err := s.src.Dereference(o)
		if err != nil {
			return nil, err
		}
		if got, err = s.take(got); err != nil {
			return nil, err
		}
		s.of.changed[s.known[n].ObjectNumber.Value()] = got
		return s.known[n], nil
	case types.Dict:
		return s.dict(o)
	case types.StreamDict:
		dict, err := s.dict(o.Dict)
		return types.StreamDict{Dict: dict, Raw: o.Raw, Content: o.Content, FilterPipeline: o.FilterPipeline}, err
	case types.Array:
		out := make(types.Array, len(o))
		for i, e := range o {
			var err error
			if out[i], err = s.take(e); err != nil {
				return nil, err
			}
		}
		return out, nil
	}
	return o, nil
}

func (s *Sheets) dict(o types.Dict) (types.Dict, error) {
	out := types.Dict{}
	for key, e := range o {
		taken, err := s.take(e)
		if err != nil {
			return nil, err
		}
		out[key] = taken
	}
	return out, nil
}

// form makes a form XObject (ISO 32000-2, 8.10) of a sheet, counted from 1.
func (s *Sheets) form(sheet int) (types.IndirectRef, *types.Rectangle, error) {
	page, _, attrs, err := s.src.PageDict(sheet, false)
	if err != nil || page == nil {
		return types.IndirectRef{}, nil, fmt.Errorf("sheet %d is not there: %w", sheet, err)
	}
	content, err := s.src.PageContent(page, sheet)
	if err != nil {
		return types.IndirectRef{}, nil, fmt.Errorf("reading sheet %d: %w", sheet, err)
	}
	resources := attrs.Resources
	if own, ok := page["Resources"]; ok {
		if resources, err = s.src.DereferenceDict(own); err != nil {
			return types.IndirectRef{}, nil, err
		}
	}
	taken, err := s.dict(resources)
	if err != nil {
		return types.IndirectRef{}, nil, err
	}
	box := attrs.MediaBox
	form := types.StreamDict{Dict: types.Dict{"Type": types.Name("XObject"), "Subtype": types.Name("Form"), "BBox": types.NewNumberArray(0, 0, box.Width(), box.Height()), "Resources": taken}, Raw: content}
	return s.of.add(form), box, nil
}

// Draw draws a sheet over a place of a page, as part of the page.
func (s *Sheets) Draw(sheet, page int, b Box) error {
	form, box, err := s.form(sheet)
	if err != nil {
		return err
	}
	dict, _, attrs, err := s.of.page(page)
	if err != nil {
		return err
	}
	at := locate(attrs, b)
	resources := types.Dict{}
	if own, err := s.of.dict(dict["Resources"]); err != nil {
		return err
	} else if own != nil {
		resources = types.Dict(maps.Clone(own))
	} else if attrs.Resources != nil {
		resources = types.Dict(maps.Clone(attrs.Resources))
	}
	objects := types.Dict{}
	if own, err := s.of.dict(resources["XObject"]); err != nil {
		return err
	} else if own != nil {
		objects = types.Dict(maps.Clone(own))
	}
	name := fmt.Sprintf("Placed%d", form.ObjectNumber.Value())
	objects[name] = form
	resources["XObject"], dict["Resources"] = objects, resources
	m, sx, sy := at.matrix, at.width/box.Width(), at.height/box.Height()
	draw := fmt.Sprintf("q %f %f %f %f %f %f cm /%s Do Q", m[0]*sx, m[1]*sx, m[2]*sy, m[3]*sy, m[4], m[5], name)
	return s.of.append(dict, draw)
}

// append adds to what a page draws, whatever state that leaves behind.
func (d *Document) append(page types.Dict, draw string) error {
	was, err := d.array(page["Contents"])
	if err != nil {
		return err
	}
	if contents, ok := page["Contents"].(types.IndirectRef); ok && len(was) == 1 {
		if _, stream := was[0].(types.StreamDict); stream {
			was = types.Array{contents}
		}
	}
	stream := func(s string) types.Object { return d.add(types.StreamDict{Dict: types.Dict{}, Raw: []byte(s)}) }
	if len(was) > 2 {
		if _, ours := d.changed[number(was[0])]; ours {
			page["Contents"] = append(append(types.Array{}, was...), stream("\n"+draw))
			return nil
		}
	}
	page["Contents"] = append(append(types.Array{stream("q\n")}, was...), stream("\nQ\n"), stream("\n"+draw))
	return nil
}

func number(o types.Object) int {
	if ref, ok := o.(types.IndirectRef); ok {
		return ref.ObjectNumber.Value()
	}
	return -1
}

// Add adds a sheet as a page of its own at the end.
func (s *Sheets) Add(sheet int) error {
	form, box, err := s.form(sheet)
	if err != nil {
		return err
	}
	catalog, err := s.of.dict(*s.of.ctx.Root)
	if err != nil {
		return err
	}
	root, ok := catalog["Pages"].(types.IndirectRef)
	if !ok {
		return fmt.Errorf("%w: its pages are nowhere", ErrUnreadable)
	}
	tree, err := s.of.edit(root)
	if err != nil {
		return err
	}
	kids, err := s.of.array(tree["Kids"])
	if err != nil {
		return err
	}
	count, _ := tree["Count"].(types.Integer)
	content := s.of.add(types.StreamDict{Dict: types.Dict{}, Raw: []byte("/Sheet Do")})
	page := s.of.add(types.Dict{"Type": types.Name("Page"), "Parent": root, "MediaBox": types.NewNumberArray(0, 0, box.Width(), box.Height()), "CropBox": types.NewNumberArray(0, 0, box.Width(), box.Height()), "Rotate": types.Integer(0),
		"Resources": types.Dict{"XObject": types.Dict{"Sheet": form}}, "Contents": content})
	tree["Kids"], tree["Count"] = append(append(types.Array{}, kids...), page), count+1
	return nil
}
