package deliveries

import (
	"context"
	"encoding/hex"

	"github.com/gin-gonic/gin"
	"github.com/google/uuid"

	"tabularis/core/fault"
	"tabularis/core/linkgate"
	"tabularis/internal/app/act"
	"tabularis/internal/app/deliveries"
	"tabularis/internal/doors/web/contract"
	"tabularis/internal/doors/web/door"
	"tabularis/internal/doors/web/present"
)

// Handlers serve the operations of deliveries.
type Handlers struct {
	*door.Door
	Deliveries *deliveries.Service
}

// address presents the acting person's address, or none.
func (h *Handlers) address(ctx context.Context, a deliveries.Address, err error) (contract.PublishedAddress, error) {
	if err != nil && !fault.Is(err, fault.NotFound) {
		return contract.PublishedAddress{}, err
	}
	possible, failed := h.Deliveries.Possible(ctx)
	out := contract.PublishedAddress{Possible: possible, Proposed: linkgate.SlugOf(act.Who(ctx).Person.Name)}
	if err == nil {
		out.Name, out.Url, out.Recipient = &a.Slug, &a.URL, present.Some(a.Recipient)
	}
	return out, failed
}

// GetAddress shows one's address.
func (h *Handlers) GetAddress(ctx context.Context, _ GetAddressRequestObject) (GetAddressResponseObject, error) {
	a, err := h.Deliveries.Mine(ctx)
	out, err := h.address(ctx, a, err)
	return GetAddress200JSONResponse(out), err
}

// PublishAddress publishes one.
func (h *Handlers) PublishAddress(ctx context.Context, r PublishAddressRequestObject) (PublishAddressResponseObject, error) {
	a, err := h.Deliveries.Publish(ctx, r.Body.Name, string(present.Or(r.Body.Language, "en")))
	if err != nil {
		return nil, err
	}
	out, err := h.address(ctx, a, nil)
	return PublishAddress200JSONResponse(out), err
}

// EndAddress takes it back.
func (h *Handlers) EndAddress(ctx context.Context, _ EndAddressRequestObject) (EndAddressResponseObject, error) {
	return EndAddress204Response{}, h.Deliveries.End(ctx)
}

// SetAddressKey publishes the key for which senders seal.
func (h *Handlers) SetAddressKey(ctx context.Context, r SetAddressKeyRequestObject) (SetAddressKeyResponseObject, error) {
	return SetAddressKey204Response{}, h.Deliveries.SetKey(ctx, present.Or(r.Body.Recipient, ""))
}

// ListDeliveries lists what one was sent.
func (h *Handlers) ListDeliveries(ctx context.Context, r ListDeliveriesRequestObject) (ListDeliveriesResponseObject, error) {
	all, err := h.Deliveries.List(ctx, present.Or(r.Params.Decided, false))
	return ListDeliveries200JSONResponse(present.Each(all, delivery)), err
}

func delivery(d deliveries.Delivery) contract.Delivery {
	out := contract.Delivery{Id: d.ID, At: d.At, Name: d.Name, Email: d.Email, Message: d.Message, DecidedAt: d.DecidedAt, Accepted: d.Accepted, Files: present.Each(d.Files, file)}
	if d.Manifest != nil {
		out.Manifest = &d.Manifest
	}
	return out
}

func file(f deliveries.File) contract.DeliveredFile {
	out := contract.DeliveredFile{Id: *f.ItemID, Name: f.Name, Size: f.Size, Sha256: hex.EncodeToString(f.SHA256), MediaType: f.MediaType}
	if f.Caution != "" {
		caution := contract.DeliveredFileCaution(f.Caution)
		out.Caution = &caution
	}
	return out
}

// AcceptDelivery puts what came into a folder.
func (h *Handlers) AcceptDelivery(ctx context.Context, r AcceptDeliveryRequestObject) (AcceptDeliveryResponseObject, error) {
	named := map[uuid.UUID]string{}
	if r.Body.Names != nil {
		for _, n := range *r.Body.Names {
			named[n.Id] = n.Name
		}
	}
	return AcceptDelivery204Response{}, h.Deliveries.Accept(ctx, r.Id, r.Body.To, named)
}

// RefuseDelivery destroys it.
func (h *Handlers) RefuseDelivery(ctx context.Context, r RefuseDeliveryRequestObject) (RefuseDeliveryResponseObject, error) {
	return RefuseDelivery204Response{}, h.Deliveries.Refuse(ctx, r.Id)
}

// sealedFile sends a sealed file as it came, for whoever it was sealed for to open.
func (h *Handlers) sealedFile(c *gin.Context) {
	id, err := door.PathID(c)
	file, badFile := uuid.Parse(c.Param("file"))
	if err != nil || badFile != nil {
		h.Problem(c, fault.Missing())
		return
	}
	f, err := h.Deliveries.Sealed(c.Request.Context(), id, file)
	if err != nil {
		h.Problem(c, err)
		return
	}
	signedIn := func() error {
		_, err := h.SessionOf(c)
		return err
	}
	h.SendTo(door.Watching(c, signedIn), c, f, true)
}
