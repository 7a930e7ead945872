package uploads

import (
	"context"
	"net/http"

	"tabularis/internal/app/uploads"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// GetUploadOutcome tells what became of an upload; one that is complete but not
// yet finished is finished now.
func (h *Handlers) GetUploadOutcome(ctx context.Context, r GetUploadOutcomeRequestObject) (GetUploadOutcomeResponseObject, error) {
	o, err := h.Uploads.Outcome(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	out := contract.UploadOutcome{Outcome: contract.UploadOutcomeOutcome(o.Upload.Outcome), Document: present.Place(o.Document), Version: o.Upload.Version, Separable: &o.Separable}
	if o.Like != nil {
		like := present.Place(*o.Like)
		out.Like = &like
	}
	return GetUploadOutcome200JSONResponse(out), nil
}

// Handlers serve the operations of uploads.
type Handlers struct {
	*door.Door
	// Protocol serves resumable uploads, see Protocol.
	Protocol http.Handler
	Uploads  *uploads.Service
}
