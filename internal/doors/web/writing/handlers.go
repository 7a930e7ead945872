package writing

import (
	"context"
	"encoding/json"
	"time"

	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/table"
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
	made, err := h.Writing.Make(ctx, r.Id, r.Body.Name, string(present.Or(r.Body.Kind, contract.WrittenTextKind)))
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
	taken, err := h.Writing.Send(ctx, r.Id, r.Params.Page, r.Body.Version, r.Body.Steps, caretOf(r.Body.Caret))
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

// ListCellChanges says what was changed in a table.
func (h *Handlers) ListCellChanges(ctx context.Context, r ListCellChangesRequestObject) (ListCellChangesResponseObject, error) {
	all, err := h.cellChanges(ctx, r.Id)
	return ListCellChanges200JSONResponse(all), err
}

func (h *Handlers) cellChanges(ctx context.Context, document uuid.UUID) (contract.CellChanges, error) {
	all, authors, err := h.Writing.Changes(ctx, document)
	return contract.CellChanges{Authors: present.Each(authors, author), Changes: present.Each(all, func(c writing.Changed) contract.CellChange {
		return contract.CellChange{Sheet: c.Sheet, Row: c.Row, Column: c.Column, Was: c.Was, Text: c.Text, By: c.By, At: c.At}
	})}, err
}

func caretOf(c *contract.WritingCaret) *writing.Caret {
	if c == nil {
		return nil
	}
	return &writing.Caret{Version: c.Version, Sheet: present.Or(c.Sheet, 0), Anchor: c.Anchor, Head: c.Head}
}

func opening(o writing.Opening) (m contract.WritingMessage, err error) {
	m = contract.WritingMessage{
		Opening: &contract.WritingOpening{Me: o.Me, Name: o.At.Item.Name, MediaType: o.At.Item.MediaType, Mode: contract.WritingMode(o.Mode), Version: o.Version, Base: o.Base},
		People:  people(o.People), Batches: batches(o.Batches), Results: results(o.Sums),
	}
	if !o.Outside {
		place := present.Place(documents.Place{Item: o.At.Item, Code: o.At.Code})
		m.Opening.Place = &place
	}
	if o.Doc != nil {
		raw, err := json.Marshal(o.Doc)
		if err != nil {
			return m, err
		}
		whole := json.RawMessage(raw)
		if o.IsTable() {
			m.Opening.Table = &whole
		} else {
			m.Opening.Text = &whole
		}
	}
	if o.Authors != nil {
		authors := present.Each(o.Authors, author)
		m.Opening.Authors = &authors
	}
	if o.Ice != nil {
		m.Opening.Call = &contract.CallWays{Addresses: present.List(o.Ice.Addresses), Name: present.Some(o.Ice.Name), Password: present.Some(o.Ice.Password)}
	}
	if o.Barred != nil {
		m.Opening.Barred = present.Some(fault.Of(o.Barred).Code)
	}
	return m, nil
}

func message(m writing.Message) contract.WritingMessage {
	out := contract.WritingMessage{Batches: batches(m.Batches), People: people(m.People), Results: results(m.Sums), Mode: present.Some(contract.WritingMode(m.Mode)), Anew: present.Some(m.Anew)}
	if m.Caret != nil {
		c := caret(*m.Caret)
		out.Caret = &c
	}
	if m.Signal != nil {
		out.Signal = &contract.CallSignalled{From: m.Signal.From, Data: m.Signal.Data}
	}
	if m.Kept != nil {
		out.Kept = kept(m.Kept)
	}
	if m.Ended != nil {
		out.Ended = present.Some(fault.Of(m.Ended).Code)
	}
	return out
}

func batches(all []writing.Batch) *[]contract.WritingBatch {
	if len(all) == 0 {
		return nil
	}
	out := present.Each(all, func(b writing.Batch) contract.WritingBatch {
		return contract.WritingBatch{Version: b.Version, Page: b.Client, By: b.By, At: b.At, Steps: b.Steps}
	})
	return &out
}

func results(all []table.Reckoned) *[]contract.TableResult {
	if all == nil {
		return nil
	}
	out := present.Each(all, func(r table.Reckoned) contract.TableResult {
		return contract.TableResult{Sheet: r.Sheet, Row: r.Row, Column: r.Column, Number: r.Number, Text: present.Some(r.Text), Error: present.Some(r.Error)}
	})
	return &out
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
		if p.Call != nil {
			w.Call = &contract.Calling{Since: p.Call.Since, Mic: p.Call.Mic, Camera: p.Call.Camera}
		}
		return w
	})
	return &out
}

func caret(c writing.Caret) contract.WritingCaret {
	return contract.WritingCaret{Page: present.Some(c.Client), Version: c.Version, Sheet: present.Some(c.Sheet), Anchor: c.Anchor, Head: c.Head}
}

func kept(k *writing.Kept) *contract.WritingKept {
	return &contract.WritingKept{Number: k.Number, At: k.At, By: &k.By, Apart: present.Some(k.Apart)}
}
