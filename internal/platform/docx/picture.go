package docx

import "path"

// Picture is the file of a picture that stands in a document, by what it is known as in its text, and its name there; none
// where there is no such picture.
func Picture(content []byte, known string) (name string, raw []byte, err error) {
	f, err := open(content)
	if err != nil {
		return "", nil, err
	}
	f.body.each(func(e *element) bool {
		if name != "" {
			return false
		}
		if (e.name == "w:drawing" || e.name == "w:pict" || e.name == "w:object" || e.name == "mc:AlternateContent") && id(f.of(e)) == known {
			name = f.pictured(e)
			return false
		}
		return true
	})
	if name == "" {
		return "", nil, nil
	}
	raw, err = f.part(name)
	return path.Base(name), raw, err
}

// pictured is the part that holds what a drawing shows; "" where that is none of the document's.
func (f *file) pictured(drawing *element) (name string) {
	drawing.each(func(e *element) bool {
		for _, by := range []string{"r:embed", "r:id"} {
			if r, known := f.refs[e.attr(by)]; known && !r.external && r.kind == "image" && name == "" {
				name = f.nameOf(r.target)
			}
		}
		return name == ""
	})
	return name
}
