package versions

import (
	"context"

	"tabularis/internal/app/versions"
	"tabularis/internal/doors/web/door"
)

// Handlers serve the operations of versions.
type Handlers struct {
	*door.Door
	Versions *versions.Service
}

// DescribeVersion gives a version a name or a note.
func (h *Handlers) DescribeVersion(ctx context.Context, r DescribeVersionRequestObject) (DescribeVersionResponseObject, error) {
	return DescribeVersion204Response{}, h.Versions.Describe(ctx, r.Id, r.Number, r.Body.Title, r.Body.Note)
}

// RemoveVersion takes a version out of the list.
func (h *Handlers) RemoveVersion(ctx context.Context, r RemoveVersionRequestObject) (RemoveVersionResponseObject, error) {
	return RemoveVersion204Response{}, h.Versions.Remove(ctx, r.Id, r.Number)
}

// BringBackVersion lets an older version count again.
func (h *Handlers) BringBackVersion(ctx context.Context, r BringBackVersionRequestObject) (BringBackVersionResponseObject, error) {
	v, err := h.Versions.BringBack(ctx, r.Id, r.Number)
	return BringBackVersion201JSONResponse{Number: v.Number}, err
}

// AdoptDocument makes a document a version of another one.
func (h *Handlers) AdoptDocument(ctx context.Context, r AdoptDocumentRequestObject) (AdoptDocumentResponseObject, error) {
	v, err := h.Versions.Adopt(ctx, r.Id, r.Body.From)
	return AdoptDocument201JSONResponse{Number: v.Number}, err
}

// RestoreVersion puts a removed version back.
func (h *Handlers) RestoreVersion(ctx context.Context, r RestoreVersionRequestObject) (RestoreVersionResponseObject, error) {
	return RestoreVersion204Response{}, h.Versions.Restore(ctx, r.Id, r.Number)
}
