package reading

import (
	"context"
	"crypto/sha256"
	"crypto/x509"
	"encoding/json"
	"errors"
	"time"

	"bytes"
	"io"

	"tabularis/core/fault"
	"tabularis/core/signing"
	"tabularis/internal/platform/amend"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/inspect"
	"tabularis/internal/platform/pdf"
)

// FromMemory is a source of a PDF document that is at hand.
func FromMemory(raw []byte, of Source) Source {
	sum := sha256.Sum256(raw)
	of.SHA256, of.Size, of.MediaType = sum[:], int64(len(raw)), "application/pdf"
	of.Open = func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(raw)), nil }
	return of
}

// Readied is a PDF document that is ready to be signed: flat and open, unless it was signed before, which it
// has to stay as it is.
type Readied struct {
	Raw    []byte
	Signed bool
	Pages  int
}

type readied struct {
	Signed bool
	Pages  int
}

// Ready readies a PDF document. One that is locked answers that it wants its password.
func (r *Reader) Ready(ctx context.Context, s Source, password string) (out Readied, err error) {
	return out, r.do(ctx, s, opReady, "", password, func(header json.RawMessage, body []byte) error {
		var h readied
		err := json.Unmarshal(header, &h)
		out = Readied{Raw: body, Signed: h.Signed, Pages: h.Pages}
		return err
	})
}

// Changes are what is appended to a PDF document.
type Changes struct {
	// Sheets are pages of our own making; Drawn, Fields and Added say where which of them goes, counted from 1.
	Sheets []byte
	Drawn  []Placed
	Fields []Placed
	Added  []int
	Keep   *amend.Proof
	Sign   *amend.Signature
	// Shown is the sheet that a signature shows.
	Shown int
}

// Placed is a sheet at a place of a page.
type Placed struct {
	Sheet, Page int
	Box         amend.Box
	Name, Value string
}

// Amend appends to a PDF document. Where it is to be signed, gap is where the value goes.
func (r *Reader) Amend(ctx context.Context, s Source, c Changes) (raw []byte, gap [2]int, err error) {
	return raw, gap, r.do(ctx, s, opAmend, "", c, func(header json.RawMessage, body []byte) error {
		raw = body
		return json.Unmarshal(header, &gap)
	})
}

type question struct {
	Roots [][]byte
	Now   time.Time
}

// Inspect checks a signed PDF document against roots that are trusted.
func (r *Reader) Inspect(ctx context.Context, s Source, roots []*x509.Certificate, now time.Time) (report inspect.Report, err error) {
	q := question{Now: now}
	for _, c := range roots {
		q.Roots = append(q.Roots, c.Raw)
	}
	return report, r.do(ctx, s, opInspect, "", q, one(&report))
}

// Places finds places to sign in a PDF document: those that are marked in its text, and what its own form asks for.
func (r *Reader) Places(ctx context.Context, s Source, password string) (all []signing.Spot, err error) {
	return all, r.do(ctx, s, opPlaces, "", password, one(&all))
}

func (in inside) places(_ context.Context, w cell.Work) error {
	var password string
	if err := w.Args(&password); err != nil {
		return err
	}
	marked, err := in.pdf.Marks(w.Content, password)
	if errors.Is(err, pdf.ErrLocked) {
		return fault.PaperLocked.In("password", "this paper is locked by a password of its own")
	}
	if err != nil {
		return unreadable(err)
	}
	// What cannot be read as a form has none.
	asked, _ := amend.Asked(w.Content)
	return send(w, append(marked, asked...))
}

func (in inside) ready(_ context.Context, w cell.Work) error {
	var password string
	if err := w.Args(&password); err != nil {
		return err
	}
	if state, err := amend.Look(w.Content); err == nil && len(state.Signatures) > 0 {
		return w.Send(readied{true, len(state.Pages)}, w.Content)
	}
	raw, err := in.pdf.Flat(w.Content, password)
	if errors.Is(err, pdf.ErrLocked) {
		return fault.PaperLocked.In("password", "this paper is locked by a password of its own")
	}
	if err != nil {
		return unreadable(err)
	}
	// What cannot be appended to shows now, not when all have signed.
	doc, err := amend.Open(raw)
	if err != nil {
		return unreadable(err)
	}
	return w.Send(readied{false, doc.Pages()}, raw)
}

func (in inside) amend(_ context.Context, w cell.Work) error {
	var c Changes
	if err := w.Args(&c); err != nil {
		return err
	}
	raw, gap, err := amended(w.Content, c)
	if err != nil {
		return unreadable(err)
	}
	return w.Send(gap, raw)
}

func amended(content []byte, c Changes) (raw []byte, gap [2]int, err error) {
	d, err := amend.Open(content)
	if err != nil {
		return nil, gap, err
	}
	var sheets *amend.Sheets
	if len(c.Sheets) > 0 {
		if sheets, err = d.Sheets(c.Sheets); err != nil {
			return nil, gap, err
		}
	}
	for _, p := range c.Drawn {
		err = errors.Join(err, sheets.Draw(p.Sheet, p.Page, p.Box))
	}
	for _, p := range c.Fields {
		err = errors.Join(err, d.Field(p.Name, p.Value, p.Page, p.Box, sheets, p.Sheet))
	}
	for _, n := range c.Added {
		err = errors.Join(err, sheets.Add(n))
	}
	if c.Keep != nil {
		err = errors.Join(err, d.Keep(*c.Keep))
	}
	if err != nil {
		return nil, gap, err
	}
	if c.Sign != nil {
		return d.Prepare(*c.Sign, sheets, c.Shown)
	}
	raw, err = d.Bytes()
	return raw, gap, err
}

func (in inside) inspect(_ context.Context, w cell.Work) error {
	var q question
	if err := w.Args(&q); err != nil {
		return err
	}
	var roots []*x509.Certificate
	for _, der := range q.Roots {
		c, err := x509.ParseCertificate(der)
		if err != nil {
			return err
		}
		roots = append(roots, c)
	}
	report, err := inspect.Check(w.Content, roots, q.Now)
	if err != nil {
		return unreadable(err)
	}
	return send(w, report)
}
