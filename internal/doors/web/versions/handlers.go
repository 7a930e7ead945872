package versions

import (
	"context"

	rules "tabularis/core/versions"
	"tabularis/internal/app/versions"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
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

// GetKeeping says which versions are kept.
func (h *Handlers) GetKeeping(ctx context.Context, r GetKeepingRequestObject) (GetKeepingResponseObject, error) {
	k, err := h.Versions.Keeping(ctx, present.Or(r.Params.Dossier, ""))
	return GetKeeping200JSONResponse{Rule: present.KeepRule(k.Rule), Own: k.Own, MayChange: k.MayChange, Days: k.Days}, err
}

// SetKeeping sets which versions are kept.
func (h *Handlers) SetKeeping(ctx context.Context, r SetKeepingRequestObject) (SetKeepingResponseObject, error) {
	return SetKeeping204Response{}, h.Versions.SetKeeping(ctx, present.Or(r.Body.Dossier, ""), rule(r.Body.Rule))
}

// DraftKeeping tells what a rule would remove.
func (h *Handlers) DraftKeeping(ctx context.Context, r DraftKeepingRequestObject) (DraftKeepingResponseObject, error) {
	s, err := h.Versions.Draft(ctx, present.Or(r.Body.Dossier, ""), present.Or(rule(r.Body.Rule), rules.Rule{Then: rules.None}))
	return DraftKeeping200JSONResponse{Documents: s.Documents, Versions: s.Versions, Bytes: s.Bytes, More: s.More}, err
}

func rule(r *contract.KeepRule) *rules.Rule {
	if r == nil {
		return nil
	}
	return &rules.Rule{Months: r.Months, Then: rules.Then(r.Then), Last: r.Last}
}
