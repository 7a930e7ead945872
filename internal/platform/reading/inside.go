package reading

import (
	"bytes"
	"context"
	"encoding/json"
	"errors"
	"image"

	"tabularis/core/mailing"
	"tabularis/core/scan"
	"tabularis/core/signing"
	"tabularis/core/templates"
	"tabularis/internal/platform/amend"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/docx"
	"tabularis/internal/platform/message"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/pdf"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/sheets"
)

// inside is what a cell keeps from one job to the next.
type inside struct{ pdf *pdf.Reader }

// Enter turns the process into a cell that reads, if it was started as one. It
// stands first in main.
func Enter() {
	in := inside{&pdf.Reader{}}
	cell.Enter(map[string]cell.Handler{
		opSizes: in.sizes, opDraw: in.draw, opPictureSize: in.pictureSize, opPicture: in.picture,
		opPrepare: in.prepare, opPaper: in.paper, opText: in.text, opFind: in.find, opSound: in.sound, opBlanks: in.blanks, opFill: in.fill, opInner: in.inner, opDissect: in.dissect, opMailPart: in.mailPart,
		opReady: in.ready, opAmend: in.amend, opInspect: in.inspect, opPlaces: in.places, opWriting: openText, opWritten: textFile, opPictured: pictured, opRemarked: remarked, opTable: openTable, opReckon: reckon, opTableFile: tableFile,
	}, func(compiled string) error {
		in.pdf.Cache = compiled
		return in.pdf.Start()
	})
}

// send answers with a single part.
func send(w cell.Work, answer any) error {
	raw, err := json.Marshal(answer)
	if err != nil {
		return err
	}
	return w.Send(nil, raw)
}

// unreadable tells content that is broken from failures.
func unreadable(err error) error {
	if errors.Is(err, pdf.ErrUnreadable) || errors.Is(err, office.ErrUnreadable) || errors.Is(err, errPicture) || errors.Is(err, amend.ErrUnreadable) || errors.Is(err, sheets.ErrUnreadable) || errors.Is(err, docx.ErrUnreadable) {
		return errKilled
	}
	return err
}

func (in inside) sizes(_ context.Context, w cell.Work) error {
	var got sizes
	var err error
	if got.Sizes, got.Pages, err = in.pdf.Sizes(w.Content); err != nil {
		return unreadable(err)
	}
	return send(w, got)
}

func (in inside) draw(_ context.Context, w cell.Work) error {
	var d draw
	if err := w.Args(&d); err != nil {
		return err
	}
	return unreadable(in.pdf.Draw(w.Content, d.Pages, d.Width, maxDrawn/4, func(page int, p *image.RGBA) error { return sendPicture(w, page, p) }))
}

func sendPicture(w cell.Work, page int, p *image.RGBA) error {
	return w.Send(drawn{page, p.Rect.Dx(), p.Rect.Dy()}, p.Pix)
}

func (in inside) pictureSize(_ context.Context, w cell.Work) error {
	size, err := pictureSize(w.Content)
	if err != nil {
		return unreadable(err)
	}
	return send(w, grown(size))
}

func (in inside) picture(_ context.Context, w cell.Work) error {
	var width int
	if err := w.Args(&width); err != nil {
		return err
	}
	p, err := drawPicture(w.Content, width)
	if err != nil {
		return unreadable(err)
	}
	return sendPicture(w, 0, p)
}

func (in inside) prepare(_ context.Context, w cell.Work) error {
	var mediaType string
	if err := w.Args(&mediaType); err != nil {
		return err
	}
	p, err := preview.Prepare(mediaType, int64(len(w.Content)), bytes.NewReader(w.Content))
	if err != nil {
		return err
	}
	return send(w, p)
}

func (in inside) paper(_ context.Context, w cell.Work) error {
	var args sheetArgs
	if err := w.Args(&args); err != nil {
		return err
	}
	raw, cut, err := setOnPaper(args, w.Content)
	if err != nil {
		return err
	}
	return w.Send(cut, raw)
}

func (in inside) text(_ context.Context, w cell.Work) error {
	var mediaType string
	if err := w.Args(&mediaType); err != nil {
		return err
	}
	text, readable, err := preview.PlainText(in.pdf, mediaType, w.Content)
	if err != nil {
		return unreadable(err)
	}
	return send(w, written{text, readable})
}

func (in inside) blanks(_ context.Context, w cell.Work) error {
	var mediaType string
	if err := w.Args(&mediaType); err != nil {
		return err
	}
	all, err := preview.Blanks(mediaType, w.Content)
	if err != nil && !errors.Is(err, office.ErrUnreadable) && !errors.Is(err, preview.ErrNoTemplate) {
		return err
	}
	return send(w, blanks{all, err == nil})
}

func (in inside) fill(_ context.Context, w cell.Work) error {
	var f filling
	if err := w.Args(&f); err != nil {
		return err
	}
	var by templates.Filler = f.Values
	if f.Unmarked {
		by = signing.Unmarked{Values: f.Values}
	}
	raw, err := preview.FillBlanks(f.MediaType, w.Content, by)
	if err != nil {
		return unreadable(err)
	}
	return w.Send(nil, raw)
}

func (in inside) inner(_ context.Context, w cell.Work) error {
	var at innerAt
	if err := w.Args(&at); err != nil {
		return err
	}
	name, raw, err := preview.Inner(at.MediaType, w.Content, at.N)
	if err != nil && !errors.Is(err, preview.ErrNoInner) {
		return err
	}
	return w.Send(unpacked{name, err == nil}, raw)
}

func (in inside) dissect(_ context.Context, w cell.Work) error {
	m, err := message.Dissect(w.Content)
	if err != nil {
		return errKilled
	}
	return send(w, m)
}

func (in inside) mailPart(_ context.Context, w cell.Work) error {
	var part mailing.Part
	if err := w.Args(&part); err != nil {
		return err
	}
	raw, err := message.Content(w.Content, part)
	if err != nil {
		return errKilled
	}
	return w.Send(nil, raw)
}

func (in inside) find(_ context.Context, w cell.Work) error {
	var f find
	if err := w.Args(&f); err != nil {
		return err
	}
	scanner, err := scan.New(scan.Countries(), f.Own)
	if err != nil {
		return err
	}
	text, readable, err := preview.PlainText(in.pdf, f.MediaType, w.Content)
	if err != nil {
		return unreadable(err)
	}
	return send(w, Findings{readable, sum(scanner, text)})
}

// sum adds findings up by kind and name, each with the place of the first one.
func sum(scanner *scan.Scanner, text preview.Plain) (out []Finding) {
	at := map[string]int{}
	for i, part := range text.Parts {
		for _, f := range scanner.Find(part) {
			key := string(f.Kind) + " " + f.Name
			if n, ok := at[key]; ok {
				out[n].N++
				continue
			}
			at[key] = len(out)
			found := Finding{Kind: string(f.Kind), Name: f.Name, N: 1, Shown: f.Shown}
			if place := i + 1; text.Paged {
				found.Page = &place
			} else {
				found.Line = &f.Line
			}
			out = append(out, found)
		}
	}
	return out
}

func (in inside) sound(_ context.Context, w cell.Work) error {
	var mediaType string
	if err := w.Args(&mediaType); err != nil {
		return err
	}
	return unreadable(office.Sound(mediaType, int64(len(w.Content)), bytes.NewReader(w.Content)))
}
