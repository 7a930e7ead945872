package checkout

import (
	"context"

	rules "tabularis/core/checkout"
	"tabularis/internal/app/act"
	"tabularis/internal/app/checkout"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of checkout.
type Handlers struct {
	*door.Door
	Checkout *checkout.Service
}

// ListCheckouts lists what one has in hand.
func (h *Handlers) ListCheckouts(ctx context.Context, _ ListCheckoutsRequestObject) (ListCheckoutsResponseObject, error) {
	all, err := h.Checkout.Mine(ctx)
	me := act.Who(ctx).Person.ID
	return ListCheckouts200JSONResponse(present.Each(all, func(m checkout.Mine) contract.InHand {
		return contract.InHand{Id: m.Item.ID, Ref: m.Ref(), Name: m.Item.Name, Held: *present.Held(&m.Held, me)}
	})), err
}

// CheckOut takes documents in hand.
func (h *Handlers) CheckOut(ctx context.Context, r CheckOutRequestObject) (CheckOutResponseObject, error) {
	t := rules.Terms{Note: present.Or(r.Body.Note, ""), Back: r.Body.Back, Keeps: present.Or(r.Body.Keeps, false)}
	return CheckOut204Response{}, h.Checkout.Take(ctx, r.Body.Items, t)
}

// CheckIn lets go of a document.
func (h *Handlers) CheckIn(ctx context.Context, r CheckInRequestObject) (CheckInResponseObject, error) {
	return CheckIn204Response{}, h.Checkout.GiveBack(ctx, r.Id)
}

// BreakCheckout takes a document out of its holder's hand.
func (h *Handlers) BreakCheckout(ctx context.Context, r BreakCheckoutRequestObject) (BreakCheckoutResponseObject, error) {
	return BreakCheckout204Response{}, h.Checkout.TakeBack(ctx, r.Id, r.Body.Reason)
}

// WaitForDocument lets one be told when a document is free.
func (h *Handlers) WaitForDocument(ctx context.Context, r WaitForDocumentRequestObject) (WaitForDocumentResponseObject, error) {
	return WaitForDocument202Response{}, h.Checkout.Wait(ctx, r.Id)
}

// AskForDocument asks the holder for a document.
func (h *Handlers) AskForDocument(ctx context.Context, r AskForDocumentRequestObject) (AskForDocumentResponseObject, error) {
	return AskForDocument202Response{}, h.Checkout.Ask(ctx, r.Id)
}
