package uploads

import (
	"context"
	"net/http"

	"tabularis/internal/app/documents"
	"tabularis/internal/app/uploads"
	"tabularis/internal/web/contract"
	"tabularis/internal/web/door"
	"tabularis/internal/web/present"
)

// GetUploadOutcome tells what became of an upload; one that is complete but not
// yet finished is finished now.
func (h *Handlers) GetUploadOutcome(ctx context.Context, r GetUploadOutcomeRequestObject) (GetUploadOutcomeResponseObject, error) {
	u, err := h.Uploads.Find(ctx, r.Id)
	if err == nil && u.Outcome == "" {
		u, err = h.Uploads.Finish(ctx, r.Id)
	}
	if err != nil {
		return nil, err
	}
	slip, err := h.Documents.Open(ctx, *u.ItemID)
	if err != nil {
		return nil, err
	}
	separable := u.Outcome == "version" && slip.Separable(u.Version)
	return GetUploadOutcome200JSONResponse{
		Outcome:   contract.UploadOutcomeOutcome(u.Outcome),
		Document:  present.Place(documents.Place{Item: slip.Item, Code: slip.Code}),
		Version:   u.Version,
		Separable: &separable,
	}, nil
}

// Handlers serve the operations of uploads.
type Handlers struct {
	*door.Door
	// Protocol serves resumable uploads, see Protocol.
	Protocol  http.Handler
	Documents *documents.Service
	Uploads   *uploads.Service
}
