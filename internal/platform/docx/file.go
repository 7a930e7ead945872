// Package docx reads word-processing documents (ISO/IEC 29500-1) as texts that are written together, and
// writes them back. What a text has no place for stays where it is and as it is: a picture, a field, a table of
// contents is one thing in the text, and paragraphs that nobody changed are copied byte by byte.
package docx

import (
	"archive/zip"
	"bytes"
	"crypto/sha256"
	"encoding/hex"
	"encoding/xml"
	"io"
	"path"
	"regexp"
	"strconv"
	"strings"
)

// Bounds of what is read: a part, and all parts together.
const mostPart, mostParts = 24 << 20, 48 << 20

// file is a document that is read.
type file struct {
	zip  *zip.Reader
	left int64
	// main is the name of the part that holds the text, raw its bytes.
	main string
	raw  []byte
	body *element
	// w and r are how the part spells the namespaces of its words and of what it refers to.
	w, r    string
	refs    map[string]reference
	styles  styles
	lists   lists
	beside  map[string]map[string]string // words of notes and remarks, by kind and id
	highest int                          // the highest id of anything marked in the text
	// trailing is what stands after the last line and is not shown.
	trailing string
}

// reference is what a part refers to.
type reference struct {
	kind, target string
	external     bool
}

func open(content []byte) (*file, error) {
	z, err := zip.NewReader(bytes.NewReader(content), int64(len(content)))
	if err != nil {
		return nil, broken(err)
	}
	f := &file{zip: z, left: mostParts, main: "word/document.xml"}
	return f, f.read()
}

func (f *file) read() error {
	of, err := f.references("_rels/.rels")
	if err != nil {
		return err
	}
	for _, r := range of {
		if r.kind == "officeDocument" {
			f.main = strings.TrimPrefix(path.Join("/", r.target), "/")
		}
	}
	if f.raw, err = f.part(f.main); err != nil {
		return err
	}
	root, err := parse(f.raw)
	if err != nil {
		return err
	}
	if f.body = root.kid("w:body"); root.name != "w:document" || f.body == nil {
		return ErrUnreadable
	}
	if !f.spelling(root) {
		return ErrUnreadable
	}
	root.each(func(e *element) bool {
		if n, err := strconv.Atoi(e.attr("w:id")); err == nil {
			f.highest = max(f.highest, n)
		}
		return true
	})
	if f.refs, err = f.references(relsOf(f.main)); err != nil {
		return err
	}
	return f.aside()
}

// spelling finds how the part spells the namespaces; false where it does in a way that is not read.
func (f *file) spelling(root *element) bool {
	f.w = ""
	for _, a := range root.attrs {
		if a.Name.Space != "xmlns" {
			continue
		}
		switch spaces[a.Value] {
		case "w":
			f.w = a.Name.Local
		case "r":
			f.r = a.Name.Local
		}
	}
	return f.w != ""
}

// aside reads the parts that say how things look and are counted, and what notes and remarks say.
func (f *file) aside() error {
	f.beside = map[string]map[string]string{}
	for _, r := range f.refs {
		if r.external {
			continue
		}
		root, err := f.tree(f.nameOf(r.target), r.kind)
		if err != nil {
			return err
		}
		switch r.kind {
		case "styles":
			f.styles = stylesOf(root)
		case "numbering":
			f.lists = listsOf(root)
		case "footnotes", "endnotes", "comments":
			f.beside[r.kind] = wordsByID(root)
		case "settings":
			if root.kid("w:documentProtection").attr("w:enforcement") == "1" || root.kid("w:documentProtection").attr("w:enforcement") == "true" {
				return ErrProtected
			}
		}
	}
	for _, z := range f.zip.File {
		if strings.HasPrefix(z.Name, "_xmlsignatures/") {
			return ErrProtected
		}
	}
	return nil
}

// nameOf is the name of a part that the main part refers to.
func (f *file) nameOf(target string) string {
	if strings.HasPrefix(target, "/") {
		return strings.TrimPrefix(path.Clean(target), "/")
	}
	return path.Join(path.Dir(f.main), target)
}

// tree reads a part of a kind that is looked into; nil for others, and where it is missing.
func (f *file) tree(name, kind string) (*element, error) {
	switch kind {
	case "styles", "numbering", "footnotes", "endnotes", "comments", "settings":
	default:
		return nil, nil
	}
	raw, err := f.part(name)
	if err != nil {
		return nil, nil
	}
	return parse(raw)
}

// wordsByID are what the notes or remarks of a part say.
func wordsByID(root *element) map[string]string {
	all := map[string]string{}
	if root == nil {
		return all
	}
	for _, k := range root.kids {
		words := k.words(90)
		if by := k.attr("w:author"); by != "" {
			words = cut(by, 60) + ": " + words
		}
		all[k.attr("w:id")] = words
	}
	return all
}

// part reads a part whole.
func (f *file) part(name string) ([]byte, error) {
	for _, z := range f.zip.File {
		if z.Name != name {
			continue
		}
		r, err := z.Open()
		if err != nil {
			return nil, broken(err)
		}
		defer r.Close()
		raw, err := io.ReadAll(io.LimitReader(r, min(mostPart, f.left)+1))
		if f.left -= int64(len(raw)); err != nil || f.left < 0 || len(raw) > mostPart {
			return nil, broken(err)
		}
		return bytes.TrimPrefix(raw, []byte("\ufeff")), nil
	}
	return nil, ErrUnreadable
}

func relsOf(name string) string {
	return path.Join(path.Dir(name), "_rels", path.Base(name)+".rels")
}

// references are what a part refers to, by id; none where it says nothing.
func (f *file) references(name string) (map[string]reference, error) {
	all := map[string]reference{}
	raw, err := f.part(name)
	if err != nil {
		return all, nil
	}
	root, err := parse(raw)
	if err != nil {
		return nil, err
	}
	for _, k := range root.kids {
		all[k.attr("Id")] = reference{path.Base(k.attr("Type")), k.attr("Target"), k.attr("TargetMode") == "External"}
	}
	return all, nil
}

// id is by what a piece of the text is known, as long as it stays byte by byte what it is.
func id(raw []byte) string {
	sum := sha256.Sum256(raw)
	return hex.EncodeToString(sum[:10])
}

func (f *file) of(e *element) []byte { return f.raw[e.from:e.to] }

var notInXML = regexp.MustCompile("[\x00-\x08\x0b\x0c\x0e-\x1f\ufffe\uffff]")

// escaped is text as it stands in a part.
func escaped(text string) string {
	var b strings.Builder
	_ = xml.EscapeText(&b, []byte(notInXML.ReplaceAllString(text, "")))
	return b.String()
}
