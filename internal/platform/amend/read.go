package amend

import (
	"crypto/sha256"
	"encoding/hex"
	"fmt"
	"maps"
	"slices"
	"sort"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
)

// State is what a document shows and does, so that two states of it can be compared.
type State struct {
	// Pages are hashes of what each page draws, and Annotations what lies on it, by a hash of what it is.
	Pages       []string
	Annotations []map[string]Annotation
	// Rest are hashes of what else the document does, by the name of the catalog's entry.
	Rest map[string]string
	// Signatures are those of its form, in the order of what they cover.
	Signatures []Signed
	Store      Proof
}

// Annotation is something on a page that is no part of what it draws.
type Annotation struct {
	// Field is the type of the form field it belongs to: Sig, Tx, Btn, Ch; or empty.
	Field, Name, Subtype string
	// Signed says that a signature field has a value, Method of which kind.
	Signed bool
	Method string
	// Object is its number, where it has one.
	Object int
}

// Signed is a signature as it stands in the document.
type Signed struct {
	Field, SubFilter, Name, Reason, Location, At string
	Page                                         int
	ByteRange                                    []int
	Contents                                     []byte
}

// mostNested is how deep things are nested that are compared.
const mostNested = 200

type reader struct {
	ctx *model.Context
	// hashes are those that are known, by object number; zero while one is being made.
	hashes map[int]string
}

// Look reads what a document shows and does. It must not be encrypted.
func Look(raw []byte) (s State, err error) {
	defer func() {
		if p := recover(); p != nil {
			err = fmt.Errorf("%w: %v", ErrUnreadable, p)
		}
	}()
	ctx, err := read(raw)
	if err != nil {
		return s, err
	}
	r := &reader{ctx, map[int]string{}}
	catalog, err := ctx.Catalog()
	if err != nil {
		return s, fmt.Errorf("%w: %w", ErrUnreadable, err)
	}
	s.Rest = map[string]string{}
	for key, o := range catalog {
		if !slices.Contains([]string{"Pages", "AcroForm", "DSS", "Metadata", "Extensions", "Version", "Type"}, key) {
			s.Rest[key] = r.hash(o, 0)
		}
	}
	form, err := ctx.DereferenceDict(catalog["AcroForm"])
	if err != nil {
		return s, err
	}
	if form != nil && form["XFA"] != nil {
		s.Rest["XFA"] = r.hash(form["XFA"], 0)
	}
	seen := map[int]bool{}
	for n := 1; n <= ctx.PageCount; n++ {
		if err := r.page(&s, n, seen); err != nil {
			return s, err
		}
	}
	if form != nil {
		if err := r.fields(&s, form["Fields"], seen, 0); err != nil {
			return s, err
		}
	}
	sort.SliceStable(s.Signatures, func(i, j int) bool { return end(s.Signatures[i]) < end(s.Signatures[j]) })
	s.Store, err = r.store(catalog["DSS"])
	return s, err
}

func end(s Signed) int {
	if len(s.ByteRange) != 4 {
		return 0
	}
	return s.ByteRange[2] + s.ByteRange[3]
}

func (r *reader) page(s *State, n int, seen map[int]bool) error {
	page, _, attrs, err := r.ctx.PageDict(n, false)
	if err != nil || page == nil {
		return fmt.Errorf("%w: page %d: %w", ErrUnreadable, n, err)
	}
	draws := types.Dict{}
	for key, o := range page {
		if key != "Parent" && key != "Annots" && key != "Resources" {
			draws[key] = o
		}
	}
	box, turned := shown(attrs)
	var resources types.Object = attrs.Resources
	if own, ok := page["Resources"]; ok {
		resources = own
	}
	s.Pages = append(s.Pages, sum(r.hash(draws, 0), fmt.Sprint(box, turned), r.hash(resources, 0)))
	annots, err := r.ctx.DereferenceArray(page["Annots"])
	if err != nil {
		return err
	}
	lie := map[string]Annotation{}
	for _, o := range annots {
		dict, err := r.ctx.DereferenceDict(o)
		if err != nil || dict == nil {
			continue
		}
		a := Annotation{Field: r.inherited(dict, "FT"), Name: r.text(dict["T"]), Subtype: name(dict["Subtype"]), Object: number(o)}
		if value, _ := r.ctx.DereferenceDict(dict["V"]); a.Field == "Sig" && value != nil {
			a.Signed, a.Method = true, name(r.get(value["SubFilter"]))
			if !seen[a.Object] || a.Object < 0 {
				seen[a.Object] = true
				s.Signatures = append(s.Signatures, r.signature(value, a.Name, n))
			}
		}
		bare := types.Dict{}
		for key, e := range dict {
			if key != "P" && key != "Parent" && (key != "V" || a.Field != "Sig") {
				bare[key] = e
			}
		}
		key := fmt.Sprint(r.hash(bare, 0), " ", a.Signed)
		for lie[key] != (Annotation{}) {
			key += "+"
		}
		lie[key] = a
	}
	s.Annotations = append(s.Annotations, lie)
	return nil
}

// fields finds signatures in the form that lie on no page.
func (r *reader) fields(s *State, o types.Object, seen map[int]bool, deep int) error {
	all, err := r.ctx.DereferenceArray(o)
	if err != nil || deep > mostNested {
		return err
	}
	for _, f := range all {
		n := number(f)
		dict, err := r.ctx.DereferenceDict(f)
		if err != nil || dict == nil || n >= 0 && seen[n] {
			continue
		}
		if n >= 0 {
			seen[n] = true
		}
		if value, _ := r.ctx.DereferenceDict(dict["V"]); value != nil && r.inherited(dict, "FT") == "Sig" {
			s.Signatures = append(s.Signatures, r.signature(value, r.text(dict["T"]), 0))
		}
		if err := r.fields(s, dict["Kids"], seen, deep+1); err != nil {
			return err
		}
	}
	return nil
}

func (r *reader) inherited(dict types.Dict, key string) string {
	for range mostNested {
		if v := name(dict[key]); v != "" {
			return v
		}
		parent, err := r.ctx.DereferenceDict(dict["Parent"])
		if err != nil || parent == nil {
			return ""
		}
		dict = parent
	}
	return ""
}

func (r *reader) signature(v types.Dict, field string, page int) Signed {
	s := Signed{Field: field, Page: page, SubFilter: name(r.get(v["SubFilter"])), Name: r.text(v["Name"]), Reason: r.text(v["Reason"]), Location: r.text(v["Location"]), At: r.text(v["M"])}
	if all, err := r.ctx.DereferenceArray(v["ByteRange"]); err == nil {
		for _, o := range all {
			n, _ := r.get(o).(types.Integer)
			s.ByteRange = append(s.ByteRange, n.Value())
		}
	}
	switch c := r.get(v["Contents"]).(type) {
	case types.HexLiteral:
		s.Contents, _ = c.Bytes()
	case types.StringLiteral:
		s.Contents, _ = types.Unescape(c.Value())
	}
	return s
}

func (r *reader) store(o types.Object) (p Proof, err error) {
	dict, err := r.ctx.DereferenceDict(o)
	if err != nil || dict == nil {
		return p, err
	}
	for key, to := range map[string]*[][]byte{"Certs": &p.Certificates, "CRLs": &p.CRLs, "OCSPs": &p.OCSPs} {
		all, err := r.ctx.DereferenceArray(dict[key])
		if err != nil {
			return p, err
		}
		for _, e := range all {
			stream, _, err := r.ctx.DereferenceStreamDict(e)
			if err != nil || stream == nil || stream.Decode() != nil {
				continue
			}
			*to = append(*to, stream.Content)
		}
	}
	return p, nil
}

func (r *reader) get(o types.Object) types.Object {
	got, err := r.ctx.Dereference(o)
	if err != nil {
		return nil
	}
	return got
}

func name(o types.Object) string {
	n, _ := o.(types.Name)
	return n.Value()
}

func (r *reader) text(o types.Object) string {
	got := r.get(o)
	if got == nil {
		return ""
	}
	s, err := model.Text(got)
	if err != nil {
		return ""
	}
	return s
}

// hash is of all that an object is made of, however it is numbered.
func (r *reader) hash(o types.Object, deep int) string {
	if deep > mostNested {
		return "deep"
	}
	switch o := o.(type) {
	case nil:
		return "null"
	case types.IndirectRef:
		n := o.ObjectNumber.Value()
		if h, ok := r.hashes[n]; ok {
			return h
		}
		r.hashes[n] = "within itself"
		got, err := r.ctx.Dereference(o)
		if err != nil {
			return "broken"
		}
		r.hashes[n] = r.hash(got, deep+1)
		return r.hashes[n]
	case types.Dict:
		if name(o["Type"]) == "Page" && deep > 0 {
			return "a page"
		}
		parts := []string{"dict"}
		for _, key := range slices.Sorted(maps.Keys(o)) {
			if key != "Parent" && key != "P" && (key != "Length" || deep == 0) {
				parts = append(parts, key, r.hash(o[key], deep+1))
			}
		}
		return sum(parts...)
	case types.StreamDict:
		return sum("stream", r.hash(o.Dict, deep+1), string(o.Raw))
	case types.Array:
		parts := []string{"array"}
		for _, e := range o {
			parts = append(parts, r.hash(e, deep+1))
		}
		return sum(parts...)
	}
	return sum(fmt.Sprintf("%T", o), o.PDFString())
}

func sum(parts ...string) string {
	h := sha256.New()
	for _, p := range parts {
		fmt.Fprintf(h, "%d:%s", len(p), p)
	}
	return hex.EncodeToString(h.Sum(nil))
}
