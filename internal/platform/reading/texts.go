package reading

import (
	"context"
	"encoding/json"
	"errors"

	"tabularis/core/fault"
	"tabularis/core/richtext"
	"tabularis/core/richtext/markdown"
	"tabularis/internal/platform/cell"
	"tabularis/internal/platform/docx"
	"tabularis/internal/platform/office"
	"tabularis/internal/platform/preview"
	"tabularis/internal/platform/turns"
)

var errProtected = fault.Declare(fault.Invalid, "text-protected", "the document is signed or locked by its makers: writing in it would break that")

// Writing opens Markdown or a word-processing document as a text that is written, as its JSON.
func (r *Reader) Writing(ctx context.Context, s Source) (raw []byte, err error) {
	err = turns.Await(ctx, Patience, func(ctx context.Context) error {
		return r.do(ctx, s, opWriting, "", s.MediaType, whole(&raw))
	})
	return raw, err
}

// TextFile writes a text into the word-processing document that it came from, or into a new one where there is none.
// Names are those of whoever proposes something, by their ids, put the pictures that somebody put into it.
func (r *Reader) TextFile(ctx context.Context, original *Source, doc *richtext.Node, names map[string]string, put Pictures, asker string) ([]byte, error) {
	return r.fileOf(ctx, opWritten, names, illustrated{doc, put}, original, asker)
}

// Pictures are those that somebody put into a text, by what it calls them.
type Pictures = docx.Pictures

// Remark is a thread about a word-processing document, Said one thing that was said in it.
type (
	Remark = docx.Remark
	Said   = docx.Said
)

// illustrated is a text with the pictures that were put into it.
type illustrated struct {
	Doc *richtext.Node
	Put Pictures `json:",omitempty"`
}

func openText(_ context.Context, w cell.Work) error {
	var mediaType string
	if err := w.Args(&mediaType); err != nil {
		return err
	}
	read := markdown.Read
	if mediaType == office.Word {
		read = docx.Read
	}
	doc, err := read(w.Content)
	if errors.Is(err, docx.ErrProtected) {
		return errProtected.New("it cannot be changed here")
	}
	if err != nil {
		return errKilled
	}
	raw, err := json.Marshal(doc)
	if err != nil {
		return err
	}
	return w.Send(nil, raw)
}

func textFile(_ context.Context, w cell.Work) error {
	var names map[string]string
	if err := w.Args(&names); err != nil {
		return err
	}
	state, original, err := halves(w.Content)
	if err != nil {
		return err
	}
	var written struct {
		Doc json.RawMessage
		Put Pictures
	}
	if err := json.Unmarshal(state, &written); err != nil {
		return err
	}
	doc, err := richtext.Written.Read(written.Doc)
	if err != nil {
		return err
	}
	raw, err := docx.Write(original, doc, names, written.Put)
	if err != nil {
		return unreadable(err)
	}
	return w.Send(nil, raw)
}

// Pictured is a picture that stands in a word-processing document, by what it is known as in its text. What is none, or
// none that is shown, is not there.
func (r *Reader) Pictured(ctx context.Context, s Source, known string) (mediaType string, raw []byte, err error) {
	var name string
	err = turns.Await(ctx, Patience, func(ctx context.Context) error {
		return r.do(ctx, s, opPictured, "", known, func(header json.RawMessage, body []byte) error {
			raw = body
			return json.Unmarshal(header, &name)
		})
	})
	if err == nil && len(raw) == 0 {
		err = fault.Missing()
	}
	return preview.MediaType(name, raw), raw, err
}

func pictured(_ context.Context, w cell.Work) error {
	var known string
	if err := w.Args(&known); err != nil {
		return err
	}
	name, raw, err := docx.Picture(w.Content, known)
	if err != nil {
		return unreadable(err)
	}
	return w.Send(name, raw)
}

// Remarked is a word-processing document with remarks in it, as the format has them.
func (r *Reader) Remarked(ctx context.Context, s Source, all []Remark) ([]byte, error) {
	return r.fileOf(ctx, opRemarked, nil, all, &s, s.For)
}

func remarked(_ context.Context, w cell.Work) error {
	state, original, err := halves(w.Content)
	if err != nil {
		return err
	}
	var all []Remark
	if err := json.Unmarshal(state, &all); err != nil {
		return err
	}
	raw, err := docx.WithRemarks(original, all)
	if errors.Is(err, docx.ErrProtected) {
		return errProtected.New("remarks cannot be put into it")
	}
	if err != nil {
		return unreadable(err)
	}
	return w.Send(nil, raw)
}
