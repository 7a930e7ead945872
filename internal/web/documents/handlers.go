package documents

import (
	"context"
	"fmt"
	"strings"

	"tabularis/core/names"
	"tabularis/internal/app/documents"
	"tabularis/internal/app/dossiers"
	"tabularis/internal/app/links"
	"tabularis/internal/web/contract"
	"tabularis/internal/web/door"
	"tabularis/internal/web/present"
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
	shown, err := h.Links.Show(ctx, d.Links)
	return GetDocument200JSONResponse(slip(d, shown)), err
}

// PreviewDocument prepares text.
func (h *Handlers) PreviewDocument(ctx context.Context, r PreviewDocumentRequestObject) (PreviewDocumentResponseObject, error) {
	p, err := h.Documents.Preview(ctx, r.Id, present.Or(r.Params.Version, 0))
	return PreviewDocument200JSONResponse(present.Preview(p)), err
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

// Find looks for dossiers and documents.
func (h *Handlers) Find(ctx context.Context, r FindRequestObject) (FindResponseObject, error) {
	words := strings.Fields(r.Params.Q)
	out := Find200JSONResponse{Dossiers: []contract.DossierRow{}, Documents: []contract.Place{}}
	if len(words) == 0 || len(words) > 10 {
		return out, nil
	}
	if code, number, ok := strings.Cut(r.Params.Q, "/"); ok {
		var n int
		if _, err := scanNumber(number, &n); err == nil {
			if p, err := h.Documents.ByNumber(ctx, code, n); err == nil {
				out.Documents = append(out.Documents, present.Place(p))
			}
		}
	}
	found, err := h.Documents.Find(ctx, words, 12)
	if err != nil {
		return nil, err
	}
	out.Documents = append(out.Documents, present.Each(found, present.Place)...)
	mine, err := h.Dossiers.Mine(ctx)
	for _, d := range mine {
		text := names.Key(d.Code + " " + d.Name + " " + d.Client + " " + d.Subject)
		if matchesAll(text, words) && len(out.Dossiers) < 6 {
			out.Dossiers = append(out.Dossiers, present.DossierRow(d))
		}
	}
	return out, err
}

func matchesAll(text string, words []string) bool {
	for _, w := range words {
		if !strings.Contains(text, names.Key(w)) {
			return false
		}
	}
	return true
}

// scanNumber reads the running number of a reference as it is typed.
func scanNumber(s string, n *int) (int, error) { return fmt.Sscan(strings.TrimSpace(s), n) }

// Handlers serve the operations of documents.
type Handlers struct {
	*door.Door
	Documents *documents.Service
	Dossiers  *dossiers.Service
	Links     *links.Service
}
