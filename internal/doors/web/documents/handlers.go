package documents

import (
	"context"

	"tabularis/internal/app/act"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// RenameItem gives a folder or document another name.
func (h *Handlers) RenameItem(ctx context.Context, r RenameItemRequestObject) (RenameItemResponseObject, error) {
	return RenameItem204Response{}, h.Dossiers.Rename(ctx, r.Id, r.Body.Name)
}

// GetDocument shows the slip.
func (h *Handlers) GetDocument(ctx context.Context, r GetDocumentRequestObject) (GetDocumentResponseObject, error) {
	d, err := h.Documents.Open(ctx, r.Id)
	if err != nil {
		return nil, err
	}
	return GetDocument200JSONResponse(slip(d, act.Who(ctx).Person.ID)), nil
}

// PreviewDocument prepares text.
func (h *Handlers) PreviewDocument(ctx context.Context, r PreviewDocumentRequestObject) (PreviewDocumentResponseObject, error) {
	p, err := h.Documents.Preview(ctx, r.Id, present.Or(r.Params.Version, 0))
	return PreviewDocument200JSONResponse(present.Preview(p)), err
}

// OutlineDocument says which pages a document has.
func (h *Handlers) OutlineDocument(ctx context.Context, r OutlineDocumentRequestObject) (OutlineDocumentResponseObject, error) {
	o, err := h.Documents.Outline(ctx, r.Id, present.Or(r.Params.Version, 0))
	if err != nil {
		return nil, err
	}
	return OutlineDocument200JSONResponse(present.Outline(o)), nil
}

// SeparateVersion keeps a version apart.
func (h *Handlers) SeparateVersion(ctx context.Context, r SeparateVersionRequestObject) (SeparateVersionResponseObject, error) {
	p, err := h.Documents.Separate(ctx, r.Id, r.Number)
	if err != nil {
		return nil, err
	}
	return SeparateVersion201JSONResponse(present.Place(p)), nil
}

// FindByNumber finds a document by its register number.
func (h *Handlers) FindByNumber(ctx context.Context, r FindByNumberRequestObject) (FindByNumberResponseObject, error) {
	p, err := h.Documents.ByNumber(ctx, r.Code, r.Number)
	if err != nil {
		return nil, err
	}
	return FindByNumber200JSONResponse(present.Place(p)), nil
}

// Find looks for dossiers, folders and documents.
func (h *Handlers) Find(ctx context.Context, r FindRequestObject) (FindResponseObject, error) {
	found, err := h.Documents.Find(ctx, r.Params.Q, present.Or(r.Params.Dossier, ""))
	return Find200JSONResponse{
		Dossiers:  present.Each(found.Dossiers, present.DossierRow),
		Folders:   present.Each(found.Folders, present.FolderPlace),
		Documents: present.Each(found.Documents, present.Place),
	}, err
}

// Handlers serve the operations of documents.
type Handlers struct {
	*door.Door
	Documents *documents.Service
	Dossiers  *dossiers.Service
}

// FindLikeness tells whether a document is likely a version of another one.
func (h *Handlers) FindLikeness(ctx context.Context, r FindLikenessRequestObject) (FindLikenessResponseObject, error) {
	likely, err := h.Documents.Likely(ctx, r.Id)
	if err != nil || likely == nil {
		return FindLikeness200JSONResponse{}, err
	}
	place := present.Place(likely.Place)
	return FindLikeness200JSONResponse{Like: &place, Version: &likely.Version, Counts: &likely.Counts}, nil
}
