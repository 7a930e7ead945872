package docx

import (
	"bytes"
	"hash/fnv"
	"image"
	_ "image/gif"  // its decoder
	_ "image/jpeg" // its decoder
	_ "image/png"  // its decoder
	"maps"
	"path"
	"slices"
	"strconv"

	"tabularis/core/richtext"
)

// Pictures are those that somebody put into a text, by what it calls them.
type Pictures map[string][]byte

// emuPerPixel is the format's measure for a pixel of a picture (914,400 to an inch), emuPerTwip for a page's own.
const emuPerPixel, emuPerTwip = 9525, 635

// usualWidth is how wide the lines of a page are that does not say so, in twips: A4 with margins of an inch.
const usualWidth = 11906 - 2*1440

// mediaTypes are those of the pictures that a document can hold, by what a decoder calls them.
var mediaTypes = map[string]string{"png": "image/png", "jpeg": "image/jpeg", "gif": "image/gif"}

// draw makes the pictures that a text holds things of the document. What is no picture is known by its words alone.
func (w *writer) draw(doc *richtext.Node, put Pictures) {
	w.media, w.put = map[string][]byte{}, map[string]string{}
	doc.Walk(func(n *richtext.Node, _ int) bool {
		src, _ := n.Attrs["src"].(string)
		raw, there := put[src]
		if n.Type.Name != "picture" || !there {
			return true
		}
		size, format, err := image.DecodeConfig(bytes.NewReader(raw))
		if err != nil || mediaTypes[format] == "" || size.Width < 1 || size.Height < 1 {
			return true
		}
		alt, _ := n.Attrs["alt"].(string)
		drawn := w.drawing(w.keepMedia(raw, format), src, alt, size)
		is := "\x00" + id([]byte(drawn))
		w.put[src] = is
		if _, known := w.things[is]; !known {
			w.things[is] = unit{is: is, thing: &thing{"picture", alt}, raw: drawn, look: plain, marks: bare}
		}
		return true
	})
}

// keepMedia puts a picture among the parts, once, and gives the id by which the text refers to it.
func (w *writer) keepMedia(raw []byte, format string) string {
	target := "media/" + id(raw) + "." + format
	for ref, r := range w.refs {
		if r.target == target && r.kind == "image" && !r.external {
			return ref
		}
	}
	if name := path.Join(path.Dir(w.main), target); !w.has(name) {
		w.media[name] = raw
	}
	return w.addRef("image", target)
}

func (w *writer) has(name string) bool {
	for _, p := range w.zip.File {
		if p.Name == name {
			return true
		}
	}
	return false
}

// drawing is a picture in its line, as large as it is, unless the line is shorter (ISO/IEC 29500-1, 20.4.2.8).
func (w *writer) drawing(ref, src, alt string, size image.Config) string {
	width, height := size.Width*emuPerPixel, size.Height*emuPerPixel
	if most := w.lineWidth() * emuPerTwip; width > most {
		width, height = most, max(1, size.Height*most/size.Width)
	}
	extent := ` cx="` + itoa(width) + `" cy="` + itoa(height) + `"/>`
	// The same picture is written alike whenever that is.
	sum := fnv.New32a()
	sum.Write([]byte(src))
	number := itoa(int(sum.Sum32() >> 1))
	named := ` id="` + number + `" name="` + number + `" descr="` + escaped(alt) + `"/>`
	const main, picture = "http://schemas.openxmlformats.org/drawingml/2006/main", "http://schemas.openxmlformats.org/drawingml/2006/picture"
	return "<" + w.w + `:drawing><wp:inline xmlns:wp="http://schemas.openxmlformats.org/drawingml/2006/wordprocessingDrawing" distT="0" distB="0" distL="0" distR="0"><wp:extent` + extent + `<wp:docPr` + named +
		`<a:graphic xmlns:a="` + main + `"><a:graphicData uri="` + picture + `"><pic:pic xmlns:pic="` + picture + `"><pic:nvPicPr><pic:cNvPr` + named + `<pic:cNvPicPr/></pic:nvPicPr>` +
		`<pic:blipFill><a:blip xmlns:r="` + relationships + `" r:embed="` + ref + `"/><a:stretch><a:fillRect/></a:stretch></pic:blipFill>` +
		`<pic:spPr><a:xfrm><a:off x="0" y="0"/><a:ext` + extent + `</a:xfrm><a:prstGeom prst="rect"><a:avLst/></a:prstGeom></pic:spPr></pic:pic></a:graphicData></a:graphic></wp:inline></` + w.w + `:drawing>`
}

// lineWidth is how wide lines are, in twips.
func (w *writer) lineWidth() int {
	section := w.body.kid("w:sectPr")
	page, margins := section.kid("w:pgSz"), section.kid("w:pgMar")
	width := twips(page, "w:w") - twips(margins, "w:left") - twips(margins, "w:right")
	if page == nil || width < 567 {
		return usualWidth
	}
	return width
}

// twips is a measure; 0 where it is none.
func twips(e *element, name string) int {
	n, _ := strconv.Atoi(e.attr(name))
	return n
}

// growMedia adds the pictures that somebody put in to the parts.
func (w *writer) growMedia(changed map[string][]byte) error {
	for _, name := range slices.Sorted(maps.Keys(w.media)) {
		changed[name] = w.media[name]
		kind := mediaTypes[path.Ext(name)[1:]]
		if err := w.contentType(changed, name, kind); err != nil {
			return err
		}
	}
	return nil
}
