// Package amend changes PDF documents (ISO 32000-2) by appending to them, so that not a byte of
// what stands there, and may be signed, becomes another. It reads foreign content: it runs in cells.
package amend

import (
	"bytes"
	"encoding/hex"
	"errors"
	"fmt"
	"maps"
	"regexp"
	"slices"
	"strconv"

	"github.com/pdfcpu/pdfcpu/pkg/api"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/model"
	"github.com/pdfcpu/pdfcpu/pkg/pdfcpu/types"
)

// ErrUnreadable means that it is no PDF document, or broken beyond what can be appended to.
var ErrUnreadable = errors.New("the document cannot be appended to")

// Document is a PDF document and what is to be appended to it.
type Document struct {
	raw     []byte
	ctx     *model.Context
	changed map[int]types.Object
	next    int
	// previous is where its newest cross-reference section begins, stream whether that is a stream.
	previous int
	stream   bool
}

// Open reads a document, which must not be encrypted.
func Open(raw []byte) (d *Document, err error) {
	ctx, err := read(raw)
	if err != nil {
		return nil, err
	}
	if ctx.Encrypt != nil {
		return nil, fmt.Errorf("%w: it is encrypted", ErrUnreadable)
	}
	at, stream, err := newest(raw)
	if err != nil {
		return nil, err
	}
	size := 0
	for n := range ctx.Table {
		size = max(size, n+1)
	}
	if ctx.Size != nil {
		size = max(size, *ctx.Size)
	}
	return &Document{raw: raw, ctx: ctx, changed: map[int]types.Object{}, next: size, previous: at, stream: stream}, nil
}

// read parses a document; whatever the parser stumbles over is that it cannot be read.
func read(raw []byte) (ctx *model.Context, err error) {
	defer func() {
		if p := recover(); p != nil {
			ctx, err = nil, fmt.Errorf("%w: %v", ErrUnreadable, p)
		}
	}()
	api.DisableConfigDir()
	conf := model.NewDefaultConfiguration()
	conf.ValidationMode, conf.Offline = model.ValidationRelaxed, true
	if ctx, err = api.ReadContext(bytes.NewReader(raw), conf); err != nil {
		return nil, fmt.Errorf("%w: %w", ErrUnreadable, err)
	}
	if err = ctx.EnsurePageCount(); err != nil || ctx.Root == nil {
		return nil, fmt.Errorf("%w: it has no pages: %w", ErrUnreadable, err)
	}
	return ctx, nil
}

var startxref = regexp.MustCompile(`startxref\s+(\d+)`)

// newest finds the cross-reference section from which a document is read.
func newest(raw []byte) (at int, stream bool, err error) {
	tail := raw[max(0, len(raw)-2048):]
	all := startxref.FindAllSubmatch(tail, -1)
	if len(all) == 0 {
		return 0, false, fmt.Errorf("%w: it says nowhere where its objects are", ErrUnreadable)
	}
	at, err = strconv.Atoi(string(all[len(all)-1][1]))
	if err != nil || at <= 0 || at >= len(raw) {
		return 0, false, fmt.Errorf("%w: its objects are said to be where they are not", ErrUnreadable)
	}
	return at, !bytes.HasPrefix(bytes.TrimLeft(raw[at:], " \r\n\t"), []byte("xref")), nil
}

// Pages is how many pages there are.
func (d *Document) Pages() int { return d.ctx.PageCount }

// add appends an object and returns what refers to it.
func (d *Document) add(o types.Object) types.IndirectRef {
	n := d.next
	d.next++
	d.changed[n] = o
	return *types.NewIndirectRef(n, 0)
}

// object returns what an object is, also where it was changed.
func (d *Document) object(o types.Object) (types.Object, error) {
	if ref, ok := o.(types.IndirectRef); ok {
		if c, ok := d.changed[ref.ObjectNumber.Value()]; ok {
			return c, nil
		}
	}
	return d.ctx.Dereference(o)
}

func (d *Document) dict(o types.Object) (types.Dict, error) {
	got, err := d.object(o)
	if err != nil || got == nil {
		return nil, err
	}
	if dict, ok := got.(types.Dict); ok {
		return dict, nil
	}
	return nil, fmt.Errorf("%w: what should be a dictionary is none", ErrUnreadable)
}

func (d *Document) array(o types.Object) (types.Array, error) {
	got, err := d.object(o)
	if err != nil || got == nil {
		return nil, err
	}
	if a, ok := got.(types.Array); ok {
		return a, nil
	}
	return types.Array{got}, nil
}

// edit returns a dictionary to be changed, which is appended.
func (d *Document) edit(ref types.IndirectRef) (types.Dict, error) {
	was, err := d.dict(ref)
	if err != nil || was == nil {
		return nil, errors.Join(err, fmt.Errorf("%w: something is not there", ErrUnreadable))
	}
	n := ref.ObjectNumber.Value()
	if _, ok := d.changed[n]; !ok {
		d.changed[n] = types.Dict(maps.Clone(was))
	}
	return d.changed[n].(types.Dict), nil
}

// catalog is the document's catalog, to be changed.
func (d *Document) catalog() (types.Dict, error) { return d.edit(*d.ctx.Root) }

// Bytes is the document with what was appended (ISO 32000-2, 7.5.6).
func (d *Document) Bytes() ([]byte, error) {
	out := bytes.NewBuffer(bytes.Clone(d.raw))
	if len(d.changed) == 0 {
		return out.Bytes(), nil
	}
	if !bytes.HasSuffix(d.raw, []byte("\n")) {
		out.WriteByte('\n')
	}
	at := map[int]int{}
	for _, n := range slices.Sorted(maps.Keys(d.changed)) {
		at[n] = out.Len()
		if err := d.write(out, n, d.changed[n]); err != nil {
			return nil, err
		}
	}
	if d.stream {
		return d.endByStream(out, at)
	}
	return d.endByTable(out, at), nil
}

func (d *Document) write(out *bytes.Buffer, n int, o types.Object) error {
	fmt.Fprintf(out, "%d %d obj\n", n, d.generation(n))
	switch o := o.(type) {
	case types.StreamDict:
		if o.Raw == nil {
			if err := o.Encode(); err != nil {
				return fmt.Errorf("writing a stream: %w", err)
			}
		}
		dict := types.Dict(maps.Clone(o.Dict))
		dict["Length"] = types.Integer(len(o.Raw))
		fmt.Fprintf(out, "%s\nstream\n", dict.PDFString())
		out.Write(o.Raw)
		out.WriteString("\nendstream")
	case verbatim:
		out.WriteString(string(o))
	default:
		out.WriteString(o.PDFString())
	}
	out.WriteString("\nendobj\n")
	return nil
}

// generation is that of an object that stands there already.
func (d *Document) generation(n int) int {
	if e := d.ctx.Table[n]; e != nil && e.Generation != nil && !e.Compressed {
		return *e.Generation
	}
	return 0
}

// verbatim is an object as it is written.
type verbatim string

func (v verbatim) String() string      { return string(v) }
func (v verbatim) PDFString() string   { return string(v) }
func (v verbatim) Clone() types.Object { return v }

// trailer is what says where to begin.
func (d *Document) trailer() types.Dict {
	t := types.Dict{"Size": types.Integer(d.next), "Root": *d.ctx.Root, "Prev": types.Integer(d.previous)}
	if d.ctx.Info != nil {
		t["Info"] = *d.ctx.Info
	}
	if len(d.ctx.ID) == 2 {
		t["ID"] = d.ctx.ID
	}
	return t
}

func (d *Document) endByTable(out *bytes.Buffer, at map[int]int) []byte {
	begin := out.Len()
	out.WriteString("xref\n")
	for _, run := range runs(at) {
		fmt.Fprintf(out, "%d %d\n", run[0], len(run))
		for _, n := range run {
			fmt.Fprintf(out, "%010d %05d n \n", at[n], d.generation(n))
		}
	}
	fmt.Fprintf(out, "trailer\n%s\nstartxref\n%d\n%%%%EOF\n", d.trailer().PDFString(), begin)
	return out.Bytes()
}

// endByStream ends with a cross-reference stream (ISO 32000-2, 7.5.8), which lists itself.
func (d *Document) endByStream(out *bytes.Buffer, at map[int]int) ([]byte, error) {
	self, begin := d.next, out.Len()
	at[self] = begin
	var rows bytes.Buffer
	index := types.Array{}
	for _, run := range runs(at) {
		index = append(index, types.Integer(run[0]), types.Integer(len(run)))
		for _, n := range run {
			p, g := at[n], d.generation(n)
			rows.Write([]byte{1, byte(p >> 24), byte(p >> 16), byte(p >> 8), byte(p), byte(g >> 8), byte(g)})
		}
	}
	dict := d.trailer()
	dict["Type"], dict["W"], dict["Index"], dict["Size"] = types.Name("XRef"), types.NewIntegerArray(1, 4, 2), index, types.Integer(self+1)
	if err := d.write(out, self, types.StreamDict{Dict: dict, Raw: rows.Bytes()}); err != nil {
		return nil, err
	}
	fmt.Fprintf(out, "startxref\n%d\n%%%%EOF\n", begin)
	return out.Bytes(), nil
}

// runs are numbers that follow each other.
func runs(at map[int]int) (all [][]int) {
	for _, n := range slices.Sorted(maps.Keys(at)) {
		if last := len(all) - 1; last >= 0 && all[last][len(all[last])-1] == n-1 {
			all[last] = append(all[last], n)
		} else {
			all = append(all, []int{n})
		}
	}
	return all
}

// text is a text string (ISO 32000-2, 7.9.2), in UTF-16.
func text(s string) types.Object {
	return types.NewHexLiteral([]byte(types.EncodeUTF16String(s)))
}

func hexed(b []byte) string { return "<" + hex.EncodeToString(b) + ">" }
