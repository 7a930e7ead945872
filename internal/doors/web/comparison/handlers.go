package comparison

import (
	"bytes"
	"context"
	"mime"

	"github.com/google/uuid"

	"tabularis/core/diff"
	"tabularis/internal/app/comparison"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of comparison.
type Handlers struct {
	*door.Door
	Comparison *comparison.Service
}

// Compare says how two versions or documents differ.
func (h *Handlers) Compare(ctx context.Context, r CompareRequestObject) (CompareResponseObject, error) {
	c, err := h.Comparison.Compare(ctx, pair(r.Id, r.Params.From, r.Params.To, r.Params.With))
	if err != nil {
		return nil, err
	}
	out := compared(c)
	out.Drawn = present.Some(h.Comparison.Drawn(c))
	return Compare200JSONResponse(out), nil
}

// ComparePatch gives the differences of two texts line by line.
func (h *Handlers) ComparePatch(ctx context.Context, r ComparePatchRequestObject) (ComparePatchResponseObject, error) {
	patch, name, err := h.Comparison.Patch(ctx, pair(r.Id, r.Params.From, r.Params.To, r.Params.With))
	if err != nil {
		return nil, err
	}
	named := mime.FormatMediaType("attachment", map[string]string{"filename": name + ".diff"})
	return ComparePatch200TextResponse{Body: patch, Headers: ComparePatch200ResponseHeaders{ContentDisposition: &named}}, nil
}

// ComparePages lays the pages of both beside each other.
func (h *Handlers) ComparePages(ctx context.Context, r ComparePagesRequestObject) (ComparePagesResponseObject, error) {
	p, err := h.Comparison.Pages(ctx, pair(r.Id, r.Params.From, r.Params.To, r.Params.With))
	if err != nil {
		return nil, err
	}
	out := ComparePages200JSONResponse{Pairs: []contract.ComparedPage{}, Cut: p.Cut}
	for i, two := range p.Pairs {
		out.Pairs = append(out.Pairs, contract.ComparedPage{Before: counted(two.A), Now: counted(two.B), Same: p.Same[i]})
	}
	return out, nil
}

// MergeCopy merges a copy into a document.
func (h *Handlers) MergeCopy(ctx context.Context, r MergeCopyRequestObject) (MergeCopyResponseObject, error) {
	version, err := h.Comparison.Merge(ctx, r.Id, r.Body.From, r.Body.Base)
	return MergeCopy201JSONResponse{Number: version}, err
}

// counted is a number from 1, or none.
func counted(n int) *int {
	if n < 0 {
		return nil
	}
	n++
	return &n
}

// ComparePlaces says where two pages differ.
func (h *Handlers) ComparePlaces(ctx context.Context, r ComparePlacesRequestObject) (ComparePlacesResponseObject, error) {
	p, err := h.Comparison.Places(ctx, pair(r.Id, r.Params.From, r.Params.To, r.Params.With), r.Params.Before, r.Params.Now)
	if err != nil {
		return nil, err
	}
	places := present.Each(p.Boxes, func(b diff.Box) contract.ComparedPlace {
		return contract.ComparedPlace{X: b.X, Y: b.Y, Width: b.Width, Height: b.Height}
	})
	return ComparePlaces200JSONResponse{Places: places, Width: p.Width, Height: p.Height}, nil
}

// ComparePaper gives what differs on pages.
func (h *Handlers) ComparePaper(ctx context.Context, r ComparePaperRequestObject) (ComparePaperResponseObject, error) {
	raw, name, err := h.Comparison.Paper(ctx, pair(r.Id, r.Params.From, r.Params.To, r.Params.With))
	if err != nil {
		return nil, err
	}
	named := mime.FormatMediaType("attachment", map[string]string{"filename": name + ".comparison.pdf"})
	return ComparePaper200ApplicationpdfResponse{Body: bytes.NewReader(raw), ContentLength: int64(len(raw)), Headers: ComparePaper200ResponseHeaders{ContentDisposition: &named}}, nil
}

func pair(document uuid.UUID, from, to *int, with *uuid.UUID) comparison.Pair {
	return comparison.Pair{Document: document, From: present.Or(from, 0), To: present.Or(to, 0), With: present.Or(with, uuid.Nil)}
}

func side(s comparison.Side) contract.ComparedSide {
	return contract.ComparedSide{Id: s.ID, Ref: s.Ref(), Name: s.Name, Version: s.VNumber, At: s.VAt, Size: s.VSize}
}
