package writing

import (
	"context"
	"encoding/json"
	"time"

	"tabularis/core/fault"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/writing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of writing.
type Handlers struct {
	*door.Door
	Writing *writing.Service
}

// MakeWritten makes an empty document.
func (h *Handlers) MakeWritten(ctx context.Context, r MakeWrittenRequestObject) (MakeWrittenResponseObject, error) {
	made, err := h.Writing.Make(ctx, r.Id, r.Body.Name)
	if err != nil {
		return nil, err
	}
	return MakeWritten201JSONResponse(present.Place(documents.Place{Item: made.Item, Code: made.Code})), nil
}

// OpenWriting gives a text, or what is new in it.
func (h *Handlers) OpenWriting(ctx context.Context, r OpenWritingRequestObject) (OpenWritingResponseObject, error) {
	o, err := h.Writing.Poll(ctx, r.Id, r.Params.Page, present.Or(r.Params.Since, 0), time.Duration(present.Or(r.Params.Wait, 0))*time.Second)
	if err != nil {
		return nil, err
	}
	m, err := opening(o)
	return OpenWriting200JSONResponse(m), err
}

// SendSteps takes steps.
func (h *Handlers) SendSteps(ctx context.Context, r SendStepsRequestObject) (SendStepsResponseObject, error) {
	steps, err := steps(*r.Body)
	if err != nil {
		return nil, err
	}
	taken, err := h.Writing.Send(ctx, r.Id, r.Params.Page, r.Body.Version, steps, caretOf(r.Body.Caret))
	if err != nil {
		return nil, err
	}
	return SendSteps200JSONResponse{Taken: &contract.WritingTaken{Turn: r.Body.Turn, Count: taken.Count, Version: taken.Version}}, nil
}

// KeepWriting makes a version.
func (h *Handlers) KeepWriting(ctx context.Context, r KeepWritingRequestObject) (KeepWritingResponseObject, error) {
	k, err := h.Writing.KeepNow(ctx, r.Id, present.Or(r.Body.Title, ""))
	if err != nil {
		return nil, err
	}
	return KeepWriting200JSONResponse(*kept(&k)), nil
}

// ListAuthors says who wrote what.
func (h *Handlers) ListAuthors(ctx context.Context, r ListAuthorsRequestObject) (ListAuthorsResponseObject, error) {
	w, err := h.Writing.Wrote(ctx, r.Id)
	return ListAuthors200JSONResponse{Version: w.Version, Authors: present.Each(w.Authors, author), Parts: present.Each(w.Parts, func(p writing.Part) contract.WrittenPart {
		return contract.WrittenPart{From: p.From, To: p.To, By: p.By, At: p.At}
	})}, err
}

func author(a writing.Author) contract.WritingAuthor {
	return contract.WritingAuthor{Id: a.ID, Name: a.Name}
}

func steps(s contract.WritingSent) ([]json.RawMessage, error) {
	out := make([]json.RawMessage, len(s.Steps))
	for i, one := range s.Steps {
		raw, err := json.Marshal(one)
		if err != nil {
			return nil, fault.Parameter.New("%s", err)
		}
		out[i] = raw
	}
	return out, nil
}

func caretOf(c *contract.WritingCaret) *writing.Caret {
	if c == nil {
		return nil
	}
	return &writing.Caret{Version: c.Version, Anchor: c.Anchor, Head: c.Head}
}

func opening(o writing.Opening) (m contract.WritingMessage, err error) {
	text, err := object(o.Doc)
	if err != nil {
		return m, err
	}
	batches, err := batches(o.Batches)
	if err != nil {
		return m, err
	}
	m = contract.WritingMessage{
		Opening: &contract.WritingOpening{Place: present.Place(documents.Place{Item: o.At.Item, Code: o.At.Code}), Mode: contract.WritingMode(o.Mode), Version: o.Version, Base: o.Base, Text: text},
		People:  people(o.People), Batches: batches,
	}
	if o.Authors != nil {
		authors := present.Each(o.Authors, author)
		m.Opening.Authors = &authors
	}
	if o.Barred != nil {
		m.Opening.Barred = present.Some(fault.Of(o.Barred).Code)
	}
	return m, nil
}

// object is a text as its JSON.
func object(doc any) (*map[string]any, error) {
	raw, err := json.Marshal(doc)
	if err != nil || string(raw) == "null" {
		return nil, err
	}
	var out map[string]any
	return &out, json.Unmarshal(raw, &out)
}

func message(m writing.Message) (out contract.WritingMessage, err error) {
	if out.Batches, err = batches(m.Batches); err != nil {
		return out, err
	}
	out.People, out.Mode, out.Anew = people(m.People), present.Some(contract.WritingMode(m.Mode)), present.Some(m.Anew)
	if m.Caret != nil {
		c := caret(*m.Caret)
		out.Caret = &c
	}
	if m.Kept != nil {
		out.Kept = kept(m.Kept)
	}
	if m.Ended != nil {
		out.Ended = present.Some(fault.Of(m.Ended).Code)
	}
	return out, nil
}

func batches(all []writing.Batch) (*[]contract.WritingBatch, error) {
	if len(all) == 0 {
		return nil, nil
	}
	out := make([]contract.WritingBatch, len(all))
	for i, b := range all {
		steps := make([]map[string]any, len(b.Steps))
		for j, raw := range b.Steps {
			if err := json.Unmarshal(raw, &steps[j]); err != nil {
				return nil, err
			}
		}
		out[i] = contract.WritingBatch{Version: b.Version, Page: b.Client, By: b.By, At: b.At, Steps: steps}
	}
	return &out, nil
}

func people(all []writing.Present) *[]contract.WritingPerson {
	if all == nil {
		return nil
	}
	out := present.Each(all, func(p writing.Present) contract.WritingPerson {
		w := contract.WritingPerson{Page: p.Client, Id: p.Person, Name: p.Name, Guest: present.Some(p.Guest), Mode: contract.WritingMode(p.Mode), Since: p.Since}
		if p.Caret != nil {
			c := caret(*p.Caret)
			w.Caret = &c
		}
		return w
	})
	return &out
}

func caret(c writing.Caret) contract.WritingCaret {
	return contract.WritingCaret{Page: present.Some(c.Client), Version: c.Version, Anchor: c.Anchor, Head: c.Head}
}

func kept(k *writing.Kept) *contract.WritingKept {
	return &contract.WritingKept{Number: k.Number, At: k.At, By: &k.By, Apart: present.Some(k.Apart)}
}
