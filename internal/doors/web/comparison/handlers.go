package comparison

import (
	"context"
	"mime"

	"github.com/google/uuid"

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
	return Compare200JSONResponse(compared(c)), nil
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

func pair(document uuid.UUID, from, to *int, with *uuid.UUID) comparison.Pair {
	return comparison.Pair{Document: document, From: present.Or(from, 0), To: present.Or(to, 0), With: present.Or(with, uuid.Nil)}
}

func side(s comparison.Side) contract.ComparedSide {
	return contract.ComparedSide{Id: s.ID, Ref: s.Ref(), Name: s.Name, Version: s.VNumber, At: s.VAt, Size: s.VSize}
}
