package amend

import (
	"bytes"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"strings"
	"time"

	"tabularis/internal/platform/signature"

	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
)

// Kind is how something in a document is signed.
type Kind string

const (
	// Detached is a PAdES signature (ETSI EN 319 142-1), Stamped a document time stamp (RFC 3161).
	Detached Kind = "ETSI.CAdES.detached"
	Stamped  Kind = "ETSI.RFC3161"
)

// Signature is a place for a signature value.
type Signature struct {
	Kind Kind
	// Name is who signs, Reason why, At when as the signer says.
	Name, Reason string
	At           time.Time
	// Room is how many bytes the value may have.
	Room int
	// Page, counted from 1, and Box are where it is shown; on page 0 it is not.
	Page int
	Box  Box
}

// contents is what stands in front of the value; byteRange what is filled in when its place is known.
const byteRange = "/ByteRange [0 0000000000 0000000000 0000000000]"

// Prepare appends a signature without its value, and returns where that goes: between two brackets
// that are not signed themselves. Where it is shown, the sheet is its appearance.
func (d *Document) Prepare(s Signature, sheets *Sheets, sheet int) (raw []byte, gap [2]int, err error) {
	value := d.add(verbatim(s.dictionary()))
	name := fmt.Sprintf("Signature %d", value.ObjectNumber.Value())
	field := types.Dict{"FT": types.Name("Sig"), "T": text(name), "V": value, "Type": types.Name("Annot"), "Subtype": types.Name("Widget"), "F": types.Integer(132), "Rect": types.NewNumberArray(0, 0, 0, 0)}
	if err := d.widget(field, max(1, s.Page), s.Page > 0, s.Box, sheets, sheet); err != nil {
		return nil, gap, err
	}
	if raw, err = d.Bytes(); err != nil {
		return nil, gap, err
	}
	return placed(raw, len(d.raw))
}

func (s Signature) dictionary() string {
	var b strings.Builder
	b.WriteString("<</Type/Sig/Filter/Adobe.PPKLite/SubFilter/" + string(s.Kind))
	if s.Kind == Stamped {
		b.Reset()
		b.WriteString("<</Type/DocTimeStamp/Filter/Adobe.PPKLite/SubFilter/" + string(s.Kind))
	} else {
		fmt.Fprintf(&b, "/M(D:%s)/Name%s", s.At.UTC().Format("20060102150405+00'00'"), text(s.Name).PDFString())
		if s.Reason != "" {
			fmt.Fprintf(&b, "/Reason%s", text(s.Reason).PDFString())
		}
	}
	fmt.Fprintf(&b, "%s/Contents %s>>", byteRange, hexed(make([]byte, s.Room)))
	return b.String()
}

// placed notes in what was appended from a byte on where the value is.
func placed(raw []byte, from int) ([]byte, [2]int, error) {
	appended := raw[from:]
	at, open := bytes.Index(appended, []byte(byteRange)), bytes.Index(appended, []byte("/Contents <"))
	if at < 0 || open < 0 {
		return nil, [2]int{}, errors.New("the place for a signature was lost")
	}
	gap := [2]int{from + open + len("/Contents "), 0}
	gap[1] = gap[0] + bytes.IndexByte(raw[gap[0]:], '>') + 1
	copy(appended[at:], fmt.Sprintf("/ByteRange [0 %010d %010d %010d]", gap[0], gap[1], len(raw)-gap[1]))
	return raw, gap, nil
}

// Fill puts a signature's value into its place.
func Fill(raw []byte, gap [2]int, value []byte) error {
	if 2*len(value) > gap[1]-gap[0]-2 {
		return fmt.Errorf("a signature of %d bytes has no room", len(value))
	}
	hex.Encode(raw[gap[0]+1:], value)
	return nil
}

// widget adds a field with its widget to a page and to the document's form (ISO 32000-2, 12.7).
func (d *Document) widget(field types.Dict, page int, visible bool, b Box, sheets *Sheets, sheet int) error {
	dict, ref, attrs, err := d.page(page)
	if err != nil {
		return err
	}
	field["P"] = ref
	if visible {
		at := locate(attrs, b)
		form, _, err := sheets.form(sheet)
		if err != nil {
			return err
		}
		turned := at.matrix
		stream := d.changed[form.ObjectNumber.Value()].(types.StreamDict)
		stream.Dict["Matrix"] = types.NewNumberArray(turned[0], turned[1], turned[2], turned[3], 0, 0)
		field["Rect"], field["AP"] = at.rect(), types.Dict{"N": form}
	}
	added := d.add(field)
	annots, err := d.array(dict["Annots"])
	if err != nil {
		return err
	}
	dict["Annots"] = append(append(types.Array{}, annots...), added)
	return d.fields(added)
}

// fields adds a field to the document's form, which is made if there is none.
func (d *Document) fields(added types.IndirectRef) error {
	catalog, err := d.catalog()
	if err != nil {
		return err
	}
	was, err := d.dict(catalog["AcroForm"])
	if err != nil {
		return err
	}
	form := types.Dict{}
	if was != nil {
		form = types.Dict(maps.Clone(was))
	}
	all, err := d.array(form["Fields"])
	if err != nil {
		return err
	}
	form["Fields"], form["SigFlags"] = append(append(types.Array{}, all...), added), types.Integer(3)
	delete(form, "NeedAppearances")
	if ref, ok := catalog["AcroForm"].(types.IndirectRef); ok {
		d.changed[ref.ObjectNumber.Value()] = form
		return nil
	}
	catalog["AcroForm"] = form
	return nil
}

// Field adds a place that shows what somebody gave: a read-only field with a sheet as its appearance. That can be
// added after signatures, which go on to hold for what they signed.
func (d *Document) Field(name, value string, page int, b Box, sheets *Sheets, sheet int) error {
	return d.widget(types.Dict{"FT": types.Name("Tx"), "Ff": types.Integer(1), "T": text(name), "V": text(value), "Type": types.Name("Annot"), "Subtype": types.Name("Widget"), "F": types.Integer(132)}, page, true, b, sheets, sheet)
}

// Proof is what lets a signature be checked without asking anybody.
type Proof = signature.Proof

// Keep appends proof to what the document holds of it (document security store, ISO 32000-2, 12.8.4.3).
func (d *Document) Keep(p Proof) error {
	catalog, err := d.catalog()
	if err != nil {
		return err
	}
	was, err := d.dict(catalog["DSS"])
	if err != nil {
		return err
	}
	store := types.Dict{"Type": types.Name("DSS")}
	maps.Copy(store, was)
	for key, all := range map[string][][]byte{"Certs": p.Certificates, "CRLs": p.CRLs, "OCSPs": p.OCSPs} {
		if len(all) == 0 {
			continue
		}
		kept, err := d.array(store[key])
		if err != nil {
			return err
		}
		kept = append(types.Array{}, kept...)
		for _, der := range all {
			kept = append(kept, d.add(types.StreamDict{Dict: types.Dict{}, Raw: der}))
		}
		store[key] = kept
	}
	if ref, ok := catalog["DSS"].(types.IndirectRef); ok {
		d.changed[ref.ObjectNumber.Value()] = store
	} else {
		catalog["DSS"] = d.add(store)
	}
	return nil
}
