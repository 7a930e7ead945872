package templates

import (
	"context"

	"tabularis/internal/app/documents"
	"tabularis/internal/app/templates"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of templates.
type Handlers struct {
	*door.Door
	Templates *templates.Service
}

// ListBlanks says what is to be filled in in a document.
func (h *Handlers) ListBlanks(ctx context.Context, r ListBlanksRequestObject) (ListBlanksResponseObject, error) {
	all, err := h.Templates.Blanks(ctx, r.Id, r.Params.Folder)
	return ListBlanks200JSONResponse(present.Each(all, func(b templates.Blank) contract.Blank {
		return contract.Blank{Word: b.Word, Value: b.Value, Of: present.Some(contract.BlankOf(b.Of))}
	})), err
}

// MakeFromTemplate makes a document from another one.
func (h *Handlers) MakeFromTemplate(ctx context.Context, r MakeFromTemplateRequestObject) (MakeFromTemplateResponseObject, error) {
	made, err := h.Templates.Make(ctx, templates.Wish{Document: r.Id, Folder: r.Body.Folder, Name: r.Body.Name, Values: present.Or(r.Body.Values, nil)})
	if err != nil {
		return nil, err
	}
	return MakeFromTemplate201JSONResponse(present.Place(documents.Place{Item: made.Item, Code: made.Code})), nil
}
