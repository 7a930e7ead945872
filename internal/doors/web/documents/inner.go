package documents

import (
	"context"
	"strconv"
	"strings"

	"github.com/gin-gonic/gin"

	"tabularis/core/fault"
	"tabularis/internal/app/documents"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/present"
)

// wayOf reads which file within which: 3, or 3.0.
func wayOf(s string) (way []int, err error) {
	for part := range strings.SplitSeq(s, ".") {
		n, err := strconv.ParseUint(part, 10, 31)
		if err != nil {
			return nil, fault.Missing()
		}
		way = append(way, int(n))
	}
	return way, nil
}

// LookIntoDocument opens a file within a document to look at it.
func (h *Handlers) LookIntoDocument(ctx context.Context, r LookIntoDocumentRequestObject) (LookIntoDocumentResponseObject, error) {
	way, err := wayOf(r.Way)
	if err != nil {
		return nil, err
	}
	in, err := h.Documents.LookInto(ctx, documents.Where{Document: r.Id, Version: present.Or(r.Params.Version, 0), Way: way})
	if err != nil {
		return nil, err
	}
	out := LookIntoDocument200JSONResponse{Name: in.Name, Size: in.Source.Size, Look: contract.Look(in.Look)}
	if in.Prepared != nil {
		p := present.Preview(*in.Prepared)
		out.Preview = &p
	}
	return out, nil
}

// KeepInner makes a document of a file within another one.
func (h *Handlers) KeepInner(ctx context.Context, r KeepInnerRequestObject) (KeepInnerResponseObject, error) {
	way, err := wayOf(r.Way)
	if err != nil {
		return nil, err
	}
	p, err := h.Documents.Keep(ctx, documents.Where{Document: r.Id, Version: present.Or(r.Params.Version, 0), Way: way}, r.Body.Folder)
	if err != nil {
		return nil, err
	}
	return KeepInner201JSONResponse(present.Place(p)), nil
}

// inner serves a file within a version: ?download for keeping it.
func (h *Handlers) inner(c *gin.Context) {
	id, number, err := contentOf(c)
	if err != nil {
		h.Problem(c, err)
		return
	}
	way, err := wayOf(c.Param("way"))
	if err != nil {
		h.Problem(c, err)
		return
	}
	f, err := h.Documents.InnerFile(c.Request.Context(), documents.Where{Document: id, Version: number, Way: way})
	if err != nil {
		h.Problem(c, err)
		return
	}
	h.SendTo(h.whilePermitted(c, id), c, f, c.Request.URL.Query().Has("download"))
}
