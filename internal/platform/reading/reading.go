// Package reading reads content from outside: pages of PDF documents, pictures,
// text, tables and spreadsheets, office documents. All of it happens in cells;
// the server's own process never parses what somebody brought.
package reading

import (
	"bytes"
	"context"
	"crypto/sha256"
	"encoding/json"
	"errors"
	"fmt"
	"image"
	"io"
	"time"

	"tabularis/core/fault"
	"tabularis/core/mailing"
	"tabularis/core/scan"
	"tabularis/core/templates"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/pdf"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/turns"
)

// Source is content that is read.
type Source struct {
	SHA256    []byte
	MediaType string
	Size      int64
	Open      func() (io.ReadCloser, error)
	// For is whom it is read for; nobody keeps everybody else waiting.
	For string
	// Head is what stands above and below its text when it is set on pages; nil sets the text alone.
	Head *Letterhead
	// Beside are the pictures that stand in its text when it is set on pages; others are named.
	Beside []Beside
}

// Letterhead is what stands in the margins of pages: whose they are above, and what they are below, with their numbers.
type Letterhead struct{ House, Tagline, Line string }

// Size is the size of a page in points, or of a picture in pixels.
type Size = pdf.Size

// Notes remembers which content brought down what read it, so that it is not
// tried again, also after a restart.
type Notes interface {
	// Killed reports whether content was noted for an operation.
	Killed(ctx context.Context, sha256 []byte, op string) (bool, error)
	NoteKilled(ctx context.Context, sha256 []byte, op string) error
}

// Reader reads content in cells.
type Reader struct {
	Cells *cell.Pool
	Notes Notes
	// Hurry divides how much of a processor everything may take; 0 is 1.
	Hurry int
}

// The operations, as handlers of cells.
const (
	opSizes       = "pdf.sizes"
	opDraw        = "pdf.draw"
	opPictureSize = "picture.size"
	opPicture     = "picture.draw"
	opPrepare     = "text.prepare"
	opPaper       = "text.paper"
	opText        = "text.read"
	opFind        = "text.find"
	opSound       = "office.sound"
	opBlanks      = "text.blanks"
	opFill        = "text.fill"
	opInner       = "inner.open"
	opDissect     = "mail.dissect"
	opMailPart    = "mail.part"
	opReady       = "signed.ready"
	opAmend       = "signed.amend"
	opInspect     = "signed.inspect"
	opPlaces      = "signed.places"
	opWriting     = "writing.open"
	opWritten     = "writing.file"
	opPictured    = "writing.picture"
	opRemarked    = "writing.remarks"
	opTable       = "table.open"
	opReckon      = "table.reckon"
	opTableFile   = "table.file"
)

// limits are what each operation may take: looking at something is quick, or it
// is not worth waiting for; looking all through a document may take its time.
var limits = map[string]cell.Limits{
	opSizes:       {Wall: 40 * time.Second, CPU: 10 * time.Second, Output: 1 << 20},
	opDraw:        {Wall: 40 * time.Second, CPU: 15 * time.Second, Output: 2*maxDrawn + 1<<20},
	opPictureSize: {Wall: 20 * time.Second, CPU: 5 * time.Second, Output: 1 << 10},
	opPicture:     {Wall: 40 * time.Second, CPU: 15 * time.Second, Output: maxDrawn + 1<<20},
	opPrepare:     {Wall: 20 * time.Second, CPU: 4 * time.Second, Output: 16 << 20},
	opPaper:       {Wall: time.Minute, CPU: 30 * time.Second, Output: pdf.MaxBytes},
	opText:        {Wall: 60 * time.Second, CPU: 20 * time.Second, Output: 64 << 20},
	opFind:        {Wall: 3 * time.Minute, CPU: time.Minute, Output: 4 << 20},
	opBlanks:      {Wall: 20 * time.Second, CPU: 5 * time.Second, Output: 1 << 20},
	opFill:        {Wall: 40 * time.Second, CPU: 10 * time.Second, Output: office.MaxBytes + 1<<20},
	opInner:       {Wall: 40 * time.Second, CPU: 10 * time.Second, Output: 65 << 20},
	opDissect:     {Wall: 40 * time.Second, CPU: 15 * time.Second, Output: 8 << 20},
	opMailPart:    {Wall: 40 * time.Second, CPU: 15 * time.Second, Output: mailing.MostBytes + 1<<20},
	opReady:       {Wall: time.Minute, CPU: 30 * time.Second, Output: 2*pdf.MaxBytes + 1<<20},
	opAmend:       {Wall: time.Minute, CPU: 30 * time.Second, Output: 2*pdf.MaxBytes + 1<<20},
	opInspect:     {Wall: time.Minute, CPU: 30 * time.Second, Output: 8 << 20},
	opPlaces:      {Wall: time.Minute, CPU: 30 * time.Second, Output: 2 << 20},
	opWriting:     {Wall: 20 * time.Second, CPU: 8 * time.Second, Output: 32 << 20},
	opWritten:     {Wall: time.Minute, CPU: 20 * time.Second, Output: 64 << 20},
	opPictured:    {Wall: 20 * time.Second, CPU: 5 * time.Second, Output: 25 << 20},
	opRemarked:    {Wall: time.Minute, CPU: 20 * time.Second, Output: 64 << 20},
	opTable:       {Wall: 40 * time.Second, CPU: 15 * time.Second, Output: 64 << 20},
	opReckon:      {Wall: 20 * time.Second, CPU: 8 * time.Second, Output: 32 << 20},
	opTableFile:   {Wall: time.Minute, CPU: 30 * time.Second, Output: 64 << 20},
	opSound:       {Wall: 20 * time.Second, CPU: 5 * time.Second, Output: 1 << 10},
}

// Patience is how long whoever looks at something waits for it. What many wait for
// goes on meanwhile, so that it is there when they try again.
const Patience = 40 * time.Second

// Unshowable is the answer for what is broken, locked, too large, or harmful to
// what reads it.
func Unshowable() error {
	return fault.Unshowable.New("this document cannot be shown in pages")
}

// errKilled is how content answers that brought down its cell, now or before.
var errKilled = fault.Unreadable.New("the document cannot be read")

// do runs an operation in a cell.
func (r *Reader) do(ctx context.Context, s Source, op, edition string, args any, take func(header json.RawMessage, body []byte) error) error {
	most := limits[op]
	most.CPU /= time.Duration(max(1, r.Hurry))
	return r.noting(ctx, s, op+edition, cell.ErrKilled, func() error {
		return r.Cells.Do(ctx, cell.Job{Op: op, Args: args, Size: s.Size, Open: s.Open, For: s.For, Limits: most, Take: take})
	})
}

// noting does something with content. When that ends with an error of a kind, it
// is noted, and not done again: the content cannot be read.
func (r *Reader) noting(ctx context.Context, s Source, op string, kind error, do func() error) error {
	op += " " + s.MediaType
	known, err := r.Notes.Killed(ctx, s.SHA256, op)
	if err != nil {
		return fmt.Errorf("looking up what cannot be read: %w", err)
	}
	if known {
		return errKilled
	}
	if err = do(); !errors.Is(err, kind) {
		return err
	}
	// Noted also when whoever asked has gone meanwhile.
	if err := r.Notes.NoteKilled(context.WithoutCancel(ctx), s.SHA256, op); err != nil {
		return fmt.Errorf("noting what cannot be read: %w", err)
	}
	return errKilled
}

// one decodes an answer of a single part.
func one(into any) func(json.RawMessage, []byte) error {
	return func(_ json.RawMessage, body []byte) error { return json.Unmarshal(body, into) }
}

// sizes are those of the pages of a PDF document, up to pdf.MaxPages.
type sizes struct {
	Sizes []pdf.Size
	Pages int
}

// Sizes returns the sizes of the pages of a PDF document, and how many there are.
func (r *Reader) Sizes(ctx context.Context, s Source) ([]pdf.Size, int, error) {
	var got sizes
	err := r.do(ctx, s, opSizes, "", nil, one(&got))
	return got.Sizes, got.Pages, err
}

// draw is which pages of a PDF document, counted from 0, are drawn how wide.
type draw struct {
	Pages []int
	Width int
}

// drawn is what comes before the pixels of a picture.
type drawn struct{ Page, Width, Height int }

// picture takes pixels over, if they are as many as was said.
func picture(header json.RawMessage, body []byte) (*image.RGBA, int, error) {
	var d drawn
	if err := json.Unmarshal(header, &d); err != nil || d.Width < 1 || d.Height < 1 || d.Width > maxSide || d.Height > maxSide || d.Width*d.Height*4 != len(body) {
		return nil, 0, fmt.Errorf("a picture came with other pixels than said: %w", err)
	}
	return &image.RGBA{Pix: body, Stride: 4 * d.Width, Rect: image.Rect(0, 0, d.Width, d.Height)}, d.Page, nil
}

// Draw draws pages of a PDF document, counted from 0, each so wide in pixels, and
// hands them to take one by one, perhaps again from the first one on. Pages that
// are not there are left out.
func (r *Reader) Draw(ctx context.Context, s Source, pages []int, width int, take func(page int, p *image.RGBA)) error {
	return r.do(ctx, s, opDraw, "", draw{pages, width}, func(header json.RawMessage, body []byte) error {
		p, page, err := picture(header, body)
		if err == nil {
			take(page, p)
		}
		return err
	})
}

// PictureSize returns how large a picture is shown, in pixels.
func (r *Reader) PictureSize(ctx context.Context, s Source) (size pdf.Size, err error) {
	return size, r.do(ctx, s, opPictureSize, "", nil, one(&size))
}

// Picture draws a picture anew, so wide in pixels, on white.
func (r *Reader) Picture(ctx context.Context, s Source, width int) (p *image.RGBA, err error) {
	return p, r.do(ctx, s, opPicture, "", width, func(header json.RawMessage, body []byte) (err error) {
		p, _, err = picture(header, body)
		return err
	})
}

// Prepare makes text, Markdown or a table ready to be looked at. Markdown that
// cannot be set is shown as it was written.
func (r *Reader) Prepare(ctx context.Context, s Source) (p preview.Prepared, err error) {
	if err := preview.CanPrepare(s.MediaType, s.Size); err != nil {
		return p, err
	}
	return p, turns.Await(ctx, Patience, func(ctx context.Context) error {
		err := r.do(ctx, s, opPrepare, "", s.MediaType, one(&p))
		if err == errKilled && preview.LookOf(s.MediaType) == preview.Markdown {
			s.MediaType = "text/plain"
			err = r.do(ctx, s, opPrepare, "", s.MediaType, one(&p))
		}
		return err
	})
}

// Paper sets a text, table or spreadsheet on pages, as a PDF document. cut says
// that only the beginning is on them.
func (r *Reader) Paper(ctx context.Context, s Source) (raw []byte, cut bool, err error) {
	args, edition := sheetArgs{s.MediaType, s.Head, len(s.Beside) > 0}, ""
	if args.Pictured {
		pictures, err := s.besides()
		if err != nil {
			return nil, false, err
		}
		edition = s.BesideKey()
		if s, err = s.after(pictures); err != nil {
			return nil, false, err
		}
	}
	return raw, cut, r.do(ctx, s, opPaper, edition, args, func(header json.RawMessage, body []byte) error {
		raw = body
		return json.Unmarshal(header, &cut)
	})
}

// written is the text of something, where it can be read.
type written struct {
	preview.Plain
	Readable bool
}

// Text reads the text of whatever has some. readable is false for other content, and for
// what is broken.
func (r *Reader) Text(ctx context.Context, s Source) (text preview.Plain, readable bool, err error) {
	var got written
	err = turns.Await(ctx, Patience, func(ctx context.Context) error { return r.do(ctx, s, opText, "", s.MediaType, one(&got)) })
	if err == errKilled {
		return preview.Plain{}, false, nil
	}
	return got.Plain, got.Readable, err
}

// blanks are those of a document, where it has text that can be filled.
type blanks struct {
	Blanks []templates.Blank
	Can    bool
}

// Blanks finds the blanks of a document that is a template. can is false for other content, and
// for what is broken.
func (r *Reader) Blanks(ctx context.Context, s Source) (all []templates.Blank, can bool, err error) {
	if !preview.HasBlanks(s.MediaType) || s.Size > office.MaxBytes {
		return nil, false, nil
	}
	var got blanks
	err = turns.Await(ctx, Patience, func(ctx context.Context) error { return r.do(ctx, s, opBlanks, "", s.MediaType, one(&got)) })
	if err == errKilled {
		return nil, false, nil
	}
	return got.Blanks, got.Can, err
}

// filling is what a document's blanks are filled with.
type filling struct {
	MediaType string
	Values    templates.Values
	// Unmarked says that room is left where places to sign are marked.
	Unmarked bool
}

// Fill returns a document with its blanks filled.
func (r *Reader) Fill(ctx context.Context, s Source, v templates.Values) ([]byte, error) {
	return r.fill(ctx, s, filling{s.MediaType, v, false})
}

// FillUnmarked is Fill that leaves room where places to sign are marked.
func (r *Reader) FillUnmarked(ctx context.Context, s Source, v templates.Values) ([]byte, error) {
	return r.fill(ctx, s, filling{s.MediaType, v, true})
}

func (r *Reader) fill(ctx context.Context, s Source, f filling) (raw []byte, err error) {
	return raw, turns.Await(ctx, Patience, func(ctx context.Context) error {
		return r.do(ctx, s, opFill, "", f, func(_ json.RawMessage, body []byte) error {
			raw = body
			return nil
		})
	})
}

// innerAt is which file within content is opened, counted from 0.
type innerAt struct {
	MediaType string
	N         int
}

// unpacked is what comes before such a file.
type unpacked struct {
	Name  string
	There bool
}

// Inner unpacks a file within an archive or a mail, counted from 0 as they are listed, as a
// source of its own.
func (r *Reader) Inner(ctx context.Context, s Source, n int) (name string, of Source, err error) {
	if !preview.HasInner(s.MediaType) || n < 0 {
		return "", of, fault.Missing()
	}
	var raw []byte
	var got unpacked
	err = turns.Await(ctx, Patience, func(ctx context.Context) error {
		return r.do(ctx, s, opInner, "", innerAt{s.MediaType, n}, func(header json.RawMessage, body []byte) error {
			raw = body
			return json.Unmarshal(header, &got)
		})
	})
	if err == errKilled || err == nil && !got.There {
		err = fault.Missing()
	}
	name = got.Name
	sum := sha256.Sum256(raw)
	return name, Source{SHA256: sum[:], MediaType: preview.MediaType(name, raw), Size: int64(len(raw)), For: s.For,
		Open: func() (io.ReadCloser, error) { return io.NopCloser(bytes.NewReader(raw)), nil }}, err
}

// Dissect says of what a mail is made. What is none is unreadable.
func (r *Reader) Dissect(ctx context.Context, s Source) (m mailing.Message, err error) {
	return m, r.do(ctx, s, opDissect, "", nil, one(&m))
}

// MailPart is what a part of a mail holds, decoded.
func (r *Reader) MailPart(ctx context.Context, s Source, part mailing.Part) (raw []byte, err error) {
	return raw, r.do(ctx, s, opMailPart, "", part, func(_ json.RawMessage, body []byte) error {
		raw = body
		return nil
	})
}

// find is what text is looked through for.
type find struct {
	MediaType string
	Own       []scan.Pattern
}

// Findings are what was found in a text.
type Findings struct {
	// Readable says that there was text that could be read.
	Readable bool
	Found    []Finding
}

// Finding is one kind of sensitive content in a text: how often, and where it
// stands first: on a page, or else in a line.
type Finding struct {
	Kind, Name, Shown string
	N                 int
	Page, Line        *int
}

// Find looks a document's text through for what is sensitive, also by the
// practice's own patterns, whose number is edition.
func (r *Reader) Find(ctx context.Context, s Source, own []scan.Pattern, edition int) (f Findings, err error) {
	err = r.do(ctx, s, opFind, fmt.Sprint(" ", edition), find{s.MediaType, own}, one(&f))
	if err == errKilled {
		return Findings{}, nil
	}
	return f, err
}

// Convert makes a PDF document of an office document. What unpacks to too much is
// refused before anything unpacks it.
func (r *Reader) Convert(ctx context.Context, s Source, c *office.Converter) (raw []byte, err error) {
	if err := r.do(ctx, s, opSound, "", s.MediaType, nil); err != nil {
		return nil, err
	}
	return raw, r.noting(ctx, s, "office.pdf", office.ErrUnreadable, func() error {
		content, err := s.Open()
		if err != nil {
			return err
		}
		defer content.Close()
		raw, err = c.PDF(ctx, s.MediaType, s.Size, content, s.For)
		return err
	})
}
