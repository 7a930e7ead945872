package writing

import (
	"context"
	"time"

	"github.com/gin-gonic/gin"

	"tabularis/internal/app/writing"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// by lets the visitor who asks write.
func by(ctx context.Context, token string) context.Context {
	return writing.By(ctx, door.VisitorOf(ctx.(*gin.Context), token))
}

// CallVisitor says by what name a visitor goes.
func (h *Handlers) CallVisitor(ctx context.Context, r CallVisitorRequestObject) (CallVisitorResponseObject, error) {
	return CallVisitor204Response{}, h.Writing.Visits.Call(ctx, door.VisitorOf(ctx.(*gin.Context), r.Token), r.Body.Name)
}

// OpenVisitorWriting gives a text, or what is new in it, to a visitor.
func (h *Handlers) OpenVisitorWriting(ctx context.Context, r OpenVisitorWritingRequestObject) (OpenVisitorWritingResponseObject, error) {
	o, err := h.Writing.Poll(by(ctx, r.Token), r.Id, r.Params.Page, present.Or(r.Params.Since, 0), time.Duration(present.Or(r.Params.Wait, 0))*time.Second)
	if err != nil {
		return nil, err
	}
	m, err := opening(o)
	return OpenVisitorWriting200JSONResponse(m), err
}

// SendVisitorSteps takes a visitor's steps.
func (h *Handlers) SendVisitorSteps(ctx context.Context, r SendVisitorStepsRequestObject) (SendVisitorStepsResponseObject, error) {
	taken, err := h.Writing.Send(by(ctx, r.Token), r.Id, r.Params.Page, r.Body.Version, r.Body.Steps, caretOf(r.Body.Caret))
	if err != nil {
		return nil, err
	}
	return SendVisitorSteps200JSONResponse{Taken: &contract.WritingTaken{Turn: r.Body.Turn, Count: taken.Count, Version: taken.Version}}, nil
}

// ListVisitorCellChanges says to a visitor what was changed in a table.
func (h *Handlers) ListVisitorCellChanges(ctx context.Context, r ListVisitorCellChangesRequestObject) (ListVisitorCellChangesResponseObject, error) {
	all, err := h.cellChanges(by(ctx, r.Token), r.Id)
	return ListVisitorCellChanges200JSONResponse(all), err
}
